"""A drip card: every colour's run, pale ones too, and what runs off."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.sight import drips
from dribbet.sight.arrays import SightError
from dribbet.sight.drips import read_drips
from tests.sight import drawn

TEAL, SLATE = (15, 106, 122), (31, 38, 42)


def test_drips_are_read_from_left_to_right_within_a_tenth_of_a_millimetre():
    runs = [12.0, 41.5, 0.0, 63.0, 55.2]
    found = read_drips(drawn.drip_card(runs, [TEAL, SLATE, (201, 144, 43), (76, 122, 58), (156, 47, 60)]))
    assert [d.run_mm for d in found] == [pytest.approx(r, abs=0.1) for r in runs]
    assert [d.x_mm for d in found] == [pytest.approx(30 + 22.5 * i, abs=0.3) for i in range(5)]


@pytest.mark.parametrize("pale", ["#ECE8DC", "#E9E6E2", "#F2EDE0"])
def test_pale_paint_on_the_white_card_is_read_too(pale):
    runs = (62.0, 38.0, 51.0)
    found = read_drips(drawn.drip_card_photo([pale, "#0F6A7A", pale], runs, seed=5))
    assert [d.run_mm for d in found] == pytest.approx(list(runs), abs=0.2)


def test_shadow_and_smear_on_the_card_are_no_drips():
    photo = drawn.drip_card_photo(["#0F6A7A", "#1F262A"], (40.0, 55.0), seed=6).astype(np.float32)
    rows, columns = np.mgrid[0 : photo.shape[0], 0 : photo.shape[1]]
    for x, wide, deep in ((520.0, 60.0, 0.10), (700.0, 25.0, 0.08), (880.0, 120.0, 0.12)):  # a pen, a stick, a hand
        photo *= (1.0 - deep * np.exp(-(((columns - x) / wide) ** 2)) * (rows > 200))[..., None]
    found = read_drips(np.clip(photo, 0, 255).astype(np.uint8))
    assert [d.run_mm for d in found] == pytest.approx([40.0, 55.0], abs=0.4)


def test_card_without_its_marks_says_what_to_do():
    with pytest.raises(SightError, match="whole card"):
        read_drips(drawn.flat(800, 600, (250, 250, 250)))


@pytest.mark.parametrize("pale", ["#F6F7FA", "#F3F5F6", "#FAF6EC", "#EFEFEC"])
@pytest.mark.parametrize("seed", [5, 6])
def test_nearly_white_paint_is_read_to_its_end(pale, seed):
    """Some 2.5 to 4.5 delta E from the card: a run that breaks off where it fades would be told as a short one."""
    runs = (44.0, 30.0, 12.0, 60.0)
    found = read_drips(drawn.drip_card_photo([pale, "#0F6A7A", pale, pale], runs, seed=seed))
    assert [d.run_mm for d in found] == pytest.approx(list(runs), abs=0.25)
    assert not any(d.off_card for d in found)


def test_card_between_drips_that_stand_close_is_no_pale_drip():
    """Seven drips, 15 mm apart: half-way between two of them only paint lies to both sides at 7.5 mm."""
    runs = (55.0, 10.0, 35.0, 44.0, 23.0, 51.0, 30.0)
    colours = ["#0F6A7A", "#1F262A", "#9C2F3C", "#F3F5F6", "#4C7A3A", "#C9902B", "#1F262A"]
    found = read_drips(drawn.drip_card_photo(colours, runs, seed=4))
    assert [d.run_mm for d in found] == pytest.approx(list(runs), abs=0.25)


def test_what_runs_off_the_card_is_said_to():
    found = read_drips(drawn.drip_card_photo(["#0F6A7A", "#F3F5F6", "#1F262A"], (80.0, 80.0, 71.0), seed=3))
    assert [d.off_card for d in found] == [True, True, False]
    assert found[0].run_mm == pytest.approx(72.5, abs=0.2)
    assert found[2].run_mm == pytest.approx(71.0, abs=0.2)


def test_empty_card_holds_no_drip_even_in_uneven_light():
    photo = drawn.drip_card_photo([], (), seed=2).astype(np.float32)
    rows, columns = np.mgrid[0 : photo.shape[0], 0 : photo.shape[1]]
    edge = 1 / (1 + np.exp(-(columns + 0.4 * rows - 900) / 30.0))  # the soft edge of a shadow across the card
    assert read_drips(np.clip(photo, 0, 255).astype(np.uint8)) == ()
    assert read_drips(np.clip(photo * (1 - 0.12 * edge)[..., None], 0, 255).astype(np.uint8)) == ()


def test_marks_lower_edge_and_specks_of_the_card_are_not_looked_at():
    """Free are 20.5 to 129.5 mm across and 8 to 97.5 mm down; what is thinner than 1.3 mm is no paint."""
    lanes = drips._lanes_only(np.ones((1000, 1500), bool), 10.0) > 0
    rows, columns = np.flatnonzero(lanes.any(axis=1)), np.flatnonzero(lanes.any(axis=0))
    assert (rows[0], rows[-1]) == (80, 974)
    assert (columns[0], columns[-1]) == (205, 1294)
    thin = np.zeros((1000, 1500), bool)
    thin[200:800, 700:712] = True
    assert not drips._lanes_only(thin, 10.0).any()
    thin[200:800, 700:714] = True
    assert drips._lanes_only(thin, 10.0).any()


def faint(spread: float, wide_mm: float = 4.0, tall_mm: float = 40.0) -> int:
    """How many drips there are in one faint patch whose step from the card scatters by `spread` of its mean."""
    paint = np.zeros((1000, 1500), np.uint8)
    down, across = round(tall_mm * 10), round(wide_mm * 10)
    paint[220 : 220 + down, 700 : 700 + across] = 1
    away = np.where(np.arange(1500)[None, :] % 2, 3.0 * (1 + spread), 3.0 * (1 - spread)).astype(np.float32) * paint
    lab = np.full((1000, 1500, 3), (96.0, 0.0, 0.0), np.float32)
    white = np.full((1000, 1500, 3), (98.0, 0.0, 0.0))
    return len(drips._drips_in(paint, away, lab, white, 10.0, faint=True))


@pytest.mark.parametrize(
    ("shown", "count"),
    [
        ({"spread": 0.40}, 1), ({"spread": 0.50}, 0),  # a shadow fades
        ({"spread": 0.1, "wide_mm": 1.6}, 1), ({"spread": 0.1, "wide_mm": 1.4}, 0),
        ({"spread": 0.1, "wide_mm": 13.8}, 1), ({"spread": 0.1, "wide_mm": 14.3}, 0),
        ({"spread": 0.1, "wide_mm": 10.0, "tall_mm": 12.5}, 1), ({"spread": 0.1, "wide_mm": 10.0, "tall_mm": 11.5}, 0),
        ({"spread": 0.1, "wide_mm": 2.0, "tall_mm": 4.2}, 1), ({"spread": 0.1, "wide_mm": 2.0, "tall_mm": 3.8}, 0),  # 8 mm2
    ],
)  # fmt: skip
def test_pale_patch_is_a_drip_where_it_is_as_wide_as_even_and_as_long_as_one(shown, count):
    assert faint(**shown) == count


def test_patch_that_hangs_from_no_start_line_is_no_drip():
    def count(top_mm: float, tall_mm: float) -> int:
        paint = np.zeros((1000, 1500), np.uint8)
        paint[round(top_mm * 10) : round((top_mm + tall_mm) * 10), 700:740] = 1
        lab = np.full((1000, 1500, 3), (40.0, 20.0, 0.0), np.float32)
        return len(drips._drips_in(paint, paint * np.float32(60), lab, np.full((1000, 1500, 3), (98.0, 0.0, 0.0)), 10.0))

    assert count(26.5, 20.0) == 1
    assert count(27.5, 20.0) == 0  # begins more than 2 mm below the line at 25 mm
    assert count(9.0, 8.5) == 1
    assert count(9.0, 7.5) == 0  # ends more than 8 mm above it
