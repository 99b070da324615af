"""Colours of a photograph go to the nearest paint of the cup, and blends to none."""

from __future__ import annotations

import pytest

from dribbet.sight.swatches import labs, shares_by_swatch

PAINTS = {"white": "#FFFFFF", "black": "#101010"}


def test_hex_colours_have_their_published_lab():
    assert labs(["#FFFFFF"])[0] == pytest.approx((100.0, 0.0, 0.0), abs=0.1)
    assert labs(["#0000FF"])[0] == pytest.approx((32.30, 79.19, -107.86), abs=0.3)


def test_each_colour_goes_to_its_paint_and_what_is_none_is_left_out():
    told = [("#F4F4F0", 0.5), ("#202020", 0.3), ("#D02020", 0.2)]
    assert shares_by_swatch(told, PAINTS) == pytest.approx({"white": 0.625, "black": 0.375})
    assert shares_by_swatch([("#D02020", 1.0)], PAINTS) == {}
    assert shares_by_swatch([], PAINTS) == shares_by_swatch(told, {}) == {}


def test_a_colour_belongs_to_a_paint_within_22_by_ciede2000():
    """Greys: CIEDE2000 counts lightness alone there."""
    from dribbet.sight.colour import ciede2000

    far = {h: float(ciede2000(labs([h]), labs(["#808080"]))[0]) for h in ("#C8C8C8", "#CECECE")}
    assert far["#C8C8C8"] < 22.0 < far["#CECECE"] < 24.0
    assert shares_by_swatch([("#C8C8C8", 1.0)], {"grey": "#808080"}) == {"grey": 1.0}
    assert shares_by_swatch([("#CECECE", 1.0)], {"grey": "#808080"}) == {}
