"""The few validity tests that many records share."""

from __future__ import annotations

import math

from dribbet.records.errors import RecordError


def require_positive(value: float, what: str, remedy: str) -> None:
    """Refuse zero, negative, infinite and NaN values."""
    if not (math.isfinite(value) and value > 0.0):
        raise RecordError(f"{what} is {value:g}. {remedy}")


def require_not_negative(value: float, what: str, remedy: str) -> None:
    """Refuse negative, infinite and NaN values."""
    if not (math.isfinite(value) and value >= 0.0):
        raise RecordError(f"{what} is {value:g}. {remedy}")


def require_share(value: float, what: str) -> None:
    """Refuse anything that is not a fraction of one."""
    if not 0.0 <= value <= 1.0:
        raise RecordError(f"{what} is {value * 100:g} %. Choose a share between 0 and 100 %.")
