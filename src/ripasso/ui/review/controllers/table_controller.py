"""The keys of the table in Review: tools, layouts as text, pictures, and the dialogs that belong to it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtWidgets import QFileDialog, QInputDialog

from ripasso.core.measures.units import UNITS
from ripasso.drawing.svg import svg_text
from ripasso.review.entry.roots import NoRoot, root_values
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import word
from ripasso.ui.painting import picture_of
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.state.keys import TABLE_ACTIONS
from ripasso.ui.widgets.basics import run_dialog

NUDGE_M = 0.001
PICTURE_PX = 1600


def table_functions() -> tuple[str, ...]:
    """The names of what can be done here."""
    return tuple(spec.id for spec in TABLE_ACTIONS)


class TableController:
    """Does what the table's keys say, for the page it belongs to."""

    def __init__(self, context: ReviewContext) -> None:
        self._context = context
        pictures = context.pictures
        pictures.ask_caption = self._ask_caption
        self._functions: dict[str, Callable[[], object]] = {
            "balls_before": partial(self._place, "balls_before"),
            "balls_after": partial(self._place, "balls_after"),
            "zone": pictures.take_zone,
            "aim": partial(pictures.take, "aim"),
            "route": partial(pictures.take, "route"),
            "clear_plan": pictures.clear_plan,
            "pen": pictures.take_pen,
            "wipe": pictures.wipe,
            "layers": self._choose_layers,
            "legend": self._context.shots.tools.show_legend,
            "root": self._root,
            "put_down": pictures.put_down,
            "nudge_right": partial(self._nudge, 1, 0),
            "nudge_left": partial(self._nudge, -1, 0),
            "nudge_up": partial(self._nudge, 0, 1),
            "nudge_down": partial(self._nudge, 0, -1),
            "layout_copy": self._copy_layout,
            "layout_paste": self._paste_layout,
            "rack_up": pictures.rack_up,
            "on_spots": pictures.on_spots,
            "pots": self._pots,
            "picture_copy": self._copy_picture,
            "picture_save": self._save_picture,
            "still_copy": self._copy_still,
            "view": self._set_view,
            "table_editor": self._edit_table,
            "unit": self._next_unit,
        }

    def do(self, name: str) -> None:
        """What one key says."""
        self._functions[name]()

    def _choose_layers(self) -> None:
        self._context.shots.tools.choose_layers()

    def _place(self, tool: str) -> None:
        self._context.pictures.take(tool)
        placing = self._context.pictures.placing
        if placing is not None:  # the film goes where these balls lie
            self._context.film_controller.to_mark(rest=placing.when == "after")
        self._context.film_pointer.prepare()

    def _nudge(self, right: int, up: int) -> None:
        """As seen from where the table is looked at."""
        along, across = {
            "side": (right, up),
            "end": (up, -right),
            "far_side": (-right, -up),
            "far_end": (-up, right),
        }[self._context.table.seat]
        self._context.pictures.nudge(along * NUDGE_M, across * NUDGE_M)

    def _root(self) -> None:
        """Say which shot caused the failure in hand: the one suggested, then earlier ones, then none."""
        controller, found = self._context.controller, self._context.shots.errors()
        if controller.shot is None:
            return
        try:
            values = root_values(controller.shot.record, found)
        except NoRoot as error:
            self._say(str(error))
            return
        controller.say_values(values, "Say what caused it")

    # Layouts as text

    def _copy_layout(self) -> None:
        text = self._context.pictures.copy_layout()
        if not text:
            self._say("There is no layout here to copy.")
            return
        self._clipboard_text(text)
        self._say("The layout is copied, a ball a line.", "good")

    def _clipboard_text(self, text: str) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(text)

    def _paste_layout(self) -> None:
        clipboard = QGuiApplication.clipboard()
        self._context.pictures.paste_layout(clipboard.text() if clipboard is not None else "")

    # Pictures

    def picture(self, width_px: int = PICTURE_PX) -> QImage:
        """The diagram with what is drawn on it, as it is exported."""
        table = self._context.table
        return picture_of(table.drawing(), self._context.theme, width_px, seat=table.seat)

    def svg(self, width_px: int = PICTURE_PX) -> str:
        """The same as SVG."""
        theme, table = self._context.theme, self._context.table
        return svg_text(table.drawing(), theme.hex, theme.soft, width_px=width_px, seat=table.seat)

    def _copy_picture(self) -> None:
        data = QMimeData()
        data.setImageData(self.picture())
        data.setData("image/svg+xml", self.svg().encode())
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setMimeData(data)
        self._say("The diagram is copied, as a picture and as SVG.", "good")

    def _save_picture(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self._context.window,
            "Save the diagram",
            "diagram.svg",
            "SVG drawing (*.svg);;PNG picture (*.png)",
        )
        if name:
            self.save_picture(Path(name))

    def save_picture(self, path: Path) -> None:
        """Save the diagram, by the file's ending as SVG or PNG; what fails is said."""
        try:
            if path.suffix.lower() == ".png":
                done = self.picture().save(str(path), "PNG")
            else:
                path.write_text(self.svg(), encoding="utf-8")
                done = True
        except OSError as error:
            self._say(f"{path.name} cannot be written: {error.strerror or 'unknown reason'}.", "bad")
            return
        if done:
            self._say(f"Saved as {path.name}.", "good")
        else:
            self._say(f"{path.name} cannot be written there.", "bad")

    def _copy_still(self) -> None:
        still, clipboard = self._context.film.still(), QGuiApplication.clipboard()
        if still is None or clipboard is None:
            self._say("There is no film picture to copy.")
            return
        clipboard.setImage(still)
        self._say("The film's picture is copied, with what is drawn on it.", "good")

    def _ask_caption(self) -> str:
        text, accepted = QInputDialog.getText(self._context.window, "Caption", "Words to stand there:")
        return text.strip() if accepted else ""

    # Units and dialogs

    def _next_unit(self) -> None:
        pictures = self._context.pictures
        unit = UNITS[(UNITS.index(pictures.unit) + 1) % len(UNITS)] if pictures.unit in UNITS else UNITS[0]
        self._context.remember("unit", unit)
        pictures.set_unit(unit)
        self._context.refresh()
        self._say(f"Lengths in {word(unit)}.")

    def _pots(self) -> None:
        from ripasso.ui.review.table.pots_dialog import PotsDialog

        layout = self._context.pictures.layout("before")
        if "cue" not in layout:
            self._say(tr("The pots need a layout with the cue ball; [ places it."))
            return
        snapshot = self._context.controller.snapshot
        if snapshot is not None:
            run_dialog(PotsDialog(self._context.theme, snapshot.head, layout, self._context.window))

    def _set_view(self) -> None:
        from ripasso.ui.review.controllers.camera_dialog import CameraDialog, open_camera_dialog

        dialog: CameraDialog | None = open_camera_dialog(self._context)
        if dialog is not None:
            run_dialog(dialog)
            self._context.refresh()

    def _edit_table(self) -> None:
        from ripasso.ui.review.table.table_dialog import TableDialog

        snapshot = self._context.controller.snapshot
        if snapshot is not None:
            context = self._context
            background = context.workspace.background
            dialog = TableDialog(context.theme, context.controller, background, context.window)
            run_dialog(dialog)
            self._context.refresh()

    def _say(self, text: str, tone: str = "plain") -> None:
        self._context.say(text, tone)
