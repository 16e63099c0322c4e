"""What the command line prints where no JSON is asked for: reports as lines to be read."""

from __future__ import annotations

from collections.abc import Iterator

from ripasso.core.json_data import JsonObject
from ripasso.review.language.vocabulary import word, words


def score_lines(report: JsonObject) -> Iterator[str]:
    """Racks and shots by the rules; problems are not among them."""
    for rack in report["racks"]:
        end = f"won by {rack['winner']}, {word(rack['ended_by'])}" if rack["ended_by"] else "not finished"
        yield f"Rack {rack['number']}: {end}"
        for shot in rack["shots"]:
            legal = {True: "legal", False: "foul: " + words(shot["fouls"]), None: "not judged"}[shot["legal"]]
            counted = f", counted {', '.join(shot['counted'])}" if shot["counted"] else ""
            warned = f"  ({words(shot['warnings'])})" if shot["warnings"] else ""
            yield f"  {shot['number']:>3}  {shot['player'] or '?':<12} {legal}{counted}{warned}"
    score = " – ".join(f"{player} {racks}" for player, racks in report["match"]["score"].items())
    yield f"Match: {score}"


def stats_lines(report: JsonObject) -> Iterator[str]:
    """The main figures of each player."""
    for player in report["players"].values():
        yield f"{player['name']}: {player['shots']} shots"
        rates = {"pots": player["pot_success"], **player["position_judged"]}
        rates["decisions agreed with"] = player["decisions"]["agreement"]
        for name, rate in rates.items():
            if rate["of"]:
                interval = f"({100 * rate['low']:.0f}–{100 * rate['high']:.0f} %)"
                share = f"{100 * rate['rate']:>4.0f} %"
                yield f"  {name.replace('_', ' '):<24}{share} {interval:<12} {rate['made']} of {rate['of']}"
        errors = player["errors"]
        per_100 = errors["per_100_shots"]["rate"]
        rate_text = f"{per_100:.1f} per 100 shots" if per_100 is not None else "no shots"
        yield f"  unforced errors         {errors['unforced_total']:>4} {rate_text}"


def measured_line(shot: JsonObject) -> str:
    """One shot in a line: what was measured of it, or that its layout is missing."""
    where = f"{shot['rack']}.{shot['number']}"
    pot, position = shot["geometry"], shot["position"]
    parts = []
    if pot is not None:
        parts.append(f"{pot['ball']} to {pot['pocket']}, cut {abs(pot['cut_deg']):.1f}°")
        hit = pot["obstacle"] or (f"chance {pot['chance']:.2f}" if pot["chance"] is not None else "")
        parts.append(hit.replace("_", " "))
    if shot["best"] is not None and shot["best"]["ball"]:
        best = shot["best"]
        parts.append(f"best {best['ball']} to {best['pocket']} {best['chance']:.2f}")
    if shot["angle_left_deg"] is not None:
        parts.append(f"left {shot['angle_left_deg']:.0f}° on the next ball")
    if position is not None and position["distance"] is not None:
        parts.append(f"{1000 * position['distance']:.0f} mm off")
    if shot["leave"] is not None:
        parts.append(f"leaves {shot['leave']:.2f}")
    return f"{where:>6}  {', '.join(part for part in parts if part) or 'no layout'}"


def simulated_lines(report: JsonObject) -> Iterator[str]:
    """What a stroke does, event by event, and what it does on average."""
    for event in report["events"]:
        met = event.get("cushion") or event.get("pocket") or ""
        balls = " and ".join(str(ball) for ball in event["balls"])
        yield f"{event['t']:8.3f} s  {event['type'].replace('_', ' '):10} {balls} {met}".rstrip()
    for ball in report["final"]:
        where = f"in {ball['pocket']}" if "pocket" in ball else f"{ball['x']:.4f} {ball['y']:.4f} m"
        yield f"{ball['id']!s:>8}  {where}"
    repeated = report.get("repeated")
    if repeated is not None:
        yield f"{repeated['n']} times:"
        for name in ("pot", "foul", "scratch"):
            share = repeated[name]
            low, high = 100 * share["low"], 100 * share["high"]
            yield f"{name:>8}  {100 * share['rate']:.1f} % ({low:.1f} to {high:.1f} %)"


def option_lines(report: JsonObject) -> Iterator[str]:
    """A sentence for each option, the best first."""
    for option in report["options"]:
        yield f"{option['sentence']}{' As good as the best.' if option['tied_with_best'] else ''}"


def sentence_lines(report: JsonObject) -> Iterator[str]:
    """The sentences of a plan or a reading; of a plan that was played out how often it was cleared."""
    yield from report["sentences"]
    played = report.get("played")
    if played is not None:
        low, high = 100 * played["low"], 100 * played["high"]
        share = 100 * played["cleared"] / played["of"]
        yield f"Played out {played['of']} times: cleared in {share:.1f} % ({low:.1f} to {high:.1f} %)."
