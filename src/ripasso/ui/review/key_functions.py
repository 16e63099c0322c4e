"""What each key of Review does: one function for each action of `keys`.

The functions look for what they need when a key is pressed: the page makes its parts after its actions.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from ripasso.ui.review.keys import BALL_ACTIONS, FLAG_ACTIONS, PLAN_ACTIONS, POCKET_KEYS, TAG_ACTIONS
from ripasso.ui.review.table_work import table_functions

if TYPE_CHECKING:
    from ripasso.ui.review.page import ReviewPage


def key_functions(page: ReviewPage) -> dict[str, Callable[[], object]]:
    """A function for each action of Review, by its id. The page is built while they are made."""
    functions: dict[str, Callable[[], object]] = {
        "strike": page.mark_strike,
        "rest": page.mark_rest,
        "note": page.write_note,
        "words": page.write_words,
        "take_back": page.desk.take_back,
        "accept": lambda: _help(page, "accept") if page.pictures.looking else page.pictures.finish(),
        "read_film": partial(_help, page, "read_film"),
        "forget_reading": partial(_help, page, "forget_reading"),
        "next_uncertain": lambda: page.walk(page.reading.next_uncertain),
        "accept_rack": page.desk.accept_rack,
        "other_player": page.desk.other_player,
        "delete_shot": lambda: page.pictures.take_off() if page.pictures.placing else page.desk.delete_shot(),
        "play": page.toggle_play,
        "loop": partial(_help, page, "loop"),
        "beside": partial(_help, page, "beside"),
        "sound": partial(_help, page, "sound"),
        "clips": partial(_help, page, "clips"),
        "frame_forward": lambda: page.player.step(1),
        "frame_back": lambda: page.player.step(-1),
        "second_forward": lambda: page.film_desk.move(1.0),
        "second_back": lambda: page.film_desk.move(-1.0),
        "to_strike": lambda: page.film_desk.to_mark(rest=False),
        "to_rest": lambda: page.film_desk.to_mark(rest=True),
        "shot_next": lambda: page.walk(lambda: page.desk.step(1)),
        "shot_previous": lambda: page.walk(lambda: page.desk.step(-1)),
        "rack_next": lambda: page.walk(lambda: page.desk.step_rack(1)),
        "rack_previous": lambda: page.walk(lambda: page.desk.step_rack(-1)),
        "next_unjudged": lambda: page.walk(page.desk.next_unjudged),
        "turn": partial(_help, page, "turn"),
        "match": page.toggle_match,
        "find": page.toggle_find,
        "again": page.toggle_again,
        "again_made": lambda: page.again.count_on_film(True),
        "again_missed": lambda: page.again.count_on_film(False),
        "found_next": lambda: page.finding.step(1),
        "found_previous": lambda: page.finding.step(-1),
        "gap": partial(_help, page, "gap"),
        "break_sheet": partial(_help, page, "break_sheet"),
        "stretch_from": partial(_help, page, "stretch_from"),
        "stretch_to": partial(_help, page, "stretch_to"),
        "film_large": partial(page.enlarge, "film"),
        "table_large": partial(page.enlarge, "table"),
    }
    for spec in (*TAG_ACTIONS, *PLAN_ACTIONS):
        functions[spec.id] = partial(page.desk.tag, spec.id)
    for spec in FLAG_ACTIONS:
        functions[spec.id] = partial(page.desk.toggle_term, spec.id)
    for name in ("slip", "options", "rack_sheet", "rearrange", "second"):
        functions[name] = partial(_help, page, name)
    # 0 is the cue ball, and behind a 1 it makes 10.
    functions["foul_scratch"] = partial(_digit, page, "0")
    for pocket in POCKET_KEYS["side"]:
        functions[f"pocket_{pocket}"] = partial(page.desk.pocket, pocket)
    for spec in BALL_ACTIONS:
        functions[spec.id] = partial(_digit, page, spec.keys[0])
    for name in table_functions():
        functions[name] = partial(_table_key, page, name)
    return functions


def _digit(page: ReviewPage, digit: str) -> None:
    """A digit is a ball; while balls are placed it is the one that the next click places."""
    if page.pictures.placing:
        page.pictures.digit(digit)
    else:
        page.desk.digit(digit)


def _help(page: ReviewPage, name: str) -> None:
    """What the seating and the sheets do."""
    helpers: dict[str, Callable[[], object]] = {
        "turn": page.seating.turn,
        "loop": page.film_work.loop,
        "beside": page.film_work.keep_beside,
        "sound": partial(page.film_work.toggle_sound, page.sound),
        "clips": page.film_work.show_clips,
        "accept": lambda: page.walk(page.reading.accept),
        "read_film": page.reading.toggle,
        "forget_reading": page.reading.forget,
        "gap": page.sheets.gap,
        "slip": page.sheets.whole_slip,
        "options": page.sheets.options,
        "rack_sheet": page.sheets.rack_sheet,
        "rearrange": page.sheets.rearrange,
        "second": page.sheets.second,
        "break_sheet": page.sheets.break_sheet,
        "stretch_from": page.sheets.begin_stretch,
        "stretch_to": page.sheets.end_stretch,
    }
    helpers[name]()


def _table_key(page: ReviewPage, name: str) -> None:
    page.table_work.do(name)
