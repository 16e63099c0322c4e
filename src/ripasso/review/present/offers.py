"""What the state of the rack allows for a shot, as the slip offers it: balls to call or to name, and choices.

To add a choice: its word among what a game's `may` answers, and the action that takes it in `CHOICES`.
"""

from __future__ import annotations

from dataclasses import dataclass

from ripasso.core.rules import ShotScore
from ripasso.core.rules.eight_ball import group_of
from ripasso.core.rules.snooker import is_red
from ripasso.review.present.standing import GROUP_WORDS
from ripasso.review.record.model import Session, Shot
from ripasso.review.record.proposals import without_proposals
from ripasso.review.scoring.meant import meant_ball

#: Which action takes a choice that the rules allow.
CHOICES = {
    "push_out": "intent_push_out",
    "rerack": "intent_break",
    "free_ball": "free_ball",
    "replaced": "replaced",
    "other_player": "other_player",
}
CALLED_GAMES = ("eight_ball", "ten_ball", "straight_pool")


@dataclass(frozen=True)
class Offers:
    """What is on in words, the balls to choose from (any red is one), the chosen one, and actions."""

    lead: str = ""
    balls: tuple[str, ...] = ()
    chosen: str | None = None
    hint: str = ""
    actions: tuple[str, ...] = ()


def offers_for(session: Session, shot: Shot, judged: ShotScore | None) -> Offers:
    """What the rules allow for a shot; empty for a break and where the rules are not known."""
    if judged is None:
        return Offers()
    actions = tuple(CHOICES[name] for name in judged.may)
    if len(judged.may_play) > 1:
        actions = (*actions, CHOICES["other_player"])
    if shot.intent == "break" and "rerack" not in judged.may:
        return Offers(actions=actions)
    if shot.free_ball:
        return Offers("Free ball: name it", _balls(judged.on_table), _chosen(shot, judged), "", actions)
    lead, hint = _words(session, judged)
    return Offers(lead, _balls(judged.balls_on), _chosen(shot, judged), hint, actions)


def _balls(names: tuple[str, ...] | frozenset[str]) -> tuple[str, ...]:
    """The balls in order, all reds as one: nobody is asked which red it is."""
    order = names if isinstance(names, tuple) else tuple(sorted(names, key=_rank))
    reds = ("red",) if any(is_red(ball) for ball in order) else ()
    return (*reds, *(ball for ball in order if not is_red(ball)))


def _rank(ball: str) -> tuple[int, int]:
    if ball.isdecimal():
        return 0, int(ball)
    colours = ("yellow", "green", "brown", "blue", "pink", "black")
    return 1, colours.index(ball) if ball in colours else -1


def _chosen(shot: Shot, judged: ShotScore) -> str | None:
    ball = meant_ball(without_proposals(shot), judged)
    if ball is None and judged.balls_on and all(is_red(on) for on in judged.balls_on):
        return "red"
    return "red" if is_red(ball) else ball


def _words(session: Session, judged: ShotScore) -> tuple[str, str]:
    """What is on, and what a call needs besides."""
    rules, on = session.rules or {}, judged.balls_on
    if session.game == "snooker":
        return ("On", "") if len(on) == 1 or (on and is_red(on[0])) else ("Name the colour", "")
    called = session.game in CALLED_GAMES and rules.get("call_shots") is not False
    if session.game == "eight_ball":
        groups = {group_of(ball) for ball in on if ball != "8"}
        lead = "Open table" if len(groups) > 1 else GROUP_WORDS.get(next(iter(groups), None) or "", "The 8")
        return lead.capitalize() if groups else lead, "call ball and pocket" if called else ""
    if session.game == "ten_ball":
        return "Hit first", "any ball may be called"
    return ("Call", "ball and pocket") if called else ("On", "")
