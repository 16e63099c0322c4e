"""What was read of a shot, as a session file says it: values, and how sure each of them is."""

from __future__ import annotations

from collections.abc import Mapping

from ripasso.core.json_data import JsonObject
from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.reading.identity.names import Named, kind_of
from ripasso.film.reading.motion.shots import ReadShot
from ripasso.film.reading.motion.witness import doubtful

#: How much frames that do not show the table take from the confidence of a shot.
UNSEEN_COUNTS = 0.4
#: What is left of the confidence of a way that physics speaks against, and of the contact on it.
DOUBTED, CONTACT_DOUBTED = 0.45, 0.8
TIME_DIGITS, PLACE_DIGITS, SURE_DIGITS = 3, 4, 3


def told(shot: ReadShot, names: Mapping[int, Named], recording: str, spec: TableSpec) -> JsonObject:
    """The keys of a shot in a session file, all of them proposed; things without names are not told.

    A way that no ball can have gone is told with little confidence, and so is what was met on the white's.
    """
    sure: dict[str, float] = {}
    values: JsonObject = {
        "recording": recording,
        "t_strike": round(shot.t_strike, TIME_DIGITS),
        "t_rest": round(shot.t_rest, TIME_DIGITS),
    }
    sure["/t_strike"], sure["/t_rest"] = shot.sure["t_strike"], shot.sure["t_rest"]
    sure["/recording"] = shot.sure["t_strike"]
    values["before"] = _layout("before", shot.before, shot.sure_before, names, sure)
    values["after"] = _layout("after", shot.after, shot.sure_after, names, sure)
    values["facts"] = _facts(shot, names, sure)
    path = {names[key].ball: [list(p) for p in way] for key, way in shot.path.items() if key in names}
    if path:
        values["path"] = path
        sure["/path"] = min([0.9, *(names[key].sure for key in shot.path if key in names)])
        against = doubtful(shot.path, shot.before, shot.after, shot.t_rest, spec)
        if any(key in names for key in against):
            sure["/path"] *= DOUBTED
        if shot.cue in against and "/facts/first_contact" in sure:
            sure["/facts/first_contact"] *= CONTACT_DOUBTED
    # What happened while the table was not shown nobody can tell.
    known = 1 - UNSEEN_COUNTS * (1 - shot.seen)
    values["proposed"] = {pointer: round(share * known, SURE_DIGITS) for pointer, share in sure.items()}
    return values


def _layout(
    key: str,
    places: Mapping[int, Place],
    shares: Mapping[int, float],
    names: Mapping[int, Named],
    sure: dict[str, float],
) -> dict[str, list[float]]:
    layout: dict[str, list[float]] = {}
    for thing, place in places.items():
        name = names.get(thing)
        if name is None:
            continue
        layout[name.ball] = [round(place[0], PLACE_DIGITS), round(place[1], PLACE_DIGITS)]
        sure[f"/{key}/{name.ball}"] = shares.get(thing, 0.8) * name.sure
    return layout


def _facts(shot: ReadShot, names: Mapping[int, Named], sure: dict[str, float]) -> JsonObject:
    facts: JsonObject = {}
    met = _first_met(shot, names)
    contact = names.get(met) if met is not None else None
    if met is None or contact is not None:
        facts["first_contact"] = contact.ball if contact else None
        sure["/facts/first_contact"] = shot.sure["first_contact"] * (_kind_sure(contact) if contact else 1.0)
    fell = [(names[key], pocket, key) for key, pocket, _ in shot.potted if key in names]
    facts["potted"] = [
        {"ball": name.ball, "pocket": pocket} for name, pocket, _ in fell if name.ball != "cue"
    ]
    facts["cue_potted"] = any(name.ball == "cue" for name, _, _ in fell)
    shares = [shot.sure[f"potted{key}"] * _kind_sure(name) for name, _, key in fell]
    known = min([0.97, *shares], default=0.97) * (
        0.5 if any(key not in names for key, _, _ in shot.potted) else 1.0
    )
    sure["/facts/potted"] = sure["/facts/cue_potted"] = known
    if contact is not None and shot.contact_s is not None:
        after = [t for t in (*shot.to_cushion.values(), *(t for _, t in shot.cushions)) if t > shot.contact_s]
        facts["cushion_after_contact"] = bool(after)
        # A cushion may be touched out of sight; one that was seen was there.
        sure["/facts/cushion_after_contact"] = 0.85 if after else 0.6
    return facts


def _first_met(shot: ReadShot, names: Mapping[int, Named]) -> int | None:
    """The ball that was met first; where that turned out to be the cue ball, the next that moved."""
    met = shot.first_contact
    if met is None or met not in names or names[met].ball != "cue":
        return met
    others = [key for key in shot.left_in_order if key != met]
    return others[0] if others else None


def _kind_sure(name: Named) -> float:
    return name.sure if kind_of(name.ball) != "red" else max(name.sure, 0.9)
