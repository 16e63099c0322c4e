"""Plan's table, stroke and options: composed once the simulator is loaded."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QInputDialog, QSlider, QTabWidget, QVBoxLayout, QWidget

from ripasso.core.table import pocket_mouth_middle
from ripasso.drawing import TableScene
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.motion import scatter, ways
from ripasso.drawing.primitives import Line, Primitive
from ripasso.drawing.rack_plan import DrawnStep, flags, plan_ways, shades
from ripasso.review.entry.word_values import tip_radii
from ripasso.review.present.plan_words import played_words
from ripasso.review.present.reading_words import flag_word
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.plan.actions import ACTIONS
from ripasso.ui.plan.option_list import OptionList
from ripasso.ui.plan.plan_controller import AIM_DEG, FAR_DEG, PlanController
from ripasso.ui.plan.plan_hand import PlanHand
from ripasso.ui.plan.rack_controller import RackController
from ripasso.ui.plan.rack_page import RackPage, ReadingPage
from ripasso.ui.plan.stroke_panel import StrokePanel
from ripasso.ui.widgets.basics import label, panel, scrolling
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.workspace import Workspace

#: Steps of the time slider in a second.
TIME_STEPS = 100


class PlanDesk(QWidget):
    """Everything that is seen of a plan; `attached` wants it kept with its shot, `planned` the rack's plan
    with its rack; `left` goes back to the shot; `layouts_wanted` asks for a kept layout."""

    attached = pyqtSignal()
    planned = pyqtSignal()
    left = pyqtSignal()
    reported = pyqtSignal()
    layouts_wanted = pyqtSignal()

    def __init__(self, workspace: Workspace) -> None:
        super().__init__()
        theme = workspace.theme
        self._workspace = workspace
        self.controller = PlanController(workspace.background, workspace.messages.say)
        self.actions_book = ActionRegistry(self, ACTIONS, workspace.settings.get("keys"))
        self.table = TableView(theme)
        self.table.hand = PlanHand(self.controller)
        self.stroke = StrokePanel(theme)
        self.options = OptionList(theme)
        self.rack = RackController(self.controller, workspace.background, workspace.messages.say)
        self.rack_page = RackPage(theme, self.rack, "nine_ball")
        self.reading_page = ReadingPage(self.rack, "nine_ball")
        self.pages = QTabWidget()
        self.clock = QSlider(Qt.Orientation.Horizontal)
        self.clock.setAccessibleName("Time of the stroke")
        self._title, self._from = label("", "title"), label("", "caption")
        self._progress = label("", "caption")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._compose()
        self._connect()
        self.refresh()

    def _compose(self) -> None:
        book, theme = self.actions_book, self._workspace.theme
        head = QHBoxLayout()
        head.addWidget(self._title)
        head.addWidget(self._from)
        head.addStretch(1)
        self._played = label("", "caption")
        head.addWidget(self._played)
        for name in ("layouts", "as_played", "keep", "attach", "back"):
            head.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        play = QHBoxLayout()
        for name in ("play", "slower", "zone", "bank", "kick"):
            play.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        play.addWidget(self.clock, 1)
        board = QVBoxLayout()
        board.addWidget(self.table, 1)
        board.addLayout(play)
        found = QHBoxLayout()
        for name in ("options", "in_hand", "work_out", "map", "lesson", "reading"):
            found.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        found.addWidget(self._progress)
        found.addStretch(1)
        below = QVBoxLayout()
        below.addLayout(found)
        for page, title in (
            (self.options, "Options"),
            (self.rack_page, "Rack"),
            (self.reading_page, "Table reading"),
        ):
            self.pages.addTab(page, title)
        self.pages.currentChanged.connect(lambda _page: self._show_table())
        self.pages.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        below.addWidget(self.pages)
        left = QVBoxLayout()
        left.setSpacing(10)
        left.addWidget(panel(board), 5)
        left.addWidget(panel(below), 3)
        side = QVBoxLayout()
        side.addWidget(scrolling(self.stroke))
        aside = panel(side)
        aside.setFixedWidth(self._workspace.theme.px(352))
        body = QHBoxLayout()
        body.setSpacing(10)
        body.addLayout(left, 1)
        body.addWidget(aside)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(10, 8, 10, 8)
        whole.setSpacing(8)
        whole.addLayout(head)
        whole.addLayout(body, 1)

    def _connect(self) -> None:
        to = self.controller
        to.changed.connect(self.refresh)
        to.moved.connect(self._show_table)
        self.rack.changed.connect(self.refresh)
        self.table.ball_clicked.connect(to.meant_ball)
        self.table.pocket_clicked.connect(to.meant_pocket)
        self.stroke.tip_chosen.connect(to.set_tip)
        self.stroke.speed_chosen.connect(to.set_speed)
        self.stroke.feel_chosen.connect(self._set_feel)
        self.stroke.level_chosen.connect(self._set_level)
        self.options.chosen.connect(to.take_option)
        self.clock.sliderMoved.connect(lambda value: to.seek(value / TIME_STEPS))
        self.actions_book.bind(
            {
                "aim_left": partial(to.turn, AIM_DEG),
                "aim_right": partial(to.turn, -AIM_DEG),
                "aim_far_left": partial(to.turn, FAR_DEG),
                "aim_far_right": partial(to.turn, -FAR_DEG),
                "harder": partial(to.harder, 1),
                "softer": partial(to.harder, -1),
                "tip_up": partial(to.shift_tip, 0, 1),
                "tip_down": partial(to.shift_tip, 0, -1),
                "tip_left": partial(to.shift_tip, -1, 0),
                "tip_right": partial(to.shift_tip, 1, 0),
                "aim_pot": to.aim_pot,
                "bank": partial(to.by_cushion, banked=True),
                "kick": partial(to.by_cushion, banked=False),
                "play": to.play,
                "slower": to.slower,
                "zone": to.zone,
                "zone_wider": partial(to.zone, 1),
                "zone_narrower": partial(to.zone, -1),
                "as_played": to.take_played,
                **self._of_the_rack(),
                "keep": to.keep,
                "attach": self.attached.emit,
                "back": self.left.emit,
                "report": self.reported.emit,
                "layouts": self.layouts_wanted.emit,
                "name_ball": self._name_ball,
                "remove_ball": to.balls.remove,
                "paste": self._paste,
                "copy": self._copy,
                **{f"option_{n}": partial(to.take_option, n) for n in range(1, 7)},
            }
        )

    def _of_the_rack(self) -> dict[str, Callable[[], object]]:
        rack = self.rack

        def shown(page: QWidget, work: Callable[[], object]) -> Callable[[], None]:
            def act() -> None:
                self.pages.setCurrentWidget(page)
                work()

            return act

        return {
            "options": shown(self.options, self.controller.find_options),
            "in_hand": shown(self.options, partial(self.controller.find_options, in_hand=True)),
            "work_out": shown(self.rack_page, rack.work_out),
            "map": rack.show_map,
            "lesson": shown(self.rack_page, rack.teach),
            "reading": shown(self.reading_page, rack.read),
            "next_ball": partial(rack.step, 1),
            "previous_ball": partial(rack.step, -1),
            "ball_later": partial(rack.move, 1),
            "ball_earlier": partial(rack.move, -1),
            "take_plan": rack.take,
            "best_place": rack.put_down,
            "group": shown(self.rack_page, rack.other_group),
            "to_rack": self.planned.emit,
        }

    def _set_feel(self, feel: object) -> None:
        self.controller.stop_options()
        self.controller.state.set_feel(feel)  # type: ignore[arg-type]
        self.controller.renew()

    def _set_level(self, level: str) -> None:
        self.controller.stop_options()
        self.controller.state.set_level(level)
        self.controller.renew()

    def _paste(self) -> None:
        board = QApplication.clipboard()
        self.controller.balls.paste(board.text() if board is not None else "")

    def _name_ball(self) -> None:
        ball = self.controller.balls.in_hand()
        if ball is None:
            self._workspace.messages.say("No ball is meant.", "unsure")
            return
        text, accepted = QInputDialog.getText(self, "Name ball", f"The {ball} is in truth the")
        if accepted and text.strip():
            self.controller.balls.rename(ball, text)

    def _copy(self) -> None:
        board = QApplication.clipboard()
        if board is not None:
            board.setText(self.controller.balls.text())
            self._workspace.messages.say("The layout is copied as text.")

    # What is seen

    def refresh(self) -> None:
        """Show the plan in hand."""
        state = self.controller.state
        source = state.source
        self._title.setText(source.title if source is not None else state.name or "A table of one's own")
        on = ", ".join(state.problem.on[:4])
        self._from.setText(f"on: {on}" if on else "nothing is on")
        for name in ("attach", "back", "report"):
            self.actions_book[name].setEnabled(source is not None)
        if state.has_cue:
            self.stroke.show_plan(
                state, tip_radii(state.problem.game), str(self._workspace.settings.get("unit"))
            )
        self._played.setText(played_words(state.played) if state.played is not None else "")
        self.actions_book["as_played"].setEnabled(state.played is not None)
        known = self.rack.is_known()
        for page in (self.rack_page, self.reading_page):
            page.game = state.problem.game
            page.refresh()
        for name in ("map", "lesson", "best_place", "take_plan"):
            self.actions_book[name].setEnabled(known)
        self.actions_book["to_rack"].setEnabled(known and source is not None)
        share = self.controller.share if self.controller.share is not None else self.rack.share
        self._progress.setText(f"{100 * share:.0f} % looked at" if share is not None else "")
        self.options.show_options(state.options, state.problem.game)
        self._show_table()

    def _show_table(self) -> None:
        state, time_s = self.controller.state, self.controller.time_s
        problem = state.problem
        balls, under = dict(problem.layout), []
        if state.has_cue:
            motion = state.motion
            under = [] if self._shows_rack() else self._drawn()
            if time_s is not None:
                balls = motion.at(time_s)
            self.clock.setRange(0, round(motion.duration * TIME_STEPS))
            self.clock.setValue(round((time_s if time_s is not None else 0.0) * TIME_STEPS))
        if self.rack.state.lesson is not None and self._shows_rack():
            balls = self.rack.state.lesson_layout(balls)
        pocket = problem.call[1] if problem.call else None
        over = tuple(self._drawn_over()) if time_s is None else ()
        under = [*self._drawn_under(), *under]
        self.table.show_scene(
            TableScene(problem.spec, balls, problem.on, pocket=pocket, under=tuple(under), over=over)
        )

    def _shows_rack(self) -> bool:
        """The rack's plan is looked at, not the stroke in hand."""
        if self.controller.time_s is not None or not self.rack.is_known():
            return False
        return self.pages.currentWidget() is self.rack_page

    def _drawn_under(self) -> list[Primitive]:
        """The map of the ball in hand, the plan's ways and the zone of its step."""
        rack, spec = self.rack.state, self.controller.state.problem.spec
        if not self._shows_rack():
            return []
        drawn = shades(rack.shaded())
        layout = self.controller.state.problem.layout
        steps = [
            DrawnStep(
                step.cue,
                layout[step.ball],
                pocket_mouth_middle(spec, step.pocket),
                step.rest if step.zone is not None else None,
            )
            for step in rack.steps
        ]
        drawn += plan_ways(steps, rack.chosen, spec.ball_radius)
        before = rack.steps[rack.chosen - 1] if rack.chosen > 0 else None
        if before is not None and before.zone is not None:
            # Where the cue ball should stop for the ball in hand: an outline, as the map is under it.
            drawn.append(Line((*before.zone.corners, before.zone.corners[0]), "mark.plan", "bold"))
        return drawn

    def _drawn_over(self) -> list[Primitive]:
        """Flags of the reading."""
        reading, problem = self.rack.state.reading, self.controller.state.problem
        if reading is None:
            return []
        told = [(one.place, flag_word(one)) for one in reading.balls if "trouble" in one.flags]
        return flags(told, problem.spec.ball_radius)

    def _drawn(self) -> list[Primitive]:
        state = self.controller.state
        radius = state.problem.spec.ball_radius
        drawn: list[Primitive] = []
        if state.zone is not None:
            drawn += zone_primitives(state.problem.spec, state.zone)
        if state.cushion_shot is not None:
            drawn.append(Line(state.cushion_shot.line, "mark.plan", "hair", dashed=True))
        if state.kept is not None:
            kept = state.kept[1]
            drawn += ways({ball: kept.path(ball) for ball in kept.balls}, radius, kept=True)
        motion = state.motion
        drawn += ways({ball: motion.path(ball) for ball in motion.balls}, radius)
        if state.expected is not None and self.controller.time_s is None:
            drawn += scatter([(float(x), float(y)) for x, y in state.expected.cloud])
        return drawn
