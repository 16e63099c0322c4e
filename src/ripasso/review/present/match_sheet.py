"""A session's match page: the course of the match and the ledger of visits, with the keys of their shots."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ripasso.core.figures.ledger import Look, MatchCourse, RackLine, Stamp, VisitLine, match_course
from ripasso.core.figures.rack_results import Claim, highest_claim
from ripasso.core.measures.shots import ShotMeasures, is_long_pot
from ripasso.core.rules import Visit
from ripasso.core.table import table_spec
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.vocabulary import count, in_racks, intent_word, rack_word, sentence, word
from ripasso.review.present.describing import player_name
from ripasso.review.record.model import Session, Shot
from ripasso.review.recordings.film_parts import live_film
from ripasso.review.scoring.outcome import shot_outcome
from ripasso.review.scoring.rack_results import session_results

#: Said wherever film is missing, since no time and no run is counted across it.
CUT_WORDS = "film missing"


@dataclass(frozen=True)
class SheetLine:
    """A line of the page: its cells, and the shot it leads to."""

    cells: tuple[str, ...]
    shot: str | None


@dataclass(frozen=True)
class MatchSheet:
    """The two tables of the page and what is said above them."""

    summary: str
    rack_headings: tuple[str, ...]
    racks: tuple[SheetLine, ...]
    visit_headings: tuple[str, ...]
    visits: tuple[SheetLine, ...]


Known = Callable[[str], ShotMeasures | None]


def match_sheet(snapshot: Snapshot, known: Known = lambda _shot: None) -> MatchSheet | None:
    """The page of a session; None for a game whose rules are not known.

    `known` gives what was measured of a shot by its key, None where nothing was yet.
    """
    score = snapshot.score
    if score is None:
        return None
    session = snapshot.session
    stamps = {
        (i, n): _stamp(shot)
        for i, rack in enumerate(session.racks or (), start=1)
        for n, shot in enumerate(rack.shots or (), start=1)
    }
    film = live_film(session)
    results = session_results(session, score, film)
    looks = _looks(snapshot, known)
    course = match_course(score, stamps, results, film, looks, game=session.game)
    what = sentence(rack_word(session.game))
    return MatchSheet(
        summary=_summary(session, course),
        rack_headings=(what, "Score", "Broke", "Won by", "How", "Best visit", "Shots", "Time"),
        racks=_rack_lines(snapshot, course),
        visit_headings=(
            what,
            "Player",
            "Began with",
            "Chance",
            "Ended with",
            _unit(session),
            "Strokes",
            "Time",
            "A stroke",
        ),
        visits=_visit_lines(snapshot, course),
    )


def _looks(snapshot: Snapshot, known: Known) -> dict[tuple[int, int], Look]:
    """The chance before each shot that was measured, and whether it was a long pot that went in."""
    spec, looks = table_spec(snapshot.head.table), {}
    for i, rack in enumerate(snapshot.racks, start=1):
        judged = snapshot.score.racks[i - 1].shots if snapshot.score else ()
        for n, shot in enumerate(rack.shots, start=1):
            measures = known(shot.key)
            if measures is None or measures.best is None:
                continue
            made = shot_outcome(shot.record, judged[n - 1] if judged else None).made
            looks[i, n] = Look(measures.best.chance, made and is_long_pot(measures.geometry, spec.length))
    return looks


def _began_words(session: Session, line: VisitLine) -> str:
    if line.began == "own_break" and session.game == "snooker":
        return "own break-off"
    return word(f"began_{line.began}")


def _chance_words(line: VisitLine) -> str:
    """The chance a visit began with, and whether an open one was taken."""
    if line.chance is None:
        return ""
    came = {True: ", taken", False: ", not taken", None: ""}[line.converted]
    return f"{100 * line.chance:.0f} %{came}"


def _stamp(shot: Shot) -> Stamp:
    strike = float(shot.t_strike) if shot.t_strike is not None else None
    rest = float(shot.t_rest) if shot.t_rest is not None else None
    return Stamp(shot.recording, strike, rest, shot.intent, bool(shot.free_ball), bool(shot.replaced))


def _unit(session: Session) -> str:
    return "Points" if session.game in ("snooker", "rotation", "straight_pool") else "Balls"


def _amount(session: Session, balls: int, points: int) -> int:
    return points if _unit(session) == "Points" else balls


def _summary(session: Session, course: MatchCourse) -> str:
    """Racks won in a row kept apart from break-and-runs in a row, for each player."""
    what = rack_word(session.game)
    parts = []
    for side, streak in course.longest_streak.items():
        won = [line for line in course.racks if line.result.winner == side]
        own = sum(line.on_own_break is True for line in won)
        runs = sum(line.result.run == "break_and_run" for line in won)
        outs = sum(line.result.run == "run_out" for line in won)
        on_break = sum(line.result.run == "won_on_break" for line in won)
        words = [
            f"{count(len(won), what)} won, {own} on the own {intent_word('break', session.game)}",
            f"longest row {streak.words}",
        ]
        if session.game == "snooker":
            words.append(f"{count(runs + outs, what)} in one visit")
        else:
            in_a_row = course.break_and_runs_in_a_row[side].words
            words += [f"{count(runs, 'break-and-run')} ({in_a_row} in a row)", count(outs, "run-out")]
        if on_break:
            words.append(f"{on_break} {word('won_on_break')}")
        chances = [v.converted for v in course.visits if v.visit.player == side and v.converted is not None]
        if chances:
            words.append(f"{sum(chances)} of {count(len(chances), 'open chance')} taken")
        words += [f"{_CLAIMED[one.what]} {one.words}, of what is not shown" for one in _claims(course, side)]
        parts.append(f"{player_name(session, side)}: {', '.join(words)}.")
    return " ".join(parts)


_CLAIMED = {"streak": "a row of", "run": "a run of", "break": "a visit of"}


def _claims(course: MatchCourse, side: str) -> list[Claim]:
    """The highest that is said of a side, of each kind."""
    results = [line.result for line in course.racks]
    found = (highest_claim(results, side, what) for what in _CLAIMED)
    return [one for one in found if one is not None]


def _rack_lines(snapshot: Snapshot, course: MatchCourse) -> tuple[SheetLine, ...]:
    session = snapshot.head
    lines = []
    for line, row in zip(course.racks, snapshot.racks, strict=True):
        came = line.result
        score = " – ".join(str(value) for value in line.after.values())
        best = line.best
        told = (
            f"{_amount(session, best.balls, best.points)}, {player_name(session, best.player)}"
            if best
            else ""
        )
        cells = (
            str(came.number),
            score,
            player_name(session, came.breaker) if came.breaker else "",
            player_name(session, came.winner) if came.winner else "",
            _how(line, session.game),
            told,
            str(line.shots),
            duration(line.seconds),
        )
        lines.append(SheetLine(cells, row.shots[0].key if row.shots else None))
    return tuple(lines)


def _how(line: RackLine, game: str | None) -> str:
    """How a rack was won, and whether something of it is missing."""
    came = line.result
    if not came.shown:
        return "not shown"
    run = "in one visit" if game == "snooker" else word(came.run)
    how = run if came.run else word(came.ended_by)
    return ", ".join(part for part in (how, CUT_WORDS if line.cut else "") if part)


def _visit_lines(snapshot: Snapshot, course: MatchCourse) -> tuple[SheetLine, ...]:
    session = snapshot.head
    lines = []
    for line in course.visits:
        visit = line.visit
        per_stroke = line.seconds_per_stroke
        cells = (
            str(course.racks[visit.rack - 1].result.number),
            player_name(session, visit.player),
            _began_words(session, line),
            _chance_words(line),
            f"{word(visit.ended_by)}, {CUT_WORDS}" if line.cut else word(visit.ended_by),
            _amount_words(session, visit),
            str(line.strokes),
            duration(line.seconds),
            f"{per_stroke:.0f} s" if per_stroke is not None else "",
        )
        shots = snapshot.racks[visit.rack - 1].shots
        lines.append(SheetLine(cells, shots[visit.first_shot - 1].key))
    return tuple(lines)


def _amount_words(session: Session, visit: Visit) -> str:
    """What a visit made; of straight pool also in racks, and what of it was made before the film began."""
    amount = _amount(session, visit.balls, visit.points)
    racks = in_racks(amount) if session.game == "straight_pool" else ""
    more = [racks] if racks else []
    more += [f"{visit.carried} carried in"] if visit.carried else []
    return f"{amount} ({', '.join(more)})" if more else str(amount)


def duration(seconds: float | None) -> str:
    """Minutes and seconds, such as 3:07; empty when nothing was marked."""
    if seconds is None:
        return ""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02}"
