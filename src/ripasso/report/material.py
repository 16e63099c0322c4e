"""What a report is made from: sessions, measures, answers and films of a library, read once each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from html import escape

from ripasso.core.finding.matching import FIELDS, matching
from ripasso.core.finding.query import parse_query
from ripasso.report.stills import Stills
from ripasso.review.document.snapshot import RackRow, ShotRow, Snapshot
from ripasso.review.measuring.cache import MeasureCache
from ripasso.review.record.report import Report, ReportPage, ReportShot
from ripasso.statistics.answers import EVERYBODY, Answers, Choice
from ripasso.statistics.library_index import LibraryFacts, LibraryIndex
from ripasso.store.library import Library


@dataclass(frozen=True)
class FoundShot:
    """A shot with its rack and session, and its place in the rack."""

    snapshot: Snapshot
    rack: RackRow
    row: ShotRow
    place: int


@dataclass
class Material:
    """Reads for one report; nothing here touches a window, so that it works in any thread."""

    library: Library
    index: LibraryIndex
    report: Report
    stills: Stills = field(default_factory=Stills)
    unit: str = "mm"
    today: date = field(default_factory=date.today)
    #: The place of the page that is made alone; None: all of them.
    only: int | None = None

    def __post_init__(self) -> None:
        self.measures = MeasureCache()
        self._snapshots: dict[str, Snapshot | None] = {}

    @cached_property
    def everything(self) -> LibraryFacts:
        """The facts of the library as they stand."""
        return self.index.read()

    @cached_property
    def answers(self) -> Answers:
        """What answers choices of Statistics."""
        return Answers(self.library, self.index)

    @property
    def person(self) -> str:
        """Whose report it is, as Statistics ask for a player."""
        return self.report.player or EVERYBODY

    @property
    def names(self) -> Mapping[str, str]:
        """The names of people; where they are left out, numbers stand for them."""
        known = self.everything.names
        if not self.report.nameless:
            return known
        return {key: f"Player {number}" for number, key in enumerate(sorted(known), start=1)}

    @property
    def player_name(self) -> str:
        """The name of the player; "everybody" without one."""
        return self.names.get(self.person, "everybody")

    def plain(self, text: str) -> str:
        """A text without names, where they are left out."""
        if self.report.nameless:
            real = self.everything.names
            for key, name in self.names.items():
                # In a drawing a name is written as XML has it.
                text = text.replace(real[key], name).replace(escape(real[key]), name)
        return text

    def choice(self, page: str, second: str = "") -> Choice:
        """What is asked of Statistics for a page; raises `NotAQuery` for an unreadable search line."""
        sessions = self.report.sessions
        heads = self.everything.heads
        looked_at = heads.keys() if sessions is None else sessions
        games = {heads[key].game for key in looked_at if key in heads}
        return Choice(
            page=page,
            first=self.person,
            second=second,
            sessions=tuple(sessions) if sessions is not None else None,
            game=games.pop() if len(games) == 1 else None,
            query=parse_query(self.report.search or "", FIELDS),
        )

    def snapshot(self, session: str | None) -> Snapshot | None:
        """A session; None where it is not there."""
        if session is None:
            return None
        if session not in self._snapshots:
            rows = self.library.load(session)
            self._snapshots[session] = Snapshot(session, rows) if rows else None
        return self._snapshots[session]

    def rack(self, page: ReportPage) -> tuple[Snapshot, RackRow] | None:
        """The rack of a page, measured; None where it is not there."""
        snapshot = self.snapshot(page.session)
        rack = _rack_of(snapshot, page.rack) if snapshot is not None else None
        if snapshot is None or rack is None:
            return None
        self.measures.rack(snapshot, rack)
        return snapshot, rack

    def shot(self, wanted: ReportShot) -> FoundShot | None:
        """A shot, measured with its rack; None where it is not there."""
        snapshot = self.snapshot(wanted.session)
        rack = _rack_of(snapshot, wanted.rack) if snapshot is not None else None
        if snapshot is None or rack is None:
            return None
        for place, row in enumerate(rack.shots):
            if row.record.number == wanted.shot:
                self.measures.rack(snapshot, rack)
                return FoundShot(snapshot, rack, row, place)
        return None

    def found(self, line: str) -> list[ReportShot]:
        """The shots that a search line finds, in their order; raises `NotAQuery`."""
        facts = self.everything.facts
        query = parse_query(line, FIELDS)
        if not len(facts):
            return []
        wanted = matching(query, self.everything.columns).nonzero()[0].tolist()
        places = [self.place_of(facts.key(at), facts.text_at("session_key", at)) for at in wanted]
        return [place for place in places if place is not None]

    def place_of(self, shot: str, session: str) -> ReportShot | None:
        """How a shot of the library is named in a report."""
        snapshot = self.snapshot(session)
        row = snapshot.shot(shot) if snapshot is not None else None
        rack = snapshot.rack(row.rack) if snapshot is not None and row is not None else None
        if row is None or rack is None:
            return None
        return ReportShot(session=session, rack=rack.record.number, shot=row.record.number)


def _rack_of(snapshot: Snapshot, number: int | None) -> RackRow | None:
    return next((rack for rack in snapshot.racks if rack.record.number == number), None)


def anchor_of(shot: ReportShot) -> str:
    """What a link to a shot leads to."""
    session = "".join(sign if sign.isalnum() else "-" for sign in shot.session)
    return f"shot-{session}-{shot.rack}-{shot.shot}"
