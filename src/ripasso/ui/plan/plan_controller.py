"""Works on a plan: counts and looks for options in the background, plays the stroke; no widgets."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from threading import Event

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ripasso.core.geometry.zones import Circle
from ripasso.core.physics.players import Spreads
from ripasso.core.planning.expected import Expected, expected
from ripasso.core.planning.explaining import Explained, Sighting, explain
from ripasso.core.planning.in_hand import find_places
from ripasso.core.planning.options import Option, find_options
from ripasso.core.planning.variations import Variation, variations
from ripasso.core.table.places import Place
from ripasso.review.present.option_words import pace_word
from ripasso.review.present.plan_words import cushion_words
from ripasso.ui.plan.plan_balls import PlanBalls
from ripasso.ui.plan.plan_state import PlanState
from ripasso.ui.services.background import Background

Say = Callable[..., None]
#: So long after the last change the stroke is counted; a frame of the play.
COUNT_MS, FRAME_MS = 120, 16
AIM_DEG, FAR_DEG, PACE, TIP_M = 0.1, 2.0, 1.05, 1e-3
SPEEDS = (1.0, 0.5, 0.25)
#: A zone's first radius, the smallest and the largest (metres), and a step of it.
ZONE_M, NARROWEST_M, WIDEST_M, ZONE_STEP = 0.15, 0.03, 0.6, 1.2


class _Bell(QObject):
    """Brings options from their thread to the window's."""

    found = pyqtSignal(object, float, object)


