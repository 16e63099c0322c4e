"""The tools of the mouse for the shot in hand: the one taken, its gestures, its commands; no window."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from ripasso.core.measures.shots import ShotInput, ShotMeasures, measure_shots
from ripasso.core.rules.snooker import COLOURS
from ripasso.core.table import TableSpec, snooker_spots, starting_layout, table_spec
from ripasso.core.table.places import Place
from ripasso.review.document.edits import Path
from ripasso.review.document.signal import Signal
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.language.translation import tr
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.measuring.measuring import spread_of
from ripasso.review.record.model import Shot
from ripasso.review.table.layouts import (
    Layout,
    NoLayout,
    When,
    balls_to_place,
    layout_text,
    place_ball,
    read_layout,
    recorded,
    set_layout,
    shown,
    take_ball,
)
from ripasso.review.table.planning import clear_values, wiped_values
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.state.selection import Say
from ripasso.ui.review.table.tools import PEN_TOOLS, TOOLS, ZONE_TOOLS, DragTool, PlaceTool, Tool


class ToolController:
    """What tools work on. Connect to `changed` for a tool that was taken or that moved something."""

    def __init__(self, controller: ReviewController, book: MeasureCache, say: Say) -> None:
        self._controller, self._book, self._say = controller, book, say
        self.reach_m = 0.0
        self.ask_caption: Callable[[], str] = lambda: ""
        self.tool: Tool = DragTool(self)
        self._last: tuple[When, str] | None = None
        self._shot: str | None = None
        self.changed: Signal[None] = Signal()
        #: A ball was put at a place by a person: before or after the shot in hand, and which.
        self.placed: Signal[tuple[When, str]] = Signal()
        controller.changed.connect(self._follow)

    def _follow(self, _none: None) -> None:
        """Another shot was taken in hand: tool and what was begun with it belong to the one before."""
        shot = self._controller.shot.key if self._controller.shot else None
        if shot != self._shot:
            self._shot, self._last = shot, None
            self.tool.drop()
            if not self.looking:
                self.tool = DragTool(self)
                self.changed.emit(None)

    # What is in hand

    @property
    def _now(self) -> tuple[Snapshot, ShotRow] | None:
        snapshot, shot = self._controller.snapshot, self._controller.shot
        return (snapshot, shot) if snapshot is not None and shot is not None else None

    @property
    def spec(self) -> TableSpec:
        """The table of the session in hand."""
        snapshot = self._controller.snapshot
        return table_spec(snapshot.head.table if snapshot else None)

    @property
    def record(self) -> Shot | None:
        """The shot in hand."""
        return self._controller.shot.record if self._controller.shot else None

    def layout(self, when: When) -> Layout:
        """The layout on show before or after the shot; only the tools see one that nobody recorded."""
        now = self._now
        if now is None:
            return {}
        if isinstance(self.tool, DragTool) and not (when == "before" and self.record_is_break):
            return recorded(now[1], when) or {}
        return shown(*now, when)

    @property
    def record_is_break(self) -> bool:
        """The shot in hand is the break."""
        return self.record is not None and self.record.intent == "break"

    def expected_ball(self, when: When) -> str | None:
        """The ball to be placed next."""
        now = self._now
        waiting = balls_to_place(*now, when) if now else ()
        return waiting[0] if waiting else None

    def measures(self) -> ShotMeasures | None:
        """The measures of the shot in hand, with what is being dragged."""
        found = self._measured()
        return found[1] if found else None

    def next_pot(self) -> tuple[str, str] | None:
        """The next ball and its pocket, as planned or as they are likeliest."""
        found = self._measured()
        if found is None:
            return None
        given, measures = found
        ball = given.plan.next_ball or (given.on_next[0] if len(given.on_next) == 1 else None)
        if ball is None:
            return None
        pocket = given.plan.next_pocket or next((pot.pocket for pot in measures.next_pots), None)
        return (ball, pocket) if pocket is not None else None

    def route_start(self) -> Place | None:
        """Where a route begins: at the ghost ball, else at the cue ball."""
        measures = self.measures()
        if measures is not None and measures.geometry is not None:
            return measures.geometry.ghost
        return self.layout("before").get("cue")

    def caption(self) -> str:
        """Words for a caption, asked of the user."""
        return self.ask_caption()

    # Tools

    def take(self, name: str) -> None:
        """Take a tool in hand; the one in hand is put down."""
        if self._now is None:
            self._say("No shot is in hand; F marks a strike and begins one.", "plain")
            return
        self.tool = TOOLS[name](self) if name in TOOLS and self.tool.name != name else DragTool(self)
        self.changed.emit(None)

    def take_zone(self) -> None:
        """The next of the zone tools."""
        self._cycle(ZONE_TOOLS)

    def take_pen(self) -> None:
        """The next of the pens."""
        self._cycle(PEN_TOOLS)

    def _cycle(self, names: tuple[str, ...]) -> None:
        place = names.index(self.tool.name) + 1 if self.tool.name in names else 0
        self.take(names[place] if place < len(names) else "look")

    def put_down(self) -> None:
        """Escape: what was begun first, then the tool."""
        if not self.tool.drop():
            self.tool = DragTool(self)
        self.changed.emit(None)

    @property
    def looking(self) -> bool:
        """No tool is in hand."""
        return isinstance(self.tool, DragTool)

    @property
    def placing(self) -> PlaceTool | None:
        """The tool that places balls, when it is in hand."""
        return self.tool if isinstance(self.tool, PlaceTool) and not self.looking else None

    @property
    def hint(self) -> str:
        """What the tool in hand waits for, in words."""
        placing = self.placing
        if placing is None:
            return tr(self.tool.hint)
        ball = placing.next_ball
        if not ball:
            return f"{tr(placing.hint)}; every ball has its place"
        return f"{tr(placing.hint)}; next: {tr('the cue ball') if ball == 'cue' else ball}"

    # Gestures, from the diagram or from the film

    def grasp(self, place: Place, *, reach_m: float = 0.0) -> bool:
        """A drag begins without a tool in hand: whether it takes something along."""
        self.reach_m = reach_m
        return isinstance(self.tool, DragTool) and self.tool.grasp(place)

    def press(self, place: Place, *, also: bool = False, reach_m: float = 0.0) -> None:
        """The button goes down."""
        self.reach_m = reach_m
        self.tool.press(place, also=also)
        self.changed.emit(None)

    def move(self, place: Place) -> None:
        """The mouse is dragged."""
        self.tool.move(place)
        self.changed.emit(None)

    def release(self, place: Place) -> None:
        """The button goes up."""
        self.tool.release(place)
        self.changed.emit(None)

    def hover(self, place: Place) -> None:
        """The mouse moves."""
        self.tool.hover(place)
        if self.tool.preview():
            self.changed.emit(None)

    def finish(self) -> None:
        """What was begun with the tool is complete."""
        self.tool.finish()
        self.changed.emit(None)

    # Commands

    def place(self, when: When, ball: str, place: Place) -> None:
        """Put a ball at a place."""
        self._last = (when, ball)
        if self._controller.perform(lambda snapshot, shot: place_ball(snapshot, shot, when, ball, place)):
            self.placed.emit((when, ball))

    def say_values(self, values: dict[Path, object], label: str) -> None:
        """Set values of the shot in hand."""
        if values:
            self._controller.say_values(values, label)

    def digit(self, digit: str) -> None:
        """A digit while balls are placed: the ball that the next click places; 1 then 0 to 5 is 10 to 15."""
        placing, snapshot = self.placing, self._controller.snapshot
        if placing is None or snapshot is None:
            return
        if snapshot.head.game == "snooker":
            placing.ball = self._of_value(digit)
        elif placing.ball == "1" and digit in "012345":
            placing.ball = f"1{digit}"
        else:
            placing.ball = "cue" if digit == "0" else digit
        self.changed.emit(None)

    def _of_value(self, digit: str) -> str | None:
        """The ball of a value in snooker; of the reds one that has no place yet."""
        if digit != "1":
            values = dict(zip("0234567", ("cue", *COLOURS), strict=True))
            return values.get(digit)
        now = self._now
        waiting = balls_to_place(*now, self.tool.when) if now else ()
        return next((ball for ball in waiting if ball.startswith("red")), None)

    def nudge(self, right_m: float, left_m: float) -> None:
        """Move the ball placed last by a little, along the table and across it."""
        if self._last is None:
            self._say("Place or drag a ball first; then the arrow keys move it.", "plain")
            return
        when, ball = self._last
        lies = self.layout(when).get(ball)
        if lies is not None:
            self.place(when, ball, (lies[0] + right_m, lies[1] + left_m))

    def take_off(self) -> None:
        """Take the ball placed last off the layout."""
        if self._last is None:
            self._say("Place or drag a ball first; Delete takes that one off.", "plain")
            return
        when, ball = self._last
        self._last = None
        self._controller.perform(lambda snapshot, shot: take_ball(snapshot, shot, when, ball))

    def set_layout(self, layout: Layout, label: str) -> None:
        """Put a whole layout in the place of the one on show."""
        when = self.tool.when
        self._controller.perform(lambda snapshot, shot: set_layout(snapshot, shot, when, layout, label))

    def rack_up(self) -> None:
        """The balls as they stand before the break."""
        snapshot = self._controller.snapshot
        if snapshot is not None:
            reds = (snapshot.head.rules or {}).get("reds", 15)
            layout = dict(starting_layout(snapshot.head.game, self.spec, reds))
            self.set_layout(layout, "Set the balls up as for the break")

    def on_spots(self) -> None:
        """The colours of snooker on their spots, other balls where they are."""
        if not self.spec.snooker:
            self._say("Only the colours of snooker have spots of their own.", "plain")
            return
        lies = self.layout(self.tool.when)
        self.set_layout({**lies, **snooker_spots(self.spec)}, "Put the colours on their spots")

    def copy_layout(self) -> str:
        """The layout on show as text."""
        return layout_text(self.layout(self.tool.when))

    def paste_layout(self, text: str) -> None:
        """A layout from text, in the place of the one on show."""
        try:
            layout = read_layout(text)
        except NoLayout as error:
            self._say(str(error), "plain")
            return
        self.set_layout(layout, "Paste a layout")

    def clear_plan(self) -> None:
        """Take zone, aim point and route away."""
        if self.record is not None:
            self.say_values(clear_values(self.record), "Take the drawn plan away")

    def wipe(self) -> None:
        """Take the last drawing by hand away."""
        if self.record is not None:
            self.say_values(wiped_values(self.record), "Take a drawing away")

    def _measured(self) -> tuple[ShotInput, ShotMeasures] | None:
        now = self._now
        if now is None:
            return None
        snapshot, shot = now
        measures = self._book.shot(snapshot, shot.key)
        given = self._book.given(shot.key)
        if measures is None or given is None:
            return None
        moved = self.tool.moved()
        if not moved:
            return given, measures
        given = _with_moved(given, self.tool.when, self.layout(self.tool.when), moved)
        return given, measure_shots(self.spec, [given], spread_of(snapshot.head))[0]


def _with_moved(given: ShotInput, when: When, layout: Layout, moved: Mapping[str, Place]) -> ShotInput:
    """What is measured while a ball is in the hand."""
    return replace(given, **{when: {**layout, **moved}})  # type: ignore[arg-type]
