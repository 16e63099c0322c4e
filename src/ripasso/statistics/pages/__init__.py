"""Pages of figures with their words and charts, ready to be shown; the widgets are in `ui.statistics`."""
