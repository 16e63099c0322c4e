"""The trade's words, in one place: every key and value of the record has its shown form here.

A form ending in a number or a sentence is built by the functions below. To add a word: a line in
`WORDS`; a test holds that every value of the model has one.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from ripasso.review.language.terms import POCKET_SNOOKER
from ripasso.review.language.translation import noop, tr

WORDS: Mapping[str, str] = {
    # games and kinds of session
    "nine_ball": "nine-ball",
    "eight_ball": "eight-ball",
    "ten_ball": "ten-ball",
    "straight_pool": "straight pool",
    "rotation": "rotation",
    "snooker": "snooker",
    "match": "match",
    "practice": "practice",
    "ghost": "ghost race",
    "attempts": "attempts",
    # orders of breaks
    "alternate": "alternate break",
    "winner": "winner breaks",
    "loser": "loser breaks",
    # levels of play
    "beginner": "beginner",
    "club": "club player",
    "county": "county player",
    "professional": "professional",
    # tables
    "pool_9ft": "pool, 9 ft",
    "pool_8ft": "pool, 8 ft",
    "pool_7ft": "pool, 7 ft",
    "snooker_12ft": "snooker, 12 ft",
    "snooker_10ft": "snooker, 10 ft",
    "snooker_9ft": "snooker, 9 ft",
    "english_7ft": "English pool, 7 ft",
    # pockets
    "head_left": noop("head left"),
    "head_right": noop("head right"),
    "side_left": noop("side left"),
    "side_right": noop("side right"),
    "foot_left": "foot left",
    "foot_right": "foot right",
    # intents
    "break": "break",
    "pot": noop("pot"),
    "safety": "safety",
    "escape": "escape",
    "two_way": "two-way shot",
    "push_out": "push-out",
    # further words for what was played, and how
    "cross_side": "cross-side",
    "cross_corner": "cross-corner",
    "spot_shot": "spot shot",
    "through_gap": "through a gap",
    "flick": "flick",
    "bump": "bumped into place",
    "through_cushion": noop("through the cushion"),
    "trace": "a trace",
    "touch": "a touch",
    "maximum": "maximum",
    "run": "to run",
    "widen": "to widen",
    "shorten": "to shorten",
    "avoid_scratch": noop("against the in-off"),
    "short_side": "short side",
    "long_on_purpose": "long on purpose",
    "straight_on_purpose": "straight on purpose",
    "off_the_jaw": "off the jaw",
    "past_straight": "slightly past straight",
    "one_area": "kept in one area",
    "keep_simple": "kept simple",
    "second_plan": "a second plan ready",
    "squirt": "squirt",
    "double_kiss": "double kiss",
    "worn_ball": "a worn ball",
    "dirty_ball": "a dirty ball",
    "chalk": "chalk",
    "pocket_refused": "the pocket refused it",
    "too_much_spin": "too much spin",
    "too_little_spin": "too little spin",
    "fast_cushion": noop("a fast cushion"),
    "grippy_cushion": noop("a grippy cushion"),
    "clusters_left": "clusters left",
    "stuck": "stick",
    "snooker_laid": noop("snooker laid"),
    "white_parked": noop("white parked"),
    "jumped_out": "jumped out",
    "other_than_meant": "another shot than meant",
    "position_without_pot": noop("position without the pot"),
    "key_of_key": "key of the key ball",
    "break_out": "break-out ball",
    "pair": "connected pair",
    # outcomes
    "potted": noop("potted"),
    "missed": "missed",
    "missed_thick": "missed thick",
    "missed_thin": "missed thin",
    "nothing_fell": "nothing fell",
    # position
    "contact_thick": "thick",
    "contact_thin": "thin",
    "contact_clean": "hit clean",
    "contact_left": "missed left",
    "contact_right": "missed right",
    "missed_by_near": "near jaw",
    "missed_by_far": "far jaw",
    "position_perfect": "position perfect",
    "position_good": "position good",
    "position_playable": "playable",
    "position_poor": "position poor",
    "position_lost": "position lost",
    "pace_short": "short",
    "pace_long": "long",
    "side_wrong": "wrong side",
    "angle_too_straight": "too straight",
    "angle_too_steep": "too steep",
    "luck_fluke": "fluke",
    # judgement
    "decision_agree": "agree",
    "decision_other": "other shot",
    "decision_mistake": "mistake",
    "decision_unsure": "unsure",
    "unforced": "unforced",
    "forced": "forced",
    "note": "note",
    # kinds of error
    # measures, layers, units, plans
    "right_side": "right side",
    "wrong_side": "wrong side",
    "angle_wanted_straight": "straight",
    "angle_wanted_little": "a little angle",
    "angle_wanted_half_ball": "half-ball",
    "angle_wanted_wide": "wide",
    "layer_pot": noop("The pot: lines and ghost ball"),
    "layer_window": "The pocket's window",
    "layer_natural": "Stun and rolling lines",
    "layer_next": "The next ball's line",
    "layer_plan": "Zone, aim point and route",
    "layer_options": "Other options",
    "layer_path": "The path on film",
    "layer_result": "Rest point and error",
    "layer_pen": "Drawn by hand",
    "legend_pot": noop("the way of the white to the ball, and of the ball to the pocket"),
    "legend_ghost": noop("the ghost ball: where the white is when it meets the ball"),
    "legend_blocked": "the way is blocked",
    "legend_blocked_ghost": "the ghost ball of a way that is blocked",
    "legend_window": "the directions in which the ball goes in",
    "legend_stun": noop("where the white goes when it is stunned"),
    "legend_roll": noop("where the white goes when it rolls"),
    "legend_side": "the right side of the next ball's line",
    "legend_wanted": "from where the angle that is wanted is left",
    "legend_next": "the next ball's line to its pocket",
    "legend_behind_next": "the same line behind the ball, or another pocket's",
    "legend_zone": noop("the zone: where the white is good for the next ball"),
    "legend_route": noop("the planned way of the white"),
    "legend_aim": "the aim point",
    "legend_option_zone": "the zone of another option or plan",
    "legend_option": "the way of another option",
    "legend_path": noop("the way of the white as it was followed on film"),
    "legend_rest": noop("where the white came to rest"),
    "legend_error": "from the aim point to the rest point: the error of position",
    "legend_error_parts": "the error along the way and across it",
    "legend_pen": "drawn by hand",
    "legend_proposed": "a ball that was read and not accepted",
    "legend_on": "a ball that is on",
    "legend_called": "the pocket that is called, or the ball in the hand",
    "mm": "mm",
    "inches": "inches",
    "ball_widths": "ball widths",
    "diamonds": "diamonds",
    "error_pot": noop("missed pot"),
    "error_position": "position",
    "error_safety": "safety",
    "error_escape": "escape",
    "error_foul": "foul",
    "error_decision": "decision",
    "error_missed_chance": "missed chance",
    "error_break": "break",
    # fouls
    "cue_ball_scratch": noop("cue ball potted or off the table"),
    "wrong_ball_first": "wrong ball hit first",
    "no_contact": "no ball hit",
    "no_cushion_after_contact": noop("no cushion after contact"),
    "ball_off_table": "ball off the table",
    "bad_break": "illegal break",
    "double_hit": "double hit",
    "push_stroke": "push stroke",
    "moved_ball": "ball moved",
    "wrong_cue_ball_position": noop("cue ball placed wrongly"),
    "played_out_of_turn": "played out of turn",
    "no_foot_down": "no foot on the floor",
    "not_still": "balls not still",
    "touching_ball_moved": "touching ball moved",
    "jump_shot": "jump shot",
    "in_off": noop("in-off"),
    "miss_all": "no ball hit",
    "wrong_ball_potted": noop("wrong ball potted"),
    "not_nominated": "not nominated",
    "snookered_by_free_ball": "snookered by the free ball",
    # fouls as their keys say them
    "foul_scratch": noop("scratch"),
    "foul_first": "hit first",
    "called_miss": "called miss",
    "free_ball": "free ball",
    "replaced": "balls put back",
    "foul_no_contact": "no ball hit",
    "foul_no_cushion": noop("no cushion"),
    # ends of a rack
    "nine_potted": noop("the 9 was potted"),
    "nine_on_break": "the 9 fell on the break",
    "three_fouls": "three fouls in a row",
    "ten_potted": noop("the 10 was potted"),
    "eight_potted": noop("the 8 was potted"),
    "eight_on_break": "the 8 fell on the break",
    "eight_off_table": "the 8 left the table",
    "eight_early": "the 8 fell too early",
    "eight_on_foul": "the 8 fell on a foul",
    "eight_wrong_pocket": "the 8 fell into another pocket",
    "reracked": "re-racked, play goes on",
    "target_reached": "the target was reached",
    "all_potted": "no ball is left",
    "black_potted": noop("the black was potted"),
    "black_foul": "a foul on the black",
    "conceded": "conceded",
    # ends of a visit
    "miss": "a miss",
    "foul": "a foul",
    "rack_won": "the rack won",
    "rack_lost": "the rack lost",
    "rerack": "a re-rack",
    "interrupted": "another player",
    "respotted_black": "a re-spotted black",
    "end_of_record": "the end of the record",
    # the break sheet
    "yes": "yes",
    "no": "no",
    "sheet_kind": "kind of break",
    "sheet_action": noop("action of the cue ball"),
    "sheet_power": "power",
    "sheet_square": "head ball hit square",
    "sheet_in_box": noop("cue ball in the box"),
    "sheet_head_in_side": noop("head ball in a side pocket"),
    "sheet_outer_ball_down": "outer ball down",
    "sheet_second_row_in_side": noop("second row in a side pocket"),
    "sheet_next_on": "next ball on",
    "sheet_spread": "spread",
    "sheet_behind_baulk": noop("cue ball behind the baulk line"),
    "sheet_red_left": "a red left on",
    "sheet_break_ball": "break ball",
    "sheet_side": "side of the rack",
    "sheet_height": "height of the break ball",
    "sheet_fullness": "fullness of the hit on the rack",
    "sheet_loosened": "balls loosened",
    "sheet_insurance": "insurance ball",
    "break_head_on": "head on",
    "break_cut": "cut break",
    "break_box_side": "from the side of the box",
    "break_rail": noop("from the rail"),
    "break_stun": "stun",
    "break_draw": noop("draw stroke"),
    "break_follow": "follow",
    "break_good": "good spread",
    "break_fair": "fair spread",
    "break_poor": "poor spread",
    "break_end_red": "off the end red",
    "break_second_red": "off the second red",
    "break_off_the_cushion": noop("off the cushion"),
    "break_natural": "natural break ball",
    "break_made": "made break ball",
    "break_none": "no break ball",
    "break_left": "left of the rack",
    "break_right": "right of the rack",
    "break_behind": "behind the rack",
    "break_below": "below the rack",
    "break_high": "high",
    "break_middle": "middle",
    "break_low": "low",
    "break_full": "full",
    "break_half": "half",
    "break_thin": "thin",
    # beginnings of a visit, and racks won in one
    "began_own_break": "own break",
    "began_start": "start of the record",
    "began_miss": "a miss of the other",
    "began_foul": "a foul of the other",
    "began_ball_in_hand": "ball in hand",
    "began_safety": "a safety of the other",
    "began_safety_left_open": "a safety left open",
    "began_long_pot": noop("a long pot"),
    "began_push_out": "a push-out",
    "began_free_ball": "a free ball",
    "began_replaced": "the balls put back",
    "began_rerack": "a re-rack",
    "began_rack_won": "a new rack",
    "began_rack_lost": "a new rack",
    "began_respotted_black": "the re-spotted black",
    "began_out_of_turn": "out of turn",
    "break_and_run": noop("break and run"),
    "won_on_break": "won on the break",
    "began_again": "again, nobody else plays",
    "run_out": noop("run-out"),
    # stretches of film
    "replay_of_shot": "a replay of this shot",
    "slow_of_shot": "this shot in slow motion",
    "view_of_shot": "this shot from another side",
    "replay_of_rack": "the whole rack again",
    "film_paused": "the film stands still",
    "film_cut": "film is missing here",
    "film_live": "live play, and nothing else counts",
    "part_live": "live play",
    "part_replay": "replay",
    "part_slow": "slow motion",
    "part_paused": "the film stands still",
    "part_cut_out": "film is missing",
    "clip_main": "the picture",
    "clip_tip_view": "another view",
    "clip_replay": "replay",
    "clip_slow": "slow motion",
    # warnings
    "out_of_turn": "the rules expect the other player here",
    "wrong_breaker": "the order of breaks expects the other player",
    "after_rack_end": "the rack was over before this shot",
    "ball_not_on_table": "a ball fell that was not on the table",
    "push_out_not_allowed": "a push-out is only possible after the break",
    "score_differs": "the stated score differs from the counted one",
    "no_facts": "what happened is not recorded yet",
    "free_ball_not_allowed": "a free ball needs a foul of the other player before it",
    "replaced_without_miss": "balls are put back only after a called miss",
    "no_nomination": "no colour was named and none was hit first",
    "rack_not_finished": "the rack before this one was not finished",
    # where the cue ball may be placed
    "anywhere": "ball in hand",
    "kitchen": noop("ball in hand behind the head string"),
    "d": "in hand in the D",
    # figures
    # groups of shots in statistics
    "group_left": "to the left",
    "group_right": "to the right",
    "group_straight": "straight",
    "group_none": "none",
    "group_inside": "inside",
    "group_outside": "outside",
    "group_running": "running",
    "group_check": "check",
    "group_neither": noop("square to the cushion"),
    "group_next_to_cushion": noop("next to a cushion"),
    "group_free": noop("free of cushions"),
    "group_along": "along it, under 20°",
    "group_between": "20 to 50°",
    "group_across": "across, over 50°",
    "group_in_hand": "ball in hand",
    "group_as_it_lay": "as it lay",
    "group_decider": "in a decider",
    "group_match_point": "at match point",
    "group_facing_match_point": "facing match point",
    "group_frame_ball": "frame ball",
    "group_needs_snookers": "needing snookers",
    "group_ahead": "ahead",
    "group_level": "level",
    "group_behind": "behind",
    "group_opening": "opening",
    "group_middle": "middle",
    "group_last": "last balls",
    "group_first_half": "first half",
    "group_second_half": "second half",
    "group_natural": "natural",
    "group_made": "made",
    "figure_pots": noop("Pots"),
    "figure_two_way": "Two-way shots",
    "figure_perfect": "Position perfect",
    "figure_good": "Position good",
    "figure_poor": "Position poor",
    "figure_lost": "Position lost",
    "figure_long": "Ran long",
    "figure_short": "Stopped short",
    "figure_wrong_side": "Wrong side",
    "figure_too_straight": "Left too straight",
    "figure_too_steep": "Left too steep",
    "figure_agreement": "Decisions agreed with",
    "figure_unforced": "Unforced errors",
    "figure_position_not_judged": "Position not judged",
    "figure_decisions_not_judged": "Decision not judged",
    "figure_errors_not_judged": "Errors not judged",
}


def word(name: str) -> str:
    """The shown form of a key or value; a name without one shows as itself, with spaces."""
    return tr(WORDS[name]) if name in WORDS else name.replace("_", " ")


#: The pockets as snooker names them: baulk pockets by the colour on their side, seen from the baulk end.
SNOOKER_POCKETS = POCKET_SNOOKER


def pocket_word(pocket: str, game: str | None) -> str:
    """The name of a pocket in the words of a game."""
    return tr(SNOOKER_POCKETS.get(pocket, pocket)) if game == "snooker" else word(pocket)


def pocket_letters(pocket: str, game: str | None) -> str:
    """A pocket in few letters, as foot L."""
    words = pocket_word(pocket, game).split(" pocket")[0].split(" (")[0].split()
    return f"{words[0]} {words[-1][0].upper()}" if words[-1] in ("left", "right") else words[0]


def ball_word(ball: str) -> str:
    """The shown name of a ball: every red is just a red."""
    return "red" if ball.startswith("red") else word(ball)


def intent_word(intent: str, game: str | None) -> str:
    """What a shot was meant as; in snooker the word "break" alone would mean a run of points."""
    return "break-off" if intent == "break" and game == "snooker" else word(intent)


def rack_word(game: str | None) -> str:
    """What a game calls its rack."""
    return "frame" if game == "snooker" else "rack"


def sentence(text: str) -> str:
    """The text with a capital first letter."""
    return text[:1].upper() + text[1:]


def words(names: Iterable[str]) -> str:
    """Several shown forms, joined by commas."""
    return ", ".join(word(name) for name in names)


def count(number: int, one: str, many: str | None = None) -> str:
    """A number with its noun: "1 shot", "2 shots"."""
    noun = one if number == 1 else many or f"{one}s"
    return f"{number} {tr(noun)}"


#: A rack of straight pool is played down to one ball: so many of a run are one rack.
BALLS_A_RACK = 14


def in_racks(run: int) -> str:
    """A run of straight pool in racks: 434 are 31 racks, 308 are 22 racks, 304 are 21 racks and 10."""
    racks, rest = divmod(run, BALLS_A_RACK)
    if not racks:
        return ""
    return f"{count(racks, 'rack')} and {rest}" if rest else count(racks, "rack")


def clock(seconds: float) -> str:
    """A time on film, such as 00:14:07.32."""
    # Rounded once, so that 59.996 does not become 00:00:60.00.
    hundredths = round(seconds * 100)
    minutes, rest = divmod(hundredths, 6000)
    return f"{minutes // 60:02}:{minutes % 60:02}:{rest // 100:02}.{rest % 100:02}"
