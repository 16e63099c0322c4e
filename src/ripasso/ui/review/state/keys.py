"""The keys of Review, as data. The left hand has the pockets, the right hand the judgement.

A key stands for one thing only. To change one: here, and nowhere else.
"""

from __future__ import annotations

from ripasso.review.language.translation import noop
from ripasso.review.language.vocabulary import WORDS
from ripasso.ui.actions import ActionSpec

#: Letters of the six pockets in the shape seen from each seat; the keypad has the same shape.
POCKET_KEYS = {
    "side": {
        "head_left": ("Q", "Num+7"),
        "side_left": ("W", "Num+8"),
        "foot_left": ("E", "Num+9"),
        "head_right": ("A", "Num+1"),
        "side_right": ("S", "Num+2"),
        "foot_right": ("D", "Num+3"),
    },
    "end": {
        "foot_left": ("Q", "Num+7"),
        "foot_right": ("W", "Num+9"),
        "side_left": ("A", "Num+4"),
        "side_right": ("S", "Num+6"),
        "head_left": ("Z", "Num+1"),
        "head_right": ("X", "Num+3"),
    },
    "far_side": {
        "foot_right": ("Q", "Num+7"),
        "side_right": ("W", "Num+8"),
        "head_right": ("E", "Num+9"),
        "foot_left": ("A", "Num+1"),
        "side_left": ("S", "Num+2"),
        "head_left": ("D", "Num+3"),
    },
    "far_end": {
        "head_right": ("Q", "Num+7"),
        "head_left": ("W", "Num+9"),
        "side_right": ("A", "Num+4"),
        "side_left": ("S", "Num+6"),
        "foot_right": ("Z", "Num+1"),
        "foot_left": ("X", "Num+3"),
    },
}


def _say(name: str, group: str, *keys: str, tip: str = "") -> ActionSpec:
    return ActionSpec(name, WORDS[name], keys, group, tip)


def _do(name: str, text: str, group: str, *keys: str, tip: str = "") -> ActionSpec:
    return ActionSpec(name, text, keys, group, tip)


TAG_ACTIONS: tuple[ActionSpec, ...] = (
    _do("intent_pot", noop("pot"), "Shot", "Shift+G", tip=noop("meant as a pot")),
    _do("intent_safety", "safety", "Shot", "H", tip="meant as a safety"),
    _do("intent_escape", "escape", "Shot", "Shift+H", tip="an escape from a snooker"),
    _do("intent_push_out", "push-out", "Shot", "P", tip="a push-out"),
    _do("intent_two_way", "two-way", "Shot", "Shift+P", tip=noop("a pot with safety in mind")),
    _do("intent_break", "break", "Shot", "Shift+B", tip="the break of the rack"),
    _say("potted", "Result", "G", tip="the meant ball fell where it was meant to"),
    _say("missed", "Result", "M", tip="nothing fell"),
    _do("missed_thick", "thick", "Result", "C", tip="missed thick"),
    _do("missed_thin", "thin", "Result", "V", tip="missed thin"),
    _do("luck_fluke", "fluke", "Result", "Shift+M", tip="it fell by luck"),
    _do("position_perfect", "perfect", "Position", "+", "=", tip="position perfect"),
    _do("position_good", "good", "Position", "J", tip="position good"),
    _do("position_playable", "playable", "Position", "K", tip="position playable"),
    _do("position_poor", "poor", "Position", "-", tip="position poor"),
    _do("position_lost", "lost", "Position", "L", tip="position lost"),
    _say("pace_short", "Missed by", "I", tip=noop("the cue ball stopped short")),
    _say("pace_long", "Missed by", "O", tip=noop("the cue ball ran long")),
    _say("side_wrong", "Missed by", "B", tip="on the wrong side of the next ball's line"),
    _say("angle_too_straight", "Missed by", ",", tip="the angle left is too straight"),
    _say("angle_too_steep", "Missed by", ".", tip="the angle left is too steep"),
    _say("decision_agree", "Judgement", "Y", tip="the right shot was chosen"),
    _say("decision_other", "Judgement", "T", tip="another shot was better"),
    _say("unforced", "Judgement", "U", tip="the error was unforced"),
    _say("forced", "Judgement", "Shift+U", tip="the error was forced"),
    _say("foul_scratch", "Foul", "0", tip=noop("the cue ball fell or left the table")),
    _do("foul_first", "hit first", "Foul", "F2", tip="hit first: then the number of that ball"),
    _do("foul_no_contact", "no ball hit", "Foul", "F3"),
    _say("foul_no_cushion", "Foul", "F4", tip=noop("no ball reached a cushion after the contact")),
    _say("called_miss", "Foul", "F5", tip="the referee called a miss"),
    _do("other_foul_double_hit", "double hit", "Foul", "F6", tip="the tip touched the ball twice"),
    _do("other_foul_push_stroke", "push stroke", "Foul", "Shift+F6"),
    _do("other_foul_moved_ball", "ball moved", "Foul", "F7", tip="a ball was touched or moved"),
    _do("other_foul_not_still", "balls not still", "Foul", "Shift+F7"),
    _do("other_foul_no_foot_down", "no foot down", "Foul", "F11"),
    _do("other_foul_wrong_cue_ball_position", noop("cue ball placed wrongly"), "Foul", "Shift+F11"),
    _do("other_foul_played_out_of_turn", "out of turn", "Foul", "F12"),
    _do("other_foul_not_nominated", "not nominated", "Foul", "Shift+F2"),
    _do("other_foul_touching_ball_moved", "touching ball moved", "Foul", "Shift+F3"),
    _do("other_foul_jump_shot", "jump shot", "Foul", "Shift+F4"),
    _do("other_foul_snookered_by_free_ball", "behind the free ball", "Foul", "Shift+F5"),
    _say("free_ball", "Shot", "Shift+F", tip="played as a free ball"),
    _do("replaced", "put back", "Shot", "Shift+R", tip="the balls were put back after a called miss"),
)

