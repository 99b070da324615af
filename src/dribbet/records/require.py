"""The few validity tests that many records share."""

from __future__ import annotations

import math
import re
from typing import Final

from dribbet.records.errors import RecordError

MOST_KG: Final = 1000.0  # more than any studio weighs at once
MOST_SECONDS: Final = 400 * 86400.0
MOST_LENGTH_M: Final = 10.0
MOST_MONEY: Final = 1e7
MOST_TEXT: Final = 20_000
_HEX: Final = re.compile(r"#[0-9A-Fa-f]{6}\Z")


def require_positive(value: float, what: str, remedy: str, most: float = 1e9) -> None:
    """Refuse zero, negative, infinite and NaN values, and those beyond `most` or below a billionth of a billionth."""
    if not 1e-18 <= value <= most:  # this way round, NaN is refused too
        raise RecordError(f"{what} is {value:g}. {remedy}")


def require_not_negative(value: float, what: str, remedy: str, most: float = 1e9) -> None:
    """Refuse negative, infinite and NaN values, and those beyond `most`."""
    if not (math.isfinite(value) and 0.0 <= value <= most):
        raise RecordError(f"{what} is {value:g}. {remedy}")


def require_between(value: float, low: float, high: float, what: str, remedy: str) -> None:
    """Refuse what lies outside a range, and NaN; `remedy` names the range in the person's words."""
    if not low <= value <= high:
        raise RecordError(f"{what} cannot be {value:g}. {remedy}")


def require_share(value: float, what: str) -> None:
    """Refuse anything that is not a fraction of one."""
    if not 0.0 <= value <= 1.0:
        raise RecordError(f"{what} is {value * 100:g} %. Choose a share between 0 and 100 %.")


def require_hex(value: str, what: str) -> None:
    """Refuse what is no colour written as #RRGGBB."""
    if not _HEX.match(value):
        raise RecordError(f"The colour of {what} is written {value[:12]!r}. Choose it anew; it is kept as #RRGGBB.")


def require_text(value: str, what: str, most: int = MOST_TEXT) -> None:
    """Refuse text longer than it can be, and signs that no field can hold."""
    if len(value) > most:
        raise RecordError(f"{what} has {len(value)} letters. Use at most {most}.")
    if "\x00" in value:
        raise RecordError(f"{what} holds a sign that cannot be kept. Type it anew.")
