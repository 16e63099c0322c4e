"""Plan's table, stroke and options: composed once the simulator is loaded."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from ripasso.drawing import TableScene
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.motion import scatter, ways
from ripasso.drawing.primitives import Line, Primitive
from ripasso.review.entry.word_values import tip_radii
from ripasso.review.present.plan_words import played_words
from ripasso.ui.actions import ActionRegistry
from ripasso.ui.plan.actions import ACTIONS
from ripasso.ui.plan.option_list import OptionList
from ripasso.ui.plan.plan_controller import AIM_DEG, FAR_DEG, PlanController
from ripasso.ui.plan.plan_hand import PlanHand
from ripasso.ui.plan.stroke_panel import StrokePanel
from ripasso.ui.widgets.basics import label, panel
from ripasso.ui.widgets.key_button import KeyButton
from ripasso.ui.widgets.table_view import TableView
from ripasso.ui.workspace import Workspace

#: Steps of the time slider in a second.
TIME_STEPS = 100


class PlanDesk(QWidget):
    """Everything that is seen of a plan; `attached` wants it kept with its shot, `left` goes back there."""

    attached = pyqtSignal()
    left = pyqtSignal()

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
        for name in ("keep", "attach", "back"):
            head.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        play = QHBoxLayout()
        for name in ("play", "slower", "zone", "bank", "kick"):
            play.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        play.addWidget(self.clock, 1)
        board = QVBoxLayout()
        board.addWidget(self.table, 1)
        board.addLayout(play)
        found = QHBoxLayout()
        for name in ("options", "in_hand"):
            found.addWidget(KeyButton(theme, book[name], book.spec(name).hint))
        found.addWidget(self._progress)
        found.addStretch(1)
        self._played = label("", "caption")
        found.addWidget(self._played)
        found.addWidget(KeyButton(theme, book["as_played"], book.spec("as_played").hint))
        below = QVBoxLayout()
        below.addLayout(found)
        below.addWidget(self.options)
        left = QVBoxLayout()
        left.setSpacing(10)
        left.addWidget(panel(board), 5)
        left.addWidget(panel(below), 3)
        side = QVBoxLayout()
        side.addWidget(self.stroke)
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
                "options": to.find_options,
                "in_hand": partial(to.find_options, in_hand=True),
                "zone": to.zone,
                "zone_wider": partial(to.zone, 1),
                "zone_narrower": partial(to.zone, -1),
                "as_played": to.take_played,
                "keep": to.keep,
                "attach": self.attached.emit,
                "back": self.left.emit,
                "paste": self._paste,
                "copy": self._copy,
                **{f"option_{n}": partial(to.take_option, n) for n in range(1, 7)},
            }
        )

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
        self.controller.paste(board.text() if board is not None else "")

    def _copy(self) -> None:
        board = QApplication.clipboard()
        if board is not None:
            board.setText(self.controller.text())
            self._workspace.messages.say("The layout is copied as text.")

    # What is seen

    def refresh(self) -> None:
        """Show the plan in hand."""
        state = self.controller.state
        source = state.source
        self._title.setText(source.title if source is not None else "A table of one's own")
        on = ", ".join(state.problem.on[:4])
        self._from.setText(f"on: {on}" if on else "nothing is on")
        for name in ("attach", "back"):
            self.actions_book[name].setEnabled(source is not None)
        if state.has_cue:
            self.stroke.show_plan(
                state, tip_radii(state.problem.game), str(self._workspace.settings.get("unit"))
            )
        self._played.setText(played_words(state.played) if state.played is not None else "")
        self.actions_book["as_played"].setEnabled(state.played is not None)
        share = self.controller.share
        self._progress.setText(f"{100 * share:.0f} % looked at" if share is not None else "")
        self.options.show_options(state.options, state.problem.game)
        self._show_table()

    def _show_table(self) -> None:
        state, time_s = self.controller.state, self.controller.time_s
        problem = state.problem
        balls, under = dict(problem.layout), []
        if state.has_cue:
            motion = state.motion
            under = self._drawn()
            if time_s is not None:
                balls = motion.at(time_s)
            self.clock.setRange(0, round(motion.duration * TIME_STEPS))
            self.clock.setValue(round((time_s if time_s is not None else 0.0) * TIME_STEPS))
        pocket = problem.call[1] if problem.call else None
        self.table.show_scene(TableScene(problem.spec, balls, problem.on, pocket=pocket, under=tuple(under)))

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
