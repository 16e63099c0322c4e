"""When a teaching film shows what: cards, runs and stops, one after another."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from ripasso.film.decoding.sound import sound_length_s
from ripasso.report.teaching.scenes import AnyScene, FilmedShot, MissingScene, Scene
from ripasso.review.record.report import ReportPage

#: Seconds: a card, the film before the strike, after the rest, a stop, and silence behind a spoken comment.
CARD_S, RUN_IN_S, RUN_OUT_S, STOP_S, PAUSE_S = 2.5, 1.5, 0.6, 3.0, 0.4

Kind = Literal["card", "run", "meant", "came"]


@dataclass(frozen=True)
class Segment:
    """A part of a teaching film.

    `card` shows words; `run` the film of each shot from `from_s` on (seconds of that film) at a speed;
    `meant` stops before the stroke, `came` at the end.
    """

    kind: Kind
    length_s: float
    scene: AnyScene | None = None
    from_s: tuple[float, ...] = ()
    speed: float = 1.0
    comment: Path | None = None
    title: str = ""
    words: str = ""


def segments_of(page: ReportPage, title: str, about: str, scenes: Sequence[AnyScene]) -> Iterator[Segment]:
    """The parts of a film page, its title first."""
    yield Segment("card", CARD_S, title=title, words=page.text or about)
    for scene in scenes:
        if isinstance(scene, MissingScene):
            yield Segment("card", CARD_S, scene, title=scene.title, words=scene.sentence)
            continue
        if page.titles:
            names = " · ".join(dict.fromkeys(shot.who for shot in scene.shots))
            yield Segment("card", CARD_S, scene, title=scene.title, words=names)
        yield from _of_scene(page, scene)


def _of_scene(page: ReportPage, scene: Scene) -> Iterator[Segment]:
    shots = scene.shots
    speed = float(page.speed or 1.0)
    stop_s = STOP_S if page.stop_s is None else float(page.stop_s)
    run_in = min(RUN_IN_S, *(shot.strike_s for shot in shots))
    strikes = tuple(shot.strike_s for shot in shots)
    if run_in > 0:
        yield Segment("run", run_in / speed, scene, tuple(at - run_in for at in strikes), speed)
    comment = next((shot.comment for shot in shots if shot.comment is not None), None)
    spoken = sound_length_s(comment) + PAUSE_S if comment is not None else 0.0
    if max(stop_s, spoken) > 0:
        yield Segment("meant", max(stop_s, spoken), scene, strikes, comment=comment)
    length = max(min(shot.rest_s + RUN_OUT_S, shot.index.duration_s) - shot.strike_s for shot in shots)
    if length > 0:
        yield Segment("run", length / speed, scene, strikes, speed)
    if stop_s > 0:
        yield Segment("came", stop_s, scene, tuple(shot.rest_s for shot in shots))


def run_of(scene: Scene) -> Segment:
    """A shot as it was filmed, from a moment before its strike to one after its rest."""
    shot = scene.shots[0]
    start = max(0.0, shot.strike_s - RUN_IN_S)
    return Segment("run", min(shot.rest_s + RUN_OUT_S, shot.index.duration_s) - start, scene, (start,))


def length_s(segments: Sequence[Segment]) -> float:
    """How long a film is, seconds."""
    return sum(segment.length_s for segment in segments)


def starts_of(segments: Sequence[Segment]) -> list[float]:
    """When each part begins, seconds."""
    starts, at = [], 0.0
    for segment in segments:
        starts.append(at)
        at += segment.length_s
    return starts


def cues_of(segments: Sequence[Segment]) -> Iterator[tuple[float, float, str]]:
    """Captions: what is said of each stop, from when to when."""
    for start, segment in zip(starts_of(segments), segments, strict=True):
        if isinstance(segment.scene, Scene) and segment.kind in ("meant", "came"):
            lines = [" · ".join(said_at(segment.kind, shot)) for shot in segment.scene.shots]
            yield start, start + segment.length_s, "\n".join(lines)


def said_at(kind: Kind, shot: FilmedShot) -> tuple[str, str]:
    """Two lines under the picture of a shot: which it is, and what is said of it or what came."""
    return f"{shot.title}, {shot.who}", shot.outcome if kind == "came" else shot.said
