"""Cells, lines, spread, shimmer, colour, drips: what is measured, on drawn truth."""

from __future__ import annotations

import io
import itertools
import math

import cv2
import numpy as np
import pytest

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.records import Cancelled
from dribbet.sight import colour, geometry, trees
from dribbet.sight import measure as sight
from dribbet.sight.arrays import SightError
from dribbet.sight.card import linear_from_srgb
from dribbet.sight.cell_figures import cell_figures
from dribbet.sight.cells import LUCK, count_sd, find_cells
from dribbet.sight.cracks import turned
from dribbet.sight.network import see
from dribbet.sight.quality import assess
from dribbet.sight.shimmer import find_shimmer
from dribbet.sight.skeletons import skeleton_length_px
from dribbet.sight.spread import find_spread
from tests.conftest import reference
from tests.sight import drawn
from tests.sight.drawn import lab_of

K = 8.0
PAPER, TEAL, SLATE = (236, 232, 220), (15, 106, 122), (31, 38, 42)


def cells_of(picture: np.ndarray):
    lab = lab_of(picture)
    film = np.ones(lab.shape[:2], bool)
    return find_cells(lab, colour.modes(lab)[0], K, film, see(picture.astype(np.float32) / 255.0, K))


@pytest.mark.parametrize("diameter_mm", [2.0, 4.0, 8.0, 14.0])
def test_lone_disc_is_one_cell_of_its_size_and_place(diameter_mm):
    picture = drawn.flat(640, 640, TEAL, noise=1.0)
    drawn.disc(picture, 300.0, 340.0, diameter_mm / 2 * K, PAPER)
    (cell,) = cells_of(picture).items
    assert cell.diameter_mm == pytest.approx(diameter_mm, abs=0.3)
    assert (cell.x_mm, cell.y_mm) == (pytest.approx(300 / K, abs=0.15), pytest.approx(340 / K, abs=0.15))
    assert cell.circularity > 0.85
    assert cell.elongation == pytest.approx(1.0, abs=0.1)


def test_many_discs_are_counted_and_measured():
    picture, rng, placed = drawn.flat(900, 900, SLATE, noise=1.0), np.random.default_rng(1), []
    while len(placed) < 40:
        x, y, r = rng.uniform(40, 860), rng.uniform(40, 860), rng.uniform(1.0, 3.5) * K
        if all(np.hypot(x - a, y - b) > r + c + 14 for a, b, c in placed):
            placed.append((x, y, r))
            drawn.disc(picture, x, y, r, PAPER if rng.random() < 0.5 else TEAL)
    found = cells_of(picture)
    assert len(found.items) == pytest.approx(40, abs=2)
    wanted = np.median([2 * r / K for _, _, r in placed])
    assert np.median([c.diameter_mm for c in found.items]) == pytest.approx(wanted, rel=0.06)
    assert found.touching_fraction == 0.0


def test_count_is_as_unsure_as_its_candidates_together():
    """Sixteen coins are heads eight times, give or take two; what is certain adds nothing."""
    assert count_sd([0.5] * 16) == pytest.approx(2.0 * LUCK)
    assert count_sd([1.0, 0.0, 0.8]) == pytest.approx(0.4 * LUCK)
    assert count_sd([]) == 0.0
    picture = drawn.flat(640, 640, SLATE)
    for x, y in itertools.product((120, 320, 520), (120, 320, 520)):
        drawn.disc(picture, x, y, 30, PAPER)
    plain = cells_of(picture)
    assert len(plain.items) == 9
    assert plain.count_sd < 0.6 * LUCK


def test_length_is_as_unsure_as_its_lines_are_near_to_even():
    """A line at even odds is half on the wrong side; at 3 to 1 (log 3) a quarter, whichever side; a settled one adds nothing."""
    assert turned(np.array([10.0]), np.array([0.0])) == pytest.approx(5.0)
    assert turned(np.array([10.0, 20.0]), np.log([3.0, 1.0 / 3.0])) == pytest.approx(7.5)
    assert turned(np.array([100.0, 100.0]), np.array([3.0, -8.0])) == 0.0
    assert turned(np.array([100.0]), np.array([2.99])) == pytest.approx(100.0 / (1.0 + np.exp(2.99)))
    assert turned(np.zeros(0), np.zeros(0)) == 0.0


