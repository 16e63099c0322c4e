"""The language: every phrase means one thing, what is written is read again, what is wrong is explained."""

import unittest
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as some

from ripasso.review.document.edits import with_values
from ripasso.review.entry.tagging import ANGLES, Context, NotUnderstood
from ripasso.review.entry.word_values import items_of, words_values
from ripasso.review.language.items import (
    Ball,
    ColourMeant,
    Fell,
    FreeTag,
    HitFirst,
    Into,
    Judge,
    Manner,
    Next,
    OrNext,
    Root,
    TagWord,
    Tip,
    Wanted,
    Word,
    written,
)
from ripasso.review.language.parsing import PHRASES, NotAWord, completions, nearest, parse, understood
from ripasso.review.language.terms import BALLS, BY_ID, POCKETS, TAG_FORMS, TERMS, TWO_MEANINGS
from ripasso.review.record.model import Shot, serialize
from ripasso.review.record.values import Cause, Delivery, ErrorKind, Event, Intent, Method

MANNERS = [Manner(t, g) for t in ("american", "british") for g in ("eight_ball", "snooker")]
ball, pocket = some.sampled_from(BALLS), some.sampled_from(sorted(POCKETS))
tips = some.integers(-4, 4).map(lambda quarters: quarters / 4)
names = some.text("abcdefghijklmnopqrstuvwxyz", min_size=2, max_size=8)
items = some.one_of(
    some.sampled_from(sorted(BY_ID)).map(Word),
    some.sampled_from(sorted(TAG_FORMS)).map(TagWord),
    ball.map(Ball),
    pocket.map(Into),
    some.builds(Fell, ball, some.none() | pocket),
    ball.map(HitFirst),
    some.builds(Next, ball, some.none() | pocket),
    ball.map(OrNext),
    some.sampled_from(sorted(ANGLES)).map(Wanted),
    some.builds(Tip, tips, tips),
    ball.map(ColourMeant),
    some.integers(1, 60).map(Root),
    names.map(FreeTag),
    names.map(Judge),
)


def parted(line):
    """A pocket behind a ball that is played for or fell belongs to it: such pairs are not told apart."""
    return not any(
        isinstance(one, (Next, Fell)) and one.pocket is None and isinstance(then, Into)
        for one, then in pairwise(line)
    )


class RoundTrip(unittest.TestCase):
    @settings(max_examples=300, deadline=None)
    @given(some.lists(items, max_size=8).filter(parted), some.sampled_from(MANNERS))
    def test_chips_to_words_to_chips(self, line, manner):
        self.assertEqual(parse(written(line, manner)), tuple(line))

    def test_no_phrase_means_two_things(self):
        forms = [form.casefold() for term in TERMS for form in term.forms]
        forms += [form for american, british in TAG_FORMS.values() for form in {*american, *british}]
        forms += [form for spoken in POCKETS.values() for form in spoken]
        self.assertEqual(sorted(forms), sorted(set(forms)))
        for word in TWO_MEANINGS:
            self.assertNotIn((word,), PHRASES)

    def test_every_value_of_the_record_can_be_said(self):
        said = {(".".join(term.path), term.value) for term in TERMS}
        for path, values in (
            ("intent", Intent),
            ("methods", Method),
            ("delivery", Delivery),
            ("events", Event),
            ("error.kind", ErrorKind),
            ("error.causes", Cause),
        ):
            for value in values.__args__:
                self.assertIn((path, value), said)


