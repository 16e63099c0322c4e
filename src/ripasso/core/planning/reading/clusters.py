"""Balls of a layout that touch or nearly do."""

from __future__ import annotations

import math

from ripasso.core.planning.problem import Problem

#: Balls nearer than this besides their two radii are a cluster (m).
GAP_M = 0.005


def clusters(problem: Problem) -> list[tuple[str, ...]]:
    """Balls that touch or nearly do, as groups of two and more."""
    layout = {ball: place for ball, place in problem.layout.items() if ball != "cue"}
    reach = 2 * problem.spec.ball_radius + GAP_M
    left, found = set(layout), []
    while left:
        group, todo = [], [min(left)]
        while todo:
            ball = todo.pop()
            if ball not in left:
                continue
            left.discard(ball)
            group.append(ball)
            todo += [other for other in sorted(left) if math.dist(layout[ball], layout[other]) <= reach]
        if len(group) > 1:
            found.append(tuple(sorted(group)))
    return sorted(found)
