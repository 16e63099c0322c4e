"""What runs on the film, said by hand: replays, slow motion, pauses, cuts, and further views of a shot.

To add one: a line in `SAYINGS` with its words in `vocabulary`; the dialog gives it the next digit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal, Protocol

from ripasso.core.json_data import JsonObject
from ripasso.core.measures.film_time import FilmStretch, LiveFilm
from ripasso.review.document.command import Command
from ripasso.review.document.edits import REMOVE, Path, RefusedEdit, edit, set_values, several
from ripasso.review.document.snapshot import ShotRow, Snapshot
from ripasso.review.language.vocabulary import clock, rack_word, sentence, word
from ripasso.review.record.model import Clip, FilmPart, Session, serialize


@dataclass(frozen=True)
class Saying:
    """One thing to say of a stretch: the part of the film it is, the clip of the shot, and what it shows."""

    name: str
    part: str | None = None
    clip: str | None = None
    shows: Literal["shot", "rack", ""] = ""


SAYINGS = (
    Saying("replay_of_shot", part="replay", clip="replay", shows="shot"),
    Saying("slow_of_shot", part="slow", clip="slow", shows="shot"),
    Saying("view_of_shot", clip="tip_view", shows="shot"),
    Saying("replay_of_rack", part="replay", shows="rack"),
    Saying("film_paused", part="paused"),
    Saying("film_cut", part="cut_out"),
    Saying("film_live", part="live"),
)


class FoundStretch(Protocol):
    """A stretch as a reading of the film finds it; `shows_s` is the strike of the shot it shows again."""

    @property
    def kind(self) -> str: ...
    @property
    def start_s(self) -> float: ...
    @property
    def end_s(self) -> float: ...
    @property
    def sure(self) -> float: ...
    @property
    def shows_s(self) -> float | None: ...


@dataclass(frozen=True)
class StretchLine:
    """A part or clip of a film as a list shows it; `shot` is None for a part of the session."""

    kind: str
    start_s: float
    end_s: float
    text: str
    shot: str | None
    place: int
    proposed: bool = False


@edit
def say_stretch(
    snapshot: Snapshot, stretch: tuple[str, float, float], saying: Saying, shot: str | None
) -> Command:
    """Say what a stretch (recording, from, to in seconds) shows; `shot` is the one it may show again.

    Raises `RefusedEdit` where a shot is needed and there is none.
    """
    recording, start_s, end_s = stretch
    place: JsonObject = {
        "recording": recording,
        "from": min(start_s, end_s),
        "to": max(start_s, end_s),
    }
    row = snapshot.shot(shot) if shot else None
    if saying.shows and row is None:
        raise RefusedEdit("There is no shot here that this stretch could show again.")
    label = f"Say {word(saying.name)}"
    commands: list[Command] = []
    if saying.part is not None:
        part = {**place, "kind": saying.part, **_shows(snapshot, saying, row)}
        listed = [*(serialize(p) for p in snapshot.head.film_parts or ()), part]
        commands.append(set_values(snapshot, "session", snapshot.key, {("film_parts",): listed}, label))
    if saying.clip is not None and row is not None:
        clips = [*(serialize(c) for c in row.record.clips or ()), {**place, "kind": saying.clip}]
        commands.append(set_values(snapshot, "shot", row.key, {("clips",): clips}, label))
    return several(label, commands)


def _shows(snapshot: Snapshot, saying: Saying, row: ShotRow | None) -> JsonObject:
    rack = snapshot.rack(row.rack) if row else None
    if rack is None or row is None or not saying.shows:
        return {}
    number = row.record.number
    shots = {"from_shot": number, "to_shot": number} if saying.shows == "shot" else {}
    return {"shows": {"rack": rack.record.number, **shots}}


@edit
def propose_stretches(snapshot: Snapshot, recording: str, found: Sequence[FoundStretch]) -> Command:
    """Propose what was found of a film: what a person said of the same place stays as it is.

    What was proposed before for this recording and nobody accepted is replaced.
    """
    kept = [p for p in snapshot.head.film_parts or () if not (p.proposed and p.recording == recording)]
    listed = [serialize(part) for part in kept]
    for one in found:
        if any(_overlap(part, recording, one) for part in kept):
            continue
        row = _shot_struck(snapshot, recording, one.shows_s)
        rack = snapshot.rack(row.rack) if row else None
        shows = {}
        if row is not None and rack is not None:
            number = row.record.number
            shows = {"shows": {"rack": rack.record.number, "from_shot": number, "to_shot": number}}
        ends = {"from": round(one.start_s, 3), "to": round(one.end_s, 3)}
        marks = {"proposed": {"/kind": one.sure}}
        listed.append({"recording": recording, **ends, "kind": one.kind, **shows, **marks})
    values: dict[Path, object] = {("film_parts",): listed or REMOVE}
    return set_values(snapshot, "session", snapshot.key, values, "Propose stretches of the film")


def _overlap(part: FilmPart, recording: str, one: FoundStretch) -> bool:
    if part.recording != recording or part.from_ is None or part.to is None or part.kind == "live":
        return False
    return float(part.from_) < one.end_s and one.start_s < float(part.to)


def _shot_struck(snapshot: Snapshot, recording: str, time_s: float | None) -> ShotRow | None:
    """The shot whose strike is nearest to a time, within a second."""
    if time_s is None:
        return None
    struck = [s for s in snapshot.shots if s.record.recording == recording and s.record.t_strike is not None]
    nearest = min(struck, key=lambda s: abs(float(s.record.t_strike or 0) - time_s), default=None)
    near = nearest is not None and abs(float(nearest.record.t_strike or 0) - time_s) < 1.0
    return nearest if near else None


@edit
def accept_stretch(snapshot: Snapshot, line: StretchLine) -> Command:
    """A proposed part of the film is one from now on."""
    listed = [serialize(part) for part in snapshot.head.film_parts or ()]
    listed[line.place].pop("proposed", None)
    values: dict[Path, object] = {("film_parts",): listed}
    return set_values(snapshot, "session", snapshot.key, values, f"Accept {line.text}")


@edit
def forget_stretch(snapshot: Snapshot, line: StretchLine) -> Command:
    """Take a part or a clip away again; a part takes the clips along that say the same of a shot."""
    label = f"Forget {line.text}"
    if line.shot is not None:
        row = snapshot.shot(line.shot)
        clips = (row.record.clips if row else None) or ()
        return _without_clips(snapshot, line.shot, clips, {line.place}, label)
    parts = snapshot.head.film_parts or ()
    rest = [serialize(p) for i, p in enumerate(parts) if i != line.place]
    values: dict[Path, object] = {("film_parts",): rest or REMOVE}
    commands = [set_values(snapshot, "session", snapshot.key, values, label)]
    gone = parts[line.place]
    for shot in snapshot.shots:
        clips = shot.record.clips or ()
        same = {i for i, clip in enumerate(clips) if _says_the_same(clip, gone)}
        if same:
            commands.append(_without_clips(snapshot, shot.key, clips, same, label))
    return several(label, commands)


def _says_the_same(clip: Clip, part: FilmPart) -> bool:
    place = (part.recording, part.from_, part.to, part.kind)
    return (clip.recording, clip.from_, clip.to, clip.kind) == place


def _without_clips(
    snapshot: Snapshot, shot: str, clips: tuple[Clip, ...], gone: set[int], label: str
) -> Command:
    rest = [serialize(clip) for i, clip in enumerate(clips) if i not in gone]
    return set_values(snapshot, "shot", shot, {("clips",): rest or REMOVE}, label)


def stretches(snapshot: Snapshot, recording: str) -> tuple[StretchLine, ...]:
    """Everything that was said of a film, in its order; a clip that is a part as well stands once."""
    lines = []
    parts = snapshot.head.film_parts or ()
    for place, part in enumerate(parts):
        if part.recording == recording and part.from_ is not None and part.to is not None:
            text = _part_words(snapshot.head, part)
            proposed = bool(part.proposed)
            text = f"{text}, proposed" if proposed else text
            ends = float(part.from_), float(part.to)
            lines.append(StretchLine(part.kind or "", *ends, text, None, place, proposed))
    told = {(line.start_s, line.end_s, line.kind) for line in lines}
    for rack in snapshot.racks:
        for shot in rack.clipped:
            for place, clip in enumerate(shot.record.clips or ()):
                where = _clip_place(clip, recording)
                if where is not None and (*where, clip.kind) not in told:
                    text = f"{word('clip_' + (clip.kind or 'main'))} of shot {shot.record.number}"
                    what = rack_word(snapshot.head.game)
                    text = f"{text} of {what} {rack.record.number}"
                    lines.append(StretchLine(clip.kind or "main", *where, text, shot.key, place))
    return tuple(sorted(lines, key=lambda line: (line.start_s, line.end_s)))


@dataclass(frozen=True)
class ShotClip:
    """A place on film that shows a shot; an end of None is not known."""

    recording: str
    start_s: float
    end_s: float | None
    text: str


def clips_of(snapshot: Snapshot, shot: str) -> tuple[ShotClip, ...]:
    """Every place on film that shows a shot: its own first, then further cameras and replays in order."""
    row = snapshot.shot(shot)
    rack = snapshot.rack(row.rack) if row else None
    if row is None or rack is None:
        return ()
    found: list[ShotClip] = []
    record = row.record
    if record.recording and record.t_strike is not None:
        end = float(record.t_rest) if record.t_rest is not None else None
        start = float(record.t_strike)
        found.append(ShotClip(record.recording, start, end, f"{clock(start)} · the shot as it was played"))
    further = [
        ShotClip(clip.recording or "", float(clip.from_), float(clip.to), word(f"clip_{clip.kind or 'main'}"))
        for clip in record.clips or ()
        if clip.from_ is not None and clip.to is not None
    ]
    said = {(clip.recording, clip.start_s) for clip in further}
    for part in snapshot.head.film_parts or ():
        shown = _part_clip(part, rack.record.number, record.number)
        if shown is not None and (shown.recording, shown.start_s) not in said:
            further.append(shown)
    return (*found, *(replace(clip, text=f"{clock(clip.start_s)} · {clip.text}") for clip in further))


def _part_clip(part: FilmPart, rack: int, shot: int) -> ShotClip | None:
    """A part of a film that shows a shot of a rack, both by their numbers; None where it shows others."""
    shows = part.shows
    if shows is None or shows.rack != rack or part.from_ is None or part.to is None:
        return None
    first = shows.from_shot if shows.from_shot is not None else shot
    last = shows.to_shot if shows.to_shot is not None else first
    if not first <= shot <= last:
        return None
    return ShotClip(part.recording or "", float(part.from_), float(part.to), word(f"part_{part.kind}"))


def _clip_place(clip: Clip, recording: str) -> tuple[float, float] | None:
    if clip.recording != recording or clip.from_ is None or clip.to is None:
        return None
    return float(clip.from_), float(clip.to)


def _part_words(session: Session, part: FilmPart) -> str:
    text = word(f"part_{part.kind}")
    shown = part.shows
    if shown is None or shown.rack is None:
        return text
    what = f"{rack_word(session.game)} {shown.rack}"
    if shown.from_shot is None:
        return f"{text} of {what}"
    last = shown.to_shot if shown.to_shot is not None else shown.from_shot
    shots = f"shot {shown.from_shot}" if last == shown.from_shot else f"shots {shown.from_shot} to {last}"
    return f"{text} of {shots} of {what}"


def line_words(line: StretchLine) -> str:
    """Such as "00:01:12.40 to 00:01:20.00 · Replay of shot 3 of rack 1"."""
    where = clock(line.start_s)
    if line.end_s > line.start_s:
        where = f"{where} to {clock(line.end_s)}"
    return f"{where} · {sentence(line.text)}"


def part_at(session: Session, recording: str, time_s: float) -> str | None:
    """The kind of part that a place of a film lies in, None where nothing was said or it runs live."""
    for part in session.film_parts or ():
        if part.proposed or part.from_ is None or part.to is None:
            continue
        inside = part.from_ <= time_s < part.to
        if inside and part.recording == recording and part.kind != "live":
            return part.kind
    return None


def live_film(session: Session) -> LiveFilm:
    """Which seconds of the session's films count as time at the table."""
    return LiveFilm(
        [
            FilmStretch(part.recording, float(part.from_), float(part.to), part.kind or "live")
            for part in session.film_parts or ()
            if part.from_ is not None and part.to is not None and not part.proposed
        ]
    )
