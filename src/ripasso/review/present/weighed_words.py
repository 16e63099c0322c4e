"""What choices and strokes gave away, in words: of a shot, and of a rack as one line."""

from __future__ import annotations

from collections.abc import Sequence

from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.language.translation import tr
from ripasso.review.language.vocabulary import ball_word, count, pocket_word, rack_word, word
from ripasso.review.record.model import Shot, WeighedOption
from ripasso.review.scoring.weighed import (
    chose_as_good,
    cleared_away,
    gained_on,
    gone_by_choice,
    gone_by_stroke,
    gone_of_rack,
    losing_shot,
    weighing_of,
)
from ripasso.review.table.same_layouts import met_before, set_up_before

#: A stroke that gave away less than this, or gained less, is told as neither.
LITTLE = 0.005


def weighed_words(shot: Shot, game: str | None) -> list[str]:
    """Few words each on the choice and on the stroke; nothing where it was not weighed."""
    found = weighing_of(shot)
    if found is None:
        return []
    choice, stroke = gone_by_choice(shot), gone_by_stroke(shot)
    if choice is None:
        return [tr("choice not among what was found")]
    told = tr("choice as good as any")
    if not chose_as_good(shot):
        told = f"choice gave away {choice:.2f}, {option_words(found.best, game)} was worth more"
    words = [told, *_clear_words(shot)]
    if stroke is None:
        return words
    if abs(stroke) < LITTLE:
        return [*words, tr("stroke as it promised")]
    return [*words, f"stroke gave away {stroke:.2f}" if stroke > 0 else f"stroke gained {-stroke:.2f}"]


def _clear_words(shot: Shot) -> list[str]:
    """The chance to clear before the shot, and after it where that is known; nothing where it is not."""
    found = weighing_of(shot)
    clear = found.clear if found is not None else None
    if clear is None:
        return []
    after = f", {100 * clear.after:.0f} % after it" if clear.after is not None else ""
    return [f"to clear {100 * clear.before:.0f} % before it{after}"]


def met_again_words(snapshot: Snapshot, row: ShotRow) -> list[str]:
    """What tells a shot apart from the one before it from the same layout, such as "same layout as shot 3 of
    rack 1" and "beside it the choice gained 0.06, the stroke gained 0.31".

    Nothing where there is none, or where not both are known.
    """
    met = met_before(snapshot, row)
    apart = gained_on(row.record, met[1].record) if met is not None else None
    if met is None or apart is None:
        return []
    rack, shot = met
    where = f"shot {shot.record.number}"
    if rack.key != row.rack:
        where += f" of {rack_word(snapshot.head.game)} {rack.record.number}"
    choice, stroke = map(_gained, apart)
    return [f"same layout as {where}", f"beside it the choice {choice}, the stroke {stroke}"]


def _gained(value: float) -> str:
    if abs(value) < LITTLE:
        return "was as good"
    return f"gained {value:.2f}" if value > 0 else f"lost {-value:.2f}"


def set_up_again_words(snapshot: Snapshot, rack: RackRow) -> str | None:
    """What a rack lost beside the one before it that began with the same layout, as a sentence.

    None where none did, or its choices were not weighed.
    """
    earlier = set_up_before(snapshot, rack)
    now = gone_of_rack([row.record for row in rack.shots])
    then = gone_of_rack([row.record for row in earlier.shots]) if earlier is not None else None
    if earlier is None or now is None or then is None:
        return None
    where = f"{rack_word(snapshot.head.game)} {earlier.record.number}"
    told, before = _by_both(*now), _by_both(*then)
    return f"{told[0].upper()}{told[1:]}; {where}, from the same layout, {before}."


def _by_both(choices: float, strokes: float) -> str:
    """What went by choices and by strokes: "lost 0.31 by choices, 0.52 by strokes", "…, gained 0.11 by …"."""
    verbs = ["lost" if value > -LITTLE else "gained" for value in (choices, strokes)]
    second = "" if verbs[0] == verbs[1] else f"{verbs[1]} "
    return f"{verbs[0]} {abs(choices):.2f} by choices, {second}{abs(strokes):.2f} by strokes"


def option_words(option: WeighedOption, game: str | None) -> str:
    """Such as "the 4 to foot left" or "a safety"."""
    if option.pocket is not None and option.ball is not None:
        kind = "" if option.kind in (None, "pot") else f"{word(option.kind or '')}, "
        return f"{kind}the {ball_word(option.ball)} to {pocket_word(option.pocket, game)}"
    return f"a {word('kick' if option.kind == 'kick' else 'safety')}"


def rack_sums(shots: Sequence[Shot]) -> str | None:
    """A rack's sums in one line, such as "lost 0.31 by choices, 0.52 by strokes, most at shot 5".

    None where nothing was weighed. A stroke that gained counts against those that gave away.
    """
    choices = {shot.number: value for shot in shots if (value := gone_by_choice(shot)) is not None}
    strokes = {shot.number: value for shot in shots if (value := gone_by_stroke(shot)) is not None}
    if not choices:
        return None
    both = {number: choices[number] + strokes.get(number, 0.0) for number in choices}
    most = max(both, key=lambda number: both[number])
    lost = sum(choices.values())
    told = f"{count(len(choices), 'shot')} weighed: "
    if strokes:
        told += _by_both(lost, sum(strokes.values()))
    else:
        told += f"lost {lost:.2f} by choices"
    return told + (f", most at shot {most}" if both[most] > LITTLE else "")


def rack_given_away(shots: Sequence[Shot]) -> str | None:
    """A rack's sums, and what became of the chance to clear; None where nothing was weighed."""
    told = rack_sums(shots)
    return told + clearing_story(shots) if told is not None else None


def clearing_story(shots: Sequence[Shot]) -> str:
    """What became of the chance to clear over a rack, behind its sums; empty where it is not known."""
    gone = [away for shot in shots if (away := cleared_away(shot)) is not None]
    worst = losing_shot(shots)
    if not gone or worst is None:
        return ""
    choices, strokes = sum(one for one, _ in gone), sum(one for _, one in gone)
    number, most = worst
    return f"; the chance to clear {_by_both(choices, strokes)}, most at shot {number}: {most:.2f}"
