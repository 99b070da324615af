"""Whether what was expected before the first pour came true (domain: one question and a prediction that can fail)."""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING, Protocol

from dribbet.lab.verdict.judge import Word
from dribbet.records import Wanted

if TYPE_CHECKING:
    from dribbet.records import Prediction


class Outcome(StrEnum):
    """What became of a prediction."""

    MET = "met"
    SMALLER = "met in direction, but smaller than expected"
    NOT_MET = "not met"
    OPEN = "cannot be told yet"


class Judged(Protocol):
    """A difference that was judged, first level minus last."""

    @property
    def difference(self) -> float:
        """Estimate."""

    @property
    def low(self) -> float | None:
        """Lower end of its interval."""

    @property
    def high(self) -> float | None:
        """Upper end of its interval."""

    @property
    def word(self) -> Word:
        """What may be said."""


def outcome(prediction: Prediction, first_minus_last: Judged) -> Outcome:
    """Compare a prediction for the last level with the difference that was judged (first level minus last).

    Met: real, in the expected direction, and the expected size lies in the interval or below it. Not met: real the other way, or an interval
    that ends before the expected size. Whatever could still be either, cannot be told: a test that shows nothing refutes nothing.
    """
    d = first_minus_last
    if d.word is Word.TOO_FEW or d.difference != d.difference:
        return Outcome.OPEN
    sign = -1.0 if prediction.more_or_less is Wanted.MORE else 1.0
    gained = sign * d.difference
    ends = [sign * v for v in (d.low, d.high) if v is not None]
    most = max(ends) if ends else gained
    if d.word is Word.REAL and gained <= 0.0:
        return Outcome.NOT_MET
    if d.word is not Word.REAL:
        return Outcome.NOT_MET if ends and most < prediction.size else Outcome.OPEN
    return Outcome.MET if prediction.size <= most else Outcome.SMALLER
