"""What each key says of a shot."""

import contextlib
import unittest

from ripasso.review.document.edits import with_values
from ripasso.review.entry.tagging import (
    OUTCOMES,
    TAGS,
    Context,
    Entry,
    NotUnderstood,
    digit_values,
    is_set,
    pocket_values,
    tag_values,
)
from ripasso.review.entry.word_values import changed_shot, is_said, items_of, toggled
from ripasso.review.language.items import Manner, TagWord, Word, written
from ripasso.review.language.parsing import parse
from ripasso.review.language.terms import TERMS
from ripasso.review.language.vocabulary import WORDS
from ripasso.review.present.describing import chips, outcome_words, rack_story, shot_sentence, shot_title
from ripasso.review.record.model import Shot, serialize
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.measured_session import measured_session
from tests.sessions import played, rack_of, session


class Typist:
    """Types keys at the last shot of a rack and looks at the record."""

    def __init__(self, *before, shot=None, game="nine_ball"):
        self.session = session(game=game, racks=[rack_of(*before, shot or {"player": "a"})])
        self.entry = Entry()

    @property
    def shot(self):
        return self.session.racks[0].shots[-1]

    @property
    def context(self):
        score = score_of(self.session)
        judged = score.racks[0].shots[-1] if score else None
        return Context(self.shot, self.session.game, judged)

    def type(self, *keys):
        for key in keys:
            if key.isdigit():
                values, self.entry = digit_values(self.context, self.entry, key)
            elif key.startswith("pocket:"):
                values, self.entry = pocket_values(self.context, self.entry, key[7:]), Entry()
            elif key == "first":
                self.entry = Entry(first_contact=True)
                continue
            else:
                values, self.entry = tag_values(self.context, key), Entry()
            changed = with_values(self.shot, values)
            rack = self.session.racks[0]
            rack = rack.model_copy(update={"shots": (*rack.shots[:-1], changed)})
            self.session = self.session.model_copy(update={"racks": (rack,)})
        data = serialize(self.shot)
        return {key: value for key, value in data.items() if key not in ("number", "player")}


BREAK = played("a", "2", intent="break")


