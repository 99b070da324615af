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
    HouseRules,
    Ingredient,
    Kind,
    Lamp,
    Layer,
    Level,
    Material,
    PanelWeighing,
    PanelWeight,
    Photo,
    Reading,
    RecordError,
    Stage,
    Weighing,
)
from tests.made_up import NOON, result, series


def material(**changed) -> Material:
    plain = {"id": "m", "name": "foam", "kind": Kind.PAINT, "hex": "#FFFFFF", "density_kg_m3": 1300.0, "volume_solids": 0.4}
    return Material(**(plain | changed))


def photo(**changed) -> Photo:
    plain = {
        "id": "f", "panel_id": None, "sha256": "0" * 64, "suffix": ".jpg", "name": "a.jpg", "stage": Stage.DRY, "lamp": Lamp.DIFFUSE, "width_px": 10,
        "height_px": 10, "taken_at": None, "added_at": NOON,
    }  # fmt: skip
    return Photo(**(plain | changed))


def reading(found: dict) -> Reading:
    return Reading(id="r", panel_id="p", photo_id="f", stage=Stage.DRY, reader="t", at=NOON, result=found)


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
        (lambda: Constants(room_c=99.0), "-30 to 60"),
        (lambda: Constants(dwell_s=1e9), "up to a day"),
        (lambda: Constants(torch_passes=101), "0 to 100"),
        (lambda: Check(id="c", mix_id="m", kind=CheckKind.MOUND, value=2.0, at=NOON, celsius=91.0), "-30 to 90"),
        (lambda: HouseRules(drip_seconds=3601.0), "0.1 to 3600 seconds"),
        (lambda: HouseRules(bubble_m=1e-7), "0.001 to 10 mm"),
        (lambda: HouseRules(cups_kg=(0.1, 101.0)), "1 g to 100 kg"),
        (lambda: Level(value=1e308), "no figure of this craft"),
        (lambda: Level(value=1e-300), "no figure of this craft"),
        (lambda: material(hex="red"), "#RRGGBB"),
        (lambda: material(density_kg_m3=25_001.0), "0.1 to 25"),
        (lambda: photo(suffix="/../x"), "JPEG, PNG"),
        (lambda: photo(sha256="ab"), "name of its own content"),
        (lambda: photo(corners_px=((0.0, 0.0),)), "has four"),
        (lambda: reading(result(2) | {"cells": result(3)["cells"] | {"count": 2}}), "counts other cells than it lists"),
        (lambda: reading({}), "says nothing that can be of panel"),
        (lambda: reading(result(spread={"fraction": 1.2, "area_mm2": 1.0, "bare_corners": []})), "spread fraction"),
        (lambda: reading(result(outlines={"cells": [[1]]})), "outlines"),
        (lambda: reading(result(shimmer={"index": float("nan"), "glints_per_cm2": 1.0})), "shimmer index"),
        (lambda: series(repeats=0), "1 to 12 repeats"),
    ],
)  # fmt: skip
def test_value_that_cannot_be_true_is_refused(make, words):
    with pytest.raises(RecordError, match=words):
        make()
