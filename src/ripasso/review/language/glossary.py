"""The trade's words, spelled out (F1). To add one: a line here."""

from __future__ import annotations

from collections.abc import Mapping

GLOSSARY: Mapping[str, tuple[tuple[str, str], ...]] = {
    "The table": (
        ("baulk / head", "The end from which a frame or rack begins."),
        ("cushion / rail", "The rubber edge that balls come back from; its foremost line is the nose."),
        ("sights / diamonds", "Marks on the rails, an eighth of the length apart."),
        ("middle / side pocket", "The two pockets in the long cushions."),
        ("in hand", "The cue ball may be placed, anywhere or within an area, as the rules say."),
    ),
    "The pot": (
        ("pot / pocket", "To send a ball into a pocket, and the stroke that does."),
        ("cut", "The angle between the line of aim and the object ball's way; 0° is straight."),
        (
            "full, half-ball, thin",
            "How much of the object ball is covered at the contact; half is a cut of 30°.",
        ),
        ("ghost ball", "Where the cue ball's centre is at the contact."),
        ("thick / full", "Too much of the ball was hit: it left at less of an angle than meant."),
        ("thin", "Too little of the ball was hit."),
        ("fluke / slop", "A ball that fell where nobody meant it to."),
        ("double / bank", "A pot off a cushion."),
        ("plant / combination", "A ball played onto another one that is to fall."),
        ("cannon / carom", "The cue ball goes from one ball onto another."),
    ),
    "The stroke": (
        ("follow / top", "Struck above the middle: the cue ball runs on."),
        ("stun", "No turn at the contact: the cue ball leaves square to the object ball's way."),
        ("screw / draw", "Struck below the middle: the cue ball comes back."),
        ("side / english", "Struck right or left of the middle."),
        ("outside / inside", "Side on the outer, or the inner, side of the cut. Hangs on the object ball."),
        (
            "running / check",
            "Side that carries the ball on at a cushion, or holds it. Hangs on the cushion.",
        ),
        ("throw", "The object ball is dragged off its line by the rubbing of the two balls."),
        ("swerve", "The cue ball's way bends, since the cue is raised and side is on."),
        ("kick / bad contact / skid", "The balls cling for a moment; nobody's fault."),
    ),
    "Position": (
        ("zone", "Where the cue ball should come to rest."),
        ("right side", "On that side of the next ball's line from which the plan goes on."),
        (
            "across, along",
            "How the cue ball comes to that line: across it pace matters, along it little.",
        ),
        ("key ball", "The ball from which the last one, or the break ball, is reached."),
        ("break ball", "In straight pool the ball that is left to open the next rack."),
        ("insurance ball", "A ball that can be played if opening a cluster leaves nothing else."),
        ("trouble ball", "A ball that has no pocket, is in a cluster, or far from the rest."),
    ),
    "Safety": (
        ("snooker / hook", "No straight way to a ball on."),
        ("escape / kick shot", "Out of a snooker, off one or more cushions."),
        ("two-way shot", "A pot that leaves nothing when it is missed."),
        ("push-out", "After the break the cue ball may be played anywhere; the other may refuse."),
        ("free ball", "Snookered after a foul any ball may be played as the ball on."),
    ),
    "The record": (
        ("visit / inning", "Shots in a row by one player."),
        ("unforced error", "One that a player of this level would not make as a rule."),
        ("root shot", "The shot from which a later failure came."),
        ("recovery", "A hard ball made after a lost position."),
        ("chance", "How often a player of the level would make it; leave: for whoever plays next."),
        ("attempt", "A shot played again: never counted as a shot of the match."),
    ),
}
