"""Kinds of test: what each lays out before anyone changes it."""

from __future__ import annotations

import pytest

from dribbet.lab.plan import design, templates
from tests.lab.test_planning import SHELF
from tests.made_up import series

LAID_OUT = {  # key: levels (in SI), repeats, panels to pour
    "medium": ("medium: conditioner, glue", 3, 6),
    "silicone": ("silicone: 0, 1, 2, 4", 2, 8),
    "alcohol": ("alcohol: 0, 0.05, 0.1", 2, 6),
    "shimmer": ("shimmer medium: 0, 0.5, 1, 2", 2, 8),
    "anti-craze": ("anti-craze additive: 0, 0.1, 0.2", 3, 9),
    "ratio": ("ratio: 1, 1.5, 2, 3", 2, 8),
    "film": ("medium: conditioner, glue × film left: 0.0012, 0.0023", 2, 8),
    "spots": ("medium: conditioner, glue × finish of the paint: matt, glossy × sheen of the base: satin, semi-gloss", 3, 3),
    "base": ("water in the base: 0, 0.1, 0.2", 2, 6),
    "technique": ("technique: flip cup, straight pour", 3, 6),
    "order": ("order of layers: as given, turned round", 3, 6),
    "heat": ("heat: 0, 2", 3, 6),
    "heat after": ("moment of heat: 10, 120", 3, 6),
    "third": ("third liquid: water, alcohol", 3, 6),
    "activator": ("activator: activator A, activator B", 3, 6),
    "cure": ("treatment when dry: nothing, wash, varnish, bake, hot cup", 2, 10),
    "size": ("panel size: 200 x 150, 400 x 300", 2, 4),
}


def test_every_kind_is_in_the_table():
    assert [t.key for t in templates.TEMPLATES] == list(LAID_OUT)


@pytest.mark.parametrize("key", LAID_OUT)
def test_a_kind_of_test_lays_out_its_levels_repeats_and_panels(key):
    s = templates.filled(next(t for t in templates.TEMPLATES if t.key == key), series(), SHELF)
    levels = " × ".join(f"{v.factor.value}: {', '.join(lv.name or f'{lv.value:g}' for lv in v.levels)}" for v in s.varied)
    assert (levels, s.repeats, design.sheets(s)) == LAID_OUT[key]
