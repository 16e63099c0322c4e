"""A shot in words: its title, the chips of what was said, and what the rules make of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ripasso.core.rules import Outcome, RackScore, ShotScore
from ripasso.review.document.snapshot import RackRow, Snapshot
from ripasso.review.entry.break_sheet import sheet_for, value_of
from ripasso.review.entry.tagging import is_set
from ripasso.review.entry.word_values import items_of
from ripasso.review.language.items import (
    ColourMeant,
    Elevation,
    Feathers,
    FreeTag,
    Item,
    Judge,
    Manner,
    Next,
    OrNext,
    PacePercent,
    Predicted,
    System,
    Tip,
    Wanted,
    Word,
)
from ripasso.review.language.terms import BY_ID
from ripasso.review.language.vocabulary import (
    ball_word,
    intent_word,
    pocket_word,
    rack_word,
    sentence,
    word,
    words,
)
from ripasso.review.present.weighed_words import rack_sums, set_up_again_words, weighed_words
from ripasso.review.record.model import Facts, Rack, Session, Shot
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.meant import POT_INTENTS, meant_ball
from ripasso.review.scoring.outcome import recorded_errors

Tone = Literal["plain", "good", "bad", "unsure"]


#: Words of the result that have no chip of their own.
FURTHER = (
    *("result.side.right", "result.angle.good", "result.rattled.true"),
    *("result.luck.kind_leave", "result.luck.unkind_leave", "result.luck.none"),
)


@dataclass(frozen=True)
class Chip:
    """One thing that was said of the shot, or is only proposed.

    `tip` is where the tip met the cue ball, right and up in its radii, to be drawn beside the words.
    """

    text: str
    tone: Tone = "plain"
    proposed: bool = False
    tip: tuple[float, float] | None = None


def player_name(session: Session, player: str | None) -> str:
    """The shown name of a player of the session."""
    for candidate in session.players or ():
        if candidate.id == player:
            return candidate.name or candidate.id
    return "nobody named" if player is None else player


def meant_label(shot: Shot, judged: ShotScore | None) -> str | None:
    """The meant ball as it is said: a number, a colour, or a red where any red will do."""
    ball = meant_ball(shot, judged)
    if ball is not None:
        return ball_word(ball)
    on = judged.balls_on if judged else ()
    return "red" if on and all(name.startswith("red") for name in on) else None


def shot_title(shot: Shot, judged: ShotScore | None, game: str | None = None) -> str:
    """Such as "Shot 8 · 4 to foot left"."""
    if shot.intent == "break":
        return f"Shot {shot.number} · {intent_word(shot.intent, game)}"
    ball = meant_label(shot, judged)
    pocket = shot.call.pocket if shot.call else None
    if shot.intent not in (None, "pot", "two_way"):
        return f"Shot {shot.number} · {word(shot.intent or '')}" + (f" on the {ball}" if ball else "")
    if ball and pocket:
        return f"Shot {shot.number} · {ball} to {pocket_word(pocket, game)}"
    return f"Shot {shot.number}" + (f" · the {ball}" if ball else "")


def chips(shot: Shot, spoken: Manner | None = None) -> list[Chip]:
    """What was said of the shot and what is proposed, in the order a person says it."""
    spoken = spoken or Manner()
    everything = _chips(shot, spoken)
    if not shot.proposed:
        return everything
    said = _chips(without_proposals(shot), spoken)
    return [chip if chip in said else replace(chip, proposed=True) for chip in everything]


def shot_sentence(session: Session, shot: Shot, judged: ShotScore | None, spoken: Manner) -> str:
    """A shot in one sentence, to be read aloud: what it was, whose, what was said, what came of it."""
    title = shot_title(shot, judged, session.game).replace(" · ", ", ")
    said = [f"{chip.text} (proposed)" if chip.proposed else chip.text for chip in chips(shot, spoken)]
    outcome, warnings = outcome_words(session, judged)
    parts = [f"{title}, {player_name(session, shot.player)}", ", ".join(said), outcome, *warnings]
    return "; ".join(part for part in parts if part) + "."


def _chips(shot: Shot, spoken: Manner) -> list[Chip]:
    game, items = spoken.game, items_of(shot, spoken.game)
    found = [Chip(intent_word(shot.intent, game))] if shot.intent else []
    if shot.call:
        said = (shot.call.ball and ball_word(shot.call.ball), pocket_word(shot.call.pocket or "", game))
        found += [Chip(text) for text in said if text]
    found += [Chip(word(name)) for name in ("free_ball", "replaced") if getattr(shot, name)]
    tip = shot.stroke.tip if shot.stroke is not None else None
    for item in items:
        if _is_meant(item):
            drawn = (float(tip[0]), float(tip[1])) if tip is not None and isinstance(item, Tip) else None
            found.append(Chip(item.written(spoken), tip=drawn))
    found += _break_chips(shot, game)
    found += _fact_chips(shot, game)
    found += _result_chips(shot)
    decision = shot.decision
    if decision and decision.verdict:
        name = "other" if decision.verdict == "prefer_other" else decision.verdict
        found.append(Chip(word(f"decision_{name}"), "good" if name == "agree" else "unsure"))
    found += [Chip(text) for text in weighed_words(shot, game)]
    found += [Chip(item.written(spoken)) for item in items if _is_further(item)]
    for error in recorded_errors(shot):
        judged = {True: "unforced", False: "forced", None: "not judged"}[error.unforced]
        text = f"{word('error_' + error.kind)}: {judged}"
        found.append(Chip(text, "bad" if error.unforced else "plain"))
        found += [Chip(word(cause)) for cause in error.causes or ()]
        if error.cause_shot is not None and error.cause_shot != shot.number:
            found.append(Chip(f"began at shot {error.cause_shot}", "unsure"))
    return found


#: Groups of words on how a shot was played and what for.
MEANT_GROUPS = ("Method", "Stroke", "Side", "Delivery", "Plan", "Aim")


def _is_meant(item: Item) -> bool:
    """How the shot was played and what for, which is told before what came of it."""
    if isinstance(item, Word):
        return BY_ID[item.id].group in MEANT_GROUPS
    return isinstance(item, Tip | PacePercent | Elevation | Feathers | System | Next | OrNext | Wanted)


def _is_further(item: Item) -> bool:
    """What came of it, where no chip of the result says so in fewer words."""
    if isinstance(item, Word):
        return BY_ID[item.id].group == "Event" or item.id in FURTHER
    return isinstance(item, ColourMeant | Judge | FreeTag | Predicted)


def _break_chips(shot: Shot, game: str | None) -> list[Chip]:
    """What the break sheet says, in few words: a "no" only where it matters to have been said."""
    found = []
    for line in sheet_for(game, shot):
        value = value_of(shot, line)
        if value is True or value is False:
            found.append(Chip(f"{'' if value else 'no '}{word('sheet_' + line.name)}"))
        elif value is not None:
            found.append(Chip(line.shown(value)))
    return found


def _fact_chips(shot: Shot, game: str | None) -> list[Chip]:
    facts = shot.facts
    if facts is None:
        return []
    found: list[Chip] = []
    meant = shot.call.ball if shot.call else None
    for pot in facts.potted or ():
        # A pot as called needs no second naming of its ball and pocket.
        as_called = shot.intent == "pot" and meant in (pot.ball, None) and len(facts.potted or ()) == 1
        where = f" {pocket_word(pot.pocket, game)}" if pot.pocket else ""
        found.append(Chip(word("potted") if as_called else f"{ball_word(pot.ball)} fell{where}", "good"))
    if facts.potted == ():
        found.append(_miss_chip(shot))
    if facts.cue_potted:
        found.append(Chip(word("foul_scratch"), "bad"))
    found += _contact_chips(facts, meant)
    if facts.cushion_after_contact is False:
        found.append(Chip(word("foul_no_cushion")))
    found += [Chip(word(foul), "bad") for foul in facts.other_fouls or ()]
    if facts.miss:
        found.append(Chip(word("called_miss"), "bad"))
    return found


def _miss_chip(shot: Shot) -> Chip:
    if shot.intent not in ("pot", "two_way"):
        return Chip(word("nothing_fell"))
    contact = shot.result.contact if shot.result else None
    return Chip(word(f"missed_{contact}" if contact in ("thick", "thin") else "missed"), "bad")


def _contact_chips(facts: Facts, meant: str | None) -> list[Chip]:
    if "first_contact" in facts.model_fields_set and facts.first_contact is None:
        return [Chip(word("no_contact"), "bad")]
    if facts.first_contact is None or facts.first_contact == (meant or facts.first_contact):
        return []  # the ball that was meant needs no word when it was hit first
    return [Chip(f"{ball_word(facts.first_contact)} hit first", "unsure")]


_POSITION_TONES: Mapping[str, Tone] = {"perfect": "good", "good": "good", "poor": "bad", "lost": "bad"}


def _result_chips(shot: Shot) -> list[Chip]:
    result = shot.result
    if result is None:
        return []
    found: list[Chip] = []
    is_told = is_set(shot, "missed_thick") or is_set(shot, "missed_thin")
    if result.contact and not (is_told and shot.intent in POT_INTENTS):
        found.append(
            Chip(word(f"contact_{result.contact}"), "good" if result.contact == "clean" else "unsure")
        )
    if result.missed_by:
        found.append(Chip(word(f"missed_by_{result.missed_by}"), "bad"))
    if result.position:
        found.append(Chip(word(f"position_{result.position}"), _POSITION_TONES.get(result.position, "plain")))
    if result.pace in ("short", "long"):
        found.append(Chip(word(f"pace_{result.pace}"), "bad"))
    if result.side == "wrong":
        found.append(Chip(word("side_wrong"), "bad"))
    if result.angle in ("too_straight", "too_steep"):
        found.append(Chip(word(f"angle_{result.angle}"), "bad"))
    if result.luck == "fluke":
        found.append(Chip(word("luck_fluke"), "unsure"))
    found += [Chip(word(cause)) for cause in result.causes or ()]
    return found


def outcome_words(session: Session, judged: ShotScore | None) -> tuple[str, list[str]]:
    """What the rules make of the shot in one line, and the warnings in words."""
    if judged is None:
        return "", []
    warnings = [sentence(word(name)) for name in judged.warnings]
    outcome = judged.outcome
    if outcome is None:
        return "Not judged by the rules", warnings
    scored = {p: n for p, n in outcome.points.items() if n}
    told = ", ".join(f"{n:+d} to {player_name(session, p)}" for p, n in scored.items())
    words_so_far = _judgement(session, outcome)
    return (f"{words_so_far}. {told}" if told else words_so_far), warnings


def _judgement(session: Session, outcome: Outcome) -> str:
    """One line on a judged stroke: foul or legal, who plays on, or who has won."""
    if outcome.rack_ends:
        name = player_name(session, outcome.winner)
        if outcome.ended_by == "reracked":
            return "Legal, the balls are racked again and the visit goes on"
        what = rack_word(session.game)
        if outcome.winner is None:
            return f"The {what} is over: {word(outcome.ended_by or '')}"
        return f"{name} wins the {what}: {word(outcome.ended_by or '')}"
    if not outcome.legal:
        hand = f", {word(outcome.ball_in_hand_from)}" if outcome.ball_in_hand_from else ""
        follows = " or ".join(player_name(session, p) for p in outcome.next_players)
        return f"Foul: {words(outcome.fouls)}. {follows} to play{hand}"
    if not outcome.turn_ends:
        return "Legal, the visit goes on"
    follows = " or ".join(player_name(session, p) for p in outcome.next_players)
    return f"Legal, {follows} to play"


def rack_words(session: Session, score: RackScore | None) -> str:
    """How the rack ended, or who is at the table and what is on."""
    if score is None:
        return ""
    if score.ended_by is not None:
        if score.winner is None:
            return sentence(word(score.ended_by))
        what = rack_word(session.game)
        return f"{player_name(session, score.winner)} won the {what}: {word(score.ended_by)}"
    last = score.shots[-1] if score.shots else None
    if last is not None and "no_facts" in last.warnings and last.outcome is not None:
        # What came of the last stroke is not said yet, so it is still the one in question.
        return f"{player_name(session, last.player)} at the table, on: {on_words(last.balls_on)}"
    who = " or ".join(player_name(session, player) for player in score.next_players)
    return f"{who} to play, on: {on_words(score.balls_on)}" if score.balls_on else f"{who} to play"


def on_words(balls: tuple[str, ...]) -> str:
    """What is on, in few words: a ball, a red, any colour, or a range of numbers."""
    if not balls:
        return "nothing"
    if all(ball.startswith("red") for ball in balls):
        return "a red"
    if len(balls) > 1 and not balls[0].isdigit():
        return "a colour"
    if len(balls) > 7:
        return f"{balls[0]} to {balls[-1]}"
    return ", ".join(ball_word(ball) for ball in balls)


def rack_line(snapshot: Snapshot, rack: RackRow) -> str:
    """All that stands beside a rack's shots: how it went, what choices and strokes gave away, its lesson."""
    story = rack_story(snapshot.head, rack.complete, snapshot.rack_score(rack.key))
    place = snapshot.rack_index(rack.key)
    if place and snapshot.racks[place - 1].record.not_shown:
        story = f"After {rack_word(snapshot.head.game)}s that are not shown; score as stated. {story}"
    sums = rack_sums([row.record for row in rack.shots])
    gone = set_up_again_words(snapshot, rack) or (f"{sentence(sums)}." if sums else "")
    lesson = f"Lesson: {rack.record.lesson}" if rack.record.lesson else ""
    if (gone or lesson) and not story.endswith("."):
        story += "."
    return " ".join(part for part in (story, gone, lesson) if part)


def rack_story(session: Session, rack: Rack, score: RackScore | None) -> str:
    """How the rack went in a sentence or two: who won it, where it was lost, and where that began."""
    if score is None or score.ended_by is None:
        return rack_words(session, score)
    words = [f"{rack_words(session, score)}."]
    lost = _losing_shot(rack, score)
    if lost is not None:
        number, cause = lost
        began = f"; it began at shot {cause}" if cause is not None and cause != number else ""
        words.append(f"Lost at shot {number}{began}.")
    return " ".join(words)


def _losing_shot(rack: Rack, score: RackScore) -> tuple[int, int | None] | None:
    """The loser's last shot that gave the table away, and the shot that caused it when that is known."""
    for shot, judged in zip(reversed(rack.shots or ()), reversed(score.shots), strict=True):
        outcome = judged.outcome
        if outcome is None or judged.player == score.winner or not outcome.turn_ends:
            continue
        if shot.intent in ("safety", "push_out") and outcome.legal:
            continue
        causes = [e.cause_shot for e in recorded_errors(shot) if e.cause_shot is not None]
        return shot.number, causes[0] if causes else rack.root_shot
    return None
