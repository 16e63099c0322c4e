"""The terms of the language: what each says of a shot, and how it is said on either side of the Atlantic.

To add a term: a line in `TERMS`; the first form of a tradition is the one that is shown and written, the
others are understood. No form may stand for two terms: a test walks them all. "Kick" and "break" mean
different things on the two sides, so they never stand alone.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Tradition = Literal["american", "british"]
Path = tuple[str, ...]


@dataclass(frozen=True)
class Term:
    """One value that one phrase says. `many`: it joins a list; else it takes the place of its likes."""

    id: str
    group: str
    path: Path
    value: object
    american: tuple[str, ...]
    british: tuple[str, ...]
    many: bool = False

    def form(self, tradition: Tradition) -> str:
        """The phrase that is shown and written."""
        return (self.american if tradition == "american" else self.british)[0]

    @property
    def forms(self) -> tuple[str, ...]:
        """Every phrase that is understood."""
        return tuple(dict.fromkeys((*self.american, *self.british)))


def _forms(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split("|"))


def _one(group: str, path: str, lines: Mapping[object, str | tuple[str, str]]) -> tuple[Term, ...]:
    return _terms(group, path, lines, many=False)


def _many(group: str, path: str, lines: Mapping[object, str | tuple[str, str]]) -> tuple[Term, ...]:
    return _terms(group, path, lines, many=True)


def _terms(
    group: str, path: str, lines: Mapping[object, str | tuple[str, str]], *, many: bool
) -> tuple[Term, ...]:
    made = []
    for value, text in lines.items():
        american, british = (text, text) if isinstance(text, str) else text
        name = f"{path}.{value}".casefold()
        made.append(Term(name, group, tuple(path.split(".")), value, _forms(american), _forms(british), many))
    return tuple(made)


#: Groups in the order in which a practitioner thinks; the slip shows them so.
GROUPS = (
    "Shot",
    "Method",
    "Stroke",
    "Side",
    "Delivery",
    "Plan",
    "Aim",
    "Contact",
    "Result",
    "Luck",
    "Decision",
    "Error",
    "Cause",
    "Event",
)

TERMS: tuple[Term, ...] = (
    *_one(
        "Shot",
        "intent",
        {
            "pot": "for a pot|a pot",
            "safety": "safety|safe|sf",
            "escape": ("kick out|escape|esc", "escape|kick out|esc"),
            "two_way": "two-way|two way|tw|shot to nothing",
            "push_out": "push-out|push out|po",
            "break": ("break shot|opening break", "break-off|break off"),
        },
    ),
    *_many(
        "Method",
        "methods",
        {
            "combination": ("combination|combo", "plant|combination"),
            "bank": ("bank shot|bank", "double|bank shot"),
            "kick": ("kick shot|rail first", "off a cushion first|cushion first"),
            "carom": ("carom|billiard", "cannon|carom"),
            "cannon_split": ("break-out|cluster break", "split|break-out"),
            "jump": "jump|jump shot",
            "swerve": ("swerve|curve|masse", "swerve|masse"),
            "cross_side": ("cross-side|cross side", "cross double|cross-side"),
            "cross_corner": ("cross-corner|cross corner", "corner double|cross-corner"),
            "spot_shot": "spot shot",
            "through_gap": "through a gap|through the gap",
            "flick": "flick|flicked",
            "bump": "bumped a ball into place|bump",
            "through_cushion": ("through the rail", "through the cushion|cushion cut"),
        },
    ),
    *_one(
        "Stroke",
        "stroke.kind",
        {
            "roll": "roll|rolled|float|floated",
            "stun": "stun|stop shot|stop",
            "run_through": ("stun follow|stun-run-through", "stun run-through|run-through"),
            "follow": ("follow|top", "follow|top spin|topspin"),
            "draw": ("draw|back spin|backspin|deep draw", "screw|screw back|bottom|deep screw"),
            "drag": ("drag draw|drag", "drag"),
            "kill": "kill|dead weight stroke",
        },
    ),
    *_one(
        "Stroke",
        "stroke.pace",
        {
            "dead": "dead weight|dead pace",
            "soft": "soft|slow pace",
            "medium": "medium|medium pace",
            "firm": "firm|firm pace",
            "power": "power|hard pace",
        },
    ),
    *_one(
        "Side",
        "stroke.side_amount",
        {
            "trace": ("a trace of english", "a trace of side"),
            "touch": ("a touch of english", "a touch of side"),
            "maximum": ("maximum english", "maximum side"),
        },
    ),
    *_many(
        "Side",
        "stroke.purpose",
        {
            "kill": ("english to kill", "side to kill"),
            "run": ("english to run", "side to run"),
            "widen": ("english to widen", "side to widen"),
            "shorten": ("english to shorten", "side to shorten"),
            "swerve": ("english to swerve", "side to swerve"),
            "throw": ("english to throw", "side to throw"),
            "avoid_scratch": ("english against the scratch", "side against the in-off"),
        },
    ),
    *_many(
        "Delivery",
        "delivery",
        {
            "off_hand": "off hand|wrong hand",
            "rest": ("bridge stick|mechanical bridge|rest", "rest|with the rest"),
            "spider": ("high bridge stick|spider", "spider"),
            "extension": "extension",
            "reach": "reach|stretched",
            "elevated": "elevated|cue raised",
            "over_ball": "over a ball|bridging over",
            "frozen_cushion": ("frozen to the rail|on the rail", "tight on the cushion|on the cushion"),
            "frozen_ball": ("frozen to a ball", "touching ball|tight to a ball"),
            "closed_bridge": "closed bridge",
            "open_bridge": "open bridge",
            "short_bridge": "short bridge",
            "stood_up_again": "stood up again|got up",
            "steered": "steered the cue|steered",
            "moved_head": "moved the head|head up|jumped up",
            "hurried": "hurried delivery|hurried",
            "unsure": "unsure over the ball|undecided",
            "miscue": "miscued|miscue",
            "loop_bridge": "loop bridge",
            "long_bridge": "long bridge",
            "shortened_grip": "shortened grip|short grip",
            "long_backswing": "long backswing",
            "cue_rose": "the cue rose|cue rose",
            "stayed_down": "stayed down",
            "walked_round": "walked round first|walked round",
        },
    ),
    *_one(
        "Plan",
        "plan.if_missed",
        {"safe": "a miss is safe", "open": "a miss leaves it open", "unknown": "a miss leaves who knows"},
    ),
    *_many(
        "Aim",
        "plan.aims",
        {
            "short_side": "short side",
            "long_on_purpose": "long on purpose|deliberately long",
            "straight_on_purpose": "straight on purpose|deliberately straight",
            "off_the_jaw": "off the jaw",
            "past_straight": "slightly past straight|past straight",
            "one_area": "keep in one area|one area",
            "keep_simple": "keep it simple",
            "second_plan": "second plan ready|second plan",
        },
    ),
    *_many(
        "Plan",
        "plan.cushions",
        {
            "head": ("off the head rail", "off the baulk cushion|off the head rail"),
            "foot": ("off the foot rail", "off the top cushion|off the foot rail"),
            "left": ("off the left rail", "off the left cushion"),
            "right": ("off the right rail", "off the right cushion"),
        },
    ),
    *_one(
        "Result",
        "result.position",
        {
            "perfect": "position perfect|perfect",
            "good": "position good|good|nice",
            "playable": "playable",
            "poor": "position poor|poor",
            "lost": "position lost|lost",
        },
    ),
    *_one(
        "Contact",
        "result.contact",
        {
            "thick": ("hit full but in|hit thick but in|in thick", "hit thick but in|in thick"),
            "thin": "hit thin but in|in thin",
            "clean": "hit clean|clean",
            "left": "missed left|missed to the left",
            "right": "missed right|missed to the right",
        },
    ),
    *_one(
        "Contact",
        "result.missed_by",
        {"near": "near jaw|at the near jaw|missed near", "far": "far jaw|at the far jaw|missed far"},
    ),
    *_one(
        "Result",
        "result.pace",
        {
            "short": "short|came short|too soft|underhit",
            "long": "long|ran long|overran|too hard|overhit",
        },
    ),
    *_one(
        "Result",
        "result.side",
        {"wrong": "wrong side|ws|upside down|negative angle", "right": "right side of the line"},
    ),
    *_one(
        "Result",
        "result.angle",
        {"too_straight": "too straight", "too_steep": "too steep|too much angle", "good": "angle good"},
    ),
    *_one("Result", "result.rattled", {True: ("jawed|rattled", "wobbled|jawed|rattled")}),
    *_one(
        "Luck",
        "result.luck",
        {
            "fluke": ("lucked in|slop|fluke", "fluke|fluked"),
            "kind_leave": "lucky leave|kind leave",
            "unkind_leave": "unlucky leave|unkind leave",
            "none": "no luck",
        },
    ),
    *_one(
        "Decision",
        "decision.verdict",
        {
            "agree": "agree|right shot|good decision|decision good",
            "prefer_other": "other shot|prefer another",
            "mistake": "wrong shot|mistake|bad decision",
            "unsure": "unsure of the choice",
        },
    ),
    *_many(
        "Error",
        "error.kind",
        {
            "pot": ("error in the shot|pocketing error", "error in the pot|potting error"),
            "position": "error in position|position error",
            "safety": "error in the safety|safety error",
            "escape": ("error in the kick|kicking error", "error in the escape|escape error"),
            "foul": "error by foul|foul error",
            "decision": "error in the choice|decision error",
            "missed_chance": "missed chance|did not see it",
            "break": ("error in the break|breaking error", "error in the break-off"),
        },
    ),
    *_many(
        "Cause",
        "error.causes",
        {
            "aim": "by aim|aim",
            "contact_thin": "by a thin contact|hit thin",
            "contact_thick": "by a thick contact|hit thick",
            "throw": "by throw|throw",
            "pace": ("by speed|speed", "by pace|pace"),
            "spin": ("by english|english", "by side|side spin"),
            "swerve": "by swerve|it swerved",
            "miscue": "by a miscue",
            "steering": "by steering|steering",
            "awkward_cueing": "by awkward cueing|awkward",
            "reach": "by reach|too far away",
            "kick_bad_contact": ("by a bad contact|skid|cling", "by a bad contact|bad contact"),
            "roll_off": "by roll-off|rolled off",
            "cloth": "by the cloth|cloth",
            "cushion": ("by the rail|rail", "by the cushion|cushion"),
            "concentration": "by concentration|concentration",
            "hurry": "by hurry|hurry",
            "pressure": "by pressure|pressure",
            "not_seen": "by not seeing it|not seen",
            "wrong_plan": "by the wrong plan|wrong plan",
            "wrong_shot": "by choosing wrong|chose wrong",
            "previous_leave": "by the leave before|previous leave",
            "luck": "by luck|bad luck",
            "squirt": ("by squirt|squirt", "by squirt|squirt"),
            "double_kiss": "by a double kiss|double kiss",
            "worn_ball": "by a worn ball|worn ball",
            "dirty_ball": "by a dirty ball|dirty ball",
            "chalk": "by chalk|chalk",
            "pocket_refused": "by the pocket|pocket refused it",
            "too_much_spin": "by too much spin|too much spin",
            "too_little_spin": "by too little spin|too little spin",
            "fast_cushion": ("by a fast rail|fast rail", "by a fast cushion|fast cushion"),
            "grippy_cushion": ("by a grippy rail|grippy rail", "by a grippy cushion|grippy cushion"),
        },
    ),
    *_many(
        "Event",
        "events",
        {
            "cluster_opened": (
                "broke a cluster|cluster opened",
                "opened a cluster|pack opened|cluster opened",
            ),
            "ball_freed": "freed a ball|ball freed",
            "role_solved": "solved the trouble ball|trouble solved",
            "layout_improved": "improved the table|layout improved",
            "clusters_left": "clusters left",
            "stuck": "stick|stuck behind it",
            "snooker_laid": ("snookered the other|hooked|hook", "snookered the other|snooker laid"),
            "white_parked": ("cue ball parked", "white parked|cue ball parked"),
            "jumped_out": "jumped out",
            "other_than_meant": "another shot than meant",
            "position_without_pot": "position without the pot",
        },
    ),
)

BY_ID: Mapping[str, Term] = {term.id: term for term in TERMS}

#: What follows from the shot's other facts when it is said: the tags of `tagging` by their phrases.
TAG_FORMS: Mapping[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "potted": (("made", "potted", "in"), ("potted", "made", "in")),
    "missed": (("missed", "miss"), ("missed", "miss")),
    "missed_thick": (
        ("missed full", "missed thick", "undercut", "mk"),
        ("missed thick", "missed full", "undercut", "mk"),
    ),
    "missed_thin": (("missed thin", "overcut", "mn"), ("missed thin", "overcut", "mn")),
    "unforced": (("unforced", "uf"), ("unforced", "uf")),
    "forced": (("forced",), ("forced",)),
    "foul_scratch": (("scratch",), ("in-off", "scratch")),
    "foul_no_contact": (("no ball hit",), ("no ball hit",)),
    "foul_no_cushion": (("no rail after contact",), ("no cushion after contact",)),
}

#: Pockets: the phrases of American and British pool, then those of snooker; short letters last.
POCKETS: Mapping[str, tuple[str, ...]] = {
    "head_left": ("head left", "baulk left", "bottom left", "green pocket", "hl"),
    "head_right": ("head right", "baulk right", "bottom right", "yellow pocket", "hr"),
    "side_left": ("side left", "middle left", "left side pocket", "sl"),
    "side_right": ("side right", "middle right", "right side pocket", "sr"),
    "foot_left": ("foot left", "top left", "fl"),
    "foot_right": ("foot right", "top right", "fr"),
}
POCKET_BRITISH: Mapping[str, str] = {
    "head_left": "baulk left",
    "head_right": "baulk right",
    "side_left": "middle left",
    "side_right": "middle right",
    "foot_left": "foot left",
    "foot_right": "foot right",
}
POCKET_SNOOKER: Mapping[str, str] = {
    "head_left": "green pocket",
    "head_right": "yellow pocket",
    "side_left": "middle left",
    "side_right": "middle right",
    "foot_left": "top left",
    "foot_right": "top right",
}
BALLS = (
    *(str(n) for n in range(1, 16)),
    "yellow",
    "green",
    "brown",
    "blue",
    "pink",
    "black",
    "red",
    *(f"red{n}" for n in range(1, 16)),
)
#: The angle wanted on the next ball, with the bands of `tagging.ANGLES`.
ANGLE_FORMS: Mapping[str, tuple[str, ...]] = {
    "straight": ("want straight", "wanted straight"),
    "little": ("want a little angle", "want little"),
    "half_ball": ("want half-ball", "want half ball", "want hb"),
    "wide": ("want a wide angle", "want wide"),
}
#: Words that mean different things on the two sides: each is asked about.
TWO_MEANINGS: Mapping[str, str] = {
    "kick": "a kick shot (cue ball off a cushion first) or a bad contact",
    "break": "a break shot, or a run of points (which is counted by itself)",
    "side": "a side pocket (side left) or side spin (by side)",
}
