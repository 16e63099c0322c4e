"""The picture of the shot in hand: which layers are drawn, and the scene of the diagram; no window."""

from __future__ import annotations

from dataclasses import replace

from ripasso.core.measures.shots import ShotInput
from ripasso.core.table.places import Place
from ripasso.drawing import TableScene
from ripasso.drawing.layers import LAYERS, Layers, Route, ShotPicture, draw_layers
from ripasso.drawing.shot import shot_picture
from ripasso.report.shot_drawing import route_of, said_of
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.record.model import Shot
from ripasso.review.record.proposals import is_proposed
from ripasso.review.scoring.meant import meant_ball
from ripasso.review.table.planning import zones_of_rack_plans
from ripasso.ui.review.state.review_controller import ReviewController
from ripasso.ui.review.state.selection import Say
from ripasso.ui.review.table.tool_controller import ToolController

#: What is drawn when nobody chose: before a shot is known to have ended, and after.
OPEN = ("pot", "window", "natural", "next", "plan", "options", "pen")
OVER = ("pot", "next", "plan", "options", "path", "result", "pen")
PLACING = ("pot", "window", "next", "plan")
PLACING_AFTER = ("plan", "next", "result")


class PictureController(ToolController):
    """The tools with what is drawn of their shot."""

    def __init__(self, controller: ReviewController, book: MeasureCache, say: Say) -> None:
        super().__init__(controller, book, say)
        self.unit = "mm"
        self.on_film = True
        self._chosen: dict[str, bool] = {}

    def wanted(self) -> tuple[str, ...]:
        """The layers that are drawn now."""
        placing = self.placing
        usual: tuple[str, ...]
        if placing is not None:
            usual = PLACING if placing.when == "before" else PLACING_AFTER
        else:
            usual = OVER if self.looking and "cue" in self.layout("after") else OPEN
        return tuple(name for name in LAYERS if self._chosen.get(name, name in usual))

    def switch(self, layer: str, on: bool) -> None:
        """Draw a layer, or leave it out, from now on."""
        self._chosen[layer] = on
        self.changed.emit(None)

    def automatic(self) -> None:
        """Draw what matters now."""
        self._chosen.clear()
        self.changed.emit(None)

    def show_on_film(self, on: bool) -> None:
        """Draw the layers on the film as well, or only on the diagram."""
        self.on_film = on
        self.changed.emit(None)

    def set_unit(self, unit: str) -> None:
        """Write lengths in another unit."""
        self.unit = unit
        self.changed.emit(None)

    def layers(self) -> Layers:
        """The layers of the shot in hand as primitives, with what is being drawn."""
        picture = self.picture()
        drawn = draw_layers(picture, self.wanted()) if picture is not None else Layers()
        return Layers(drawn.under, (*drawn.over, *self.tool.preview()))

    def running(self, since_strike_s: float) -> list[tuple[str, Place]]:
        """Where the cue ball of each option would be so long after the strike, by the option's name."""
        plan = self.record.plan if self.record is not None else None
        timed = [option for option in (plan.options if plan else None) or () if option.route_s]
        if not timed or "options" not in self.wanted():
            return []
        places = ((route.title, route.at(since_strike_s)) for route in map(route_of, timed))
        return [(title, place) for title, place in places if place is not None]

    def picture(self) -> ShotPicture | None:
        """Everything known of the shot in hand."""
        found = self._measured()
        if found is None or self.record is None:
            return None
        given, measures = found
        said = said_of(self.record, given, self.spec)
        return shot_picture(
            self.spec,
            given,
            measures,
            self.unit,
            replace(said, options=(*said.options, *self._planned(given))),
        )

    def _planned(self, given: ShotInput) -> list[Route]:
        """Where the rack's plans want the cue ball after this shot, as zones under whose plan it is."""
        now = self._now
        rack = now[0].rack(now[1].rack) if now is not None else None
        if now is None or rack is None:
            return []
        ball = meant_ball(now[1].record, self._controller.shot_score)
        zones = zones_of_rack_plans(rack.record, now[1].record.number, ball)
        made = ((by, core_zone(zone, given.before or {}, self.spec)) for by, zone in zones)
        return [Route(by, (), zone) for by, zone in made if zone is not None]

    def scene(self) -> TableScene:
        """The diagram of the shot in hand."""
        now = self._now
        if now is None:
            return TableScene(self.spec)
        when = self.tool.when if not self.looking else "before"
        balls = {**self.layout(when), **(self.tool.moved() if self.tool.when == when else {})}
        layers, record = self.layers(), now[1].record
        judged = self._controller.shot_score
        note = "" if balls or self.placing else "Where the balls lay is not recorded"
        return TableScene(
            self.spec,
            balls,
            judged.balls_on if judged and when == "before" else (),
            record.call.pocket if record.call else None,
            note=note,
            under=layers.under,
            over=layers.over,
            words=self.hint,
            held=self._held(),
            proposed=proposed_balls(record, when),
        )

    def _held(self) -> str | None:
        """The ball that is moved: the one in the hand, else the one that arrow keys would nudge."""
        moved = self.tool.moved()
        if moved:
            return next(iter(moved))
        return self._last[1] if self._last and self.placing and self._last[0] == self.tool.when else None


def proposed_balls(record: Shot, when: str) -> frozenset[str]:
    """The balls of a layout (`before`, `after`) whose places are proposals."""
    return frozenset(name for name in getattr(record, when) or () if is_proposed(record, (when, name)))
