"""Records refuse what cannot be true, in words that say what to do."""

from __future__ import annotations

import dataclasses
import math

import pytest

from dribbet import records
from dribbet.records import (
    Check,
    CheckKind,
    Constants,
    Ingredient,
    Kind,
    Layer,
    Level,
    Material,
    PanelWeighing,
    PanelWeight,
    RecordError,
    Weighing,
)
from tests.made_up import NOON, series


def material(**changed) -> Material:
    plain = {"id": "m", "name": "foam", "kind": Kind.PAINT, "hex": "#FFFFFF", "density_kg_m3": 1300.0, "volume_solids": 0.4}
    return Material(**(plain | changed))


def test_exported_names_are_sorted_and_there():
    assert records.__all__ == sorted(records.__all__, key=lambda n: (not n.isupper(), n[0].islower(), n))
    assert all(hasattr(records, name) for name in records.__all__)


def test_every_record_is_frozen():
    kinds = [v for v in vars(records).values() if isinstance(v, type) and dataclasses.is_dataclass(v)]
    assert len(kinds) > 15
    assert all(k.__dataclass_params__.frozen for k in kinds)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Weighing(id="w", mix_id="m", ingredient="water", mass_kg=-0.001, at=NOON), "zero or more"),
        (lambda: Weighing(id="w", mix_id="m", ingredient="water", mass_kg=math.nan, at=NOON), "zero or more"),
        (lambda: Check(id="c", mix_id="m", kind=CheckKind.DRIP, value=math.inf, at=NOON), "Read it again"),
        (lambda: PanelWeighing(id="p", panel_id="p", kind=PanelWeight.BARE, mass_kg=0.0, at=NOON), "Put it on the scale"),
        (lambda: Level(), "either a number or a name"),
        (lambda: Level(value=1.0, name="one"), "either a number or a name"),
        (lambda: Constants(water_share=1.2), "between 0 and 100 %"),
        (lambda: Constants(water_share=0.6, alcohol_share=0.5), "no room for paint"),
        (lambda: Constants(film_m=0.0), "wet film"),
        (lambda: Constants(panel_width_m=-0.1), "Enter the width"),
        (lambda: Layer(material="foam", share=1.5), "between 0 and 100 %"),
        (lambda: Ingredient(name=" ", parts=1.0), "Give each ingredient a name"),
        (lambda: Ingredient(name="paint", parts=1.0, density_kg_m3=0.0), "kilograms per cubic metre"),
        (lambda: Ingredient(name="paint", parts=1.0, volume_solids=2.0), "between 0 and 100 %"),
        (lambda: material(density_kg_m3=math.nan), "10 mL syringe"),
        (lambda: material(stock_kg=-1.0), "Weigh the container"),
        (lambda: series(levels=()), "2 to 8 levels"),
        (lambda: series(repeats=0), "1 to 12 repeats"),
    ],
)  # fmt: skip
def test_value_that_cannot_be_true_is_refused(make, words):
    with pytest.raises(RecordError, match=words):
        make()
