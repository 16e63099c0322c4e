"""Drawings as lists of primitives in table metres with role names; painters put them on screen or paper."""

from ripasso.drawing.primitives import Circle, Drawing, Line, Polygon, Text
from ripasso.drawing.table import TableScene, table_drawing

__all__ = ["Circle", "Drawing", "Line", "Polygon", "TableScene", "Text", "table_drawing"]
