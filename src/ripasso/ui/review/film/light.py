"""Brightness and contrast of a film as it is looked at; the film itself and what is read of it stay."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFormLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from ripasso.ui.help.guided_dialog import GuidedDialog
from ripasso.ui.widgets.basics import label

MIDDLE, MOST = 127.5, 100


@dataclass(frozen=True)
class Light:
    """Brightness and contrast from −100 to 100; 0 is as filmed. Contrast 100 is four times as much."""

    brightness: int = 0
    contrast: int = 0

    @property
    def table(self) -> npt.NDArray[np.uint8]:
        """What each of the 256 levels is shown as."""
        levels = np.arange(256, dtype=np.float64)
        times = 4.0 ** (self.contrast / MOST)
        shown = (levels - MIDDLE) * times + MIDDLE + MIDDLE * self.brightness / MOST
        kept: npt.NDArray[np.uint8] = np.clip(np.round(shown), 0, 255).astype(np.uint8)
        return kept

    def on(self, pixels: Any) -> Any:
        """Pixels in this light; the very same where it is as filmed."""
        return pixels if self == Light() else np.ascontiguousarray(self.table[pixels])


class LightDialog(GuidedDialog):
    """Two sliders; `changed` is called with each light that is tried. Cancel brings the first one back."""

    place = "brightness and contrast"

    def __init__(self, light: Light, changed: Callable[[Light], None], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("The picture's light")
        self._first, self._changed = light, changed
        self.brightness, self.contrast = _slider(light.brightness), _slider(light.contrast)
        form = QFormLayout()
        form.setSpacing(8)
        for words, slider in (("&Brightness", self.brightness), ("&Contrast", self.contrast)):
            slider.setAccessibleName(words.replace("&", ""))
            slider.valueChanged.connect(lambda _value: self._tell())
            form.addRow(words, slider)
        self.reset = QPushButton("As &filmed")
        self.reset.setAutoDefault(False)
        self.reset.clicked.connect(self._as_filmed)
        close = QPushButton("Close")
        close.setDefault(True)
        close.clicked.connect(self.accept)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 16, 20, 16)
        layout.setSpacing(12)
        layout.addLayout(form)
        layout.addWidget(
            label("Only how it is looked at: the film and its reading stay as they are.", "caption")
        )
        layout.addWidget(self.reset, 0, Qt.AlignmentFlag.AlignLeft)
        layout.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)
        self.setMinimumWidth(380)

    def reject(self) -> None:
        """Closed by Escape: as it was."""
        self._changed(self._first)
        super().reject()

    def _as_filmed(self) -> None:
        self.brightness.setValue(0)
        self.contrast.setValue(0)

    def _tell(self) -> None:
        self._changed(Light(self.brightness.value(), self.contrast.value()))


def _slider(value: int) -> QSlider:
    slider = QSlider(Qt.Orientation.Horizontal)
    slider.setRange(-MOST, MOST)
    slider.setPageStep(10)
    slider.setSingleStep(2)
    slider.setValue(value)
    return slider