class PlanController(QObject):
    """`changed` says that there is something else to be seen; `moved` that balls run."""

    changed = pyqtSignal()
    moved = pyqtSignal()

    def __init__(self, background: Background, say: Say) -> None:
        super().__init__()
        self.state = PlanState()
        self.balls = PlanBalls(self.state, say, self._other_balls)
        self._background, self._say = background, say
        self._wait = QTimer(self)
        self._wait.setSingleShot(True)
        self._wait.setInterval(COUNT_MS)
        self._wait.timeout.connect(self._count)
        self._asked: int | None = None
        self._stop: Event | None = None
        self._bell = _Bell()
        self._bell.found.connect(self._found)
        self._frames = QTimer(self)
        self._frames.setInterval(FRAME_MS)
        self._frames.timeout.connect(self._advance)
        #: Where the play is, seconds (None: the whole is seen), its speed, and how far options are.
        self.time_s: float | None = None
        self.speed = SPEEDS[0]
        self.share: float | None = None
        self.renew()

    def _other_balls(self) -> None:
        self.stop_options()
        self.renew()

    # The stroke

    def renew(self) -> None:
        """Something was changed: it is seen at once, and counted when nothing more changes."""
        self.time_s = None
        self._frames.stop()
        self._wait.start()
        self.changed.emit()

    def turn(self, degrees: float) -> None:
        """Turn the aim, to the left where positive."""
        state = self.state
        state.set_stroke(replace(state.stroke, phi=state.stroke.phi + math.radians(degrees)))
        way = "left" if degrees > 0 else "right"
        self._say(f"Aim {abs(degrees):g}° to the {way}: {math.degrees(state.stroke.phi) % 360:.1f}°.")
        self.renew()

    def point(self, place: Place) -> None:
        """Aim at a place."""
        state = self.state
        cue = state.problem.layout.get("cue")
        if cue is not None and math.dist(cue, place) > 1e-3:
            state.set_stroke(replace(state.stroke, phi=math.atan2(place[1] - cue[1], place[0] - cue[0])))
            self.renew()

    def set_speed(self, speed: float) -> None:
        """Another pace, m/s; a pot that is meant is aimed at anew."""
        self._with(speed=speed)
        self._say(f"{self.state.stroke.speed:.1f} m/s, {pace_word(self.state.stroke.speed)}.")

    def set_tip(self, a: float, b: float) -> None:
        """The tip elsewhere (radii, right and up)."""
        self._with(a=a, b=b)

    def _with(self, **values: float) -> None:
        state = self.state
        meant = state.problem.call
        state.set_stroke(replace(state.stroke, **values))
        if meant is not None:
            state.aim(*meant)
        self.renew()

    def harder(self, steps: int) -> None:
        """More pace by steps of 5 %, less where negative."""
        self.set_speed(self.state.stroke.speed * PACE**steps)

    def shift_tip(self, right: int, up: int) -> None:
        """The tip by millimetres."""
        state = self.state
        step = TIP_M / state.problem.spec.ball_radius
        self.set_tip(state.stroke.a + right * step, state.stroke.b + up * step)
        across, high = (
            1000 * value * state.problem.spec.ball_radius for value in (state.stroke.a, state.stroke.b)
        )
        self._say(f"Tip {across:+.0f} mm across, {high:+.0f} mm up.")

    def aim_pot(self) -> None:
        """Aim at the pot that is meant."""
        meant = self.state.problem.call
        if meant is None:
            self.state.aim_at_best()
        elif not self.state.aim(*meant):
            self._say("No cut sends this ball into that pocket.", "unsure")
        self.renew()

    def by_cushion(self, *, banked: bool) -> None:
        """Bank the ball that is meant, or kick at it, by the next cushion, beside the mirror's line."""
        found = self.state.by_cushion(banked=banked)
        self.renew()
        if found is None:
            self._say("No cushion shows a way there.", "unsure")
        else:
            self._say(cushion_words(found, "falls" if banked else "meets the ball"))

    def meant_ball(self, ball: str) -> None:
        """Aim at a ball."""
        if self.state.has_cue and ball != "cue":
            self.state.meant_ball(ball)
            self.renew()

    def meant_pocket(self, pocket: str) -> None:
        """The ball that is meant into another pocket."""
        if not self.state.meant_pocket(pocket):
            self._say("No cut sends this ball into that pocket.", "unsure")
        self.renew()

    def keep(self) -> None:
        """Keep this stroke beside the next one."""
        self.state.keep()
        self._say("Kept beside." if self.state.kept else "Nothing is kept beside any more.")
        self._count_kept()
        self.changed.emit()

    # Counted in the background

    def _count(self) -> None:
        state = self.state
        if not state.has_cue or (state.expected is not None and state.variations is not None):
            return
        problem, stroke, spreads = state.problem, state.stroke, state.spreads
        if self._asked is not None:
            self._background.forget(self._asked)

        known = state.expected

        def work() -> tuple[Expected, list[Variation]]:
            promise = known or expected(problem, stroke, spreads, threads=1)
            return promise, variations(problem, stroke)

        def then(found: tuple[Expected, list[Variation]]) -> None:
            self._asked = None
            if self.state.stroke is stroke and self.state.problem is problem:
                self.state.expected, self.state.variations = found
                self.changed.emit()

        self._asked = self._background.run(work, then)

    def _count_kept(self) -> None:
        """A stroke that was kept before it was counted is counted now."""
        kept, problem, spreads = self.state.kept, self.state.problem, self.state.spreads
        if kept is None or kept[2] is not None:
            return

        def then(found: Expected) -> None:
            if self.state.kept is kept:
                self.state.kept = (kept[0], kept[1], found)
                self.changed.emit()

        self._background.run(lambda: expected(problem, kept[0], spreads, threads=1), then)

    def find_options(self, *, in_hand: bool = False) -> None:
        """Look for options, with the cue ball in hand where asked; while they are looked for, stop."""
        if self._stop is not None:
            self.stop_options()
            self._say("The search is stopped; what was found stays.")
            self.changed.emit()
            return
        state = self.state
        in_hand = in_hand or not state.has_cue
        if not state.problem.on:
            self._say("Options need a ball that is on.", "unsure")
            return
        stop = self._stop = self._background.stoppable()
        problem, spreads = state.problem, state.spreads
        self.share = 0.0

        def progress(share: float, options: Sequence[Option]) -> bool:
            self._bell.found.emit(stop, share, list(options))
            return not stop.is_set()

        def work() -> list[Option]:
            search = find_places if in_hand else find_options
            return search(problem, spreads, progress=progress)

        self._background.run(work, lambda found: self._ended(stop, found))
        self.changed.emit()

    def _found(self, stop: Event, share: float, options: list[Option]) -> None:
        if stop is self._stop:
            self.share, self.state.options = share, options
            self.changed.emit()

    def _ended(self, stop: Event, options: list[Option]) -> None:
        if stop is self._stop:
            self._stop, self.share = None, None
            self.state.options = options
            self._say("Every option was looked at." if options else "Nothing legal was found.", "good")
            self.changed.emit()

    def stop_options(self) -> None:
        """No option is looked for any more."""
        if self._stop is not None:
            self._stop.set()
        self._stop, self.share = None, None

    def take_option(self, number: int) -> None:
        """Take an option in hand, the first is 1."""
        if not 1 <= number <= len(self.state.options):
            self._say(f"There is no option {number}; O looks for some.")
            return
        self.state.take_option(self.state.options[number - 1])
        self.renew()

    def zone(self, steps: int = 0) -> None:
        """A zone about the place where the cue ball stops, away again; by steps it is wider or narrower."""
        zone = self.state.zone
        if steps == 0:
            self.state.set_zone(0.0 if zone is not None else ZONE_M)
        elif isinstance(zone, Circle):
            self.state.set_zone(min(WIDEST_M, max(NARROWEST_M, zone.radius * ZONE_STEP**steps)))
        now = self.state.zone
        if isinstance(now, Circle):
            self._say(f"Zone: {100 * now.radius:.0f} cm about the place.")
        else:
            self._say("A zone with its own shape stays as it is." if now else "There is no zone.")
        self.changed.emit()

    def take_own(self, own: Spreads | None) -> None:
        """What is known of the shot's player."""
        self.state.set_own(own)
        self.changed.emit()

    def explain(self, seen: Sequence[tuple[float, str, float, float]]) -> None:
        """Look for the stroke behind what was seen of the shot, in the background."""
        problem = self.state.problem
        sightings = [Sighting(*one) for one in seen if one[1] in problem.layout]

        def then(found: Explained) -> None:
            if self.state.problem.layout == problem.layout:
                self.state.played = found
                self.changed.emit()

        def failed(_error: Exception) -> None:
            """Too little was seen: nothing is claimed."""

        if sightings:
            self._background.run(lambda: explain(problem, sightings), then, failed)

    def take_played(self) -> None:
        """The stroke that was played in hand."""
        if self.state.take_played():
            self.renew()
        else:
            self._say("How this shot was played is not known: its cue ball's way is not on film.")

    # Played

    def play(self) -> None:
        """See the balls run; again, stop."""
        if self._frames.isActive():
            self._frames.stop()
            return
        if not self.state.has_cue:
            return
        if self.time_s is None or self.time_s >= self.state.motion.duration:
            self.time_s = 0.0
        self._frames.start()
        self.moved.emit()

    def seek(self, time_s: float) -> None:
        """See the balls at a time."""
        self._frames.stop()
        self.time_s = min(max(0.0, time_s), self.state.motion.duration)
        self.moved.emit()

    def slower(self) -> None:
        """The next speed of the play."""
        self.speed = SPEEDS[(SPEEDS.index(self.speed) + 1) % len(SPEEDS)]
        self._say(f"Played at {self.speed:g} of true time." if self.speed < 1 else "Played in true time.")
        self.changed.emit()

    def _advance(self) -> None:
        end = self.state.motion.duration
        self.time_s = min(end, (self.time_s or 0.0) + self.speed * FRAME_MS / 1000)
        if self.time_s >= end:
            self._frames.stop()
        self.moved.emit()

    @property
    def playing(self) -> bool:
        """Balls run."""
        return self._frames.isActive()