PLAN_ACTIONS: tuple[ActionSpec, ...] = tuple(
    _say(f"angle_wanted_{name}", "Plan", f"Alt+{i}", tip=f"the angle wanted on the next ball: {said}")
    for i, (name, said) in enumerate(
        (("straight", "0–5°"), ("little", "5–20°"), ("half_ball", "20–40°"), ("wide", "40–60°")), start=1
    )
)

#: Six usual causes and flags in sight, by their terms; the others are typed, or on the whole slip.
FLAG_ACTIONS: tuple[ActionSpec, ...] = (
    _do("error.causes.aim", "aim", "Why", "Alt+A", tip="it went wrong by aim"),
    _do("error.causes.pace", "pace", "Why", "Alt+P", tip="it went wrong by pace"),
    _do("error.causes.spin", "spin", "Why", "Alt+S", tip="it went wrong by side spin"),
    _do("error.causes.pressure", "pressure", "Why", "Alt+E", tip="it went wrong under pressure"),
    _do("delivery.reach", "reach", "Why", "Alt+R", tip="a long reach"),
    _do("delivery.over_ball", "over ball", "Why", "Alt+O", tip="bridging over a ball"),
)

TABLE_ACTIONS: tuple[ActionSpec, ...] = (
    _do("balls_before", "before", "Table", "[", tip="place balls as they lay before the shot"),
    _do("balls_after", "after", "Table", "]", tip="place balls as they lay after the shot"),
    _do(
        "zone", "zone", "Table", "Shift+Z", tip="draw a zone: circle, side of a line, polygon, strip in turn"
    ),
    _do("aim", "aim", "Table", "Shift+X", tip=noop("the aim point: where the cue ball should stop")),
    _do("route", "route", "Table", "Shift+W", tip=noop("draw the planned way of the cue ball")),
    _do("clear_plan", "clear the drawn plan", "Table", "Shift+Q", tip="take zone, aim point and route away"),
    _do("pen", "draw", "Table", "Shift+D", tip="draw by hand: line, arrow, area, caption in turn"),
    _do("wipe", "wipe", "Table", "Ctrl+D", tip="take the last drawing by hand away"),
    _do("layers", "layers", "Table", "Shift+L", tip="choose what is drawn"),
    _do("legend", "legend", "Table", "Shift+F1", tip="what the marks on the table mean that are drawn now"),
    _do(
        "root",
        "cause",
        "Table",
        "Shift+J",
        tip="the shot that caused this failure: suggested, then earlier ones",
    ),
    _do("put_down", "put the tool down", "Table", "Esc"),
    _do("nudge_right", "ball 1 mm right", "Table", "Ctrl+Right", tip="move the ball placed last by 1 mm"),
    _do("nudge_left", "ball 1 mm left", "Table", "Ctrl+Left"),
    _do("nudge_up", "ball 1 mm up", "Table", "Ctrl+Up"),
    _do("nudge_down", "ball 1 mm down", "Table", "Ctrl+Down"),
    _do("layout_copy", "copy the layout", "Table", "Ctrl+Shift+C", tip="copy the layout as text"),
    _do("layout_paste", "paste a layout", "Table", "Ctrl+Shift+V", tip="a layout from text"),
    _do("rack_up", "balls in the rack", "Table", "Ctrl+R", tip="the balls as before the break"),
    _do("on_spots", "colours on their spots", "Table", "Ctrl+Shift+R"),
    _do("pots", "ball by pocket", "Table", "Shift+A", tip="what passes into which pocket"),
    _do("picture_copy", "copy the picture", "Table", "Shift+C", tip="copy the diagram as a picture"),
    _do("picture_save", "save the picture", "Table", "Ctrl+E", tip="save the diagram as SVG or PNG"),
    _do("still_copy", "copy the film's picture", "Film", "Ctrl+Shift+F", tip="the frame with what is drawn"),
    _do("view", "camera", "Film", "Shift+V", tip="say where the camera stands, for this part of the film"),
    _do(
        "table_editor", "the table", "Table", "Ctrl+T", tip="size, pockets and cloth of this session's table"
    ),
    _do("unit", "unit of lengths", "Table", "Shift+Y", tip="mm, inches, ball widths, diamonds in turn"),
)

