"""The study of parameters finds each of them, changes it wherever it is used, and puts it back."""

import unittest

from tests.reading_study import PARAMETERS, changed, meaning, module, modules


class Study(unittest.TestCase):
    def test_every_parameter_is_found_and_has_a_meaning(self):
        for home, name, _ in PARAMETERS:
            with self.subTest(parameter=f"{home}.{name}"):
                words, value = meaning(home, name)
                self.assertGreater(len(words), 15)
                self.assertTrue(value)

    def test_a_changed_parameter_is_another_one_everywhere_and_comes_back(self):
        for home, name, place in PARAMETERS:
            usual = getattr(module(home), name)
            users = [one for one in modules() if vars(one).get(name) is usual]
            with self.subTest(parameter=f"{home}.{name}"):
                with changed(home, name, place, 0.7):
                    self.assertTrue(users)
                    self.assertTrue(all(vars(one)[name] != usual for one in users))
                self.assertTrue(all(vars(one)[name] is usual for one in users))


if __name__ == "__main__":
    unittest.main()
