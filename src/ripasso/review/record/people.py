"""Who somebody is across sessions, and what stands where it is nobody."""

from __future__ import annotations

from ripasso.review.record.model import Session

#: Who made a plan that the program worked out; no person is called so in a record.
PROGRAM = "Ripasso"


def person_key(session: Session, player: str | None) -> str:
    """Who a player is across sessions: the name without case and extra spaces, else the session's id."""
    for candidate in session.players or ():
        if candidate.id == player:
            name = " ".join((candidate.name or "").split()).casefold()
            return name or f"id:{candidate.id}"
    return ""


def persons(session: Session) -> dict[str, str]:
    """Key and shown name of everybody in a session, ghosts left out."""
    return {
        person_key(session, player.id): " ".join((player.name or player.id).split())
        for player in session.players or ()
        if not player.ghost
    }
