"""Banks and kicks by one cushion: the line that the mirror gives, and the stroke that the table takes.

The mirror takes a ball to leave a cushion as it came. Rubber and spin do not: `found` is the stroke that does
it on this table, and the angles say by how much the two schools differ.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.repeating import repeat, starts_of
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.candidates import PACES, aimed
from ripasso.core.planning.problem import Problem
from ripasso.core.table import POCKETS, TableSpec, pocket_mouth_middle
from ripasso.core.table.places import Place

#: A ball's centre, where it meets the cushion, and where it goes.
MirrorLine = tuple[Place, Place, Place]
CUSHIONS = ("head", "foot", "left", "right")
#: How far off the mirror's azimuth the stroke is looked for, and in what steps, degrees.
WITHIN_DEG, STEP_DEG = 5.0, 0.05
#: So many harder paces are tried where a bank does not get there.
HARDER = 3
#: A way flatter to the cushion than this (tangent of the angle from its normal) is nobody's bank.
STEEPEST = math.tan(math.radians(72.0))
#: Side that is called running here, radii of the cue ball.
SIDE = 0.35


@dataclass(frozen=True)
class CushionShot:
    """A bank or a kick off a cushion: the mirror's line, the stroke by it, the one that does it (None: none).

    `angles_deg`: into the cushion and out of it, from its normal, for the stroke that is shown; at a kick
    `out_with_side_deg` is the way out with running side.
    """

    cushion: str
    line: MirrorLine
    by_mirror: Stroke
    found: Stroke | None
    angles_deg: tuple[float, float] | None
    out_with_side_deg: float | None = None

    @property
    def stroke(self) -> Stroke:
        """What is shown: the stroke that does it, else that of the mirror."""
        return self.found if self.found is not None else self.by_mirror

    @property
    def turn_deg(self) -> float | None:
        """How far the stroke that does it is turned from the mirror's, to the left where positive."""
        if self.found is None:
            return None
        return math.degrees(math.remainder(self.found.phi - self.by_mirror.phi, 2 * math.pi))


def mirror_line(spec: TableSpec, start: Place, target: Place, cushion: str) -> MirrorLine | None:
    """From a ball's centre by a cushion to a target as by a mirror; None where it meets no rubber there."""
    radius = spec.ball_radius
    along_x = cushion in ("left", "right")
    at = {"head": radius, "foot": spec.length - radius, "right": radius, "left": spec.width - radius}[cushion]
    axis = 1 if along_x else 0
    gap_start, gap_target = abs(start[axis] - at), abs(target[axis] - at)
    if gap_start < 1e-6 or gap_start + gap_target < 1e-6:
        return None
    share = gap_start / (gap_start + gap_target)
    other = start[1 - axis] + share * (target[1 - axis] - start[1 - axis])
    end = spec.length if along_x else spec.width
    slope = abs(target[1 - axis] - start[1 - axis]) / (gap_start + gap_target)
    if not 2 * radius < other < end - 2 * radius or slope > STEEPEST:
        return None
    return (start, (other, at) if along_x else (at, other), target)


def bank(problem: Problem, stroke: Stroke, ball: str, pocket: str, cushion: str) -> CushionShot | None:
    """A ball by a cushion into a pocket, with this tip and pace, or more pace; None without a mirror line."""
    spec = problem.spec
    line = mirror_line(spec, problem.layout[ball], pocket_mouth_middle(spec, pocket), cushion)
    if line is None:
        return None
    shot = None
    harder = [pace for pace in PACES if pace > stroke.speed][:HARDER]
    for speed in (stroke.speed, *harder):
        by_mirror = aimed(problem, replace(stroke, speed=speed, elevation=0.0), ball, line[1])
        if by_mirror is None:
            return None
        strokes = _turned(problem, by_mirror)
        outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
        falls = outcomes.potted(ball) == POCKETS.index(pocket)
        falls &= outcomes.first == outcomes.balls.index(ball)
        found = _nearest(problem, strokes, falls, ball, cushion)
        tried = CushionShot(cushion, line, by_mirror, found, None)
        shot = shot or tried
        if tried.found is not None:
            return _shown(problem, tried, ball)
    return _shown(problem, shot, ball) if shot is not None else None


