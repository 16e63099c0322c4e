"""What is planned: a table, a stroke, another one kept beside it, and what they do; no window.

Loaded when Plan is first wanted: the simulator comes with it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from ripasso.core.geometry.zones import Circle, Zone
from ripasso.core.measures.levels import DEFAULT_LEVEL
from ripasso.core.physics.bed import bed_of
from ripasso.core.physics.motion import Motion, simulate
from ripasso.core.physics.parameters import physics_of
from ripasso.core.physics.players import Spreads, spreads_of_level
from ripasso.core.physics.strokes import Stroke, with_least_elevation
from ripasso.core.planning.candidates import PACES, aimed, direct_pots, target_of
from ripasso.core.planning.cushion_lines import CUSHIONS, CushionShot, bank, kick, mirror_line
from ripasso.core.planning.differences import Differences, differences
from ripasso.core.planning.expected import Expected
from ripasso.core.planning.explaining import Explained
from ripasso.core.planning.in_hand import placed
from ripasso.core.planning.options import Option
from ripasso.core.planning.problem import Problem, balls_on
from ripasso.core.planning.variations import Variation
from ripasso.core.rules.lowest_first import LOWEST_FIRST
from ripasso.core.table import POCKETS, TableSpec, pocket_mouth_middle, starting_layout, table_spec
from ripasso.core.table.places import Place
from ripasso.core.table.placing import settle

#: The slowest and the fastest stroke, m/s, and the farthest offset of the tip, radii.
SLOWEST, FASTEST, FARTHEST = 0.2, 9.0, 0.5
#: Stands among the levels for the player's own spreads.
OWN = "own"
USUAL_SPEED = 2.0


@dataclass(frozen=True)
class Source:
    """The shot that a plan came from, and what it is called."""

    session: str
    shot: str
    title: str


@dataclass(frozen=True)
class TableFeel:
    """Cloth and cushions by name, and the mouth of corner pockets in metres (None: the table's own)."""

    cloth: str = "medium"
    cushions: str = "medium"
    corner_mouth: float | None = None


class PlanState:
    """Changed by its methods; what follows from a change is worked out when it is asked for."""

    def __init__(self) -> None:
        self.source: Source | None = None
        #: What the table is called that came from no shot.
        self.name = ""
        self.spreads: Spreads = spreads_of_level("club", snooker=False)
        self.level = DEFAULT_LEVEL
        self.feel = TableFeel()
        self._spec = table_spec(None)
        layout = {"cue": (0.7, 0.45), "1": (1.75, 0.85), "2": (0.9, 1.0), "9": (2.2, 0.3)}
        self.problem = Problem("nine_ball", self._spec, layout, ("1",))
        self.stroke = Stroke(0.0, USUAL_SPEED)
        #: A stroke kept beside the one in hand, with what it does.
        self.kept: tuple[Stroke, Motion, Expected | None] | None = None
        #: Where the cue ball should stop; None where nobody said.
        self.zone: Zone | None = None
        #: The spreads of the player of the shot, where enough of his pots are known.
        self.own: Spreads | None = None
        #: The bank or kick that the stroke came from, with the mirror's line.
        self.cushion_shot: CushionShot | None = None
        #: What was counted for the stroke in hand; None until it was, or after a change.
        self.expected: Expected | None = None
        #: What a little more or less would do; None until it was played, or after a change.
        self.variations: list[Variation] | None = None
        self.options: list[Option] = []
        #: The stroke that best explains what was seen of the shot; None where that is not known.
        self.played: Explained | None = None
        self._motion: Motion | None = None
        self.aim_at_best()

    # What is set

    def take(
        self,
        game: str,
        spec: TableSpec,
        layout: Mapping[str, Place],
        on: tuple[str, ...],
        call: tuple[str, str] | None,
        source: Source | None,
    ) -> None:
        """Another table; the stroke is aimed at what is meant, else at the likeliest pot."""
        self.source, self._spec, self.name = source, spec, ""
        self.spreads = spreads_of_level(self.level, snooker=spec.snooker)
        self._set_problem(game, layout, on or balls_on(game, layout), call)
        self.kept, self.options, self.played, self.zone = None, [], None, None
        self.set_own(None)
        self.stroke = Stroke(self.stroke.phi, USUAL_SPEED)
        if call is None or not self._aim_hard_enough(*call):
            self.aim_at_best()

    def _set_problem(
        self, game: str, layout: Mapping[str, Place], on: tuple[str, ...], call: tuple[str, str] | None
    ) -> None:
        spec = self._spec
        if self.feel.corner_mouth is not None:
            spec = replace(spec, corner_mouth=self.feel.corner_mouth)
        physics = physics_of(spec, self.feel.cloth, self.feel.cushions)
        self.problem = Problem(game, spec, dict(layout), on, call, bed_of(spec), physics)
        self._changed()

    def _changed(self) -> None:
        self._motion, self.expected, self.variations, self.cushion_shot = None, None, None, None

    def set_feel(self, feel: TableFeel) -> None:
        """Another cloth, other cushions or pockets; the stroke stays as it is."""
        self.feel = feel
        now = self.problem
        self._set_problem(now.game, now.layout, now.on, now.call)
        self.options = []

    def set_level(self, level: str) -> None:
        """Another player: a level, or the player's own spreads."""
        self.level = level
        own = self.own if level == OWN else None
        self.spreads = own or spreads_of_level(level, snooker=self._spec.snooker)
        self.expected, self.options = None, []

    def set_own(self, own: Spreads | None) -> None:
        """The spreads of the shot's player; who planned with another player's goes back to the level."""
        self.own = own
        if self.level == OWN:
            self.set_level(OWN if own is not None else DEFAULT_LEVEL)

    def set_zone(self, radius: float) -> None:
        """A round zone about the place where the cue ball stops now; none with a radius of 0."""
        rest = self.motion.rest().get("cue") if self.has_cue else None
        centre = self.zone.centre if isinstance(self.zone, Circle) else rest
        self.zone = Circle(centre, radius) if radius > 0 and centre is not None else None

    def set_game(self, game: str) -> None:
        """The rack of another game, on the table that is there."""
        layout = dict(starting_layout(game, self._spec, 15))
        layout.setdefault("cue", (self._spec.length * 0.2, self._spec.width * 0.45))
        self.take(game, self._spec, layout, (), None, None)

    def place(self, ball: str, place: Place) -> None:
        """Put a ball elsewhere; raises `ImpossiblePlace`. The stroke keeps what it is aimed at."""
        now = self.problem
        others = {name: at for name, at in now.layout.items() if name != ball}
        found = settle(now.spec, others, ball, place).place
        call = now.call
        self._set_problem(now.game, {**now.layout, ball: found}, now.on, call)
        self.options = []
        if call is None or not self.aim(*call):
            self._set_stroke(self.stroke)

    def rename(self, ball: str, name: str) -> None:
        """Another name for a ball; whoever had that name takes this one's."""
        now, names = self.problem, {ball: name, name: ball}
        layout = {names.get(one, one): at for one, at in now.layout.items()}
        self._other_balls(layout, tuple(names.get(one, one) for one in now.on))

    def remove(self, ball: str) -> None:
        """Take an object ball off the table."""
        now = self.problem
        self._other_balls(
            {one: at for one, at in now.layout.items() if one != ball},
            tuple(one for one in now.on if one != ball),
        )

    def _other_balls(self, layout: Mapping[str, Place], on: tuple[str, ...]) -> None:
        """Other balls on the same table: the likeliest pot is aimed at."""
        game = self.problem.game
        on = balls_on(game, layout) if game in LOWEST_FIRST or not on else on
        self._set_problem(game, layout, on, None)
        self.kept, self.options, self.played = None, [], None
        self.aim_at_best()

    def set_stroke(self, stroke: Stroke) -> None:
        """Another stroke, with the elevation that rails force."""
        self._set_stroke(replace(stroke, elevation=0.0))

    def _set_stroke(self, stroke: Stroke) -> None:
        size = math.hypot(stroke.a, stroke.b)
        share = min(1.0, FARTHEST / size) if size else 1.0
        speed = min(FASTEST, max(SLOWEST, stroke.speed))
        self.stroke = with_least_elevation(
            replace(stroke, a=stroke.a * share, b=stroke.b * share, speed=speed),
            self.problem.spec,
            self.problem.layout,
        )
        self._changed()

    def take_option(self, option: Option) -> None:
        """The stroke and what is meant of an option."""
        now = self.problem
        call = (option.ball, option.pocket) if option.pocket is not None else None
        if option.cue_place is not None:
            now = placed(now, option.cue_place)
        self.problem = replace(now, call=call)
        self.stroke = option.stroke
        self._changed()
        self.expected = option.expected

    def aim(self, ball: str, pocket: str) -> bool:
        """Aim at a pot, with the pace and tip in hand; False where no cut does it."""
        self.problem = replace(self.problem, call=(ball, pocket))
        if ball not in self.problem.layout or "cue" not in self.problem.layout:
            return False
        wanted = replace(self.stroke, elevation=0.0)
        found = aimed(self.problem, wanted, ball, target_of(self.problem, ball, pocket))
        if found is not None:
            self.stroke = found
        self._changed()
        return found is not None

    def _aim_hard_enough(self, ball: str, pocket: str) -> bool:
        """Aim at a pot with the pace in hand, or with the first further one at which the ball gets there."""
        found = False
        for speed in (self.stroke.speed, *(pace for pace in PACES if pace > self.stroke.speed)):
            self.stroke = replace(self.stroke, speed=speed)
            found = self.aim(ball, pocket)
            if found and self.motion.pockets.get(ball) == pocket:
                break
        return found

    def aim_at_best(self) -> None:
        """Aim at the likeliest pot; else at the ball that is on."""
        now = self.problem
        self._changed()
        if "cue" not in now.layout:
            return
        pots = direct_pots(now, self.spreads)
        if pots and self._aim_hard_enough(pots[0][0], pots[0][1]):
            return
        on = next((ball for ball in now.on if ball in now.layout), None)
        if on is not None:
            cue, ball = now.layout["cue"], now.layout[on]
            self.problem = replace(now, call=None)
            self.set_stroke(replace(self.stroke, phi=math.atan2(ball[1] - cue[1], ball[0] - cue[0])))

    def take_played(self) -> bool:
        """The stroke that was played in hand; False where it is not known."""
        if self.played is None:
            return False
        self.stroke = self.played.stroke
        self._changed()
        return True

    def by_cushion(self, *, banked: bool) -> CushionShot | None:
        """The ball in hand banked, or the cue ball kicked at it: by the next cushion that shows a way."""
        ball = self.problem.call[0] if self.problem.call else next(iter(self.problem.on), None)
        if ball is None or ball not in self.problem.layout or not self.has_cue:
            return None
        last = self.cushion_shot.cushion if self.cushion_shot is not None else CUSHIONS[-1]
        start = CUSHIONS.index(last) + 1
        for cushion in (*CUSHIONS[start:], *CUSHIONS[:start]):
            found = self._banked(ball, cushion) if banked else kick(self.problem, self.stroke, ball, cushion)
            if found is not None:
                self.problem = self.problem if banked else replace(self.problem, call=None)
                self.stroke = found.stroke
                self._changed()
                self.cushion_shot = found
                return found
        return None

    def _banked(self, ball: str, cushion: str) -> CushionShot | None:
        """A bank into the pocket that is meant, else into the one that the mirror leads to soonest."""
        spec, place = self.problem.spec, self.problem.layout[ball]
        pockets = (self.problem.call[1],) if self.problem.call else POCKETS
        ways = {
            pocket: math.dist(line[0], line[1]) + math.dist(line[1], line[2])
            for pocket in pockets
            if (line := mirror_line(spec, place, pocket_mouth_middle(spec, pocket), cushion)) is not None
        }
        if not ways:
            return None
        nearest = min(ways, key=lambda pocket: ways[pocket])
        found = bank(self.problem, self.stroke, ball, nearest, cushion)
        if found is not None:
            self.problem = replace(self.problem, call=(ball, nearest))
        return found

    def meant_ball(self, ball: str) -> None:
        """Aim at another ball: into its likeliest pocket, or straight at it."""
        pots = direct_pots(replace(self.problem, on=(ball,)), self.spreads)
        pocket = pots[0][1] if pots else None
        if pocket is None or not self._aim_hard_enough(ball, pocket):
            cue, at = self.problem.layout["cue"], self.problem.layout[ball]
            self.problem = replace(self.problem, call=None)
            self.set_stroke(replace(self.stroke, phi=math.atan2(at[1] - cue[1], at[0] - cue[0])))

    def meant_pocket(self, pocket: str) -> bool:
        """The ball in hand into another pocket; False where no cut does it."""
        ball = self.problem.call[0] if self.problem.call else next(iter(self.problem.on), None)
        return ball is not None and pocket in POCKETS and self.aim(ball, pocket)

    def keep(self) -> None:
        """Keep the stroke in hand beside the next ones; kept again it goes."""
        is_kept = self.kept is not None and self.kept[0] == self.stroke
        self.kept = None if is_kept else (self.stroke, self.motion, self.expected)

    # What follows

    @property
    def has_cue(self) -> bool:
        """There is a cue ball to be struck."""
        return "cue" in self.problem.layout

    @property
    def motion(self) -> Motion:
        """What the stroke in hand does."""
        if self._motion is None:
            now = self.problem
            self._motion = simulate(now.layout, self.stroke, now.bed, now.physics)
        return self._motion

    def differences(self) -> Differences | None:
        """What parts the stroke in hand from the one kept beside it; None where there is no other."""
        if self.kept is None or self.kept[0] == self.stroke or not self.has_cue:
            return None
        return differences(self.problem, self.kept[0], self.stroke)