class Pots(unittest.TestCase):
    def test_pocket_and_potted_are_enough(self):
        self.assertEqual(
            Typist(BREAK).type("pocket:foot_left", "potted"),
            {
                "intent": "pot",
                "call": {"pocket": "foot_left"},
                "facts": {"potted": [{"ball": "1", "pocket": "foot_left"}]},
            },
        )

    def test_a_named_ball_wins_over_the_ball_on(self):
        found = Typist(BREAK).type("9", "pocket:side_left", "potted")
        self.assertEqual(found["facts"]["potted"], [{"ball": "9", "pocket": "side_left"}])

    def test_missed_thin(self):
        found = Typist(BREAK).type("pocket:foot_left", "missed_thin")
        self.assertEqual((found["facts"], found["result"]), ({"potted": []}, {"contact": "thin"}))

    def test_a_made_ball_may_be_thick(self):
        shot = changed_shot(Context(Shot(number=1), "nine_ball"), parse("4 fl, in thick, made, near jaw"))
        self.assertEqual((shot.result.contact, shot.result.missed_by), ("thick", "near"))
        self.assertEqual([pot.ball for pot in shot.facts.potted], ["4"])
        self.assertTrue(is_set(shot, "potted"))
        self.assertFalse(is_set(shot, "missed_thick"))
        self.assertTrue(is_said(shot, "result.contact.thick"))
        missed = changed_shot(Context(Shot(number=1), "nine_ball"), parse("4 fl, missed thick"))
        self.assertFalse(is_said(missed, "result.contact.thick"))  # the whole slip does not say both
        self.assertIn("thick", [chip.text for chip in chips(shot)])
        line = written(items_of(shot), Manner())
        self.assertEqual(changed_shot(Context(Shot(number=1), "nine_ball"), parse(line)), shot)

    def test_a_position_that_is_no_error_may_have_its_cause(self):
        shot = changed_shot(
            Context(Shot(number=1), "nine_ball"), parse("by pace, 4 fl, made, playable, long")
        )
        self.assertEqual((shot.result.causes, shot.error), (("pace",), None))
        self.assertIn("pace", [chip.text for chip in chips(shot)])
        line = written(items_of(shot), Manner())
        self.assertEqual(changed_shot(Context(Shot(number=1), "nine_ball"), parse(line)), shot)
        taken_back = with_values(shot, toggled(Context(shot, "nine_ball"), "error.causes.pace"))
        self.assertIsNone(taken_back.result.causes)
        found = measured_session(session(racks=[rack_of(serialize(shot) | {"player": "a"})])).columns.facts
        self.assertEqual(found.texts("causes").tolist(), ["pace"])
        self.assertEqual(found.texts("errors").tolist(), [""])

    def test_five_classes_of_position(self):
        for said in ("perfect", "good", "playable", "poor", "lost"):
            shot = changed_shot(Context(Shot(number=1), "nine_ball"), parse(said))
            self.assertEqual(shot.result.position, said)

    def test_pressed_again_takes_it_back(self):
        typist = Typist(BREAK)
        for key in ("potted", "missed_thick", "position_good", "decision_agree", "foul_scratch"):
            with self.subTest(key):
                typist.type(key)
                self.assertTrue(is_set(typist.shot, key))
                typist.type(key)
                self.assertFalse(is_set(typist.shot, key))

    def test_a_second_ball_and_its_pocket(self):
        found = Typist(BREAK).type("pocket:foot_left", "potted", "9", "pocket:side_right")
        self.assertEqual(
            found["facts"]["potted"],
            [{"ball": "1", "pocket": "foot_left"}, {"ball": "9", "pocket": "side_right"}],
        )

    def test_a_late_pocket_reaches_the_fallen_ball(self):
        found = Typist(BREAK).type("potted", "pocket:foot_left")
        self.assertEqual(found["facts"]["potted"], [{"ball": "1", "pocket": "foot_left"}])

    def test_which_ball_is_asked_where_it_is_not_known(self):
        typist = Typist(game="eight_ball")
        with self.assertRaises(NotUnderstood) as caught:
            typist.type("potted")
        self.assertIn("number", str(caught.exception))
        self.assertEqual(typist.type("3", "potted")["facts"]["potted"], [{"ball": "3"}])

    def test_one_and_two_make_twelve(self):
        typist = Typist(game="eight_ball")
        self.assertEqual(typist.type("1", "2")["call"]["ball"], "12")
        self.assertEqual(
            typist.type("potted", "1", "5", "pocket:foot_left")["facts"]["potted"][1]["ball"], "15"
        )
        self.assertEqual(Typist(BREAK).type("1", "2")["call"]["ball"], "2")  # nine-ball has no 12

    def test_a_ball_the_game_has_not(self):
        self.assertRaises(NotUnderstood, Typist(game="snooker").type, "9")

    def test_in_snooker_a_digit_is_a_value_and_any_red_will_do(self):
        typist = Typist(played("a", intent="break"), game="snooker")
        said = typist.type("1", "pocket:foot_left", "potted")
        self.assertEqual(said["facts"]["potted"], [{"ball": "red1", "pocket": "foot_left"}])
        self.assertEqual((said["facts"]["first_contact"], said["call"]), ("red1", {"pocket": "foot_left"}))
        self.assertEqual(typist.type("1")["facts"]["potted"][1]["ball"], "red2")
        self.assertEqual(Typist(game="snooker").type("7", "potted")["call"], {"ball": "black"})


class Breaks(unittest.TestCase):
    def test_balls_and_pockets_in_turn(self):
        found = Typist(shot={"player": "a", "intent": "break"}).type(
            "3", "pocket:foot_left", "7", "pocket:side_left"
        )
        self.assertEqual(
            found["facts"]["potted"],
            [{"ball": "3", "pocket": "foot_left"}, {"ball": "7", "pocket": "side_left"}],
        )

    def test_a_pocket_without_a_ball_says_what_is_missing(self):
        typist = Typist(shot={"player": "a", "intent": "break"})
        self.assertRaises(NotUnderstood, typist.type, "pocket:foot_left")

    def test_a_ball_twice_takes_it_away(self):
        typist = Typist(shot={"player": "a", "intent": "break"})
        self.assertEqual(typist.type("3", "3")["facts"]["potted"], [])


class Judgement(unittest.TestCase):
    def test_unforced_takes_the_kind_from_what_went_wrong(self):
        cases = (
            (("missed_thin",), "pot"),
            (("pocket:foot_left", "potted", "position_lost"), "position"),
            (("intent_safety", "foul_scratch"), "foul"),
        )
        for keys, kind in cases:
            with self.subTest(kind):
                found = Typist(BREAK).type(*keys, "unforced")
                self.assertEqual(found["error"], {"kind": kind, "unforced": True})

    def test_forced_and_back_to_nothing(self):
        typist = Typist(BREAK)
        self.assertEqual(
            typist.type("missed", "unforced", "forced")["error"], {"kind": "pot", "unforced": False}
        )
        self.assertNotIn("error", typist.type("forced"))

    def test_what_else_the_error_says_is_kept(self):
        error = {"kind": "pot", "unforced": True, "causes": ["aim"]}
        typist = Typist(BREAK, shot={**played("a"), "error": error})
        self.assertEqual(typist.type("unforced")["error"], {"kind": "pot", "causes": ["aim"]})

    def test_nothing_went_wrong(self):
        self.assertRaises(NotUnderstood, Typist(BREAK).type, "unforced")

    def test_two_kinds_at_once(self):
        found = Typist(BREAK).type("missed", "foul_scratch", "unforced")
        self.assertEqual([e["kind"] for e in found["error"]], ["pot", "foul"])


