"""What Ask draws of recipes that share a panel: each piece's place, what of it is measured, its code and recipe."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.records import Design, Factor, Layout, Series, Varied
from dribbet.studio.standing import sheets
from tests.made_up import numbers


def paired(desk, repeats: int) -> Series:
    varied = (Varied(factor=Factor.WATER_SHARE, levels=numbers(0.10, 0.16, 0.22)),)
    return replace(desk.notebook.get(Series, "k2"), varied=varied, repeats=repeats, layout=Layout(design=Design.PAIRED, strip_m=0.010), seed=3)


def test_each_panel_holds_each_recipe_once_and_no_place_twice(desk):
    drawn = sheets.panels_with_pieces(paired(desk, 2))
    assert len(drawn) == 2
    for panel in drawn:
        assert sorted(p.recipe.letter for p in panel) == ["a", "b", "c"]
        assert sum((p.box[2] - p.box[0]) * (p.box[3] - p.box[1]) for p in panel) == pytest.approx(1.0)
        assert all("-" not in p.code for p in panel)
    codes = [p.code for panel in drawn for p in panel]
    assert sorted(codes) == ["a1", "a2", "b1", "b2", "c1", "c2"]


def test_what_is_measured_keeps_a_strip_from_each_neighbour(desk):
    """Three pieces on 200 mm: the outer ones lose 10 mm on one side, the middle one on both."""
    (panel,) = sheets.panels_with_pieces(paired(desk, 1))
    lost = sorted(round(((p.box[2] - p.box[0]) - (p.inner[2] - p.inner[0])) * 200.0, 6) for p in panel)
    assert lost == [10.0, 10.0, 20.0]
    assert all(p.box[1] == p.inner[1] and p.box[3] == p.inner[3] for p in panel)
