"""Pages of a report: figures as in Statistics, stills of the frames they name, every way out read back."""

import base64
import csv
import io
import re
import tempfile
import unittest
from html.parser import HTMLParser
from pathlib import Path
from unittest.mock import patch
from xml.etree import ElementTree

import cv2
import numpy as np
import pandas
import pypdf
import webvtt

from ripasso.report.blocks import Beside, Figures, Grid, Heading, Paragraph, Picture, Still
from ripasso.report.films_out import captions_text, edit_list_edl, scenes_of
from ripasso.report.html import html_text
from ripasso.report.making import MAKERS, make_pages
from ripasso.report.pages.figure_pages import cell_of, figures_now
from ripasso.report.pdf import pdf_bytes
from ripasso.report.writing import UnknownEnding, write_report
from ripasso.report_command import BadReport, Wanted, report_of_library
from ripasso.review.entry.reports import PAGES, add_report, add_shot, change_report, move_page, remove_page
from ripasso.statistics.pages.figures import FigurePage
from ripasso.statistics.pages.pages import OVERVIEW, PAGE_WORDS
from tests.films import read_number
from tests.report.libraries import RATE, library_with, material_of, report_of

SHOT = {"session": "test", "rack": 1, "shot": 2, "note": "Watch <b>this</b> & that"}
EVERY = (
    {"kind": "summary"},
    {"kind": "changes"},
    {"kind": "course", "session": "test"},
    {"kind": "shots", "shots": [SHOT, {"session": "test", "rack": 9, "shot": 1}]},
    {"kind": "rack", "session": "test", "rack": 1},
    {"kind": "sheet", "session": "test", "rack": 1},
    {"kind": "figures", "figures": "potting", "text": "Mind the long ones."},
    {"kind": "figures", "figures": "position", "second": "bram oster"},
    {"kind": "practice"},
    {"kind": "timetable"},
    {"kind": "methods"},
    {"kind": "film", "shots": [SHOT]},
)


class Tags(HTMLParser):
    """The tags and links of a document."""

    def __init__(self, text):
        super().__init__()
        self.tags, self.ids, self.links, self.sources = [], set(), [], []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        self.tags.append(tag)
        if "id" in given:
            self.ids.add(given["id"])
        if tag == "a":
            self.links.append(given["href"])
        self.sources += [given[name] for name in ("src", "xlink:href") if name in given]