COMMAND_ACTIONS: tuple[ActionSpec, ...] = (
    _do("strike", "strike", "Mark", "F", tip="mark the strike at the frame on screen"),
    _do("rest", "at rest", "Mark", "R", tip="mark all balls at rest"),
    _do("note", "note", "Judgement", "N", tip="write a note; Return keeps it"),
    _do("words", "in words", "Judgement", ";", tip="say it in words: 4 foot left, draw, missed thick"),
    _do("slip", "whole slip", "Judgement", "'", tip="everything that can be said of a shot, and the tip"),
    _do(
        "options", "options", "Judgement", "Alt+W", tip="weigh other shots: keep what is planned as an option"
    ),
    _do("rack_sheet", "rack sheet", "Rack", "Alt+K", tip="roles, plans, what made or lost the rack, lesson"),
    _do("shot_sheet", "sheet of shots", "Rack", "Alt+T", tip="every shot of the rack on a small table"),
    _do("plan_shot", "plan", "Rack", "Ctrl+Shift+P", tip="what else could be played: this shot in Plan"),
    _do(
        "practise_shot",
        "practise",
        "Rack",
        "Ctrl+Shift+A",
        tip="make this shot an exercise of its player, in Practice",
    ),
    _do("report_rack", "rack into the report", "Rack", "Ctrl+Alt+E", tip="its story as a page of the report"),
    _do("report_shot", "into the report", "Rack", "Ctrl+Shift+E", tip="a key shot of the report (Ctrl 6)"),
    _do(
        "weigh_rack",
        "weigh the rack",
        "Rack",
        "Ctrl+Shift+W",
        tip="what each choice and stroke of this rack gave away; again: stop",
    ),
    _do("layouts", "layouts", "Rack", "Alt+L", tip="positions kept under names; begin a rack from one"),
    _do("accept", "accept", "Mark", "Return", tip="accept what is proposed for this shot"),
    _do("accept_rack", "accept all", "Mark", "Shift+Return", tip="accept everything proposed in this rack"),
    _do(
        "read_film", "read the film", "Mark", "Ctrl+L", tip="find the shots of this film; again: stop, go on"
    ),
    _do(
        "next_uncertain", "next uncertain", "Mark", "Shift+Tab", tip="the next shot with a proposal not sure"
    ),
    _do("forget_reading", "forget the reading", "Mark", "Ctrl+Shift+L", tip="take all back nobody accepted"),
    _do("take_back", "take back", "Mark", "Backspace", tip="take the last key of this shot back"),
    _do("other_player", "player", "Mark", "Shift+S", tip="the other player struck this shot"),
    _do("delete_shot", "take shot away", "Mark", "Delete"),
    _do("play", "play", "Film", "Space", tip="play and pause"),
    _do("loop", "loop", "Film", "Shift+Space", tip="play this shot again and again"),
    _do("beside", "shot beside", "Film", "Ctrl+B", tip="keep this shot beside the others, stepped together"),
    _do(
        "export",
        "write a film",
        "Film",
        "Ctrl+Shift+K",
        tip="this shot, its rack or what was found, as a film",
    ),
    _do("clips", "clips of this shot", "Film", "Ctrl+K", tip="every place on film that shows this shot"),
    _do("films", "films", "Film", "Alt+F", tip="films of this session: parts, second cameras; add one"),
    _do("other_camera", "other camera", "Film", "Alt+V", tip="another film of this session, same moment"),
    _do("sound", "sound", "Film", "Ctrl+U", tip="the film's sound, on and off; only at its own speed"),
    _do("frame_forward", "frame on", "Film", "Right", tip="one frame on"),
    _do("frame_back", "frame back", "Film", "Left", tip="one frame back"),
    _do("second_forward", "second on", "Film", "Shift+Right", tip="one second on"),
    _do("second_back", "second back", "Film", "Shift+Left", tip="one second back"),
    _do("to_strike", "to the strike", "Film", "Home", tip="back to the strike of this shot"),
    _do("to_rest", "to rest", "Film", "End", tip="to the end of this shot"),
    _do("shot_next", "next shot", "Rack", "Down"),
    _do("shot_previous", "previous shot", "Rack", "Up"),
    _do("rack_next", "next rack", "Rack", "PgDown"),
    _do("rack_previous", "previous rack", "Rack", "PgUp"),
    _do(
        "rearrange",
        "racks and visits",
        "Rack",
        "Alt+B",
        tip="split and join racks, put a shot in, give a visit",
    ),
    _do("second", "comments", "Judgement", "Alt+C", tip="comments, and a second reviewer's findings"),
    _do("again", "again", "Again", "Ctrl+A", tip="play this shot again: count attempts at it"),
    _do("again_made", "attempt made", "Again", "Alt+G", tip="an attempt on film at this frame: a success"),
    _do(
        "again_missed", "attempt missed", "Again", "Alt+M", tip="an attempt on film at this frame: a failure"
    ),
    _do("find", "find", "Rack", "Ctrl+F", tip="the shots that a search line asks for, over all sessions"),
    _do("found_next", "next found", "Rack", "Ctrl+G", tip="the next shot that was found"),
    _do("found_previous", "previous found", "Rack", "Ctrl+Shift+G", tip="the one before"),
    _do("next_unjudged", "next unjudged shot", "Rack", "Shift+N"),
    _do("break_sheet", "break sheet", "Rack", "Shift+E", tip="what is said of the break, a digit a line"),
    _do(
        "gap",
        "next rack: how it begins",
        "Rack",
        "Shift+K",
        tip="after racks that are not shown, in the middle, or from the layout in hand",
    ),
    _do("stretch_from", "stretch from here", "Film", "Shift+I", tip="a replay, pause or cut begins here"),
    _do("stretch_to", "stretch to here", "Film", "Shift+O", tip="it ends here: say what it was, or see all"),
    _do("turn", "turn the table", "View", "Shift+T", tip="see the table from the next of its four sides"),
    _do("match", "match page", "View", "F8", tip="the course of the match and its visits, and back"),
    _do("film_larger", "film larger", "View", "Ctrl++", "Ctrl+=", tip="enlarge the picture of the film"),
    _do("film_smaller", "film smaller", "View", "Ctrl+-", tip="make the picture smaller again"),
    _do("film_whole", "whole film", "View", "Ctrl+0", tip="the whole picture of the film"),
    _do("film_window", "film window", "View", "Alt+F9", tip="the film in a window of its own, and back"),
    _do("light", "light", "View", "Ctrl+I", tip="brightness and contrast of the film's picture"),
    _do("border_left", "border left", "View", "Alt+Left", tip="less room for the film, more for the table"),
    _do(
        "border_right", "border right", "View", "Alt+Right", tip="more room for the film, less for the table"
    ),
    _do("border_up", "border up", "View", "Alt+Up", tip="less room for the table, more for the slip"),
    _do("border_down", "border down", "View", "Alt+Down", tip="more room for the table, less for the slip"),
    _do("film_large", "film large", "View", "F9", tip="let the film fill the space, and back"),
    _do("table_large", "table large", "View", "F10", tip="let the table fill the space, and back"),
)

POCKET_ACTIONS: tuple[ActionSpec, ...] = tuple(
    ActionSpec(f"pocket_{name}", WORDS[name], keys, "Pocket") for name, keys in POCKET_KEYS["side"].items()
)
BALL_ACTIONS: tuple[ActionSpec, ...] = tuple(
    ActionSpec(f"ball_{n}", f"ball {n}", (str(n),), "Ball") for n in range(1, 10)
)
ACTIONS = (
    *COMMAND_ACTIONS,
    *TABLE_ACTIONS,
    *TAG_ACTIONS,
    *PLAN_ACTIONS,
    *FLAG_ACTIONS,
    *POCKET_ACTIONS,
    *BALL_ACTIONS,
)
#: The key sheet says in one line what the nine digits do.
_DIGITS = ActionSpec("balls", "a ball; 1 then 0 to 5 is 10 to 15; in snooker its value", ("1–9",), "Ball")
SHEET = (
    *COMMAND_ACTIONS,
    *TABLE_ACTIONS,
    *TAG_ACTIONS,
    *PLAN_ACTIONS,
    *FLAG_ACTIONS,
    *POCKET_ACTIONS,
    _DIGITS,
)
