"""The search line: a small language that picks shots out of columns, for window, commands and figures."""

from ripasso.core.finding.matching import FIELDS, Columns, matching
from ripasso.core.finding.query import NotAQuery, parse_query

__all__ = ["FIELDS", "Columns", "NotAQuery", "matching", "parse_query"]
