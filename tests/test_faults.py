"""The list of faults does not rot: each stands in the source just once, and its tests exist."""

import unittest

from tests.faults import FAULTS
from tests.test_house import ROOT, SOURCE


class Faults(unittest.TestCase):
    def test_each_fault_can_be_put_in(self):
        self.assertEqual(len(FAULTS), 60)
        for fault in FAULTS:
            with self.subTest(fault.path, right=fault.right):
                text = (SOURCE / fault.path).read_text(encoding="utf-8")
                self.assertEqual(text.count(fault.right), 1, "this line was changed: change the fault too")
                self.assertNotEqual(fault.right, fault.wrong)
                named = ROOT / "tests" / f"{fault.tests.replace('.', '/')}.py"
                self.assertTrue(named.exists(), f"{fault.tests} is no module of tests")