class Wrong(unittest.TestCase):
    def test_a_wrong_word_gives_the_nearest_right_one(self):
        for typed, near in (
            ("scrw", "screw"),
            ("fot left", "foot left"),
            ("cannnon", "cannon"),
            ("missd", "missed"),
            ("too heavy", "too s"),
        ):
            with self.subTest(typed), self.assertRaises(NotAWord) as caught:
                parse(f"4 {typed}")
            self.assertIn(near, str(caught.exception))

    @settings(max_examples=200, deadline=None)
    @given(some.sampled_from(sorted(" ".join(p) for p in PHRASES if len(" ".join(p)) > 4)), some.data())
    def test_one_letter_left_out_is_understood_or_explained(self, phrase, data):
        place = data.draw(some.integers(0, len(phrase) - 1))
        typed = phrase[:place] + phrase[place + 1 :]
        said, error = understood(typed)
        if error is not None:
            self.assertTrue(error.endswith((".", "?")))
            self.assertRegex(error, "“.+”|Say it so")
        else:
            self.assertTrue(said)

    def test_what_a_coach_says_of_pace_and_choice(self):
        for typed, meant in (
            ("too hard", "result.pace.long"),
            ("too soft", "result.pace.short"),
            ("good decision", "decision.verdict.agree"),
            ("bad decision", "decision.verdict.mistake"),
        ):
            with self.subTest(typed):
                said, error = understood(f"missed thick, {typed}")
                self.assertIsNone(error)
                self.assertEqual(said[-1], Word(meant))

    def test_words_with_two_meanings_are_asked_about(self):
        for word in TWO_MEANINGS:
            with self.subTest(word), self.assertRaises(NotAWord) as caught:
                parse(word)
            self.assertIn("means two things", str(caught.exception))

    def test_what_is_half_said_is_explained(self):
        for typed, hint in (
            ("next", "next 6"),
            ("next blu", "next 6"),
            ("hit 5", "hit 5 first"),
            ("root", "root 3"),
            ("tip 1", "tip 1 right"),
            ("fell x", "fell 7"),
            ("says", "says ada"),
            ("#", "#opening"),
        ):
            with self.subTest(typed), self.assertRaises(NotAWord) as caught:
                parse(typed)
            self.assertIn(hint, str(caught.exception))

    def test_what_was_understood_before_it_stays(self):
        said, error = understood("4 foot left, drow")
        self.assertEqual(list(said), [Ball("4"), Into("foot_left")])
        self.assertIn("draw", error)
        self.assertIsNone(nearest("qqqqqqq"))

    def test_completion(self):
        self.assertIn("position good", completions("4 pos"))
        self.assertIn("too straight", completions("too s"))
        self.assertEqual(completions("4 foot left, "), [])
        self.assertEqual(completions(""), [])


def said(text, game="nine_ball", **values):
    shot = with_values(Shot(number=3), {(key,): value for key, value in values.items()})
    return with_values(shot, words_values(Context(shot, game), parse(text)))


class Record(unittest.TestCase):
    def test_a_line_is_the_whole_judgement(self):
        shot = said(
            "4 foot left, draw, firm, tip 1/2 left 1 low, over a ball, next 6 side left or 7, "
            "want half-ball, missed thick, lost, long, wrong side, other shot, says ada, "
            "error in the shot, by aim, by pressure, root 2, unforced, #opening"
        )
        data = serialize(shot)
        self.assertEqual(data["call"], {"ball": "4", "pocket": "foot_left"})
        self.assertEqual((data["stroke"]["kind"], data["stroke"]["pace"]), ("draw", "firm"))
        self.assertAlmostEqual(data["stroke"]["tip"][1], -13 / 28.575, places=4)
        self.assertEqual(data["plan"]["or_balls"], ["7"])
        self.assertEqual(data["result"]["contact"], "thick")
        self.assertEqual(data["decision"], {"verdict": "prefer_other", "by": "ada"})
        error = {"kind": "pot", "causes": ["aim", "pressure"], "cause_shot": 2, "unforced": True}
        self.assertEqual(data["error"], error)
        self.assertEqual(data["tags"], ["opening"])

    def test_both_sides_say_the_same(self):
        american = said("4 head left, draw, combination, by english, missed", call={"ball": "4"})
        british = said("4 baulk left, screw, plant, by side, missed", call={"ball": "4"})
        self.assertEqual(serialize(american), serialize(british))
        self.assertEqual(serialize(said("black yellow pocket", "snooker"))["call"]["pocket"], "head_right")

    def test_what_the_record_says_is_written_and_read_again(self):
        for text in (
            "4 foot left, draw, soft, next 6, potted, good",
            "safety, bank, roll, position lost, agree, #end",
            "8 side right, missed thin, hit 5 first, error in the shot, by throw, root 1, forced",
            "5 foot left, broke a cluster, potted, lucky leave, hurried, tip 1 right 0.25 high",
        ):
            shot = said(text)
            for manner in MANNERS[:2]:
                line = written(items_of(shot, "nine_ball"), manner)
                self.assertEqual(serialize(said(line)), serialize(shot), line)

    def test_a_cause_without_an_error_is_refused(self):
        with self.assertRaises(NotUnderstood):
            said("4 foot left, potted, by aim")
        # Where the facts show what went wrong, the cause belongs to it.
        self.assertEqual(
            serialize(said("4 foot left, missed, by aim"))["error"], {"kind": "pot", "causes": ["aim"]}
        )

    def test_saying_it_twice_changes_nothing(self):
        once = said("4 foot left, bank, missed, by aim, unforced, #a")
        again = with_values(
            once, words_values(Context(once, "nine_ball"), parse("bank, by aim, #a, unforced"))
        )
        self.assertEqual(serialize(again), serialize(once))
