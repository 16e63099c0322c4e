"""A chart on screen, drawn by pyqtgraph from its description: every mark has a tip and opens its shots."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QMouseEvent
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QVBoxLayout, QWidget

from ripasso.drawing.charts import Axis, Chart, Series, shade_of
from ripasso.ui.theme import CAPTION_PX, Theme
from ripasso.ui.widgets.basics import label

REACH_PX = 10  # of the mouse
DOT_PX = 8
NEAR_END = 0.72  # of the axis
LABEL_SHARE = 0.09  # of the axis: the room of a name


class ChartView(QWidget):
    """One chart; `chosen` carries the words and the shots of the mark that was pressed."""

    chosen = pyqtSignal(str, object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self.chart: Chart | None = None
        self._plot: Any = None
        self._title, self._note = label("", "caption"), label("", "caption", wrap=True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(theme.px(230))
        self.setAccessibleName("Chart")
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(8, 4, 8, 4)
        self._layout.setSpacing(2)
        self._layout.addWidget(self._title)
        self._layout.addWidget(self._note)

    def show_chart(self, chart: Chart) -> None:
        """Show this one instead."""
        self.chart = chart
        self._title.setText(chart.title)
        self._note.setText(chart.note)
        self._note.setVisible(bool(chart.note))
        self.setAccessibleDescription(f"{chart.title}. {chart.sentence}")
        plot = self._fresh_plot()
        for axis, place in ((chart.x, "bottom"), (chart.y, "left")):
            self._dress_axis(plot.getAxis(place), axis)
        view = plot.getViewBox()
        view.invertX(chart.x.reversed)
        view.setAspectLocked(chart.equal)
        view.setRange(xRange=(chart.x.low, chart.x.high), yRange=(chart.y.low, chart.y.high), padding=0.02)
        for one in chart.series:
            self._draw(plot, one)
        self._label(plot, chart)

    def _fresh_plot(self) -> Any:
        """The plot, emptied; its library is loaded when the first chart is shown."""
        import pyqtgraph as pg

        if self._plot is None:
            pg.setConfigOptions(antialias=True)
            self._plot = pg.PlotWidget()
            self._plot.setMenuEnabled(False)
            # It takes what room there is; its own wish would leave nothing to the figures.
            self._plot.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
            self._plot.setMouseEnabled(x=False, y=False)
            self._plot.hideButtons()
            self._plot.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self._plot.viewport().installEventFilter(self)
            self._plot.viewport().setMouseTracking(True)
            self._layout.insertWidget(1, self._plot, 1)
        self._plot.clear()
        self._plot.setBackground(self._theme.colour("raised"))
        self._plot.showGrid(x=True, y=True, alpha=0.12)
        return self._plot.getPlotItem()

    def _dress_axis(self, drawn: Any, axis: Axis) -> None:
        theme = self._theme
        drawn.setTextPen(theme.colour("quiet"))
        drawn.setPen(theme.colour("line"))
        # After the pen, which would give the words its colour.
        quiet = {"color": theme.colour("quiet").name(), "font-size": f"{theme.px(CAPTION_PX)}px"}
        drawn.setLabel((axis.words), **quiet)
        drawn.setStyle(tickFont=theme.font(CAPTION_PX))
        drawn.setTicks([list(axis.ticks)] if axis.ticks else None)
        drawn.enableAutoSIPrefix(False)

    def _draw(self, plot: Any, one: Series) -> None:
        import pyqtgraph as pg

        theme, colour, pale = self._theme, self._theme.colour(one.role), self._theme.colour("ghost")
        shades = [pale if few else colour for few in _few(one)]
        if one.form in ("line", "dashed", "hair"):
            style = Qt.PenStyle.DashLine if one.form == "dashed" else Qt.PenStyle.SolidLine
            pen = pg.mkPen(colour, width=1 if one.form == "hair" else 1.6, style=style)
            plot.addItem(pg.PlotCurveItem(one.x, one.y, pen=pen))
        if one.form == "cells":
            self._draw_cells(plot, one)
        if one.form == "bars":
            pens = [pg.mkPen(theme.colour("raised"))] * len(one.x)
            plot.addItem(pg.BarGraphItem(x=one.x, height=one.y, width=one.width, brushes=shades, pens=pens))
        if one.low is not None and one.high is not None and one.form != "cells":
            for i, shade in enumerate(shades):
                x, ends = float(one.x[i]), np.array([one.low[i], one.high[i]])
                plot.addItem(pg.PlotCurveItem(np.array([x, x]), ends, pen=pg.mkPen(shade, width=1.6)))
        if one.form in ("line", "dots", "hollow", "cross"):
            # One pen and brush a shade: the library draws a symbol for each of them that it has not met.
            width = 2.4 if one.form == "cross" else 1.4
            pen_of = {few: pg.mkPen(shade, width=width) for few, shade in ((True, pale), (False, colour))}
            brush_of = {few: pg.mkBrush(pen.color()) for few, pen in pen_of.items()}
            if one.form == "hollow":
                brush_of = dict.fromkeys(pen_of, pg.mkBrush(None))
            brushes, pens = ([of[bool(few)] for few in _few(one)] for of in (brush_of, pen_of))
            symbol, size = ("+", 2 * DOT_PX) if one.form == "cross" else ("o", DOT_PX)
            plot.addItem(
                pg.ScatterPlotItem(one.x, one.y, size=theme.px(size), symbol=symbol, pen=pens, brush=brushes)
            )

    def _draw_cells(self, plot: Any, one: Series) -> None:
        """Squares, the fuller the darker, with their words."""
        import pyqtgraph as pg

        theme, half = self._theme, one.width / 2
        assert one.filled is not None
        ground = theme.colour("raised").name()
        for i, few in enumerate(_few(one)):
            x, y = float(one.x[i]), float(one.y[i])
            colour = theme.colour("ghost" if few else one.role).name()
            shade = QColor(shade_of(colour, ground, float(one.filled[i]), few=few))
            brush, pen = pg.mkBrush(shade), pg.mkPen(theme.colour("line"))
            size = one.width
            cell = pg.BarGraphItem(
                x0=[x - half], y0=[y - half], width=size, height=size, brush=brush, pen=pen
            )
            plot.addItem(cell)
            words = pg.TextItem(one.words[i], color=theme.colour("ink"), anchor=(0.5, 0.5))
            words.setFont(theme.font(CAPTION_PX))
            words.setPos(x, y)
            plot.addItem(words, ignoreBounds=True)

    def _label(self, plot: Any, chart: Chart) -> None:
        """The names of the series beside their last marks, moved apart where they would meet."""
        import pyqtgraph as pg

        named = [one for one in chart.series if one.name and len(one.x) and one.form not in ("hair", "cells")]
        gap = LABEL_SHARE * (chart.y.high - chart.y.low)
        free = chart.y.low
        for one in sorted(named, key=lambda one: float(one.y[-1])):
            free = max(float(one.y[-1]), free)
            words = pg.TextItem(
                (one.name), color=self._theme.colour(one.role), anchor=(self._side_of(one), 1)
            )
            words.setFont(self._theme.font(CAPTION_PX, weight=600))
            words.setPos(float(one.x[-1]), free)
            plot.addItem(words, ignoreBounds=True)
            free += gap

    def _side_of(self, one: Series) -> float:
        """Words stand to the right of their last mark, but to the left of one near the right end."""
        assert self.chart is not None
        axis = self.chart.x
        share = (float(one.x[-1]) - axis.low) / (axis.high - axis.low)
        from_left = 1 - share if axis.reversed else share
        return 1.0 if from_left > NEAR_END else 0.0

    # Marks under the mouse

    def at(self, series: int, mark: int) -> QPoint:
        """Where a mark is in the plot's picture."""
        assert self.chart is not None
        one = self.chart.series[series]
        y = one.y[mark] / 2 if one.form == "bars" else one.y[mark]
        place = self._plot.getViewBox().mapViewToScene(QPointF(float(one.x[mark]), float(y)))
        return self._plot.mapFromScene(place)  # type: ignore[no-any-return]

    @property
    def canvas(self) -> QWidget:
        """What takes the mouse."""
        return self._plot.viewport()  # type: ignore[no-any-return]

    def nearest(self, place: QPoint) -> tuple[int, int] | None:
        """Series and mark under the mouse."""
        best, found = float(REACH_PX**2), None
        for s, one in enumerate(self.chart.series if self.chart is not None else ()):
            if not one.has_marks:
                continue
            for m in range(len(one.x)):
                if one.form in ("bars", "cells"):
                    if self._in_bar(one, m, place):
                        return s, m
                    continue
                off = self.at(s, m) - place
                far = float(off.x() ** 2 + off.y() ** 2)
                if far <= best:
                    best, found = far, (s, m)
        return found

    def _in_bar(self, one: Series, mark: int, place: QPoint) -> bool:
        spot = self._plot.getViewBox().mapSceneToView(QPointF(self._plot.mapToScene(place)))
        inside = abs(spot.x() - float(one.x[mark])) <= one.width / 2
        if one.form == "cells":
            return bool(inside and abs(spot.y() - float(one.y[mark])) <= one.width / 2)
        return bool(inside and 0 <= spot.y() <= max(float(one.y[mark]), 0.0))

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent):
            return self._tell(event)
        if isinstance(event, QMouseEvent):
            found = self.nearest(event.position().toPoint())
            if event.type() == QEvent.Type.MouseMove:
                shape = Qt.CursorShape.ArrowCursor if found is None else Qt.CursorShape.PointingHandCursor
                self._plot.viewport().setCursor(shape)
            if event.type() == QEvent.Type.MouseButtonPress and found is not None and self.chart is not None:
                one = self.chart.series[found[0]]
                self.chosen.emit(self._tip(*found), np.asarray(one.shots[found[1]], dtype=np.int64))
                return True
        return super().eventFilter(watched, event)  # type: ignore[arg-type]

    def _tell(self, event: QHelpEvent) -> bool:
        found = self.nearest(event.pos())
        if found is None:
            QToolTip.hideText()
            return False
        QToolTip.showText(event.globalPos(), (self._tip(*found)), self._plot)
        return True

    def _tip(self, series: int, mark: int) -> str:
        assert self.chart is not None
        one = self.chart.series[series]
        return one.tips[mark] if one.tips else one.name


def _few(one: Series) -> list[bool]:
    return [False] * len(one.x) if one.few is None else [bool(few) for few in one.few]