class WithLibrary(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        cls.library, cls.document = library_with(cls.folder)
        cls.addClassCleanup(cls.library.close)

    def pages(self, *pages, **more):
        return make_pages(material_of(self.library, report_of(*pages, **more)))

    def blocks(self, page, kind):
        """The blocks of a kind on the only page, those side by side too."""
        found = []
        for block in self.pages(page).pages[0].blocks:
            parts = (block.left, block.right) if isinstance(block, Beside) else (block,)
            found += [part for part in parts if isinstance(part, kind)]
        return found


class Made(WithLibrary):
    def test_every_kind_of_page_is_made_and_named_once(self):
        made = self.pages(*EVERY)
        self.assertEqual({page["kind"] for page in EVERY}, set(MAKERS))
        self.assertEqual(len(made.pages), len(EVERY))
        for page in made.pages:
            self.assertTrue(page.blocks, page.title)
        self.assertEqual(made.pages[4].title, "Story of rack 1: A test")
        self.assertEqual(made.pages[7].title, "Position, beside Bram Oster")

    def test_every_figure_equals_that_of_statistics(self):
        """Each page of Statistics, one player and two: what is printed is what the window shows."""
        walked = 0
        for name in PAGE_WORDS:
            if name in (OVERVIEW, "crossed"):
                continue
            for second in ("", "bram oster"):
                page = {"kind": "figures", "figures": name, **({"second": second} if second else {})}
                material = material_of(self.library, report_of(page))
                answer = material.answers.answer(material.choice(name, second))
                assert isinstance(answer, FigurePage)
                printed = [line for one in self.blocks(page, Figures) for line in one.lines]
                shown = {(row.group, row.text): row for row in answer.rows}
                for line in printed:
                    row = shown[line.group, line.text]
                    cells = [cell_of(row.figures[key]) for key in answer.persons]
                    self.assertEqual(list(line.cells[: len(cells)]), cells, (name, line.text))
                    walked += len(cells)
                for (group, text), row in shown.items():
                    if any(len(figure.shots) for figure in row.figures.values()):
                        self.assertIn((group, text), [(one.group, one.text) for one in printed], name)
        self.assertGreater(walked, 100)

    def test_a_still_shows_the_frame_that_it_names(self):
        for shot in (1, 4, 8):
            page = {"kind": "shots", "shots": [{"session": "test", "rack": 1, "shot": shot}]}
            (still,) = self.blocks(page, Still)
            pixels = cv2.imdecode(np.frombuffer(still.jpeg, np.uint8), cv2.IMREAD_COLOR)
            number = int(re.search(r"frame (\d+)", still.caption).group(1))
            self.assertEqual(read_number(pixels), number)
            self.assertEqual(number, round(shot * RATE))

    def test_a_missing_film_leaves_a_sentence_in_its_place(self):
        film = self.folder / "film.mp4"
        film.rename(self.folder / "elsewhere.bin")
        try:
            page = {"kind": "shots", "shots": [SHOT]}
            words = [one.text for one in self.blocks(page, Paragraph) if one.tone == "missing"]
        finally:
            (self.folder / "elsewhere.bin").rename(film)
        self.assertEqual(words, ["The film film.mp4 is not there."])
        self.assertTrue(self.blocks(page, Picture))

    def test_what_is_not_there_any_more_is_said(self):
        missing = {"kind": "shots", "shots": [{"session": "test", "rack": 9, "shot": 1}]}
        self.assertIn("is not in the library any more", self.blocks(missing, Paragraph)[0].text)
        gone = {"kind": "rack", "session": "nowhere", "rack": 1}
        self.assertIn("is not in the library any more", self.blocks(gone, Paragraph)[0].text)
        wrong = self.pages({"kind": "figures", "figures": "potting"}, search="cut:steep")
        self.assertIn("is a number", wrong.pages[0].blocks[0].text)

    def test_names_are_left_out_everywhere(self):
        made = self.pages(*EVERY, nameless=True)
        text = html_text(made)
        for name in ("Quill", "Bram", "Oster"):
            found = text.find(name)
            self.assertEqual(found, -1, text[max(0, found - 60) : found + 60])
        self.assertEqual(made.about.split(";")[0], "Player 1")

    def test_what_changed_since_the_last_time(self):
        pages = ({"kind": "changes"}, {"kind": "figures", "figures": "potting"})
        now = figures_now(material_of(self.library, report_of(*pages)))
        before = dict(now)
        changed = next(key for key in now if "All pots" in key)
        before[changed] = "10 % (1–40), 1 of 10"
        made = self.pages(*pages, made="2026-11-01", figures=before)
        (figures,) = [one for one in made.pages[0].blocks if isinstance(one, Figures)]
        self.assertEqual(len(figures.lines), 1)
        then, cell = figures.lines[0].cells
        self.assertEqual((then.words, cell.words), (before[changed], now[changed]))
        same = self.pages(*pages, made="2026-11-01", figures=now)
        self.assertIn("No figure of this report changed.", [one.text for one in same.pages[0].blocks])

    def test_a_key_shot_says_what_was_meant_and_what_came(self):
        (heading,) = self.blocks({"kind": "shots", "shots": [SHOT]}, Heading)
        self.assertEqual(heading.text, "Rack 1, shot 2 · 2 to foot left")
        (grid,) = self.blocks({"kind": "shots", "shots": [SHOT]}, Grid)
        rows = dict(grid.rows)
        self.assertIn("potted", rows["said"])
        self.assertIn("cut", rows)


class Out(WithLibrary):
    def test_html_is_one_file_without_script_network_or_markup_of_anybody(self):
        text = html_text(self.pages(*EVERY))
        tags = Tags(text)
        self.assertNotIn("script", tags.tags)
        self.assertNotIn("link", tags.tags)
        for source in tags.sources:
            self.assertTrue(source.startswith(("data:image/jpeg", "#")), source[:60])
        self.assertNotRegex(text, r"url\((?!#)")
        self.assertNotIn("<b>this</b>", text)
        self.assertIn("Watch &lt;b&gt;this&lt;/b&gt; &amp; that", text)
        for link in tags.links:
            self.assertIn(link.removeprefix("#"), tags.ids)

    def test_pdf_is_read_back_by_another_package(self):
        made = self.pages(*EVERY)
        reader = pypdf.PdfReader(io.BytesIO(pdf_bytes(made)))
        texts = [page.extract_text() for page in reader.pages]
        whole = "\n".join(texts)
        for number, text in enumerate(texts, start=1):
            self.assertIn(f"{number} of {len(texts)}", text)
        for page in made.pages:
            self.assertIn(page.title, whole)
        for line in next(one for one in made.pages[6].blocks if isinstance(one, Figures)).lines:
            for cell in line.cells:
                self.assertIn(cell.words, whole)
        titles = [one["/Title"] for one in reader.outline if not isinstance(one, list)]
        self.assertEqual(titles, [page.title for page in made.pages])
        width, height = (round(float(side)) for side in reader.pages[0].mediabox[2:])
        self.assertEqual((width, height), (595, 842))  # ISO 216: A4 is 210 by 297 mm
        for page in reader.pages:
            for font in page["/Resources"]["/Font"].values():
                (descendant,) = font["/DescendantFonts"]
                self.assertIn("/FontFile3", descendant["/FontDescriptor"])
        links = [a for page in reader.pages for a in page.get("/Annots", ()) if a["/Subtype"] == "/Link"]
        self.assertGreaterEqual(len(links), len(made.pages))

    def test_letter_and_american_words(self):
        reader = pypdf.PdfReader(io.BytesIO(pdf_bytes(self.pages({"kind": "methods"}, paper="letter"))))
        self.assertEqual([round(float(side)) for side in reader.pages[0].mediabox[2:]], [612, 792])

    def test_tables_are_read_back_and_run_by_no_table_program(self):
        report = report_of({"kind": "figures", "figures": "potting"})
        written = write_report(material_of(self.library, report), self.folder / "out.csv")
        self.assertEqual([file.name for file in written.files], ["out.csv", "out-potting.csv"])
        rows = list(csv.DictReader(io.StringIO(written.files[0].read_text(encoding="utf-8-sig"))))
        self.assertEqual(len(rows), 8)
        self.assertEqual([row["player"] for row in rows], ["Ada Quill"] * 5 + ["Bram Oster"] * 3)
        self.assertEqual([row["made"] for row in rows[:3]], ["yes", "yes", "no"])
        self.assertIn("'=1+1", [value for row in rows for value in row.values()])
        for row in rows:
            for value in row.values():
                self.assertFalse(value.startswith(("=", "@")), value)

    def test_captions_chapters_and_edit_lists_against_the_marks(self):
        report = report_of({"kind": "methods"})
        written = write_report(material_of(self.library, report), self.folder / "film.vtt")
        by_end = {file.name.rpartition("film-a-test-")[2]: file for file in written.files}
        captions = list(webvtt.read(str(by_end["film-captions.vtt"])))
        self.assertEqual(len(captions), 8)
        self.assertEqual((captions[1].start, captions[1].end), ("00:00:02.000", "00:00:02.600"))
        self.assertIn("Rack 1, shot 2", captions[1].text)
        chapters = list(webvtt.read(str(by_end["film-chapters.vtt"])))
        self.assertEqual(chapters[1].end, chapters[2].start)
        rows = list(csv.DictReader(io.StringIO(by_end["edit-list.csv"].read_text())))
        self.assertEqual([row["out_frame"] for row in rows[:2]], ["40", "65"])
        for row, number in zip(rows, range(8), strict=True):
            self.assertAlmostEqual(float(row["out_s"]), 1.6 + number, delta=1 / RATE)
        codes = re.findall(r"^\d{3}  AX       V     C        (.*)$", by_end["film.edl"].read_text(), re.M)
        self.assertEqual(codes[1], "00:00:00:00 00:00:02:15 00:00:01:15 00:00:04:05")

    def test_a_caption_holds_no_arrow_and_no_empty_line(self):
        report = report_of({"kind": "methods"})
        scenes = scenes_of(material_of(self.library, report).snapshot("test"))
        bad = [type(scenes[0])("film", 1.0, 1.0, 1, "a --> b", "x\n\ny <i>")]
        found = list(webvtt.from_buffer(io.StringIO(captions_text(bad))))
        self.assertEqual(found[0].raw_text.splitlines(), ["a --&gt; b", "x", "y &lt;i&gt;"])
        self.assertIn(
            "TITLE: A test", edit_list_edl(material_of(self.library, report).snapshot("test"), [], "film")
        )

    def test_each_drawing_and_chart_is_a_file_of_its_own(self):
        report = report_of(
            {"kind": "shots", "shots": [SHOT]}, {"kind": "sheet", "session": "test", "rack": 1}
        )
        made = write_report(material_of(self.library, report), self.folder / "drawn.svg")
        self.assertEqual([file.name for file in made.files], ["drawn-page-1-1.svg", "drawn-page-2-1.svg"])
        for file in made.files:
            self.assertTrue(ElementTree.parse(file).getroot().tag.endswith("svg"))

    def test_without_colour_nothing_is_coloured(self):
        pages = [page for page in EVERY if page["kind"] in ("shots", "figures", "summary", "sheet")]
        made = self.pages(*pages, {"kind": "film", "shots": [SHOT]}, grey=True)
        text = html_text(made)
        colours = set(re.findall(r"[:\"]#([0-9a-f]{6})\b", text))
        self.assertGreater(len(colours), 10)
        self.assertEqual({one for one in colours if not one[:2] == one[2:4] == one[4:]}, set())
        still = base64.b64decode(re.search(r"data:image/jpeg;base64,([^\"]+)", text)[1])
        picture = cv2.imdecode(np.frombuffer(still, np.uint8), cv2.IMREAD_COLOR).astype(int)
        self.assertLess(int(np.ptp(picture, axis=2).max()), 3)
        self.assertIn("#0b666b", html_text(self.pages({"kind": "methods"})))
        painted = set()
        for page in pypdf.PdfReader(io.BytesIO(pdf_bytes(made))).pages:
            painted |= set(
                re.findall(rb"([\d.]+) ([\d.]+) ([\d.]+) (?:rg|RG)\b", page.get_contents().get_data())
            )
        self.assertGreater(len(painted), 3)
        self.assertEqual({one for one in painted if len(set(one)) > 1}, set())

    def test_tables_are_read_by_a_table_program(self):
        report = report_of({"kind": "figures", "figures": "potting"}, title="=1+1")
        path = self.folder / "read.csv"
        write_report(material_of(self.library, report), path)
        table = pandas.read_csv(path)
        self.assertEqual(len(table), 8)
        self.assertEqual(list(table.columns[:2]), ["session", "player"])
        documented = (Path(__file__).parents[2] / "docs" / "facts.md").read_text()
        for column in table.columns[2:]:
            self.assertIn(f"`{column}`", documented)
        self.assertEqual(table["made"].tolist().count("yes"), 6)
        self.assertIn("'=1+1", set(table.stack().astype(str)))

    def test_a_full_disk_leaves_nothing(self):
        target = self.folder / "full"
        target.mkdir(exist_ok=True)
        report = report_of({"kind": "figures", "figures": "potting"})
        whole = Path.write_bytes
        written = []

        def fails_at_the_second(path, data):
            written.append(path)
            if len(written) > 1:
                raise OSError(28, "No space left on device", str(path))
            return whole(path, data)

        with patch.object(Path, "write_bytes", fails_at_the_second), self.assertRaises(OSError):
            write_report(material_of(self.library, report), target / "out.csv")
        self.assertEqual(len(written), 2)
        self.assertEqual(list(target.iterdir()), [])
        with self.assertRaises(UnknownEnding):
            write_report(material_of(self.library, report), target / "out.doc")


class Edits(WithLibrary):
    def test_which_report_of_a_library_is_meant(self):
        def why(name):
            with self.assertRaises(BadReport) as caught:
                report_of_library(self.library, Wanted(self.folder / "which.pdf", report=name))
            return str(caught.exception)

        self.assertIn("keeps no report", why(None))
        self.document.run(add_report("For Ada", "ada quill")[1])
        self.assertEqual(why(None), "Which report? --report names one of: For Ada.")
        self.assertEqual(why("For Bram"), "The library has no report “For Bram”; it has For Ada.")
        self.document.undo()

    def test_a_report_is_kept_changed_and_taken_back(self):
        key, command = add_report("For Ada", "ada quill")
        self.document.run(command)
        self.document.run(change_report(key, dict(self.library.reports())[key], {("grey",): True}))
        report = dict(self.library.reports())[key]
        self.assertTrue(report.grey)
        self.assertEqual(len(report.pages), len(PAGES))
        self.document.run(add_shot(key, report, "test", 1, 2))
        report = dict(self.library.reports())[key]
        self.assertEqual([one.shot for one in report.pages[3].shots], [2])
        with self.assertRaisesRegex(ValueError, "already"):
            add_shot(key, report, "test", 1, 2)
        self.document.run(move_page(key, report, 3, 0))
        self.document.run(remove_page(key, dict(self.library.reports())[key], 1))
        kinds = [page.kind for page in dict(self.library.reports())[key].pages]
        self.assertEqual(kinds, ["shots", "figures", "figures", "practice", "methods"])
        for _ in range(5):
            self.document.undo()
        self.assertEqual(self.library.reports(), [])
        with self.assertRaisesRegex(ValueError, "title"):
            add_report(" ", None)


if __name__ == "__main__":
    unittest.main()