def kick(problem: Problem, stroke: Stroke, ball: str, cushion: str) -> CushionShot | None:
    """The cue ball by a cushion to a ball, with this pace and tip; None where the mirror shows no way."""
    cue = problem.layout["cue"]
    line = mirror_line(problem.spec, cue, problem.layout[ball], cushion)
    if line is None:
        return None
    phi = math.atan2(line[1][1] - cue[1], line[1][0] - cue[0])
    by_mirror = with_least_elevation(replace(stroke, phi=phi, elevation=0.0), problem.spec, problem.layout)
    strokes = _turned(problem, by_mirror)
    outcomes = repeat(problem.layout, starts_of(strokes, problem.physics), problem.bed, problem.physics)
    meets = (outcomes.first == outcomes.balls.index(ball)) & (outcomes.cushions > 0)
    found = _nearest(problem, strokes, meets, "cue", cushion)
    shown = _shown(problem, CushionShot(cushion, line, by_mirror, found, None), "cue")
    running = _running_side(line)
    with_side = replace(shown.stroke, a=running, b=0.0)
    motion = simulate(problem.layout, with_side, problem.bed, problem.physics)
    out = angles_at(motion, "cue", cushion)
    return replace(shown, out_with_side_deg=out[1] if out is not None else None)


def _turned(problem: Problem, stroke: Stroke) -> list[Stroke]:
    turns = np.radians(np.arange(-WITHIN_DEG, WITHIN_DEG + STEP_DEG / 2, STEP_DEG))
    raised = (replace(stroke, phi=stroke.phi + float(turn), elevation=0.0) for turn in turns)
    return [with_least_elevation(one, problem.spec, problem.layout) for one in raised]


def _nearest(
    problem: Problem, strokes: list[Stroke], does: np.ndarray, ball: str, cushion: str
) -> Stroke | None:
    """Of the runs of azimuths that do it by this cushion the middle of the one nearest to the mirror's."""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], does, [False])).astype(int)))
    middles = [(int(first) + int(last) - 1) // 2 for first, last in zip(edges[::2], edges[1::2], strict=True)]
    for place in sorted(middles, key=lambda one: abs(one - len(strokes) // 2)):
        motion = simulate(problem.layout, strokes[place], problem.bed, problem.physics)
        if angles_at(motion, ball, cushion) is not None:
            return strokes[place]
    return None


def _shown(problem: Problem, shot: CushionShot, ball: str) -> CushionShot:
    motion = simulate(problem.layout, shot.stroke, problem.bed, problem.physics)
    return replace(shot, angles_deg=angles_at(motion, ball, shot.cushion))


def _running_side(line: MirrorLine) -> float:
    """The side that lengthens the way out: left where the cue ball turns left at the cushion."""
    (x0, y0), (x1, y1), (x2, y2) = line
    turns_left = (x1 - x0) * (y2 - y1) - (y1 - y0) * (x2 - x1) > 0
    return -SIDE if turns_left else SIDE


def angles_at(motion: Motion, ball: str, cushion: str) -> tuple[float, float] | None:
    """Degrees from the normal, into a cushion and out of it, at a ball's first meeting with it."""
    axis = 1 if cushion in ("left", "right") else 0
    for event in motion.events:
        if event.kind == "cushion" and event.balls == (ball,) and event.met == cushion:
            return tuple(  # type: ignore[return-value]
                math.degrees(math.atan2(abs(state[2 + 1 - axis]), abs(state[2 + axis])))
                for state in (event.before[0], event.after[0])
            )
    return None
