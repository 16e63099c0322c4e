"""What can be done in Plan, as data."""

from __future__ import annotations

from ripasso.review.language.translation import noop
from ripasso.ui.actions import ActionSpec

GROUP = "Plan"
ACTIONS = (
    ActionSpec("aim_left", "aim left", ("Left",), GROUP, "turn the aim left by a tenth of a degree"),
    ActionSpec("aim_right", "aim right", ("Right",), GROUP, "turn the aim right by a tenth of a degree"),
    ActionSpec("aim_far_left", "aim far left", ("Shift+Left",), GROUP, "turn it left by two degrees"),
    ActionSpec("aim_far_right", "aim far right", ("Shift+Right",), GROUP, "turn it right by two degrees"),
    ActionSpec("harder", "harder", ("Up",), GROUP, "5 % more pace"),
    ActionSpec("softer", "softer", ("Down",), GROUP, "5 % less pace"),
    ActionSpec("tip_up", "tip up", ("W",), GROUP, "the tip a millimetre higher"),
    ActionSpec("tip_down", "tip down", ("S",), GROUP, "the tip a millimetre lower"),
    ActionSpec("tip_left", "tip left", ("A",), GROUP, "the tip a millimetre to the left"),
    ActionSpec("tip_right", "tip right", ("D",), GROUP, "the tip a millimetre to the right"),
    ActionSpec("aim_pot", "aim", ("R",), GROUP, "aim at the pot that is meant, with this pace and tip"),
    ActionSpec("bank", noop("bank"), ("B",), GROUP, noop("bank the ball that is meant, by the next cushion")),
    ActionSpec("kick", noop("kick"), ("V",), GROUP, noop("the cue ball off the next cushion to that ball")),
    ActionSpec("play", "play", ("Space",), GROUP, "see the balls run in true time"),
    ActionSpec("slower", "slower", ("X",), GROUP, "true time, a half, a quarter"),
    ActionSpec("options", "find options", ("O",), GROUP, "what else could be played; again stops it"),
    ActionSpec(
        "in_hand",
        "ball in hand",
        ("I",),
        GROUP,
        noop("where to put the cue ball, and what to play then"),
    ),
    ActionSpec("zone", "zone", ("Z",), GROUP, noop("a zone about the place where the cue ball stops; away")),
    ActionSpec("zone_wider", "zone wider", ("+",), GROUP, "a wider zone"),
    ActionSpec("zone_narrower", "zone narrower", ("-",), GROUP, "a narrower zone"),
    ActionSpec("as_played", "as played", ("P",), GROUP, "the stroke that was played, told from its way"),
    ActionSpec("work_out", "clear the rack", ("C",), GROUP, "the rack worked out backwards; again stops it"),
    ActionSpec("map", "map", ("M",), GROUP, noop("where the cue ball is best before the ball in hand; away")),
    ActionSpec("lesson", "backwards", ("U",), GROUP, "from the last ball, a question, then its answer"),
    ActionSpec("reading", "read table", ("T",), GROUP, "pockets, clusters, links, groups, with flags; away"),
    ActionSpec("next_ball", "next ball", ("]",), GROUP, "the next ball of the plan in hand"),
    ActionSpec("previous_ball", "ball before", ("[",), GROUP, "the ball of the plan before"),
    ActionSpec("ball_later", "ball later", ("Ctrl+]",), GROUP, "the ball in hand one place later"),
    ActionSpec("ball_earlier", "ball earlier", ("Ctrl+[",), GROUP, "the ball in hand one place earlier"),
    ActionSpec("take_plan", "first of the plan", ("F",), GROUP, "the plan's first stroke in hand"),
    ActionSpec("best_place", "best place", ("J",), GROUP, noop("the cue ball in hand at the best place")),
    ActionSpec("group", "other group", ("G",), GROUP, "at eight-ball the plan for the other group"),
    ActionSpec("to_rack", "to the rack", ("Shift+Return",), GROUP, "keep the plan with its rack's plans"),
    ActionSpec("keep", "keep beside", ("K",), GROUP, "keep this stroke beside the next one"),
    ActionSpec("attach", "to the shot", ("Return",), GROUP, "keep this stroke as an option of its shot"),
    ActionSpec("layouts", "kept layout", ("L",), GROUP, "a layout that is kept in the library"),
    ActionSpec("name_ball", "name ball", ("N",), GROUP, noop("another name for the ball that is meant")),
    ActionSpec("remove_ball", "take away", ("Del",), GROUP, noop("the ball that is meant off the table")),
    ActionSpec("paste", "paste", ("Ctrl+V",), GROUP, "a layout from text"),
    ActionSpec("copy", "copy", ("Ctrl+C",), GROUP, "the layout as text"),
    ActionSpec("report", "into the report", ("Ctrl+Shift+E",), GROUP, "its shot, with its options"),
    ActionSpec("back", "back to the shot", ("Esc",), GROUP, "to the shot that the plan came from"),
    *(
        ActionSpec(f"option_{n}", f"option {n}", (str(n),), GROUP, f"take option {n} in hand")
        for n in range(1, 7)
    ),
)
