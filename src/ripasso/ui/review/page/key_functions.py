"""What each key of Review does: one function for each action of `keys`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from ripasso.ui.review.again.again_controller import AgainController
from ripasso.ui.review.clips.clip_controller import ClipController
from ripasso.ui.review.controllers.dialog_controller import DialogController
from ripasso.ui.review.controllers.film_view_controller import FilmViewController
from ripasso.ui.review.controllers.reading_controller import ReadingController
from ripasso.ui.review.controllers.table_controller import TableController, table_functions
from ripasso.ui.review.controllers.viewing_side import ViewingSideController
from ripasso.ui.review.controllers.weighing_controller import WeighingController
from ripasso.ui.review.film.film_sound import FilmSound
from ripasso.ui.review.find.find_controller import FindController
from ripasso.ui.review.page.layouts_controller import LayoutsController
from ripasso.ui.review.page.navigation import Navigation
from ripasso.ui.review.page.views import ReviewViews
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.review.state.keys import BALL_ACTIONS, FLAG_ACTIONS, PLAN_ACTIONS, POCKET_KEYS, TAG_ACTIONS

Functions = dict[str, Callable[[], object]]


@dataclass(frozen=True)
class Controllers:
    """Everything that keys of Review reach."""

    context: ReviewContext
    navigation: Navigation
    views: ReviewViews
    dialogs: DialogController
    table: TableController
    film_view: FilmViewController
    viewing_side: ViewingSideController
    reading: ReadingController
    finding: FindController
    again: AgainController
    sound: FilmSound
    layouts: LayoutsController
    weighing: WeighingController
    clips: ClipController
    plan: Callable[[], object]
    practise: Callable[[], object]
    report: Callable[[str], object]


def key_functions(to: Controllers) -> Functions:
    """A function for each action of Review, by its id."""
    return {
        **_entry(to),
        **_film(to),
        **_moving(to),
        **_dialogs(to),
        **{name: partial(to.table.do, name) for name in table_functions()},
    }


def _entry(to: Controllers) -> Functions:
    """What is said of the shot in hand."""
    controller, go = to.context.controller, to.navigation
    functions: Functions = {
        "strike": go.mark_strike,
        "rest": go.mark_rest,
        "note": go.write_note,
        "words": go.write_words,
        "take_back": controller.take_back,
        "accept": partial(_accept, to),
        "accept_rack": controller.accept_rack,
        "other_player": controller.other_player,
        "delete_shot": go.delete,
        # 0 is the cue ball, and behind a 1 it makes 10.
        "foul_scratch": partial(go.digit, "0"),
    }
    for spec in (*TAG_ACTIONS, *PLAN_ACTIONS):
        functions.setdefault(spec.id, partial(controller.tag, spec.id))
    functions |= {spec.id: partial(controller.toggle_term, spec.id) for spec in FLAG_ACTIONS}
    functions |= {f"pocket_{pocket}": partial(controller.pocket, pocket) for pocket in POCKET_KEYS["side"]}
    functions |= {spec.id: partial(go.digit, spec.keys[0]) for spec in BALL_ACTIONS}
    return functions


def _accept(to: Controllers) -> None:
    """The proposal of the film, or the line that is being drawn."""
    if to.context.pictures.looking:
        to.navigation.walk(to.reading.accept)
    else:
        to.context.pictures.finish()


def _film(to: Controllers) -> Functions:
    player, film = to.context.player, to.context.film_controller
    return {
        "play": to.navigation.toggle_play,
        "loop": to.film_view.loop,
        "beside": to.film_view.keep_beside,
        "sound": partial(to.film_view.toggle_sound, to.sound),
        "export": to.clips.export,
        "clips": to.film_view.show_clips,
        "films": to.film_view.show_films,
        "other_camera": to.film_view.other_camera,
        "frame_forward": partial(player.step, 1),
        "frame_back": partial(player.step, -1),
        "second_forward": partial(film.move, 1.0),
        "second_back": partial(film.move, -1.0),
        "to_strike": partial(film.to_mark, rest=False),
        "to_rest": partial(film.to_mark, rest=True),
        "read_film": to.reading.toggle,
        "forget_reading": to.reading.forget,
        "next_uncertain": partial(to.navigation.walk, to.reading.next_uncertain),
    }


def _moving(to: Controllers) -> Functions:
    controller, walk, views = to.context.controller, to.navigation.walk, to.views
    return {
        "shot_next": partial(walk, partial(controller.step, 1)),
        "shot_previous": partial(walk, partial(controller.step, -1)),
        "rack_next": partial(walk, partial(controller.step_rack, 1)),
        "rack_previous": partial(walk, partial(controller.step_rack, -1)),
        "next_unjudged": partial(walk, controller.next_unjudged),
        "turn": to.viewing_side.turn,
        "match": views.toggle_match,
        "find": views.toggle_find,
        "again": views.toggle_again,
        "again_made": partial(to.again.count_on_film, True),
        "again_missed": partial(to.again.count_on_film, False),
        "found_next": partial(to.finding.step, 1),
        "found_previous": partial(to.finding.step, -1),
        "film_larger": partial(to.context.film.enlarge, 1.25),
        "film_smaller": partial(to.context.film.enlarge, 0.8),
        "film_whole": to.context.film.show_all,
        "film_window": to.film_view.toggle_window,
        "light": to.film_view.choose_light,
        **_arranging(to),
    }


def _arranging(to: Controllers) -> Functions:
    arrangement = to.context.shots.arrangement
    return {
        "film_large": partial(arrangement.enlarge, "film"),
        "table_large": partial(arrangement.enlarge, "table"),
        "border_left": partial(arrangement.move_border, -1, 0),
        "border_right": partial(arrangement.move_border, 1, 0),
        "border_up": partial(arrangement.move_border, 0, -1),
        "border_down": partial(arrangement.move_border, 0, 1),
    }


def _dialogs(to: Controllers) -> Functions:
    dialogs = to.dialogs
    return {
        "gap": dialogs.begin_rack,
        "plan_shot": to.plan,
        "practise_shot": to.practise,
        "report_shot": partial(to.report, "shot"),
        "report_rack": partial(to.report, "rack"),
        "weigh_rack": to.weighing.weigh,
        "slip": dialogs.whole_slip,
        "options": dialogs.options,
        "rack_sheet": dialogs.rack_sheet,
        "shot_sheet": dialogs.shot_sheet,
        "layouts": to.layouts.show,
        "rearrange": dialogs.rearrange,
        "second": dialogs.second,
        "break_sheet": dialogs.break_sheet,
        "stretch_from": dialogs.begin_stretch,
        "stretch_to": dialogs.end_stretch,
    }