def test_cells_that_meet_are_said_to_touch():
    picture = drawn.flat(640, 640, SLATE)
    drawn.disc(picture, 250, 300, 30, PAPER)
    drawn.disc(picture, 312, 300, 30, TEAL)
    found = cells_of(picture)
    assert len(found.items) == 2
    assert found.touching_fraction == 1.0


def test_stripes_hold_no_cells():
    picture = drawn.flat(640, 640, TEAL)
    for x in range(40, 640, 120):
        picture[:, x : x + 50] = PAPER
    assert cells_of(picture).items == ()


def test_plain_film_is_covered_and_holds_nothing():
    picture = drawn.flat(800, 640, TEAL, noise=1.5)
    lab = lab_of(picture)
    spread = find_spread(lab, np.zeros(lab.shape[:2], np.float32), K)
    assert spread.fraction == 1.0
    assert cells_of(picture).items == ()


@pytest.mark.parametrize(("corner", "name"), [((0, 0), "top-left"), ((799, 0), "top-right"), ((799, 639), "bottom-right"), ((0, 639), "bottom-left")])
def test_bare_corner_is_found_with_its_area(corner, name):
    picture = drawn.marble(800, 640, seed=2)
    cv2.circle(picture, corner, 160, (128, 96, 150), -1)
    picture = np.clip(picture + np.random.default_rng(0).normal(0, 1.0, picture.shape), 0, 255).astype(np.uint8)
    seen = np.zeros(picture.shape[:2], np.float32)
    cv2.circle(seen, corner, 150, 0.5, -1)
    found = find_spread(lab_of(picture), seen, K)
    assert found.bare_corners == (name,)
    assert not found.doubtful.any()
    assert 1.0 - found.fraction == pytest.approx(np.pi * 160**2 / 4 / (800 * 640), rel=0.08)


def test_length_of_a_skeleton_is_right_at_every_angle():
    for degrees in range(0, 90, 10):
        canvas = np.zeros((400, 400), np.uint8)
        end = (200 + 150 * np.cos(np.radians(degrees)), 200 + 150 * np.sin(np.radians(degrees)))
        cv2.line(canvas, (200, 200), tuple(round(v) for v in end), 1, 1, cv2.LINE_8)
        assert skeleton_length_px(canvas > 0) == pytest.approx(150.0, rel=0.075), degrees
    lengths = []
    for degrees in range(0, 90, 3):
        canvas = np.zeros((400, 400), np.uint8)
        end = (200 + 150 * np.cos(np.radians(degrees)), 200 + 150 * np.sin(np.radians(degrees)))
        cv2.line(canvas, (200, 200), tuple(round(v) for v in end), 1, 1, cv2.LINE_8)
        lengths.append(skeleton_length_px(canvas > 0))
    assert np.mean(lengths) == pytest.approx(150.0, rel=0.01)


def test_colour_difference_agrees_with_the_34_published_pairs():
    table = reference("ciede2000_sharma_2005.csv")
    found = colour.ciede2000(table[:, :3], table[:, 3:6])
    assert len(table) == 34
    np.testing.assert_allclose(found, table[:, 6], atol=5e-5)  # printed to four decimals


def test_modes_are_the_colours_that_were_poured():
    picture = drawn.flat(300, 300, TEAL)
    picture[:, 150:] = PAPER
    picture[:60] = SLATE
    centres, shares = colour.modes(lab_of(picture))
    assert len(centres) == 3
    assert sorted(shares) == [pytest.approx(v, abs=0.02) for v in (0.2, 0.4, 0.4)]
    poured = lab_of(np.array([[TEAL, PAPER, SLATE]], np.uint8))[0]
    assert np.linalg.norm(poured[:, None] - centres[None], axis=2).min(axis=1).max() < 1.0
    assert colour.hex_of(poured[0]) == "#0F6A7A"
    assert colour.hex_of((100.0, 60.0, 90.0))[:3] == "#FF"  # brighter than a screen is
    assert colour.hex_of((0.0, -60.0, 0.0))[:3] == "#00"
    assert {len(colour.hex_of(c)) for c in ((100.0, 60.0, 90.0), (0.0, -60.0, 0.0))} == {7}


