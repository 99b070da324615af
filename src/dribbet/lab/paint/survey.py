"""What a pre-test of a set of colours has found: one row a colour, and how far they lie apart."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.paint import containers
from dribbet.records import SURVEYED, GaugingKind

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.paint.containers import Body
    from dribbet.records import Gauging, Material, Survey

SINKS_FROM: Final = 0.02
"""Relative difference of densities from which a layer sinks into a lighter one below; less is within what a syringe tells."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SurveyRow:
    """One colour of a pre-test; None where it was not measured since the pre-test began."""

    material: Material
    density: Gauging | None
    drip: Gauging | None
    disc: Gauging | None

    @property
    def due(self) -> tuple[GaugingKind, ...]:
        """What is still to be measured of it."""
        have = {GaugingKind.DENSITY: self.density, GaugingKind.DRIP: self.drip, GaugingKind.BODY: self.disc}
        return tuple(kind for kind in SURVEYED if have[kind] is None)

    @property
    def body(self) -> Body | None:
        """How it feels, by its disc."""
        if self.disc is None:
            return None
        return containers.body_of(self.disc.value, sample_kg=self.disc.sample_kg, density_kg_m3=self.material.density_kg_m3)


@dataclass(frozen=True, slots=True, kw_only=True)
class TableSpread:
    """How far a set lies apart in one figure."""

    most: Material
    least: Material
    times: float
    """Density of the heaviest over the lightest, or viscosity of the thickest over the thinnest."""


def rows(survey: Survey, shelf: Sequence[Material], gaugings: Sequence[Gauging]) -> tuple[SurveyRow, ...]:
    """Colours of a pre-test that still stand on the shelf, with what was measured of them since it began."""
    since = [g for g in gaugings if g.at >= survey.at or (g.number and g.number > survey.number)]
    known = {m.key: m for m in shelf}
    return tuple(
        SurveyRow(
            material=known[key],
            density=containers.newest(since, known[key], GaugingKind.DENSITY),
            drip=containers.newest(since, known[key], GaugingKind.DRIP),
            disc=containers.newest(since, known[key], GaugingKind.BODY),
        )
        for key in survey.materials
        if key in known
    )


def next_due(table: Sequence[SurveyRow]) -> tuple[Material, GaugingKind] | None:
    """What is measured next: one tool for all colours before the next tool."""
    return next(((row.material, kind) for kind in SURVEYED for row in table if kind in row.due), None)


def by_density(table: Sequence[SurveyRow]) -> TableSpread | None:
    """Heaviest and lightest; None before two were weighed."""
    weighed = sorted(((r.density.value, r.material) for r in table if r.density is not None), key=lambda r: r[0])
    if len(weighed) < 2:
        return None
    return TableSpread(most=weighed[-1][1], least=weighed[0][1], times=weighed[-1][0] / weighed[0][0])


def by_drip(table: Sequence[SurveyRow]) -> TableSpread | None:
    """Thickest and thinnest as they leave the container; None before two ran. A run goes with the cube root of fluidity: (long / short)^3."""
    ran = sorted(((r.drip.value, r.material) for r in table if r.drip is not None), key=lambda r: r[0])
    if len(ran) < 2:
        return None
    return TableSpread(most=ran[0][1], least=ran[-1][1], times=(ran[-1][0] / ran[0][0]) ** 3)


def sinking(table: Sequence[SurveyRow]) -> tuple[tuple[Material, tuple[Material, ...]], ...]:
    """For each colour, heaviest first, the measured ones that it sinks into when it is poured onto them."""
    weighed = sorted(((r.density.value, r.material) for r in table if r.density is not None), key=lambda r: -r[0])
    found = []
    for heavy, above in weighed:
        under = tuple(below for light, below in weighed if heavy > light * (1.0 + SINKS_FROM))
        if under:
            found.append((above, under))
    return tuple(found)
