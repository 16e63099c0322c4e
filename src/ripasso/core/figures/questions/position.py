"""Questions about the cue ball: long or short, the zone, the side of the next line, luck."""

from __future__ import annotations

from collections.abc import Mapping

from ripasso.core.figures.answers import Answer, Asked, gap, lean, plain, share
from ripasso.core.figures.facts import UNKNOWN, YES, Flags
from ripasso.core.figures.questions.asking import Question, less, more, texts, words

#: The cue ball runs along the next line below the first, across it above the second (degrees).
ALONG_DEG, ACROSS_DEG = 20.0, 50.0
FOLLOWING, DRAWN = ("follow", "run_through", "roll"), ("draw", "drag")
#: A cue ball that runs farther than this share of the table's length travels far.
FAR = 1.0


def _zone(asked: Asked) -> tuple[Flags, Flags]:
    """Made pots with a zone, and those that hit it."""
    zone = asked.facts.ints("zone")
    return asked.made & (zone != UNKNOWN), zone == YES


def _along(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made)


def _across(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("across"), asked.made)


def _along_drawn(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made & texts(asked, "stroke", DRAWN))


def _along_followed(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("along"), asked.made & texts(asked, "stroke", FOLLOWING))


def _judged_pace(asked: Asked) -> Answer:
    said = asked.made & texts(asked, "pace", ("long", "short"))
    return share(said, asked.facts.equal("pace", "long"))


def _angle(asked: Asked) -> Answer:
    return lean(asked.facts.numbers("angle_miss"), asked.made)


def _cushions(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    cushions = asked.facts.ints("cushions")
    return gap(known & (cushions >= 2), known & (cushions == 0), hit)


def _far_travel(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    way = asked.facts.numbers("travel") / asked.facts.numbers("table_length")
    return gap(known & more(way, FAR), known & less(way, FAR), hit)


def _draw_or_follow(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    return gap(known & texts(asked, "stroke", DRAWN), known & texts(asked, "stroke", FOLLOWING), hit)


def _crossing(asked: Asked) -> Answer:
    known = asked.made & (asked.facts.known("side"))
    way = asked.facts.numbers("crossing_deg")
    right = ~asked.facts.equal("side", "wrong_side")
    return gap(known & more(way, ACROSS_DEG), known & less(way, ALONG_DEG), right)


def _lost_position(asked: Asked) -> Answer:
    return plain(asked.made & (asked.facts.known("position")), asked.facts.equal("position", "lost"))


def _luck(asked: Asked) -> Answer:
    return plain(asked.made, asked.facts.known("luck"))


def _fought(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    return gap(
        known & (asked.facts.equal("route", "fought")), known & (asked.facts.equal("route", "natural")), hit
    )


def _zone_by_side_spin(asked: Asked) -> Answer:
    known, hit = _zone(asked)
    return gap(
        known & texts(asked, "spin_cut", ("inside", "outside")),
        known & (asked.facts.equal("spin_cut", "none")),
        hit,
    )


def _angle_straight(asked: Asked) -> Answer:
    said = asked.made & texts(asked, "angle", ("too_straight", "too_steep"))
    return share(said, asked.facts.equal("angle", "too_steep"))


def _saved_by_luck(asked: Asked) -> Answer:
    lucky = asked.made & texts(asked, "luck", ("kind_leave", "unkind_leave"))
    return plain(lucky, asked.facts.equal("luck", "kind_leave"))


def _key_balls(asked: Asked) -> Answer:
    """Key balls that were potted with a good position: those that worked."""
    key = asked.pots & words(asked, "roles", "key")
    return plain(key, asked.made & asked.facts.equal("position", "good"))


POSITION: Mapping[str, Question] = {
    "along": _along,
    "across": _across,
    "along_drawn": _along_drawn,
    "along_followed": _along_followed,
    "judged_pace": _judged_pace,
    "angle": _angle,
    "cushions": _cushions,
    "far_travel": _far_travel,
    "draw_or_follow": _draw_or_follow,
    "crossing": _crossing,
    "lost_position": _lost_position,
    "luck": _luck,
    "fought": _fought,
    "zone_by_side": _zone_by_side_spin,
    "judged_angle": _angle_straight,
    "kind_luck": _saved_by_luck,
    "key_balls": _key_balls,
}