def test_balancing_undoes_what_the_light_did():
    true = np.array([[[180, 90, 60]]], np.uint8)
    linear = linear_from_srgb(true) * np.array([0.8, 0.7, 0.9], np.float32)
    seen = np.round(255 * np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)).astype(np.uint8)
    found = colour.balanced(seen, (0.8, 0.7, 0.9)) * 255
    np.testing.assert_allclose(found[0, 0], true[0, 0], atol=1.5)


def test_mud_is_only_called_where_the_poured_colours_were_vivid():
    grey = drawn.flat(200, 200, (120, 118, 116), noise=3.0)
    lab = lab_of(grey)
    film = np.ones(lab.shape[:2], bool)
    assert colour.muddy_fraction(lab, film, colour.modes(lab)[0]) == 0.0
    assert colour.mean_chroma(lab, film) < 3.0


def test_shimmer_is_nothing_on_matt_paint_and_grows_with_the_mica():
    found = []
    for mica in (0.0, 0.15, 0.45):
        panel = draw_panel(Pour(width_mm=60, height_mm=60, palette=("#1F262A", "#CDD3E0"), shares=(1, 1), seed=4, mica=mica, cells_per_dm2=0))
        flats = []
        for lamp in ("left", "right"):
            photo, corners = photograph(panel, Shot(seed=1, width_px=1000, height_px=800, noise=0.004), lamp)
            flats.append(geometry.rectify(photo, corners, 60.0, 60.0, K))
        found.append(find_shimmer(*flats, np.ones(flats[0].shape[:2], bool), K).index)
    assert found[0] < 0.05
    assert found[0] < found[1] < found[2]


def _lit(linear: np.ndarray) -> np.ndarray:
    srgb = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
    return np.repeat(np.round(srgb * 255)[..., None], 3, axis=2).astype(np.uint8)


