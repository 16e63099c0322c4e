"""The sixty faults that `make mutants` puts into a copy of the source, one at a time.

Each is a line as it stands, the same line made wrong, and the tests that are tried first. They are in what
figures rest on: the core, the document, the rows and the library.
"""

from __future__ import annotations

from typing import NamedTuple


class Fault(NamedTuple):
    """A file below `src/ripasso`, a text that stands in it once, what replaces it, the tests tried first."""

    path: str
    right: str
    wrong: str
    tests: str


FAULTS = (
    # Arithmetic of inference
    Fault(
        "core/inference/estimates.py",
        "counts.append(math.ceil(at - 0.5))",
        "counts.append(math.ceil(at))",
        "core.test_estimates",
    ),
    Fault(
        "core/inference/estimates.py",
        "for q in (0.975, 0.025)",
        "for q in (0.975, 0.05)",
        "core.test_estimates",
    ),
    Fault("core/inference/estimates.py", "array.std(ddof=1)", "array.std(ddof=0)", "core.test_estimates"),
    Fault(
        "core/inference/estimates.py",
        "p < 0.05 and runs < middle",
        "p < 0.05 or runs < middle",
        "core.test_estimates",
    ),
    Fault(
        "core/inference/intervals.py", "return self.of < FEW", "return self.of <= FEW", "core.test_intervals"
    ),
    Fault(
        "core/inference/intervals.py",
        "chdtri(2 * (count + 1), tail)",
        "chdtri(2 * count, tail)",
        "core.test_intervals",
    ),
    Fault("core/figures/answers.py", "p < LEVEL * rank / len(tested)", "p < LEVEL", "core.test_questions"),
    # Geometry
    Fault("core/geometry/pots.py", "closed = full <= 0", "closed = full < -0.1", "core.test_geometry"),
    Fault(
        "core/geometry/pots.py",
        "near = (foot > 0) & (foot < reach[:, None] + radius)",
        "near = (foot > 0) & (foot < reach[:, None] - radius)",
        "core.test_geometry",
    ),
    Fault("core/geometry/pots.py", "edge = radius - radius / 4", "edge = radius", "core.test_geometry"),
    Fault(
        "core/geometry/pots.py",
        "np.abs(cut) > STEEPEST_CUT",
        "np.abs(cut) > 2 * STEEPEST_CUT",
        "core.test_geometry",
    ),
    Fault(
        "core/geometry/pots.py",
        "in_way = segment_distance(cue[:, None], ghost[:, None], others) < 2 * radius",
        "in_way = segment_distance(cue[:, None], ghost[:, None], others) < radius",
        "core.test_geometry",
    ),
    Fault(
        "core/geometry/position.py",
        'return "right_side" if (aim > 0) == (rest > 0)',
        'return "right_side" if (aim > 0) != (rest > 0)',
        "core.test_geometry",
    ),
    Fault("core/geometry/zones.py", "inside = not inside", "inside = True", "core.test_zones"),
    Fault(
        "core/geometry/sight.py",
        "(np.abs(sideways) < 2 * radius)",
        "(np.abs(sideways) < radius)",
        "core.test_geometry",
    ),
    Fault("core/table/placing.py", "MENDED_RADII = 0.5", "MENDED_RADII = 1.0", "review.test_layouts"),
    # Measures and errors
    Fault(
        "core/measures/shots.py",
        "sum(legs) >= LONG_TOGETHER * table_length and max(legs)",
        "sum(legs) >= LONG_TOGETHER * table_length or max(legs)",
        "core.test_boundaries",
    ),
    Fault(
        "core/measures/shots.py",
        "return min(0.0, cut - low) + max(0.0, cut - high)",
        "return min(0.0, cut - low) - max(0.0, cut - high)",
        "core.test_boundaries",
    ),
    Fault("core/measures/shots.py", "else visible == 0.0,", "else visible < 0.5,", "core.test_boundaries"),
    Fault(
        "core/measures/errors.py",
        "return seen.leave >= limits.open and free",
        "return free",
        "core.test_boundaries",
    ),
    Fault(
        "core/measures/errors.py",
        "free = seen.best_chance >= limits.open or not seen.snookered",
        "free = seen.best_chance >= limits.open and not seen.snookered",
        "core.test_boundaries",
    ),
    Fault(
        "core/measures/errors.py",
        'if shot.intent == "safety" and not shot.fouled and leave',
        'if shot.intent == "safety" and leave',
        "core.test_boundaries",
    ),
    Fault(
        "core/measures/errors.py",
        "    if shot.failed:",
        "    if shot.failed and shot.made:",
        "core.test_boundaries",
    ),
    Fault(
        "core/measures/errors.py",
        "if shot.visit is None or shot.visit != visit or not _off(shot, limits):",
        "if shot.visit is None or not _off(shot, limits):",
        "review.test_roots",
    ),
    Fault("core/measures/attempts.py", "since = marks[i - 1] if i else 0", "since = 0", "core.test_attempts"),
    # Figures
    Fault(
        "core/figures/rates.py",
        '(facts.flags("goes_to_other") | facts.flags("fouled"))',
        'facts.flags("goes_to_other")',
        "core.test_rates",
    ),
    Fault(
        "core/figures/rates.py",
        '~facts.flags("fouled") & ~facts.flags("answered")',
        '~facts.flags("answered")',
        "core.test_rates",
    ),
    Fault(
        "core/figures/rates.py",
        "clean & (leave < OPEN_LEAVE)",
        "clean & (leave <= OPEN_LEAVE)",
        "core.test_rates",
    ),
    Fault(
        "core/figures/ledger.py",
        "visit.balls >= RUN_OUT_BALLS",
        "visit.balls > RUN_OUT_BALLS",
        "core.test_ledger",
    ),
    Fault(
        "core/figures/ledger.py",
        'if visit.ended_by != "rack_won" or rack.ended_by == "conceded":',
        'if visit.ended_by != "rack_won":',
        "core.test_ledger",
    ),
    Fault(
        "core/figures/rack_results.py",
        "if in_gap is None or (won and (others or not gaps)):",
        "if in_gap is None or (won and others):",
        "statistics.test_counting",
    ),
    Fault(
        "core/figures/player_stats.py",
        "ball, pocket = to_ball >= LONG_LEG * length, to_pocket >= LONG_LEG * length",
        "ball, pocket = to_ball > LONG_LEG * length, to_pocket > LONG_LEG * length",
        "core.test_player",
    ),
    Fault(
        "core/figures/player_stats.py",
        "rate_of(legal & (potted == 0))",
        "rate_of(potted == 0)",
        "core.test_player",
    ),
    Fault(
        "core/figures/slices.py",
        "(values >= low) & (values < high)",
        "(values > low) & (values < high)",
        "core.test_slices",
    ),
    Fault(
        "core/figures/slices.py",
        "late: Flags = racks > last[sessions] / 2",
        "late: Flags = racks >= last[sessions] / 2",
        "core.test_slices",
    ),
    # Rules
    Fault(
        "core/rules/snooker.py",
        "if not only_black or not (fouled or outcome.counted):",
        "if not only_black or not (fouled and outcome.counted):",
        "core.test_snooker",
    ),
    Fault(
        "core/rules/snooker.py", "if deficit <= remaining:", "if deficit < remaining:", "core.test_snooker"
    ),
    Fault(
        "core/rules/snooker.py",
        "if free is not None and free in fallen and free != state.on:",
        "if free is not None and free in fallen:",
        "core.test_snooker",
    ),
    Fault(
        "core/rules/eight_ball.py",
        "if self._calls and (shot.call_ball not in (None, EIGHT) or not fell(shot, EIGHT)):",
        "if self._calls and shot.call_ball not in (None, EIGHT):",
        "core.test_eight_ball",
    ),
    Fault(
        "core/rules/match.py",
        "if race_to is not None and winner is None and score[rack.winner] >= race_to:",
        "if race_to is not None and winner is None and score[rack.winner] > race_to:",
        "core.test_nine_ball",
    ),
    Fault(
        "core/rules/match.py",
        "if self._rack.conceded_by is not None and self._ended_by is None:",
        "if self._rack.conceded_by is not None:",
        "core.test_nine_ball",
    ),
    Fault(
        "core/rules/match.py",
        "if step is None or step.facts is not rack or not _same(step.before, progress):",
        "if step is None or step.facts is not rack:",
        "review.test_by_rack",
    ),
    # The document
    Fault("review/document/document.py", "        self._undone.clear()\n", "", "review.test_undo"),
    Fault(
        "review/document/document.py",
        "        self._storage.commit(changes, derived)\n        if derived is None:",
        "        if derived is not None:\n            self._derived[session] = derived\n"
        "        self._storage.commit(changes, derived)\n        if derived is None:",
        "review.test_derived",
    ),
    Fault(
        "review/document/renumbering.py",
        'for name in ("root_shot", "making_shot")',
        'for name in ("root_shot",)',
        "review.test_undo",
    ),
    Fault(
        "review/document/renumbering.py",
        '_follow(error, "cause_shot", moves)',
        '_follow(error, "cause_shot", {})',
        "review.test_undo",
    ),
    Fault(
        "review/document/edits.py",
        "changes += moved_parts(snapshot, {**moves, rack.record.number: None})",
        "changes += moved_parts(snapshot, moves)",
        "review.test_film_parts",
    ),
    Fault(
        "review/record/proposals.py",
        "return first[:shared] == second[:shared]",
        "return first == second",
        "review.test_proposals",
    ),
    Fault(
        "review/scoring/outcome.py",
        "down and not fouled and not fluke",
        "down and not fluke",
        "review.test_context",
    ),
    Fault(
        "review/scoring/meant.py",
        "(not pocket or not p.pocket or p.pocket == pocket)",
        "(not pocket or p.pocket == pocket)",
        "review.test_context",
    ),
    Fault(
        "review/scoring/balls_on.py",
        "if game in LOWEST_FIRST:",
        'if game == "nine_ball":',
        "review.test_context",
    ),
    Fault(
        "review/measuring/measuring.py",
        "has_next=later is not None and not over,",
        "has_next=later is not None,",
        "review.test_measured",
    ),
    Fault(
        "review/measuring/errors.py",
        "leaves_to_other=later is not None and later.player != shot.player,",
        "leaves_to_other=later is not None,",
        "review.test_measured",
    ),
    Fault(
        "review/entry/marking.py",
        "s.record.t_strike < at.t]",
        "s.record.t_strike <= at.t - 60]",
        "review.test_marking",
    ),
    # Rows and the library
    Fault(
        "statistics/rows/encoding.py",
        'leaves_to_other=columns["goes_to_other"][place],',
        "leaves_to_other=True,",
        "statistics.test_columns",
    ),
    Fault(
        "statistics/rows/shot_rows.py",
        "return head, rack, gaps, earlier, *",
        "return head, rack, gaps, *",
        "review.test_by_rack",
    ),
    Fault(
        "statistics/library_index.py",
        "if key not in self._known or self._known[key][0] != counts[key]]",
        "if key not in self._known]",
        "statistics.test_columns",
    ),
    Fault(
        "store/file/engine.py", '"BEGIN IMMEDIATE" if writes else "BEGIN"', '"BEGIN"', "store.test_library"
    ),
    Fault(
        "store/library.py",
        "if count == self.changes(key)}",
        "if count >= 0}",
        "statistics.test_columns",
    ),
    Fault(
        "store/rows/figure_rows.py",
        "moved = [key for key, at in fresh.items() if known.get(key) != at]",
        "moved = [key for key in fresh if key not in known]",
        "review.test_derived",
    ),
)
