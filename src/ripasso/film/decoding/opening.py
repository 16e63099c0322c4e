"""Opens the file of a film: the one place where it is handed to the decoder, or to the encoder.

A path is what the file system says it is: it never names a protocol or another machine, and a file that lists
other files (a playlist) is no film.
"""

from __future__ import annotations

from pathlib import Path

import av
from av.container import InputContainer, OutputContainer
from av.error import FFmpegError

from ripasso.film.errors import FilmError

#: Containers that only name other files or places on a network.
LISTS = frozenset(("hls", "concat", "dash", "sdp", "rtsp", "rtp", "imf", "webm_dash_manifest", "image2"))
#: What the decoding library raises for a file that it cannot use; a library of C says it in many ways.
DECODING_ERRORS = (FFmpegError, OSError, ValueError, EOFError, LookupError, ArithmeticError, MemoryError)


def open_container(path: Path) -> InputContainer:
    """Open a film for reading; raises `FilmError`, or what `DECODING_ERRORS` holds for a broken one."""
    container = av.open(
        f"file:{path.absolute()}", metadata_errors="replace", options={"protocol_whitelist": "file"}
    )
    if LISTS & set(container.format.name.split(",")):
        container.close()
        raise FilmError(f"{path.name} is a list of films, not a film.")
    return container


def new_container(path: Path) -> OutputContainer:
    """A film that is written, MP4 with its table of contents first; raises what `DECODING_ERRORS` holds."""
    return av.open(f"file:{path.absolute()}", "w", format="mp4", options={"movflags": "faststart"})


def first_picture_s(container: InputContainer) -> float:
    """The time stamp of the first picture, seconds: sound may be counted from elsewhere."""
    for stream in container.streams.video:
        if stream.start_time is not None and stream.time_base is not None:
            return float(stream.start_time * stream.time_base)
    return 0.0
