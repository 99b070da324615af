"""The reader on panels that taught it nothing, and on pictures of other things; marks are minima, not aims."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import cv2
import numpy as np
import pytest

from dribbet.demo.world.draw import draw
from dribbet.demo.world.lamps import seen
from dribbet.sight import cells, colour, cracks
from dribbet.sight import measure as sight
from dribbet.sight.arrays import SightError
from dribbet.sight.network import see
from dribbet.sight.spread import find_spread
from tests.sight import drawn

K = 8.0


@cache
def read(kind: str, seed: int):
    """A world photographed at 8 px/mm: its truth, the cells and the cracks that were read."""
    sheet = draw(seed, width_mm=72.0, height_mm=60.0, k=K, kind=kind)
    srgb = seen(sheet.linear, K, np.random.default_rng([seed, 3])).astype(np.float32) / 255.0
    lab = colour.lab_of(srgb)
    maps = see(srgb, K)
    film = find_spread(lab, maps.bare, K).covered
    centres, _ = colour.modes(lab, film)
    found = cells.find_cells(lab, centres, K, film, maps)
    return sheet, found, cracks.find_cracks_and_lacing(lab, centres, found.labels, film, maps, K)[0]


@pytest.mark.parametrize(("kind", "seeds", "least"), [("foam", (970001, 970005, 970007), 0.8), ("chains", (980001, 980004, 980009), 0.52)])
def test_cells_of_panels_that_never_taught_are_found(kind, seeds, least):
    met = there = said = 0
    for seed in seeds:
        sheet, found, _ = read(kind, seed)
        met += drawn.hits(sheet.cells, found.labels)
        there += len(np.unique(sheet.cells)) - 1
        said += len(found.items)
    assert 2 * met / (there + said) > least


@pytest.mark.parametrize("seed", [970001, 970005, 970007])
def test_foam_without_a_crack_has_none(seed):
    _, _, broken = read("foam", seed)
    assert broken.length_mm == 0.0


PICTURES = (
    "coffee.png", "astronaut.png", "brick.png", "grass.png", "gravel.png", "moon.png",
    "page.png", "text.png", "retina.jpg", "ihc.png", "chelsea.png", "camera.png",
)  # fmt: skip


@pytest.mark.parametrize("name", PICTURES)
def test_pictures_of_other_things_show_no_cracks(name):
    import skimage

    picture = cv2.imread(str(Path(skimage.__file__).parent / "data" / name), cv2.IMREAD_COLOR)[..., ::-1]
    picture = np.ascontiguousarray(picture[:512, :512])
    high, wide = picture.shape[:2]
    corners = np.array([[0.0, 0.0], [wide, 0.0], [wide, high], [0.0, high]])
    found = sight.measure(sight.Lamps(main=picture), wide / 4.0, high / 4.0, corners_px=corners)
    assert found.cracks.length_mm == 0.0


def test_coins_on_a_dark_ground_are_as_many_as_there_are():
    """Two dozen, some half in the shade; a speck on one of them may be taken for one more."""
    import skimage

    picture = cv2.imread(str(Path(skimage.__file__).parent / "data" / "coins.png"), cv2.IMREAD_COLOR)[..., ::-1]
    srgb = cv2.resize(picture, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC).astype(np.float32) / 255.0
    lab = colour.lab_of(srgb)
    found = cells.find_cells(lab, colour.modes(lab)[0], K, np.ones(lab.shape[:2], bool), see(srgb, K)).items
    assert sum(c.diameter_mm > 8.0 for c in found) == 24
    assert len(found) <= 26


@pytest.mark.parametrize("name", [*PICTURES, "coins.png", "horse.png", "motorcycle_left.png", "rocket.jpg", "phantom.png"])
def test_picture_that_is_no_panel_is_refused_or_doubted(name):
    import skimage

    picture = cv2.imread(str(Path(skimage.__file__).parent / "data" / name), cv2.IMREAD_COLOR)[..., ::-1].copy()
    high, wide = picture.shape[:2]
    try:
        _, _, _, found = sight.locate(picture, wide / 4.0, high / 4.0, None)
    except SightError:
        return
    assert found.doubt, "a person is asked to look at the corners"
