"""Where the balls lay in the demo's sessions: invented layouts that fit what is recorded of every shot.

A pot that went in had a chance, a position that was lost left little, a cue ball that ran long stopped
beyond its aim. The pockets are chosen by the layout, so that nothing impossible is recorded. Seeded: always
the same.
"""

from __future__ import annotations

import json
import math
import random
from collections.abc import Mapping
from dataclasses import dataclass, field

from ripasso.core.geometry.layouts import PotBook
from ripasso.core.json_data import JsonObject
from ripasso.core.rules import RackScore, ShotScore
from ripasso.core.rules.snooker import is_red
from ripasso.core.table import TableSpec, pocket_mouth_middle, starting_layout, table_spec
from ripasso.core.table.places import Place
from ripasso.core.table.placing import ImpossiblePlace, settle, spot_for
from ripasso.review.measuring.measuring import spread_of
from ripasso.review.record.model import Session, Shot, serialize
from ripasso.review.scoring.scoring import score_of

Layout = dict[str, Place]

CANDIDATES = 36
ZONE_M = 0.12
#: The chance that the next pot should have, by what was judged of the position, or of the miss.
WANTED = {"good": 0.88, "playable": 0.62, "lost": 0.25}
UNSAID, MISSED_UNFORCED, MISSED_HARD = 0.75, 0.8, 0.4
STEEPEST_DEG = 62.0


def with_layouts(session: Session) -> Session:
    """The session with layouts, plans and pockets that fit them."""
    score = score_of(session)
    if score is None:
        return session
    writer = _Writer(session)
    racks = [
        rack.model_copy(update={"shots": tuple(writer.rack(rack.shots or (), judged))})
        for rack, judged in zip(session.racks or (), score.racks, strict=True)
    ]
    return session.model_copy(update={"racks": tuple(racks)})


@dataclass
class _Drawn:
    """A shot as it is being written: its data and its two layouts."""

    data: JsonObject
    before: Layout = field(default_factory=dict)
    after: Layout = field(default_factory=dict)
    pot: tuple[str, str] | None = None


