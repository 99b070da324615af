"""Whether what was expected before the first pour came true (domain: one question and a prediction that can fail)."""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.lab.verdict.judge import Word
from dribbet.records import Wanted

if TYPE_CHECKING:
    from dribbet.lab.verdict.judge import Difference
    from dribbet.records import Prediction


class Outcome(StrEnum):
    """What became of a prediction."""

    MET = "met"
    SMALLER = "met in direction, but smaller than expected"
    NOT_MET = "not met"
    OPEN = "cannot be told yet"


def outcome(prediction: Prediction, first_minus_last: Difference) -> Outcome:
    """Compare a prediction for the last level with the difference that was judged (first level minus last).

    Met: real, in the expected direction, and the expected size lies in the interval or below it. Could be chance is not
    met: the text was that there is a difference.
    """
    d = first_minus_last
    if d.word is Word.TOO_FEW or d.difference != d.difference:
        return Outcome.OPEN
    sign = -1.0 if prediction.more_or_less is Wanted.MORE else 1.0
    gained = sign * d.difference
    if d.word is not Word.REAL or gained <= 0.0:
        return Outcome.NOT_MET
    ends = [sign * v for v in (d.low, d.high) if v is not None]
    most = max(ends) if ends else gained
    return Outcome.MET if prediction.size <= most else Outcome.SMALLER
