"""Shots of a session as rows of columns, and the output of `ripasso stats`.

This is the one place that says what a record counts as: made, failed, an error. The library stores the
rows; statistics read them and never build records.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from ripasso.core.figures.judged import ERROR_KINDS
from ripasso.core.figures.rack_results import RackResult
from ripasso.core.figures.schema import UNKNOWN, FactRow, Row
from ripasso.core.rules import MatchScore, ShotScore
from ripasso.review.document.document import Derived, RackRows
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.record.model import Rack, Session, Shot
from ripasso.review.record.people import person_key, persons
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.expecting import came_as_expected
from ripasso.review.scoring.meant import meant_at_all, meant_ball, meant_ball_down
from ripasso.review.scoring.outcome import found_kinds, is_judged, recorded_errors, shot_outcome
from ripasso.review.scoring.rack_results import rack_result
from ripasso.review.scoring.scoring import score_of
from ripasso.statistics.rows.contexts import Setting, rack_contexts, scored_rack, visits_before

#: Part of what is stored beside derived rows: rows of another version are computed anew.
FIGURES_VERSION = 11
#: What a rack counts in the code of a visit: more than any rack has shots.
VISIT_RACK = 100_000


def derived_rows(snapshot: Snapshot, before: Derived | None = None) -> Derived:
    """What is stored beside a session's record; racks that did not change since `before` are handed on."""
    known = {one.rack: one for one in before.racks} if before is not None else {}
    maker = _RowMaker(snapshot.session, snapshot.score)
    made = []
    for place, row in enumerate(snapshot.racks):
        given, kept = _given(snapshot, place), known.get(row.key)
        if kept is None or not _is_same(kept.given, given):
            rows = maker.rows(place, [shot.key for shot in row.shots])
            kept = RackRows(row.key, given, rows, row.judged, maker.result(place))
        made.append(kept)
    return Derived(snapshot.key, tuple(made), persons(snapshot.head), FIGURES_VERSION)


def shot_rows(session: Session, score: MatchScore | None = None) -> list[Row]:
    """The rows of a session's shots in order, as of a file: without keys of a library."""
    maker = _RowMaker(session, score or score_of(session))
    return [
        row
        for place, rack in enumerate(session.racks or ())
        for row in maker.rows(place, [""] * len(rack.shots or ()))
    ]


def _given(snapshot: Snapshot, place: int) -> tuple[object, ...]:
    """What a rack's rows are computed from: the head, the rack, the visit before, the racks of its visits.

    And how many gaps lie before it, which changes when one is said.
    """
    head, rack, scoring = snapshot.head, snapshot.racks[place], snapshot.scoring
    racks = snapshot.session.racks or ()
    gaps = _stretch(racks, place)
    if scoring is None:
        return head, rack, gaps
    begun = scoring.score.visits_begun[place]
    last = begun[-1].last_rack if begun else place + 1
    earlier = visits_before(racks, scoring.score, place)
    return head, rack, gaps, earlier, *scoring.steps[place:last]


def _stretch(racks: Sequence[Rack], place: int) -> int:
    """How many racks before a place are not shown."""
    return sum(rack.not_shown is True for rack in racks[:place])


def _is_same(some: Sequence[object], others: Sequence[object]) -> bool:
    """Records and steps are compared by identity, which costs nothing: what did not change is shared."""
    return len(some) == len(others) and all(
        one is other or (isinstance(one, tuple | int) and one == other)
        for one, other in zip(some, others, strict=True)
    )


class _RowMaker:
    """Makes the rows of the racks of one session."""

    def __init__(self, session: Session, score: MatchScore | None) -> None:
        self._session, self._score = session, score
        self._people = {p.id: person_key(session, p.id) for p in session.players or () if not p.ghost}
        self._setting: Setting | None = None  # made when the first rack needs it

    def rows(self, place: int, keys: Sequence[str]) -> list[Row]:
        """The rows of the rack at a place; `keys` are its shots' keys in the library."""
        if self._setting is None:
            self._setting = Setting.of(self._session)
        racks, score = self._session.racks or (), self._score
        rack = racks[place]
        scored = scored_rack(racks, score, place, self._setting.film) if score is not None else None
        judged = scored.rack.shots if scored is not None else (None,) * len(keys)
        facts, stretch = rack_contexts(self._setting, rack, scored), _stretch(racks, place)
        for key, shot, one, made in zip(keys, rack.shots or (), judged, facts, strict=True):
            made.key, made.session, made.rack = key, self._session.id, rack.number
            made.person = self._people.get(shot.player or "", "")
            made.stretch = stretch
            _fill(made, shot, one)
        return [made.row() for made in facts]

    def result(self, place: int) -> RackResult | None:
        """What came of the rack at a place, by persons; None in a game that is not known."""
        if self._score is None:
            return None
        if self._setting is None:
            self._setting = Setting.of(self._session)
        found = rack_result(self._session, self._score, place, self._setting.film)
        return replace(
            found,
            sides=tuple(self._people.get(side, "") for side in found.sides),
            winner=self._person(found.winner),
            breaker=self._person(found.breaker),
            claims=tuple(replace(one, side=self._people.get(one.side, "")) for one in found.claims),
        )

    def _person(self, side: str | None) -> str | None:
        return None if side is None else self._people.get(side, "")


def rack_results(session: Session, score: MatchScore | None = None) -> list[RackResult]:
    """What came of a session's racks, by persons; nothing in a game that is not known."""
    maker = _RowMaker(session, score or score_of(session))
    found = (maker.result(place) for place in range(len(session.racks or ())))
    return [one for one in found if one is not None]


