"""A rack worked out for somebody who waits: a first answer soon, then the fine one; both are kept."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

from ripasso.core.physics.players import Spreads
from ripasso.core.planning.backward.plans import RackPlan, best_place, plan_of
from ripasso.core.planning.backward.setting import Setting, setting_of
from ripasso.core.planning.backward.solving import Rack, rack_of, solve
from ripasso.core.planning.problem import Problem
from ripasso.core.table.places import Place

#: So many racks are kept for a second look; each holds some hundred megabytes.
KEPT = 2
#: The first answer takes this share of the work, about.
FIRST = 0.12
#: A spread decides that costs so much of the chance when it is doubled, and more than the others do.
DECIDES = 0.02


@dataclass(frozen=True)
class Worked:
    """A rack with its maps and its plan from where the cue ball lies, in hand from the best place.

    `plan` is None where nothing is on; `fine` False for the first answer.
    """

    rack: Rack
    cue: Place
    plan: RackPlan | None
    fine: bool


#: Told how far the work is, and the first answer once it stands; says whether to go on.
Progress = Callable[[float, Worked | None], bool]
_kept: OrderedDict[object, Worked] = OrderedDict()


def key_of(problem: Problem, spreads: Spreads) -> object:
    """What a rack is known by: balls, table, what is on, and the player."""
    layout = tuple(sorted(problem.layout.items()))
    return (problem.game, problem.spec, problem.physics, layout, problem.on, spreads)


def known(problem: Problem, spreads: Spreads) -> Worked | None:
    """A rack that was worked out before."""
    return _kept.get(key_of(problem, spreads))


def work_out(problem: Problem, spreads: Spreads, progress: Progress = lambda share, first: True) -> Worked:
    """Work a rack out; raises `ValueError` without a ball on, `Stopped` where `progress` says so."""
    key = key_of(problem, spreads)
    if key in _kept:
        _kept.move_to_end(key)
        return _kept[key]
    first = _worked(problem, setting_of(problem, spreads, coarse=True), lambda s: progress(FIRST * s, None))
    progress(FIRST, first)
    found = _worked(
        problem,
        setting_of(problem, spreads),
        lambda share: progress(FIRST + (1 - FIRST) * share, None),
        before=first.rack,
    )
    _kept[key] = found
    while len(_kept) > KEPT:
        _kept.popitem(last=False)
    return found


def _worked(
    problem: Problem, setting: Setting, progress: Callable[[float], bool], *, before: Rack | None = None
) -> Worked:
    """The rack on a net; the windows of pockets are those of the first answer, where there was one."""
    rack = rack_of(problem, setting)
    if before is not None:
        rack.windows.update(before.windows)
        if rack.opened is not None and before.opened is not None:
            rack.opened.windows.update(before.opened.windows)
    solve(rack, progress)
    cue = problem.layout.get("cue") or best_place(rack, rack.order.start)[0]
    is_fine = before is not None
    return Worked(rack, cue, plan_of(rack, cue, with_others=is_fine), is_fine)


def what_decides(problem: Problem, spreads: Spreads, go_on: Callable[[], bool]) -> str | None:
    """Which spread costs most when it is doubled: "aim", "speed" or "tip"; None where none costs much.

    By the wide net, each against the chance there.
    """

    def chance(own: Spreads) -> float:
        rack = rack_of(problem, setting_of(problem, own, coarse=True))
        solve(rack, lambda _share: go_on())
        cue = problem.layout.get("cue") or best_place(rack, rack.order.start)[0]
        return rack.value_at(rack.order.start, cue)

    usual = chance(spreads)
    doubled = {
        "aim": spreads.times(aim=2.0),
        "speed": spreads.times(speed=2.0),
        "tip": spreads.times(tip=2.0),
    }
    costs = {name: usual - chance(own) for name, own in doubled.items()}
    worst = max(costs, key=lambda name: costs[name])
    return worst if costs[worst] >= DECIDES else None
