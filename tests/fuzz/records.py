"""Sessions that hold any key of the format, made from the model itself and from the demo."""

from __future__ import annotations

import random
import types
from functools import cache
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from ripasso.core.rules import SessionFacts, game_for
from ripasso.demo.matches.sessions import shipped
from ripasso.review.record.model import FORMAT, Session, serialize
from ripasso.review.record.parts import Zone
from ripasso.review.record.values import Game

GAMES: tuple[str, ...] = get_args(Game)
PEOPLE = ("a", "b")
RACKS, SHOTS, DEEP = 2, 5, 3
POINTERS = ("/t_strike", "/facts/potted", "/before/cue", "/plan", "/facts/potted/0/ball", "/result/contact")


def some_session(chance: random.Random) -> dict[str, Any]:
    """A session in order: one of the demo's cut short, or one with keys at random."""
    if chance.random() < 0.4:
        return cut_short(chance.choice(shipped()), chance)
    return Sampler(chance).session()


def cut_short(session: Session, chance: random.Random) -> dict[str, Any]:
    """A few racks of a session with a few shots each."""
    data = serialize(session)
    racks = data.get("racks") or []
    first = chance.randrange(max(1, len(racks) - RACKS))
    data["racks"] = [
        {**rack, "shots": (rack.get("shots") or [])[:SHOTS]} for rack in racks[first : first + RACKS]
    ]
    return data


def _bounds(notes: tuple[Any, ...]) -> list[Any]:
    """The bounds that a type was given."""
    return [bound for note in notes for bound in getattr(note, "metadata", [note])]


@cache
def _balls(game: str) -> tuple[str, ...]:
    return ("cue", *game_for(SessionFacts(game, PEOPLE)).balls)


class Sampler:
    """Writes values of the types of the model."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance
        self._game = chance.choice(GAMES)
        self._balls = _balls(self._game)
        self._deep = 0

    def session(self) -> dict[str, Any]:
        """A session that the format allows."""
        made = self.record(Session)
        made |= {
            "format": FORMAT,
            "version": 1,
            "id": "fuzz",
            "title": self._text(),
            "game": self._game,
            "players": [{"id": one, "name": self._text()} for one in PEOPLE],
        }
        made["rules"] = {"race_to": 3, "reds": 6, "target_points": 50}
        made["racks"] = [
            {**self._named("Rack"), "number": r + 1, "shots": [self._shot(n + 1) for n in range(SHOTS)]}
            for r in range(self._chance.randint(1, RACKS))
        ]
        for name in ("recordings", "attempt_sets"):
            for i, one in enumerate(made.get(name) or ()):
                one["id"] = f"{name}-{i}"
        return made

    def _named(self, name: str) -> dict[str, Any]:
        from ripasso.review.record import model

        return self.record(getattr(model, name))

    def _shot(self, number: int) -> dict[str, Any]:
        return {**self._named("Shot"), "number": number, "player": self._chance.choice(PEOPLE)}

    def record(self, kind: type[BaseModel]) -> dict[str, Any]:
        """An object of the model with some of its keys."""
        self._deep += 1
        made = {}
        for name, field in kind.model_fields.items():
            if name in {"racks", "shots", "any_of"} or (self._deep > DEEP and kind is Zone):
                continue
            if field.is_required() or self._chance.random() < 0.35:
                made[field.alias or name] = self._field(name, field)
        self._deep -= 1
        return made

    def _field(self, name: str, field: FieldInfo) -> Any:
        if "ball" in name or name == "first_contact":
            kinds = get_args(field.annotation)
            if field.annotation is str or str in kinds:
                return self._chance.choice(self._balls)
        if name == "proposed":
            return {self._chance.choice(POINTERS): 0.5 for _ in range(2)}
        if name in {"breaker", "by", "player", "conceded_by"} and str in get_args(field.annotation):
            return self._chance.choice(PEOPLE)
        return self.value(field.annotation)

    def value(self, kind: Any) -> Any:
        """A value of a type."""
        origin, inner = get_origin(kind), get_args(kind)
        if origin is Annotated:
            is_share = any(getattr(bound, "le", None) == 1 for bound in _bounds(inner[1:]))
            return round(self._chance.random(), 3) if is_share else self.value(inner[0])
        if origin is Literal:
            return self._chance.choice(inner)
        if origin in {Union, types.UnionType}:
            return self.value(self._chance.choice(inner))
        if origin is tuple:
            return self._tuple(inner)
        if origin is dict:
            return {self._chance.choice(self._balls): self.value(inner[1]) for _ in range(3)}
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            return self.record(kind)
        return self._plain(kind)

    def _tuple(self, inner: tuple[Any, ...]) -> list[Any]:
        if inner[-1] is not Ellipsis:
            return [self.value(one) for one in inner]
        return [self.value(inner[0]) for _ in range(self._chance.choice((0, 1, 1, 2, 4)))]

    def _plain(self, kind: Any) -> Any:
        if kind is type(None):
            return None
        if kind is bool:
            return self._chance.random() < 0.5
        if kind is int:
            return self._chance.choice((0, 1, 2, 5, 12))
        if kind is float:
            return round(self._chance.choice((0.02, 0.6, 1.2, 2.5)) * self._chance.random(), 4)
        if kind is str:
            return self._text()
        return {}

    def _text(self) -> str:
        return self._chance.choice(
            ("Ada Pot", "Ötzi <b>", "=SUM(A1)", "tag:final", "a", "2026-03-04", "$\\frac$", "line\nline")
        )
