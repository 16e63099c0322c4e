"""The questions that can be asked of a player's shots; their words are in `review.question_words`.

To add one: a function from `Asked` to an `Answer` in the module of its subject, a line in its table, and its
words.
"""

from __future__ import annotations

from collections.abc import Mapping

from ripasso.core.figures.questions.asking import Question
from ripasso.core.figures.questions.course import COURSE
from ripasso.core.figures.questions.position import POSITION
from ripasso.core.figures.questions.potting import POTTING

QUESTIONS: Mapping[str, Question] = {**POTTING, **POSITION, **COURSE}

__all__ = ["QUESTIONS"]
