"""What goes out beside a film: captions and chapters (WebVTT), an edit list (CSV and EDL)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from ripasso.report.shot_drawing import score_of
from ripasso.review.document.snapshot import Snapshot
from ripasso.review.language.localization import manner
from ripasso.review.language.vocabulary import rack_word, sentence
from ripasso.review.present.describing import chips, player_name, shot_title
from ripasso.statistics.tables import csv_text

#: A shot whose end nobody marked is taken to be so long; before its strike the film runs in.
USUAL_S, RUN_IN_S = 6.0, 2.0
#: Frames a second of an edit list where the session does not say.
USUAL_RATE = 25.0


@dataclass(frozen=True)
class Scene:
    """A shot on a film: from its strike to its rest (seconds), its rack, what it is and what was said."""

    recording: str
    start_s: float
    end_s: float
    rack: int
    title: str
    words: str


def scenes_of(snapshot: Snapshot) -> list[Scene]:
    """The marked shots of a session in order, those of each film apart."""
    found = []
    head = snapshot.head
    for rack in snapshot.racks:
        for place, row in enumerate(rack.shots):
            record = row.record
            if record.t_strike is None or record.recording is None:
                continue
            judged = score_of(snapshot, rack, place)
            who = player_name(head, judged.player if judged is not None else record.player)
            what = f"{sentence(rack_word(head.game))} {rack.record.number}"
            title = shot_title(record, judged, head.game)
            said = [chip.text for chip in chips(record, manner(head.game)) if not chip.proposed]
            start = float(record.t_strike)
            end = float(record.t_rest) if record.t_rest is not None else start + USUAL_S
            name = f"{what}, {title[:1].lower()}{title[1:]}"
            words = f"{who}: {', '.join(said)}" if said else who
            found.append(Scene(record.recording, start, max(end, start), rack.record.number, name, words))
    return sorted(found, key=lambda scene: (scene.recording, scene.start_s))


def captions_text(scenes: Iterable[Scene]) -> str:
    """One caption a shot, as WebVTT (W3C)."""
    return webvtt_text((one.start_s, one.end_s, f"{one.title}\n{one.words}") for one in scenes)


def chapters_text(scenes: Sequence[Scene]) -> str:
    """A chapter a shot, from its strike to the next one; the first of a rack names the rack alone as well."""
    cues = []
    for place, one in enumerate(scenes):
        later = scenes[place + 1 :]
        end = later[0].start_s if later else one.end_s
        cues.append((one.start_s, max(end, one.start_s), one.title))
    return webvtt_text(cues)


def webvtt_text(cues: Iterable[tuple[float, float, str]]) -> str:
    """Texts from when to when (seconds) as WebVTT (W3C)."""
    parts = ["WEBVTT"]
    for number, (start, end, text) in enumerate(cues, start=1):
        # A cue ends after it begins, and its text holds no arrow and no empty line (WebVTT, section 3.5).
        words = "\n".join(line for line in _escaped(text).splitlines() if line.strip())
        parts.append(f"{number}\n{_clock(start)} --> {_clock(max(end, start + 0.001))}\n{words}")
    return "\n\n".join(parts) + "\n"


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _clock(seconds: float) -> str:
    whole = max(0, round(seconds * 1000))
    hours, rest = divmod(whole, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02d}:{minutes:02d}:{rest // 1000:02d}.{rest % 1000:03d}"


def edit_list_csv(snapshot: Snapshot, scenes: Sequence[Scene]) -> str:
    """A row a shot: film, in and out (seconds and frames, with the run-in), title."""
    rows: list[Sequence[str]] = [("film", "in_s", "out_s", "in_frame", "out_frame", "rack", "title", "words")]
    files = {one.id: one.file or one.id for one in snapshot.head.recordings or ()}
    for one in scenes:
        start = max(0.0, one.start_s - RUN_IN_S)
        rate = _rate_of(snapshot, one.recording)
        frames = (str(round(start * rate)), str(round(one.end_s * rate)))
        times = (f"{start:.3f}", f"{one.end_s:.3f}")
        film = files.get(one.recording, one.recording)
        rows.append((film, *times, *frames, str(one.rack), one.title, one.words))
    return csv_text(rows)


def edit_list_edl(snapshot: Snapshot, scenes: Sequence[Scene], recording: str) -> str:
    """The shots of one film one after another, in the CMX 3600 form that editing programs read."""
    rate = _rate_of(snapshot, recording)
    title = " ".join(snapshot.head.title.split())
    lines, at = [f"TITLE: {title}", "FCM: NON-DROP FRAME"], 0
    for number, one in enumerate((one for one in scenes if one.recording == recording), start=1):
        start, end = round(max(0.0, one.start_s - RUN_IN_S) * rate), round(one.end_s * rate)
        length = max(1, end - start)
        codes = (_code(frame, rate) for frame in (start, start + length, at, at + length))
        lines += [
            f"{number:03d}  AX       V     C        {' '.join(codes)}",
            f"* FROM CLIP NAME: {one.title}",
        ]
        at += length
    return "\n".join(lines) + "\n"


def _rate_of(snapshot: Snapshot, recording: str) -> float:
    for one in snapshot.head.recordings or ():
        if one.id == recording and one.frame_rate:
            return float(one.frame_rate)
    return USUAL_RATE


def _code(frame: int, rate: float) -> str:
    """A time code: hours, minutes, seconds, frames of a whole number of frames a second."""
    whole = max(1, round(rate))
    seconds, frames = divmod(frame, whole)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02d}:{minutes:02d}:{seconds:02d}:{frames:02d}"


def films_of(scenes: Iterable[Scene]) -> Iterator[str]:
    """The films that have a marked shot, each once."""
    yield from dict.fromkeys(scene.recording for scene in scenes)
