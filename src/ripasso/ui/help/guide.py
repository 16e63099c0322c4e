"""The user guide in the window: its chapters, its text with pictures, and a search through it."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl, QVariant
from PyQt6.QtGui import QDesktopServices, QImage, QTextBlockFormat, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QTextBrowser, QVBoxLayout, QWidget

from ripasso.review.language.running_text import in_words
from ripasso.review.language.translation import tr
from ripasso.ui.widgets.basics import label

GUIDE = "user-guide.md"
CHAPTERS_PX = 190
#: Pictures are no wider than this; room below a paragraph and a heading.
WIDEST_PX, BELOW_PX, LINE_PERCENT = 720, 8, 125

#: What stands for a picture in a text (Unicode: object replacement character).
PICTURE = "\N{OBJECT REPLACEMENT CHARACTER}"
PROPORTIONAL = int(QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)  # type: ignore[call-overload]


def guide_folder() -> Path:
    """Where the guide is: beside the program as it is installed, or among the documents of its source."""
    shipped = Path(str(files("ripasso") / "guide"))
    return shipped if shipped.is_dir() else Path(__file__).resolve().parents[4] / "docs"


class _Text(QTextBrowser):
    """Shows pictures as wide as text is read well."""

    def loadResource(self, kind: int, name: QUrl) -> QVariant:
        found = super().loadResource(kind, name)
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return QVariant(found)
        picture = QImage(str(guide_folder() / name.path()))
        if picture.isNull() or picture.width() <= WIDEST_PX:
            return QVariant(picture)
        return QVariant(picture.scaledToWidth(WIDEST_PX, Qt.TransformationMode.SmoothTransformation))


class GuideView(QWidget):
    """The guide as it is read; other documents that it leads to are shown in its place."""

    def __init__(self) -> None:
        super().__init__()
        self.chapters = QListWidget()
        self.chapters.setAccessibleName("Chapters of the guide")
        self.chapters.setFixedWidth(CHAPTERS_PX)
        self.text = _Text()
        self.text.setAccessibleName("The guide")
        self.text.setOpenLinks(False)
        self.text.anchorClicked.connect(self._follow)
        self.line = QLineEdit()
        self.line.setPlaceholderText("Find in the guide: type, Return for the next place")
        self.line.setAccessibleName("Find in the guide")
        self.line.setClearButtonEnabled(True)
        self.line.returnPressed.connect(self.find_next)
        self.line.textEdited.connect(lambda _text: self._find_first())
        self.told = label("", "caption")
        foot = QHBoxLayout()
        foot.addWidget(self.line, 1)
        foot.addWidget(self.told)
        right = QVBoxLayout()
        right.addLayout(foot)
        right.addWidget(self.text, 1)
        row = QHBoxLayout(self)
        row.addWidget(self.chapters)
        row.addLayout(right, 1)
        self.chapters.currentTextChanged.connect(self._go_to_chapter)
        self.show_document(GUIDE)

    def show_document(self, name: str) -> bool:
        """Show a document of the guide; False where it is not there."""
        path = guide_folder() / name
        try:
            text = in_words(path.read_text(encoding="utf-8"), tr.language)
        except OSError:
            self.told.setText(f"{name} is not there.")
            return False
        self.text.setMarkdown(text)
        self._give_room()
        heads = [line.lstrip("# ").strip() for line in text.splitlines() if line.startswith("## ")]
        self.chapters.blockSignals(True)
        self.chapters.clear()
        self.chapters.addItems(heads)
        self.chapters.blockSignals(False)
        self.told.setText("")
        return True

    def _give_room(self) -> None:
        """Lines and paragraphs stand apart, as on a page."""
        document = self.text.document()
        block = document.begin() if document is not None else None
        while block is not None and block.isValid():
            layout = block.blockFormat()
            layout.setBottomMargin(BELOW_PX)
            if PICTURE not in block.text():
                layout.setLineHeight(LINE_PERCENT, PROPORTIONAL)
            QTextCursor(block).setBlockFormat(layout)
            block = block.next()

    def _go_to_chapter(self, head: str) -> None:
        """The chapter's first line at the top."""
        document = self.text.document()
        assert document is not None
        block = document.begin()
        while block.isValid():
            if block.blockFormat().headingLevel() == 2 and block.text() == head:
                end = QTextCursor(document)
                end.movePosition(QTextCursor.MoveOperation.End)
                self.text.setTextCursor(end)  # so that the head comes to the top, not to the bottom
                self.text.setTextCursor(QTextCursor(block))
                return
            block = block.next()

    def show_place(self, words: str) -> bool:
        """The paragraph of the guide that holds some words, at the top; False where none does."""
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        if not self.text.find(in_words(words, tr.language)):
            return False
        bar = self.text.verticalScrollBar()
        assert bar is not None
        bar.setValue(bar.value() + self.text.cursorRect(QTextCursor(self.text.textCursor().block())).top())
        return True

    def _find_first(self) -> None:
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        self.find_next()

    def find_next(self) -> None:
        """The next place where the line stands; after the last one the first."""
        wanted = self.line.text().strip()
        self.told.setText("")
        if not wanted or self.text.find(wanted):
            return
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        if not self.text.find(wanted):
            self.told.setText("Not in the guide.")

    def _follow(self, link: QUrl) -> None:
        name = link.path()
        if link.scheme() in ("http", "https"):
            QDesktopServices.openUrl(link)
        elif name.endswith(".md"):
            self.show_document(name)
        elif link.fragment():
            self.text.scrollToAnchor(link.fragment())
