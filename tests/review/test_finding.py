"""Forty search lines over the demo's sessions, each beside a plain loop over the records."""

import unittest

from ripasso.core.finding import FIELDS, matching, parse_query
from ripasso.demo.library import film_session
from ripasso.demo.matches.sessions import shipped
from ripasso.review.measuring.measuring import measure_session
from ripasso.review.record.model import serialize
from ripasso.review.scoring.outcome import recorded_errors, shot_outcome
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.search_columns import columns_of


class One:
    """A shot as a person would look at it: the record, the rules' judgement, the measures."""

    def __init__(self, session, rack, shot, judged, measures):
        self.session, self.rack, self.shot, self.measures = session, rack, shot, measures
        self.went = shot_outcome(shot, judged)
        self.data = serialize(shot)
        names = {player.id: player.name or "" for player in session.players}
        self.player = names.get(shot.player, "")
        self.errors = recorded_errors(shot)

    def get(self, *path):
        here = self.data
        for key in path:
            here = here.get(key) if isinstance(here, dict) else None
        return here

    def pot(self, name):
        return getattr(self.measures.geometry, name) if self.measures.geometry else None

    def position(self, name):
        return getattr(self.measures.position, name) if self.measures.position else None

    def causes(self):
        return [cause for error in self.errors for cause in error.causes or ()]


def between(value, low, high):
    return value is not None and low <= value <= high


QUERIES = {
    "game:nine_ball": lambda s: s.session.game == "nine_ball",
    "game:snooker,eight_ball": lambda s: s.session.game in ("snooker", "eight_ball"),
    "kind:match": lambda s: s.session.kind == "match",
    "intent:safety": lambda s: s.get("intent") == "safety",
    "intent:pot made:no": lambda s: s.get("intent") == "pot" and not s.went.made,
    "made:yes": lambda s: s.went.made,
    "failed:yes": lambda s: s.went.failed,
    "foul:yes": lambda s: s.went.fouled,
    "tried:yes -made:yes": lambda s: s.went.tried and not s.went.made,
    "position:lost": lambda s: s.get("result", "position") == "lost",
    "position:good,playable": lambda s: s.get("result", "position") in ("good", "playable"),
    "position:none tried:yes": lambda s: s.get("result", "position") is None and s.went.tried,
    "pace:long": lambda s: s.get("result", "pace") == "long",
    "side:wrong or angle:too_straight": lambda s: (
        s.get("result", "side") == "wrong" or s.get("result", "angle") == "too_straight"
    ),
    "verdict:agree": lambda s: s.get("decision", "verdict") == "agree",
    "contact:thick": lambda s: s.get("result", "contact") == "thick",
    "contact:thin,thick position:none": lambda s: (
        s.get("result", "contact") in ("thin", "thick") and s.get("result", "position") is None
    ),
    "unforced:pot": lambda s: any(e.kind == "pot" and e.unforced is True for e in s.errors),
    "unforced:position": lambda s: any(e.kind == "position" and e.unforced is True for e in s.errors),
    "cause:pace": lambda s: "pace" in s.causes(),
    "cause:contact_thick,aim": lambda s: bool({"contact_thick", "aim"} & set(s.causes())),
    "root:>0": lambda s: any(e.cause_shot is not None for e in s.errors),
    "root:none failed:yes": lambda s: s.went.failed and all(e.cause_shot is None for e in s.errors),
    "rack:1": lambda s: s.rack.number == 1,
    "rack:2-4 shot:1": lambda s: 2 <= s.rack.number <= 4 and s.shot.number == 1,
    "shot:>10": lambda s: s.shot.number > 10,
    "player:lioba": lambda s: "lioba" in s.player.casefold(),
    "-player:lioba intent:pot": lambda s: "lioba" not in s.player.casefold() and s.get("intent") == "pot",
    "ball:9": lambda s: (
        s.get("call", "ball") == "9"
        or (s.get("call", "ball") is None and s.get("intent") == "pot" and s.only_on == "9")
    ),
    "pocket:foot_left": lambda s: s.get("call", "pocket") == "foot_left",
    "pocket:foot_left,foot_right made:yes": lambda s: (
        s.went.made and s.get("call", "pocket") in ("foot_left", "foot_right")
    ),
    "chance:<0.5": lambda s: s.pot("chance") is not None and s.pot("chance") < 0.5,
    "chance:0.75-1 made:no": lambda s: between(s.pot("chance"), 0.75, 1) and not s.went.made,
    "cut:30-60": lambda s: s.pot("cut_deg") is not None and 30 <= abs(s.pot("cut_deg")) <= 60,
    "way:>2": lambda s: s.pot("cue_travel") is not None and s.pot("cue_travel") + s.pot("object_travel") > 2,
    "leave:>=0.6": lambda s: s.measures.leave is not None and s.measures.leave >= 0.6,
    "snookered:yes": lambda s: bool(s.measures.snookered),
    "distance:>0.1": lambda s: s.position("distance") is not None and s.position("distance") > 0.1,
    "line_side:wrong_side or loss:>0.15": lambda s: (
        s.position("side") == "wrong_side" or (s.position("position_loss") or 0) > 0.15
    ),
    "(position:lost or failed:yes) -(game:snooker or player:casimir)": lambda s: (
        (s.get("result", "position") == "lost" or s.went.failed)
        and not (s.session.game == "snooker" or "casimir" in s.player.casefold())
    ),
    "date:2026-11": lambda s: (s.session.date or "").startswith("2026-11"),
    "ladder": lambda s: "ladder" in f"{s.session.title} {s.player} {s.shot.note or ''}".casefold(),
}


class FortyQueries(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sessions = [*shipped(), film_session()]
        _, cls.columns = columns_of(cls.sessions)
        cls.shots = []
        for session in cls.sessions:
            score, measured = score_of(session), measure_session(session)
            for i, rack in enumerate(session.racks or ()):
                for j, shot in enumerate(rack.shots or ()):
                    judged = score.racks[i].shots[j] if score else None
                    one = One(session, rack, shot, judged, measured[i][j])
                    on = judged.balls_on if judged else ()
                    one.only_on = on[0] if len(on) == 1 else None
                    cls.shots.append(one)

    def test_each_finds_what_a_loop_finds(self):
        self.assertGreaterEqual(len(QUERIES), 40)
        empty = []
        for line, wanted in QUERIES.items():
            with self.subTest(line):
                found = matching(parse_query(line, FIELDS), self.columns).tolist()
                self.assertEqual(found, [bool(wanted(shot)) for shot in self.shots])
                if not any(found):
                    empty.append(line)
        # A line that finds nothing shows little.
        self.assertLess(len(empty), 6, empty)
