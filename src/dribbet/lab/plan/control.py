"""Whether a test holds what its effects have to stand against (domain: control panel)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from dribbet.lab.plan.factors import without
from dribbet.records import Advice, Factor, Insisted, Level, Series

if TYPE_CHECKING:
    from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class NoControl:
    """A factor whose effect would have nothing to stand against."""

    factor: Factor
    words: str
    insisted: bool


def missing(series: Series) -> list[NoControl]:
    """Factors of the test that have an X = 0 but no recipe with it."""
    said = {i.of for i in series.insisted if i.against is Advice.CONTROL}
    return [NoControl(factor=v.factor, words=v.words, insisted=v.words in said) for v in series.varied if not without(v.factor, v.levels)]


def with_control(series: Series) -> Series:
    """Return the test with a level without it for every factor that misses one, poured in the same sitting."""
    lacking = {m.factor for m in missing(series)}
    varied = tuple(replace(v, levels=(Level(value=0.0), *v.levels)) if v.factor in lacking else v for v in series.varied)
    return replace(series, varied=varied)


def insist(series: Series, now: datetime) -> Series:
    """Keep on record that the person goes without a control."""
    new = tuple(Insisted(against=Advice.CONTROL, of=m.words, at=now) for m in missing(series) if not m.insisted)
    return replace(series, insisted=(*series.insisted, *new))


def still_insisted(series: Series) -> Series:
    """Drop what is no longer gone against, so that the record says what was really poured."""
    lacking = {m.words for m in missing(series)}
    return replace(series, insisted=tuple(i for i in series.insisted if i.against is not Advice.CONTROL or i.of in lacking))


__all__ = ["NoControl", "insist", "missing", "still_insisted", "with_control"]
