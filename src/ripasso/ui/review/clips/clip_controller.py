"""Writes films of shots (the one in hand, its rack, what was found) in the background; its key stops it."""

from __future__ import annotations

from pathlib import Path

from ripasso.film.encoding.film_writer import Cancelled
from ripasso.film.errors import FilmError
from ripasso.report.file_names import file_part
from ripasso.review.language.vocabulary import count, rack_word
from ripasso.review.record.report import Report, ReportShot
from ripasso.ui.review.clips.clip_dialog import ClipDialog, Offered
from ripasso.ui.review.find.find_controller import FindController
from ripasso.ui.review.shared.context import ReviewContext
from ripasso.ui.services.exporting import Exporter
from ripasso.ui.widgets.basics import run_dialog

#: Of a long search so many shots go out.
MOST = 200


class ClipController:
    """Works for the page whose parts it has."""

    def __init__(self, context: ReviewContext, finding: FindController) -> None:
        self._context, self._finding = context, finding
        self.exporter = Exporter(context.background, context.say, "Ctrl ⇧ K")

    def export(self) -> None:
        """Ask what goes out and write it; while something is written, stop."""
        if self.exporter.busy:
            self.exporter.stop()
            return
        offered = self._offered()
        if not offered:
            self._context.say("No shot is in hand; F marks a strike and begins one.")
            return
        settings = self._context.workspace.settings
        kept = str(settings.get("clip_folder"))
        folder = Path(kept) if kept and Path(kept).is_dir() else Path.home()
        dialog = ClipDialog(
            self._context.window, offered, folder, settings.get("clip_way"), settings.get("clip_diagram")
        )
        if run_dialog(dialog):
            self._context.remember("clip_folder", str(dialog.path.parent))
            self._context.remember("clip_way", dialog.way.currentData())
            self._context.remember("clip_diagram", dialog.diagram.currentData())
            self._write(dialog)

    def _write(self, dialog: ClipDialog) -> None:
        # What decodes and draws is loaded when it is first wanted.
        from ripasso.report.material import Material
        from ripasso.report.stills import Stills
        from ripasso.report.teaching import clips

        context, path, page, way = self._context, dialog.path, dialog.page, dialog.way.currentData()
        workspace = context.workspace
        report = Report(id="clip", title=dialog.what.currentText(), pages=(page,))
        unit = str(workspace.settings.get("unit"))
        material = Material(workspace.library, workspace.index, report, Stills([workspace.path.parent]), unit)
        title = dialog.what.currentText()
        self.exporter.start(
            path.name,
            lambda progress: clips.write_clips(material, page, title, way, path, progress),
            self._written,
            lambda error: self._not_written(path, error),
        )

    def _written(self, files: tuple[Path, ...]) -> None:
        names = ", ".join(str(file) for file in files)
        self._context.say(f"Written to {names}.", "good")

    def _not_written(self, path: Path, error: Exception) -> None:
        if isinstance(error, Cancelled):
            self._context.say(f"{path.name} was not written: it was stopped.")
        elif isinstance(error, FilmError):
            self._context.say(str(error), "bad")
        else:
            self._context.background.report(error)

    def _offered(self) -> list[Offered]:
        controller = self._context.controller
        snapshot, shot = controller.snapshot, controller.shot
        offered = []
        rack = snapshot.rack(shot.rack) if snapshot is not None and shot is not None else None
        if snapshot is not None and shot is not None and rack is not None:
            name, number = rack_word(snapshot.head.game or ""), rack.record.number
            base = f"{file_part(snapshot.head.title, 'session')}-{name}-{number}"
            named = [
                ReportShot(session=snapshot.key, rack=number, shot=one.record.number)
                for one in rack.shots
                if one.record.t_strike is not None or one.key == shot.key
            ]
            own = ReportShot(session=snapshot.key, rack=number, shot=shot.record.number)
            offered.append(
                Offered(f"this shot ({own.shot} of {name} {number})", f"{base}-shot-{own.shot}", [own])
            )
            offered.append(Offered(f"this {name} ({count(len(named), 'shot')})", base, named))
        found = self._finding.shots(MOST)
        if found:
            # Who looks at what was found means that first.
            place = 0 if self._finding.is_seen else len(offered)
            offered.insert(place, Offered(f"what was found ({count(len(found), 'shot')})", "found", found))
        return offered
