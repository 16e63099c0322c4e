"""What a teaching film shows: its scenes, each a shot or two side by side, found in the library."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from ripasso.core.table import table_spec
from ripasso.drawing.layers import Layers
from ripasso.drawing.primitives import Drawing
from ripasso.drawing.table import table_drawing
from ripasso.film.decoding.index import FilmIndex
from ripasso.film.errors import FilmError
from ripasso.report.films_out import USUAL_S
from ripasso.report.material import FoundShot, Material
from ripasso.report.shot_drawing import layers_of, score_of, shot_scene
from ripasso.report.stills import seen_by_film
from ripasso.review.language.localization import manner
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.review.present.describing import chips, outcome_words, player_name, shot_title
from ripasso.review.record.model import Recording
from ripasso.review.record.report import ReportPage, ReportShot
from ripasso.review.recordings.views import recording_of

#: What is drawn while the film stops: before the stroke what was meant and played, at the end what came.
BEFORE, AFTER = ("pot", "next", "plan", "options", "path", "pen"), ("plan", "path", "result")
#: Balls in the table beside a film are drawn larger than true: it is small.
BALL_SCALE = 1.5
#: A search may find a thousand shots; a film shows so many.
MOST_SCENES = 200


@dataclass(frozen=True)
class FilmedShot:
    """A shot on its film: when it is struck and comes to rest (seconds), what is drawn and said of it.

    `meant` and `came` lie over the film (its pixels), None without a view; `table_*` is the table beside it.
    """

    title: str
    who: str
    said: str
    outcome: str
    index: FilmIndex
    strike_s: float
    rest_s: float
    meant: Drawing | None
    came: Drawing | None
    table_before: Drawing
    table_after: Drawing
    comment: Path | None = None


@dataclass(frozen=True)
class Scene:
    """A shot, or two side by side."""

    shots: tuple[FilmedShot, ...]

    @property
    def title(self) -> str:
        """What the scene is called."""
        return " · ".join(shot.title for shot in self.shots)


@dataclass(frozen=True)
class MissingScene:
    """A sentence in the place of a scene that cannot be shown."""

    title: str
    sentence: str


AnyScene = Scene | MissingScene


def wanted_shots(material: Material, page: ReportPage) -> list[ReportShot]:
    """The shots of a film page: its own, its rack's, those found; without any, the report's key shots.

    Raises `NotAQuery` for a search line that cannot be read.
    """
    found = list(page.shots or ())
    rack = material.rack(page) if page.session is not None and page.rack is not None else None
    if rack is not None:
        snapshot, row = rack
        found += [
            ReportShot(session=snapshot.key, rack=row.record.number, shot=shot.record.number)
            for shot in row.shots
        ]
    if page.search:
        found += material.found(page.search)
    if not (page.shots or page.search or page.rack is not None):
        pages = material.report.pages or ()
        found = [one for other in pages if other.kind == "shots" for one in other.shots or ()]
    return found[:MOST_SCENES]


def scenes_of_page(material: Material, page: ReportPage) -> Iterator[AnyScene]:
    """The scenes of a film page in order."""
    waiting: FilmedShot | None = None
    for wanted in wanted_shots(material, page):
        shot = _filmed(material, wanted)
        if isinstance(shot, FilmedShot) and wanted.beside and waiting is not None:
            yield Scene((waiting, shot))
            waiting = None
            continue
        if waiting is not None:
            yield Scene((waiting,))
            waiting = None
        if isinstance(shot, MissingScene):
            yield shot
        else:
            waiting = shot
    if waiting is not None:
        yield Scene((waiting,))


def _filmed(material: Material, wanted: ReportShot) -> FilmedShot | MissingScene:
    found = material.shot(wanted)
    if found is None:
        where = f"Rack {wanted.rack}, shot {wanted.shot}"
        return MissingScene(where, f"{where} of {wanted.session} is not in the library any more.")
    head, record = found.snapshot.head, found.row.record
    title = title_of(found)
    recording = recording_of(head, record.recording)
    if recording is None or record.t_strike is None:
        return MissingScene(title, "This shot has no film.")
    try:
        index = material.stills.index_of(recording)
    except FilmError as error:
        return MissingScene(title, str(error))
    strike = float(record.t_strike)
    rest = float(record.t_rest) if record.t_rest is not None else strike + USUAL_S
    return _described(material, wanted, found, recording, index, (strike, min(rest, index.duration_s)))


def title_of(found: FoundShot) -> str:
    """What a shot is called: its rack, its number, what it is."""
    head, judged = found.snapshot.head, score_of(found.snapshot, found.rack, found.place)
    where = f"{sentence(rack_word(head.game))} {found.rack.record.number}"
    title = shot_title(found.row.record, judged, head.game)
    return f"{where}, {title[:1].lower()}{title[1:]}"


def _described(
    material: Material,
    wanted: ReportShot,
    found: FoundShot,
    recording: Recording,
    index: FilmIndex,
    times: tuple[float, float],
) -> FilmedShot:
    snapshot, row = found.snapshot, found.row
    head, record = snapshot.head, row.record
    spec, judged = table_spec(head.table), score_of(snapshot, found.rack, found.place)
    layers = [
        layers_of(snapshot, row, material.measures, material.unit, which)[0] for which in (BEFORE, AFTER)
    ]
    size = (index.width, index.height)
    over_film = [
        seen_by_film(recording, times[0], [*one.under, *one.over], size, spec.ball_radius) for one in layers
    ]
    outcome, further = outcome_words(head, judged)
    said = [chip.text for chip in chips(record, manner(head.game)) if not chip.proposed]
    return FilmedShot(
        title=material.plain(title_of(found)),
        who=material.plain(player_name(head, judged.player if judged is not None else record.player)),
        said=material.plain(wanted.note or record.note or ", ".join(said)),
        outcome=material.plain("; ".join((outcome, *further))),
        index=index,
        strike_s=times[0],
        rest_s=max(times),
        meant=over_film[0],
        came=over_film[1],
        table_before=_table(material, found, layers[0]),
        table_after=_table(material, found, layers[1], after=True),
        comment=Path(wanted.comment) if wanted.comment else None,
    )


def _table(material: Material, found: FoundShot, layers: Layers, *, after: bool = False) -> Drawing:
    """The table before the shot, or after it where that was placed."""
    judged = score_of(found.snapshot, found.rack, found.place)
    scene = shot_scene(found.snapshot, found.row, judged, layers, BALL_SCALE)
    placed = found.row.record.after
    if after and placed:
        balls = {ball: (float(place[0]), float(place[1])) for ball, place in placed.items()}
        scene = replace(scene, balls=balls, balls_on=())
    return table_drawing(scene)


def first_film(scenes: Sequence[AnyScene]) -> FilmIndex | None:
    """The film whose size and rate the teaching film takes."""
    shown = (scene for scene in scenes if isinstance(scene, Scene))
    return next((scene.shots[0].index for scene in shown), None)