class _Writer:
    def __init__(self, session: Session) -> None:
        self._session = session
        self._spec: TableSpec = table_spec(session.table)
        self._spread = spread_of(session)
        self._chance = random.Random(f"layouts of {session.id}")

    def rack(self, shots: tuple[Shot, ...], judged: RackScore) -> list[Shot]:
        """The shots of a rack, in order, each with what lay before and after it."""
        drawn: list[_Drawn] = []
        for place, (shot, score) in enumerate(zip(shots, judged.shots, strict=True)):
            now = _Drawn(serialize(shot))
            now.before = self._before(drawn[-1] if drawn else None, shot, score)
            self._aim_at_pot(now, shot)
            on_table = judged.shots[place + 1].on_table if place + 1 < len(shots) else judged.on_table
            later = shots[place + 1] if place + 1 < len(shots) else None
            now.after = self._after(now, shot, score, on_table)
            if later is not None and not _cue_gone(shot):
                self._place_cue(now, shot, later, score)
            elif not _cue_gone(shot):
                now.after["cue"] = self._somewhere(now.after, "cue")
            drawn.append(now)
        return [Shot.model_validate_json(json.dumps(_recorded(one))) for one in drawn]

    # Layouts

    def _before(self, earlier: _Drawn | None, shot: Shot, score: ShotScore) -> Layout:
        if earlier is None:
            layout = self._opening(shot, score)
        else:
            layout = dict(earlier.after)
        for ball in sorted(score.on_table - set(layout)):
            layout[ball] = self._somewhere(layout, ball)
        for ball in [b for b in layout if b != "cue" and b not in score.on_table]:
            del layout[ball]
        if "cue" not in layout:
            layout["cue"] = self._for_pot(layout, shot, UNSAID)
        return layout

    def _opening(self, shot: Shot, score: ShotScore) -> Layout:
        """The rack; in straight pool's later racks one ball lies aside as the break ball."""
        spec = self._spec
        reds = int((self._session.rules or {}).get("reds", 15))
        layout: Layout = dict(starting_layout(self._session.game, spec, reds))
        if shot.intent != "break":
            kept = {ball: place for ball, place in layout.items() if ball in score.on_table}
            meant = shot.call.ball if shot.call else None
            if meant in kept:
                kept[meant] = (0.62 * spec.length, 0.32 * spec.width)
            return kept
        if not spec.snooker:
            y = spec.width * self._chance.uniform(0.3, 0.7)
            layout["cue"] = (spec.length * self._chance.uniform(0.17, 0.23), y)
        return layout

    def _after(self, now: _Drawn, shot: Shot, score: ShotScore, on_table: frozenset[str]) -> Layout:
        """The object balls after a shot."""
        fallen = {pot.ball for pot in (shot.facts.potted if shot.facts else None) or ()}
        spotted = score.outcome.spotted if score.outcome else ()
        layout = {b: p for b, p in now.before.items() if b != "cue" and b not in fallen and b in on_table}
        if shot.intent == "break":
            layout = self._scattered(layout)
        touched = shot.facts.first_contact if shot.facts else None
        hit = now.pot[0] if now.pot else touched
        if hit in layout and shot.intent != "break":
            layout[hit] = self._knocked(layout, hit, now.pot[1] if now.pot else None)
        for ball in spotted:
            layout[ball] = spot_for(self._spec, ball, {b: p for b, p in layout.items() if b != ball})
        return layout

    def _scattered(self, layout: Layout) -> Layout:
        """After the break: pool balls all over, in snooker only the back of the pack opens."""
        if self._spec.snooker:
            reds = [ball for ball in layout if is_red(ball)]
            loose = self._chance.sample(reds, min(6, len(reds)))
        else:
            loose = list(layout)
        kept = {ball: place for ball, place in layout.items() if ball not in loose}
        for ball in loose:
            kept[ball] = self._somewhere(kept, ball, foot_half=self._spec.snooker)
        return kept

    def _knocked(self, layout: Layout, ball: str, pocket: str | None) -> Place:
        """Where a ball stops that did not fall: near the pocket it was meant for, else not far away."""
        others = {name: place for name, place in layout.items() if name != ball}
        start = pocket_mouth_middle(self._spec, pocket) if pocket else layout[ball]
        for _ in range(30):
            reach, way = self._chance.uniform(0.08, 0.5), self._chance.uniform(0, 2 * math.pi)
            place = (start[0] + reach * math.cos(way), start[1] + reach * math.sin(way))
            found = self._settled(others, ball, place)
            if found is not None:
                return found
        return layout[ball]

    def _somewhere(self, layout: Mapping[str, Place], ball: str, *, foot_half: bool = False) -> Place:
        spec = self._spec
        margin = 2 * spec.ball_radius
        others = {name: place for name, place in layout.items() if name != ball}
        while True:
            low = 0.55 * spec.length if foot_half else margin
            x = self._chance.uniform(low, spec.length - margin)
            y = self._chance.uniform(margin, spec.width - margin)
            found = self._settled(others, ball, (x, y))
            if found is not None:
                return found

    def _settled(self, others: Mapping[str, Place], ball: str, place: Place) -> Place | None:
        try:
            x, y = settle(self._spec, others, ball, place).place
        except ImpossiblePlace:
            return None
        return (round(x, 4), round(y, 4))

    # The cue ball, for the pot that follows

    def _pots(self, layout: Layout, ball: str, cues: list[Place]) -> list[tuple[float, float, str, Place]]:
        """Chance, signed cut in degrees, pocket and cue place of every pot of a ball from some places."""
        book = PotBook(self._spec)
        others = {name: place for name, place in layout.items() if name != "cue"}
        asked = [book.ask(cue, {"cue": cue, **others}, (ball,)) for cue in cues]
        book.solve(self._spread)
        found = []
        for cue, question in zip(cues, asked, strict=True):
            for pot in question.pots():
                cut = math.degrees(float(book.found.cut[pot.index]))
                if pot.chance > 0 and abs(cut) < STEEPEST_DEG:
                    found.append((pot.chance, cut, pot.pocket, cue))
        return found

    def _for_pot(self, layout: Layout, shot: Shot, wanted: float) -> Place:
        """A place of the cue ball from which the shot's ball has about the chance that is wanted."""
        ball = _meant(shot)
        cues = [self._somewhere(layout, "cue") for _ in range(CANDIDATES)]
        if ball is None or ball not in layout:
            return cues[0]
        side = _cut_side(shot)
        pots = [pot for pot in self._pots(layout, ball, cues) if side * pot[1] >= 0]
        if not pots:
            return cues[0]
        near = sorted(pots, key=lambda pot: abs(pot[0] - wanted))[:3]
        return self._chance.choice(near)[3]

    def _place_cue(self, now: _Drawn, shot: Shot, later: Shot, score: ShotScore) -> None:
        """Where the cue ball stops, with regard to what came next, and the plan it misses or meets."""
        result = shot.result
        plays_on = later.player == shot.player
        made = bool(shot.facts and shot.facts.potted) and shot.intent == "pot"
        said = result.position if result and made and plays_on else None
        missed = (
            (later.result.contact in ("thick", "thin")) if later.result and later.result.contact else False
        )
        wanted = WANTED.get(said or "", MISSED_HARD if missed and _forced(later) else UNSAID)
        if later.intent in ("safety", "escape"):
            wanted = WANTED["lost"]
        now.after["cue"] = rest = self._for_pot(now.after, later, wanted)
        next_ball = _meant(later)
        if said is not None and now.pot is not None and next_ball in now.after:
            ghost = self._ghost(now)
            aim = self._aim_for(rest, ghost, shot)
            now.data["plan"] = {
                "next_ball": next_ball,
                "aim_point": [round(aim[0], 4), round(aim[1], 4)],
                "zone": {"circle": {"centre": [round(aim[0], 4), round(aim[1], 4)], "radius": ZONE_M}},
            }

    def _ghost(self, now: _Drawn) -> Place:
        assert now.pot is not None
        ball, target = now.before[now.pot[0]], pocket_mouth_middle(self._spec, now.pot[1])
        way = math.atan2(target[1] - ball[1], target[0] - ball[0])
        reach = 2 * self._spec.ball_radius
        return (ball[0] - reach * math.cos(way), ball[1] - reach * math.sin(way))

    def _aim_for(self, rest: Place, ghost: Place, shot: Shot) -> Place:
        """An aim point that the rest point misses as it was judged: long, short, or to a side."""
        result, chance = shot.result, self._chance
        far = {"good": (0.02, 0.1), "playable": (0.14, 0.26), "lost": (0.28, 0.5)}
        error = chance.uniform(*far[(result.position if result else None) or "good"])
        leg = math.atan2(rest[1] - ghost[1], rest[0] - ghost[0])
        pace = result.pace if result else None
        turn = {"long": math.pi, "short": 0.0}.get(pace or "", chance.choice((0.5, -0.5)) * math.pi)
        way = leg + turn + chance.gauss(0, 0.12)
        spec, margin = self._spec, 2 * self._spec.ball_radius
        x = min(max(rest[0] + error * math.cos(way), margin), spec.length - margin)
        y = min(max(rest[1] + error * math.sin(way), margin), spec.width - margin)
        return (x, y)

    def _aim_at_pot(self, now: _Drawn, shot: Shot) -> None:
        """The pocket of a pot: the likeliest from where the balls lie, in the call and where it fell."""
        ball = _meant(shot) if shot.intent == "pot" else None
        if ball is None or ball not in now.before:
            return
        pots = self._pots(now.before, ball, [now.before["cue"]])
        side = _cut_side(shot)
        best = max(pots, key=lambda pot: (side * pot[1] >= 0, pot[0]), default=None)
        if best is None:
            return
        now.pot = (ball, best[2])
        call = now.data.get("call")
        if call is not None and "pocket" in call:
            call["pocket"] = best[2]
        for pot in now.data["facts"].get("potted", []):
            if pot["ball"] == ball:
                pot["pocket"] = best[2]


def _meant(shot: Shot) -> str | None:
    """The ball of a pot or a safety."""
    if shot.call and shot.call.ball:
        return shot.call.ball
    fallen = (shot.facts.potted if shot.facts else None) or ()
    if shot.intent == "pot" and fallen:
        return fallen[0].ball
    return shot.facts.first_contact if shot.facts else None


def _cut_side(shot: Shot) -> int:
    """+1 and -1 where a tag says the cut is to the left or right, else 0."""
    tags = shot.tags or ()
    return int("cut_left" in tags) - int("cut_right" in tags)


def _forced(shot: Shot) -> bool:
    said = shot.error or ()
    errors = said if isinstance(said, tuple) else (said,)
    return any(error.unforced is False for error in errors)


def _cue_gone(shot: Shot) -> bool:
    return bool(shot.facts and shot.facts.cue_potted)


def _recorded(drawn: _Drawn) -> JsonObject:
    """The shot's data with its layouts."""
    data = {key: value for key, value in drawn.data.items() if key != "plan"}
    data["before"] = {ball: list(place) for ball, place in drawn.before.items()}
    data["after"] = {ball: list(place) for ball, place in drawn.after.items()}
    if "plan" in drawn.data:
        data["plan"] = drawn.data["plan"]
    return data
