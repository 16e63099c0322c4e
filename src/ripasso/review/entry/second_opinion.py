"""Comments with names, and a second reviewer's findings beside the first's; how far both agree."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from ripasso.core.inference.intervals import Rate, rate
from ripasso.core.json_data import JsonObject
from ripasso.review.document.edits import REMOVE, Path, with_values
from ripasso.review.entry.tagging import Context
from ripasso.review.entry.word_values import changed_shot
from ripasso.review.language.items import Item
from ripasso.review.record.model import OtherReview, Session, Shot, serialize

Values = dict[Path, object]
#: What both may have judged: the path of each finding.
FINDINGS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("position", ("result", "position")),
    ("pace", ("result", "pace")),
    ("side", ("result", "side")),
    ("angle", ("result", "angle")),
    ("contact", ("result", "contact")),
    ("luck", ("result", "luck")),
    ("decision", ("decision", "verdict")),
)


@dataclass(frozen=True)
class Agreement:
    """How often two reviewers say the same of a finding that both judged; kappa takes chance out."""

    finding: str
    same: Rate
    kappa: float | None


def with_comment(shot: Shot, by: str, text: str, at: str | None = None) -> Values:
    """The comments of a shot and one more."""
    comment: JsonObject = {"text": text, "at": at or date.today().isoformat()}
    if by:
        comment["by"] = by
    return {("comments",): [*(serialize(one) for one in shot.comments or ()), comment]}


def without_comment(shot: Shot, place: int) -> Values:
    """The comments without one."""
    rest = [serialize(one) for i, one in enumerate(shot.comments or ()) if i != place]
    return {("comments",): rest or REMOVE}


def with_second(context: Context, by: str, items: Iterable[Item]) -> Values:
    """What a second reviewer says of a shot, beside the first's findings: result, decision and error only.

    The words are read as if nobody had judged the shot yet; the facts are those of the record.
    """
    shot = context.shot
    bare = with_values(shot, {(key,): REMOVE for key in ("result", "decision", "error")})
    assert isinstance(bare, Shot)
    said = serialize(changed_shot(Context(bare, context.game, context.judged), tuple(items)))
    listed = [serialize(one) for one in shot.others or ()]
    mine = next((one for one in listed if one.get("by") == by), None)
    if mine is None:
        mine = {"by": by}
        listed.append(mine)
    for key in ("result", "decision", "error"):
        if key in said:
            value = said[key]
            known = mine.get(key)
            mine[key] = {**known, **value} if isinstance(known, dict) and isinstance(value, dict) else value
    return {("others",): listed}


def _value(data: Any, path: tuple[str, ...]) -> Any:
    for key in path:
        data = data.get(key) if isinstance(data, dict) else None
    return data


def reviewers(session: Session) -> tuple[str, ...]:
    """Everybody whose second findings are in a session."""
    shots = [shot for rack in session.racks or () for shot in rack.shots or ()]
    return tuple(dict.fromkeys(other.by for shot in shots for other in shot.others or () if other.by))


def agreement(session: Session, by: str) -> tuple[Agreement, ...]:
    """How far the first and a second reviewer agree, finding by finding; those both judged count."""
    pairs: dict[str, list[tuple[Any, Any]]] = {name: [] for name, _ in FINDINGS}
    for rack in session.racks or ():
        for shot in rack.shots or ():
            other = next((one for one in shot.others or () if one.by == by), None)
            if other is None:
                continue
            first, second = serialize(shot), serialize(other)
            for name, path in FINDINGS:
                values = (_value(first, path), _value(second, path))
                if None not in values:
                    pairs[name].append(values)
    return tuple(
        Agreement(name, rate(sum(a == b for a, b in found), len(found)), kappa(found))
        for name, found in pairs.items()
        if found
    )


def kappa(pairs: list[tuple[Any, Any]]) -> float | None:
    """Cohen's kappa (Cohen 1960): agreement beyond chance; None where chance alone would always agree."""
    if not pairs:
        return None
    count = len(pairs)
    observed = sum(a == b for a, b in pairs) / count
    values = {value for pair in pairs for value in pair}
    expected = sum(
        sum(a == value for a, _ in pairs) * sum(b == value for _, b in pairs) for value in values
    ) / (count * count)
    return (observed - expected) / (1 - expected) if expected < 1 else None


def second_words(other: OtherReview) -> str:
    """What a second reviewer says, in a few words of the record."""
    data = serialize(other)
    parts = [str(value).replace("_", " ") for _, path in FINDINGS if (value := _value(data, path))]
    errors = data.get("error") or []
    for error in errors if isinstance(errors, list) else [errors]:
        causes = ", ".join(error.get("causes") or ()).replace("_", " ")
        parts.append(f"{error['kind']} error" + (f" by {causes}" if causes else ""))
    return ", ".join(parts) or "nothing"