class Fouls(unittest.TestCase):
    def test_zero_is_the_cue_ball(self):
        self.assertEqual(Typist(BREAK).type("0")["facts"], {"cue_potted": True})

    def test_hit_first_takes_the_next_digit(self):
        self.assertEqual(Typist(BREAK).type("first", "4")["facts"], {"first_contact": "4"})

    def test_no_ball_hit_is_null_not_missing(self):
        self.assertEqual(Typist(BREAK).type("foul_no_contact")["facts"], {"first_contact": None})

    def test_other_fouls_come_and_go(self):
        typist = Typist(BREAK)
        typist.type("other_foul_double_hit")
        self.assertTrue(is_set(typist.shot, "other_foul_double_hit"))
        self.assertNotIn("facts", typist.type("other_foul_double_hit"))


#: A shot of which nothing is said but who struck it.
BARE = {"number": 1, "player": "a"}


class Words(unittest.TestCase):
    def test_every_tag_has_a_word(self):
        for name in (*TAGS, *OUTCOMES, "unforced", "forced"):
            has_word = name.removeprefix("intent_") in WORDS
            self.assertTrue(has_word, f"{name} has no word: see review/language/vocabulary.py")

    def test_chips_say_what_was_said(self):
        typist = Typist(BREAK)
        typist.type("pocket:foot_left", "potted", "position_lost", "pace_long", "unforced", "decision_other")
        texts = [chip.text for chip in chips(typist.shot)]
        expected = ["pot", "foot left", "potted", "position lost", "long", "other shot", "position: unforced"]
        self.assertEqual(texts, expected)

    def test_every_tag_has_its_chip(self):
        """What a key says is seen at once: on a missed pot, on a made one, or on a shot without a record."""
        called = {**BARE, "call": {"ball": "1"}}
        made, missed = ({"intent": "pot", "facts": {"potted": fell}} for fell in (({"ball": "1"},), ()))
        shots = [called, called | made, called | missed]
        for name in (*TAGS, *OUTCOMES, "unforced", "forced"):
            seen = False
            for shot in map(Shot.model_validate, shots):
                with contextlib.suppress(NotUnderstood):
                    said = changed_shot(Context(shot, "nine_ball", None), [TagWord(name)])
                    seen = seen or (said != shot and chips(said) != chips(shot))
            self.assertTrue(seen, f"{name} changes no chip: see present/describing.py")

    def test_every_term_of_the_language_has_its_chip(self):
        missed = {**BARE, "intent": "pot", "facts": {"potted": (), "cue_potted": True}}
        for term in TERMS:
            shot = Shot.model_validate(missed)
            said = changed_shot(Context(shot, "nine_ball", None), [Word(term.id)])
            if said != shot:
                self.assertNotEqual(chips(said), chips(shot), f"{term.id} has no chip in the slip")

    def test_title_and_outcome(self):
        typist = Typist(BREAK)
        typist.type("pocket:foot_left", "missed_thin")
        judged = typist.context.judged
        self.assertEqual(shot_title(typist.shot, judged), "Shot 2 · 1 to foot left")
        self.assertEqual(outcome_words(typist.session, judged)[0], "Legal, Bram Oster to play")
        typist.type("foul_scratch")
        words = outcome_words(typist.session, typist.context.judged)[0]
        self.assertEqual(words, "Foul: cue ball potted or off the table. Bram Oster to play, ball in hand")

    def test_a_shot_is_read_aloud_in_one_sentence(self):
        typist = Typist(BREAK)
        typist.type("pocket:foot_left", "missed_thin")
        told = shot_sentence(typist.session, typist.shot, typist.context.judged, Manner(game="nine_ball"))
        self.assertTrue(
            told.startswith("Shot 2, 1 to foot left, Ada Quill; pot, foot left, missed thin"), told
        )
        self.assertTrue(told.endswith("Legal, Bram Oster to play."), told)
        bare = shot_sentence(typist.session, Shot(number=3), None, Manner())
        self.assertEqual(bare, "Shot 3, nobody named.")

    def test_the_story_names_the_losing_shot_and_its_cause(self):
        miss = {**played("a"), "error": {"kind": "pot", "cause_shot": 2}}
        record = session(racks=[rack_of(BREAK, played("a", "1"), miss, played("b", "9"))])
        rack = record.racks[0]
        story = rack_story(record, rack, score_of(record).racks[0])
        self.assertEqual(
            story, "Bram Oster won the rack: the 9 was potted. Lost at shot 3; it began at shot 2."
        )

    def test_a_missing_record_says_nothing(self):
        self.assertEqual(chips(Shot(number=1)), [])


if __name__ == "__main__":
    unittest.main()
