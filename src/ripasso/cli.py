"""The command line: each command loads only what it needs.

Exit codes: 0 done; 1 the input was read but problems were found; 2 unusable arguments or input.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from ripasso import __version__
from ripasso.command_input import Unusable, is_session_file, load_file, load_object, open_library_at
from ripasso.core.measures.levels import LEVELS

if TYPE_CHECKING:
    from ripasso.core.rules import MatchScore

COMMANDS = (
    *("score", "stats", "find", "measure", "locate", "simulate", "options", "plan", "reading"),
    *("report", "read", "check", "convert", "schema"),
)
DONE, PROBLEMS, UNUSABLE = 0, 1, 2
LIBRARY_ENDING = ".ripasso"
#: What `check` says of a file that a later Ripasso wrote.
NEWER = {"path": "$.version", "warning": "written_by_a_newer_version"}


class _Parser(argparse.ArgumentParser):
    """Says what is wrong with the arguments in one line."""

    def error(self, message: str) -> NoReturn:
        self.exit(UNUSABLE, f"ripasso: {message}\n")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the program; returns the exit code."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    try:
        if given and given[0] in COMMANDS:
            return _command(given)
        return _window(given)
    except Unusable as error:
        print(f"ripasso: {error}", file=sys.stderr)
        return UNUSABLE
    except BrokenPipeError:
        return DONE


def _window(given: list[str]) -> int:
    parser = _Parser(prog="ripasso", description="Review recorded pool and snooker, shot by shot.")
    parser.add_argument("file", nargs="?", type=Path, help="a library to open, or a session file to import")
    parser.add_argument("--library", type=Path, help="the library to open or to make")
    parser.add_argument("--demo", action="store_true", help="open the demo library")
    parser.add_argument("--version", action="version", version=f"ripasso {__version__}")
    parser.epilog = f"Commands without a window: {', '.join(COMMANDS)}; each has --help."
    chosen = parser.parse_args(given)
    from ripasso.ui.app import run

    file: Path | None = chosen.file
    if file is not None and file.suffix == LIBRARY_ENDING and chosen.library is None:
        if not file.is_file():
            raise Unusable(f"The library {file} is not there.")
        return run(file, None, demo=chosen.demo)
    return run(chosen.library, file, demo=chosen.demo)


def _command(given: list[str]) -> int:
    parser = _Parser(prog="ripasso")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, words: str, call: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=words, description=words)
        made.set_defaults(call=call)
        made.add_argument("--json", action="store_true", help="print one JSON object")
        return made

    score = command("score", "Apply the rules of the game to what was recorded.", _score)
    score.add_argument("session", type=Path)
    stats = command("stats", "The figures of each player.", _stats)
    stats.add_argument("sessions", type=Path, nargs="+")
    stats.add_argument("--player", help="only this player (name or id)")
    stats.add_argument("--filter", help="only shots like this: cut:15-30 position:lost -tag:final")
    find = command("find", "The shots that a search line asks for.", _find)
    find.add_argument("line", help="such as: player:ada cut:15-30 (position:lost or made:no) -tag:final")
    find.add_argument("sessions", type=Path, nargs="+")
    measure = command("measure", "The geometry of each shot, and how far off its position was.", _measure)
    measure.add_argument("session", type=Path)
    locate = command("locate", "The camera behind known points, and the table places of pixels.", _locate)
    locate.add_argument("view", type=Path)
    for name, words, times in (
        ("simulate", "What a stroke on a layout does, once or many times.", 0),
        ("options", "What can be played from a layout, the best first.", 400),
        ("plan", "A rack worked out backwards; repetitions are racks that are played out as a check.", 0),
        ("reading", "What a layout shows: pockets, clusters, links, groups, break balls.", 0),
    ):
        played = command(name, words, _layout)
        played.add_argument("layout", type=Path)
        played.add_argument(
            "--repetitions", type=int, default=times, help="how often, with a player's errors"
        )
        played.add_argument("--seed", type=int, default=1, help="the same seed gives the same repetitions")
        played.add_argument(
            "--level", choices=LEVELS, help="how exact the player is; else as the layout says"
        )
    _report_arguments(
        command(
            "report",
            "Write a report: PDF, HTML, tables, a teaching film, or captions and edit lists.",
            _report,
        )
    )
    read = command("read", "Find the table, the shots and the balls of a recording.", _read)
    read.add_argument("recording", type=Path)
    read.add_argument("--view", type=Path, help="known points or the camera, as for locate; else it is found")
    read.add_argument("--game", help="which balls there are, as in session files")
    read.add_argument(
        "--report", type=Path, help="the truth of the recording: print how right the reading is"
    )
    check = command("check", "List every problem of a session file with its place.", _check)
    check.add_argument("session", type=Path)
    convert = command("convert", "Copy a session, or kept layouts, between a file and a library.", _convert)
    convert.add_argument("source", type=Path, help="a session file, or a library")
    convert.add_argument("target", type=Path, help="a session file, or a library")
    convert.add_argument("--session", help="which session of a library (title or id)")
    convert.add_argument("--replace", action="store_true", help="replace a session that differs")
    command("schema", "Print the JSON Schema of session files.", _schema)
    chosen = parser.parse_args(given)
    code: int = chosen.call(chosen)
    return code


def _report_arguments(report: argparse.ArgumentParser) -> None:
    report.add_argument("sources", type=Path, nargs="+", help="a library, or session files")
    report.add_argument("out", type=Path, help="what is written: .pdf, .html, .csv, .svg, .mp4 or .vtt")
    report.add_argument("--report", help="which report of the library (title or id)")
    report.add_argument("--pages", help="such as summary,figures:potting,rack:1,methods (of session files)")
    report.add_argument("--player", help="whose (name; else whoever played most shots)")
    report.add_argument("--title")
    report.add_argument("--paper", choices=("a4", "letter"))
    report.add_argument("--words", choices=("british", "american"), default="british")
    report.add_argument("--films", type=Path, nargs="*", default=(), help="folders in which films may lie")


def _report(chosen: argparse.Namespace) -> int:
    from ripasso.report_command import BadReport, Wanted, report_of_library, report_of_sessions
    from ripasso.store.errors import LibraryError

    said = (chosen.report, chosen.title, chosen.player, chosen.pages, chosen.paper, chosen.words)
    wanted = Wanted(chosen.out, *said, tuple(chosen.films))
    sources: list[Path] = chosen.sources
    try:
        if len(sources) == 1 and not is_session_file(sources[0]):
            library = open_library_at(sources[0], create=False)
            try:
                written = report_of_library(library, wanted)
            finally:
                library.close()
        else:
            written = report_of_sessions([load_file(path) for path in sources], wanted)
    except (BadReport, LibraryError) as error:
        raise Unusable(str(error)) from error
    except OSError as error:
        name = Path(error.filename or chosen.out).name
        raise Unusable(f"{name} cannot be written: {error.strerror or 'unknown reason'}.") from error
    if chosen.json:
        files = [str(file) for file in written.files]
        _print_json({"format": "ripasso-report-files", "version": 1, "files": files})
    else:
        print(written.words)
    return DONE


def _print_json(value: object) -> None:
    print(json.dumps(value, ensure_ascii=False, indent=1))


def _score(chosen: argparse.Namespace) -> int:
    from ripasso.review.language.vocabulary import word
    from ripasso.review.scoring.scoring import score_report

    session = load_file(chosen.session)
    report = score_report(session)
    if report is None:
        game = word(session.game) if session.game else "no game"
        raise Unusable(f"{chosen.session.name}: the rules of {game} are not known to this version.")
    if chosen.json:
        _print_json(report)
    else:
        from ripasso.report_lines import score_lines

        print("\n".join(score_lines(report)))
        for problem in report["problems"]:
            print(f"{problem['path']}: {problem['problem']}", file=sys.stderr)
    return PROBLEMS if report["problems"] else DONE


def _measure(chosen: argparse.Namespace) -> int:
    from ripasso.review.measuring.measuring import measure_report

    report = measure_report(load_file(chosen.session))
    if chosen.json:
        _print_json(report)
    else:
        from ripasso.report_lines import measured_line

        for shot in report["shots"]:
            print(measured_line(shot))
    return DONE


def _locate(chosen: argparse.Namespace) -> int:
    from ripasso.film.calibration.locate import locate_report
    from ripasso.film.errors import ViewError

    view = load_object(chosen.view)
    try:
        report = locate_report(view)
    except ViewError as error:
        raise Unusable(f"{chosen.view.name}: {error}") from error
    if chosen.json:
        _print_json(report)
        return DONE
    print(f"focal length {report['camera']['focal_px']:.1f} px, residual {report['residual_px']:.2f} px")
    for place in report["places"]:
        if place is None:
            print("not on the table's plane")
        else:
            x, y = place["table"]
            print(f"{x:8.4f} {y:8.4f} m  ± {place['uncertainty_mm']:.1f} mm")
    return DONE


def _layout(chosen: argparse.Namespace) -> int:
    from ripasso.core.planning.layout_file import BadLayout
    from ripasso.planning_command import COMMANDS as PLAYED

    layout = load_object(chosen.layout)
    work, lines_of = PLAYED[chosen.command]
    try:
        report = work(layout, chosen.repetitions, chosen.seed, chosen.level)
    except BadLayout as error:
        raise Unusable(f"{chosen.layout.name}: {error}") from error
    if chosen.json:
        _print_json(report)
    else:
        print("\n".join(lines_of(report)))
    return PROBLEMS if report.get("capped") else DONE


def _read(chosen: argparse.Namespace) -> int:
    from ripasso.reading_command import (
        CannotRead,
        accuracy_of,
        check_truth,
        lines_of,
        read_film,
        session_text,
    )

    view = load_object(chosen.view) if chosen.view else None
    truth = load_object(chosen.report) if chosen.report else None
    try:
        if truth is not None:
            check_truth(truth, chosen.report.name)
        found = read_film(chosen.recording, view, chosen.game or (truth or {}).get("game"))
    except CannotRead as error:
        raise Unusable(str(error)) from error
    if truth is not None:
        report = accuracy_of(found, truth)
        if chosen.json:
            _print_json(report)
        else:
            for name, value in report.items():
                print(f"{name.replace('_', ' '):<20} {value}")
    elif chosen.json:
        print(session_text(found))
    else:
        print("\n".join(lines_of(found)) or "No shot was found.")
    if found.notice:
        print(f"ripasso: {found.notice}", file=sys.stderr)
    return PROBLEMS if found.notice else DONE


def _stats(chosen: argparse.Namespace) -> int:
    from ripasso.statistics.report import stats_report

    sessions = [load_file(path) for path in chosen.sessions]
    for path, session in zip(chosen.sessions, sessions, strict=True):
        if not any(not player.ghost for player in session.players or ()):
            raise Unusable(f"{path.name}: the session names no player, so there is nobody to count for.")
        if session.game is None:
            raise Unusable(f"{path.name}: the session names no game, so its racks cannot be judged.")
    keep = None
    if chosen.filter:
        keep = _places(*_matching(chosen.filter, sessions))
    report = stats_report(sessions, chosen.player, keep)
    if chosen.player and not report["players"]:
        raise Unusable(f"nobody in these sessions is called {chosen.player}.")
    if chosen.json:
        _print_json(report)
    else:
        from ripasso.report_lines import stats_lines

        print("\n".join(stats_lines(report)))
    return DONE


def _matching(line: str, sessions: list[Any]) -> tuple[Any, Any]:
    """The facts of sessions, and which of them a search line asks for."""
    from ripasso.core.finding import FIELDS, NotAQuery, matching, parse_query
    from ripasso.statistics.rows.search_columns import columns_of

    try:
        query = parse_query(line, FIELDS)
        shots, columns = columns_of(sessions)
        return shots, matching(query, columns)
    except NotAQuery as error:
        raise Unusable(str(error)) from error


def _places(shots: Any, wanted: Any) -> list[tuple[str, int, int]]:
    """Session, rack and number of the shots that are wanted."""
    columns = shots.texts("session_key"), shots.ints("rack"), shots.ints("number")
    return list(zip(*(column[wanted].tolist() for column in columns), strict=True))


def _find(chosen: argparse.Namespace) -> int:
    sessions = [load_file(path) for path in chosen.sessions]
    shots, wanted = _matching(chosen.line, sessions)
    found = [{"session": key, "rack": rack, "number": number} for key, rack, number in _places(shots, wanted)]
    if chosen.json:
        _print_json({"format": "ripasso-find", "version": 1, "line": chosen.line, "shots": found})
    else:
        for shot in found:
            print(f"{shot['session']}: {shot['rack']}.{shot['number']}")
        print(f"{len(found)} of {len(shots)} shots")
    return DONE


def _check(chosen: argparse.Namespace) -> int:
    from ripasso.review.language.vocabulary import word
    from ripasso.review.record.names import unknown_names
    from ripasso.review.record.parsing import is_newer
    from ripasso.review.scoring.scoring import score_of
    from ripasso.store.session_file import SessionFileError, load_session

    problems: list[dict[str, str]] = []
    warnings: list[dict[str, str]] = []
    try:
        session = load_session(chosen.session)
    except SessionFileError as error:
        if not error.problems:
            raise Unusable(str(error)) from error
        problems = [{"path": p.path, "problem": p.text} for p in error.problems]
    else:
        score = score_of(session)
        problems = [{"path": path, "problem": text} for path, text in (score.problems if score else ())]
        problems += [{"path": p.path, "problem": p.text} for p in unknown_names(session)]
        warnings = [NEWER] if is_newer(session) else []
        warnings += _warnings(score) if score else ()
    if chosen.json:
        _print_json({"format": "ripasso-check", "version": 1, "problems": problems, "warnings": warnings})
    else:
        for warning in warnings:
            print(f"{warning['path']}: {word(warning['warning'])}")
        for problem in problems:
            print(f"{problem['path']}: {problem['problem']}")
        if not problems and not warnings:
            print(f"{chosen.session.name} is in order.")
    return PROBLEMS if problems else DONE


def _warnings(score: MatchScore) -> Iterator[dict[str, str]]:
    """Where the record contradicts the rules but is believed; what is not recorded contradicts nothing."""
    for r, rack in enumerate(score.racks):
        for s, shot in enumerate(rack.shots):
            for warning in shot.warnings:
                if warning != "no_facts":
                    yield {"path": f"$.racks[{r}].shots[{s}]", "warning": warning}


def _convert(chosen: argparse.Namespace) -> int:
    from ripasso.convert_command import convert

    is_done = convert(chosen.source, chosen.target, chosen.session, replace=chosen.replace)
    return DONE if is_done else PROBLEMS


def _schema(_chosen: argparse.Namespace) -> int:
    from ripasso.review.record.parsing import session_schema

    _print_json(session_schema())
    return DONE