def visit_code(judged: ShotScore | None) -> int:
    """Where the visit of a shot began as one number, rack × 100,000 + shot; −1 when it was not judged.

    Unlike a running number it does not change when an earlier rack gets another visit.
    """
    if judged is None or judged.visit is None:
        return -1
    rack, shot = judged.visit
    return rack * VISIT_RACK + shot


def _fill(facts: FactRow, record: Shot, judged: ShotScore | None) -> None:
    """Put down how a shot went and what was said of it."""
    shot, went = without_proposals(record), shot_outcome(record, judged)
    result, stroke = shot.result, shot.stroke
    facts.number, facts.visit, facts.intent = shot.number, visit_code(judged), shot.intent or ""
    facts.tried, facts.made, facts.failed = went.tried, went.made, went.failed
    facts.fouled, facts.fluke, facts.judged = went.fouled, went.fluke, is_judged(shot)
    facts.down = went.tried and not went.fluke and meant_ball_down(shot, judged)
    facts.verdict = (shot.decision and shot.decision.verdict) or ""
    facts.second_verdict = _second_verdict(shot)
    facts.errors = " ".join(_errors(shot, made=went.made, failed=went.failed, fouled=went.fouled))
    facts.ball = (meant_ball(shot, judged) if meant_at_all(shot) else None) or ""
    facts.fouls = " ".join(_fouls(shot, judged))
    facts.predicted = " ".join(_predicted(shot, facts.ball))
    facts.pocket = (shot.call and shot.call.pocket) or ""
    if result is not None:
        facts.position, facts.pace = result.position or "", result.pace or ""
        facts.said_side, facts.angle = result.side or "", result.angle or ""
        facts.contact, facts.luck = result.contact or "", result.luck or ""
        facts.missed_by = result.missed_by or ""
    if stroke is not None:
        facts.stroke, facts.stroke_pace = stroke.kind or "", stroke.pace or ""
    _fill_words(facts, shot)


def _second_verdict(shot: Shot) -> str:
    """What the first of the other reviewers who judged the decision said of it."""
    said = [other.decision.verdict for other in shot.others or () if other.decision is not None]
    return next((verdict for verdict in said if verdict), "")


def _fouls(shot: Shot, judged: ShotScore | None) -> Sequence[str]:
    """By the rules, or as recorded in a game whose rules are not known."""
    if judged is not None and judged.outcome is not None:
        return judged.outcome.fouls
    return (shot.facts and shot.facts.other_fouls) or ()


def _predicted(shot: Shot, meant: str) -> Iterator[str]:
    """Who expected what was meant, and who did not; only what is known of the shot decides."""
    for one in shot.predictions or ():
        hit = came_as_expected(one, shot, meant)
        if one.by and hit is not None:
            yield f"{one.by.replace(' ', '_')}:{'hit' if hit else 'miss'}"


def _fill_words(facts: FactRow, shot: Shot) -> None:
    """Columns of several words each, and of texts."""
    errors = recorded_errors(shot)
    roots = [error.cause_shot for error in errors if error.cause_shot is not None]
    texts = [shot.note, *(comment.text for comment in shot.comments or ())]
    facts.methods, facts.delivery = " ".join(shot.methods or ()), " ".join(shot.delivery or ())
    causes = [cause for error in errors for cause in error.causes or ()]
    causes += (shot.result.causes if shot.result else None) or ()
    facts.causes = " ".join(dict.fromkeys(causes))
    facts.events = " ".join(shot.events or ())
    facts.tags = " ".join(tag.replace(" ", "_") for tag in shot.tags or ())
    facts.root = roots[0] if roots else UNKNOWN
    facts.words = " ".join(text for text in texts if text)
    facts.taken = " ".join(name for name in ("free_ball", "replaced") if getattr(shot, name))
    _fill_plan(facts, shot)


def _fill_plan(facts: FactRow, shot: Shot) -> None:
    """What was said of the plan, the stroke, the break."""
    plan, stroke, result = shot.plan, shot.stroke, shot.result
    if plan is not None:
        facts.aims, facts.off = " ".join(plan.aims or ()), " ".join(plan.cushions or ())
        facts.if_missed, facts.system = plan.if_missed or "", (plan.system or "").replace(" ", "_")
    if stroke is not None:
        facts.side_amount, facts.purposes = stroke.side_amount or "", " ".join(stroke.purpose or ())
        facts.feathers = UNKNOWN if stroke.feathers is None else stroke.feathers
        if stroke.pace_percent is not None:
            facts.pace_percent = float(stroke.pace_percent)
        if stroke.elevation_deg is not None:
            facts.raised = float(stroke.elevation_deg)
    if result is not None and result.rattled is not None:
        facts.rattled = int(result.rattled)
    if shot.break_ is not None:
        said = shot.break_.model_dump(exclude_none=True, exclude={"cue_rest"})
        facts.sheet = " ".join(f"{name}_{_sheet_word(value)}" for name, value in said.items())


def _sheet_word(value: object) -> str:
    """A value of the break sheet as a word."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value).replace(" ", "_")


def _errors(shot: Shot, *, made: bool, failed: bool, fouled: bool) -> list[str]:
    words = {None: "?", True: "yes", False: "no"}
    recorded = {error.kind: words[error.unforced] for error in recorded_errors(shot)}
    found = found_kinds(shot, made=made, failed=failed, fouled=fouled)
    merged = dict.fromkeys(found, "?") | recorded
    return [f"{kind}:{merged[kind]}" for kind in ERROR_KINDS if kind in merged]
