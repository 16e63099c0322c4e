"""An exercise on the real table: the projector's window with its kept corners, and the page to print."""

from __future__ import annotations

from contextlib import suppress

from PyQt6.QtWidgets import QWidget

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.drawing import TableScene
from ripasso.drawing.layers import zone_primitives
from ripasso.drawing.primitives import Circle, Polygon, Primitive
from ripasso.review.measuring.measuring import core_zone
from ripasso.review.practice.words import ball_lines
from ripasso.review.record.practice import Exercise
from ripasso.ui.practice.projector import ROUND, Corners, ProjectorWindow
from ripasso.ui.practice.set_up_page import write_set_up_page
from ripasso.ui.services.settings import Settings
from ripasso.ui.theme import Theme

SETTING = "projector"


def layout_of(exercise: Exercise | None) -> dict[str, Place]:
    """The balls of an exercise; none without a layout."""
    found = (exercise.layout if exercise is not None else None) or {}
    return {ball: (float(place[0]), float(place[1])) for ball, place in found.items()}


def zone_of(spec: TableSpec, exercise: Exercise | None) -> list[Primitive]:
    """The zone of an exercise as primitives."""
    if exercise is None or exercise.zone is None:
        return []
    zone = core_zone(exercise.zone, layout_of(exercise), spec)
    return zone_primitives(spec, zone) if zone is not None else []


def outline(zone: list[Primitive]) -> tuple[Place, ...]:
    """The edge of the first area of a zone, as places."""
    for part in zone:
        if isinstance(part, Polygon):
            return part.points
        if isinstance(part, Circle):
            import numpy as np

            x, y = part.centre
            return tuple(
                (float(x + part.radius * np.cos(turn)), float(y + part.radius * np.sin(turn)))
                for turn in ROUND
            )
    return ()


def table_key(spec: TableSpec) -> str:
    """A table by its size, for the corners that are kept for it."""
    return f"{spec.length:.3f}x{spec.width:.3f}"


def kept_corners(settings: Settings, spec: TableSpec) -> Corners | None:
    """Where the corners were dragged for such a table; None: never, or not to be read."""
    words = settings.get(SETTING).get(table_key(spec), "").split()
    with suppress(ValueError):
        numbers = [float(word) for word in words]
        if len(numbers) == 8:
            return tuple(zip(numbers[::2], numbers[1::2], strict=True))
    return None


def keep_corners(settings: Settings, spec: TableSpec, corners: Corners) -> None:
    """Keep where the corners are for such a table."""
    words = " ".join(f"{share:.6f}" for corner in corners for share in corner)
    settings.set(SETTING, {**settings.get(SETTING), table_key(spec): words})


def show_projector(
    parent: QWidget, settings: Settings, spec: TableSpec, exercise: Exercise | None
) -> ProjectorWindow:
    """Open the projector's window, on this screen; full screen is the window's own key."""
    window = ProjectorWindow(
        spec,
        layout_of(exercise),
        outline(zone_of(spec, exercise)),
        kept_corners(settings, spec),
        lambda corners: keep_corners(settings, spec, corners),
        parent,
    )
    window.show()
    return window


def write_page(
    file: str, theme: Theme, spec: TableSpec, exercise: Exercise, unit: str, asked: str
) -> tuple[str, str]:
    """Write the set-up page; what to say of it, and its tone."""
    layout = layout_of(exercise)
    target = exercise.target
    on = (target.ball,) if target is not None and target.ball else ()
    pocket = target.pocket if target is not None else None
    scene = TableScene(spec, layout, on, pocket, under=tuple(zone_of(spec, exercise)))
    try:
        write_set_up_page(file, theme, scene, exercise.title, ball_lines(spec, layout, unit), asked)
    except OSError as error:
        return f"{file} cannot be written: {error.strerror}.", "bad"
    return f"The set-up page is {file}.", "good"