def test_broad_sheen_counts_as_its_unlikeness_and_the_lamps_own_gradient_does_not():
    """Half of the panel, in stripes of 7.5 and 15 mm, is twice as bright from the left: log 2 on half, so half of it about the mean, 1.6 times."""
    rows, columns = np.mgrid[0:480, 0:480].astype(np.float64)
    stripes = np.isin(rows // 60, (0, 3, 4, 7))  # alike on both halves, so that no slope is in them
    film = np.ones((480, 480), bool)
    plain = np.full((480, 480), 0.2)
    sheen = find_shimmer(_lit(np.where(stripes, 0.4, 0.2)), _lit(plain), film, K).index
    assert sheen == pytest.approx(1.6 * math.log(2) / 2, rel=0.05)
    sloping = plain * np.exp(0.4 * (columns - rows) / 480)
    assert find_shimmer(_lit(sloping), _lit(plain), film, K).index < 0.01


def test_what_is_burnt_out_tells_no_shimmer_and_hides_none():
    """The same stripes beside a field that is burnt out from both sides: nothing is known there, and the rest reads as by itself."""
    rows, columns = np.mgrid[0:480, 0:720]
    film = np.ones((480, 720), bool)
    sheen = np.where(np.isin(rows // 60, (0, 3, 4, 7)), 0.4, 0.2)
    plain = np.full((480, 720), 0.2)
    burnt = columns >= 480
    alone = find_shimmer(_lit(sheen), _lit(plain), ~burnt, K)
    both = find_shimmer(_lit(np.where(burnt, 1.0, sheen)), _lit(np.where(burnt, 1.0, plain)), film, K)
    assert both.index == pytest.approx(alone.index, rel=0.02)
    assert np.sqrt(both.energy[film].mean()) == pytest.approx(both.index, rel=1e-4)  # zones tell the same
    from_one_side = find_shimmer(_lit(np.where(burnt, 1.0, sheen)), _lit(plain), film, K)
    assert from_one_side.index == pytest.approx(alone.index, rel=0.02)
    coloured = _lit(np.where(burnt, 1.0, sheen)), _lit(np.where(burnt, 1.0, plain))
    for rgb in coloured:
        rgb[:, 480:, 2] = 253  # not all three colours are at their end: it is seen
    assert find_shimmer(*coloured, film, K).index < 0.9 * alone.index
    little = columns >= 720 * 0.15
    assert find_shimmer(_lit(np.where(little, 1.0, sheen)), _lit(np.where(little, 1.0, plain)), film, K).index < 0.5 * alone.index  # all is asked


# ---------------------------------------------------------------- the pipeline


@pytest.fixture(scope="module")
def panel():
    return draw_panel(
        Pour(
            width_mm=120, height_mm=90, palette=("#ECE8DC", "#0F6A7A", "#4C7A3A", "#1F262A"), shares=(3, 2, 2, 1), seed=9, cells_per_dm2=28,
            cell_mm=4.0, crack_mm=90.0, bare_corners=1, rim_lines=0.2, ring_share=0.7, base="#8B9298",
        )
    )  # fmt: skip


@pytest.fixture(scope="module")
def seen(panel):
    photo, corners = photograph(panel, Shot(seed=2, width_px=1800, height_px=1350, noise=0.004))
    return photo, corners.astype(float)


@pytest.fixture(scope="module")
def found(seen):
    return sight.measure(sight.Lamps(main=seen[0]), 120.0, 90.0, corners_px=seen[1])


def test_pipeline_counts_most_cells_of_a_marbled_panel(found, panel):
    truth, mine = panel.cells, found.cells.labels
    mine = cv2.resize(mine, truth.shape[::-1], interpolation=cv2.INTER_NEAREST)
    hits = 0
    for i in range(1, int(truth.max()) + 1):
        inside = mine[truth == i]
        best = np.bincount(inside)[1:].argmax() + 1 if inside.max() > 0 else 0
        if best and (inside == best).sum() / ((truth == i) | (mine == best)).sum() > 0.5:
            hits += 1
    recall, precision = hits / truth.max(), hits / max(len(found.cells.items), 1)
    assert 2 * recall * precision / (recall + precision) > 0.7


def test_pipeline_finds_the_bare_corner_and_nearly_the_true_spread(found, panel):
    truth = panel.spread
    mine = cv2.resize(found.spread.covered.astype(np.uint8), truth.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    assert (truth & mine).sum() / (truth | mine).sum() > 0.98
    assert len(found.spread.bare_corners) == 1


def test_json_holds_every_promised_figure_and_only_plain_numbers(found):
    result = sight.as_json(found)
    assert result["schema"] == "dribbet-measure/1"
    assert result["panel"]["corner_source"] == "given"
    assert result["cells"]["count"] == len(result["cells"]["items"]) == len(found.cells.items)
    assert result["cells"]["d10_mm"] <= result["cells"]["median_diameter_mm"] <= result["cells"]["d90_mm"]
    assert 0.0 < result["spread"]["fraction"] < 1.0
    assert result["spread"]["area_mm2"] == pytest.approx(result["spread"]["fraction"] * 120 * 90, abs=0.2)
    assert result["shimmer"] is None
    assert sum(s["share"] for s in result["colour"]["shares"]) == pytest.approx(1.0, abs=0.01)

    def plain(value) -> bool:
        if isinstance(value, dict):
            return all(plain(v) for v in value.values())
        if isinstance(value, list):
            return all(plain(v) for v in value)
        return value is None or isinstance(value, (bool, str)) or (isinstance(value, (int, float)) and np.isfinite(value))

    assert plain(result)


def test_masks_and_outlines_fit_the_figures(found):
    masks = sight.masks(found)
    assert set(masks) == {"cells", "cracks", "spread", "lacing"}
    assert masks["cells"].dtype == np.uint16
    assert len(np.unique(masks["cells"])) - 1 == len(found.cells.items)
    lines = sight.outlines(found)
    assert len(lines["cells"]) == len(found.cells.items)
    assert all(0 <= x <= 120 and 0 <= y <= 90 for outline in lines["cells"] for x, y in outline)


def test_same_photo_gives_the_same_figures(seen, found):
    again = sight.measure(sight.Lamps(main=seen[0]), 120.0, 90.0, corners_px=seen[1])
    assert sight.as_json(again) == sight.as_json(found)


def test_measuring_reports_its_steps_and_can_be_stopped(seen):
    steps = []

    def watch(done: int, total: int) -> None:
        steps.append(done)
        if done == 3:
            raise Cancelled

    with pytest.raises(Cancelled):
        sight.measure(sight.Lamps(main=seen[0]), 120.0, 90.0, corners_px=seen[1], report=watch)
    assert steps == [0, 1, 2, 3]


def test_each_step_of_measuring_is_told_in_its_turn(seen):
    told = []
    sight.measure(sight.Lamps(main=seen[0]), 120.0, 90.0, corners_px=seen[1], report=lambda done, total: told.append((done, total)))
    steps = [done for done, _ in told]
    assert steps == sorted(steps)
    assert sorted(set(steps)) == list(range(sight.STEPS + 1))
    assert {total for _, total in told} == {sight.STEPS}


@pytest.mark.parametrize("size", [(0.0, 100.0), (5.0, 5.0), (3001.0, 100.0), (float("nan"), 100.0)])
def test_size_that_no_panel_has_is_refused(seen, size):
    with pytest.raises(SightError, match="size in millimetres"):
        sight.measure(sight.Lamps(main=seen[0]), *size, corners_px=seen[1])


def test_quality_says_what_is_wrong_with_a_photo():
    corners = np.array([[0.0, 0.0], [640, 0], [640, 480], [0, 480]])
    sharp = drawn.marble(640, 480)
    assert not [w for w in assess(sharp, corners, 80, 60, K, K).warnings if "Blurred" in w]
    blurred = cv2.GaussianBlur(sharp, (0, 0), 9)
    assert any("Steady the camera" in w for w in assess(blurred, corners, 80, 60, K, K).warnings)
    white = np.full_like(sharp, 255)
    assert any("less light" in w for w in assess(white, corners, 80, 60, K, K).warnings)
    assert any("more light" in w for w in assess(np.zeros_like(sharp), corners, 80, 60, K, K).warnings)
    assert any("Go closer" in w for w in assess(sharp, corners, 80, 60, K, 2.0).warnings)


# ---------------------------------------------------------------- forests


@pytest.mark.parametrize("name", ["cells", "lines", "lines_again"])
def test_forest_from_arrays_scores_as_a_plain_walk_down_its_trees(name):
    with np.load(trees.HERE / f"{name}.npz") as file:
        forest = dict(file)
    rng = np.random.default_rng(0)
    features = rng.normal(0.0, 20.0, (40, int(forest["feature"].max()) + 1)).astype(np.float32)
    expected = np.tile(forest["baseline"], (40, 1))
    for i, row in enumerate(features):
        for root, which in zip(forest["root"], forest["tree_class"], strict=True):
            node = int(root)
            while forest["left"][node] >= 0:
                left = row[int(forest["feature"][node])] <= forest["threshold"][node]
                node = int(forest["left" if left else "right"][node])
            expected[i, which] += forest["value"][node]
    np.testing.assert_allclose(trees.scores(name, features), expected, rtol=1e-9)


def test_pictures_pass_through_a_file_unchanged(tmp_path):
    from PIL import Image

    from dribbet.sight.load import load

    picture = drawn.marble(200, 150)
    buffer = io.BytesIO()
    Image.fromarray(picture).save(buffer, "PNG")
    (tmp_path / "p.png").write_bytes(buffer.getvalue())
    np.testing.assert_array_equal(load(tmp_path / "p.png").rgb, picture)


def test_figures_of_cells_are_told_to_thousandths_of_a_millimetre():
    told = cell_figures([1.23456, 2.34567, 4.45678], [0.98765, 0.5, 0.75], 15_000.0)
    assert (told["count"], told["per_dm2"], told["median_diameter_mm"], told["mean_circularity"]) == (3, 2.0, 2.346, 0.746)
    assert (told["d10_mm"], told["d90_mm"]) == (1.457, 4.035)
    assert cell_figures([], [], 15_000.0)["d90_mm"] == 0.0
