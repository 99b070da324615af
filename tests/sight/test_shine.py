"""Shine: contrast and width of a mirrored edge, against drawn films of known grain."""

from __future__ import annotations

import dataclasses

import cv2
import numpy as np
import pytest
from scipy.special import ndtr

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.mirror import BASE_DEG, MIRRORED, mirrored
from dribbet.demo.painter import Pour, draw_panel
from dribbet.lab.plan.responses import doubt_of, value_of
from dribbet.records import RecordError, Response, Where
from dribbet.records.results import GLOSSES, check_result
from dribbet.sight import measure as sight
from dribbet.sight.shine import STRIP_MM, find_shine
from dribbet.sight.shine_figures import NONE_SEEN, EdgePiece, Gloss, as_told, shine_of
from dribbet.sight.zones import Zone, part_of, without

PANEL = Pour(width_mm=120.0, height_mm=90.0, palette=("#16323a", "#0f6a7a", "#d8d2c0"), shares=(0.5, 0.3, 0.2), seed=3, cells_per_dm2=10.0)
K = 4.0


def edged(wide_mm: float, *, turn_deg: float = 8.0, contrast: float = 0.3, noise: float = 0.004, shape=(360, 480)):
    """Luminance of a panel with an edge in it and without, both noisy; light that falls off to one side."""
    rng = np.random.default_rng(5)
    main = cv2.GaussianBlur((0.1 + 0.5 * (rng.random((shape[0] // 12, shape[1] // 12)) > 0.5)).astype(np.float32), (0, 0), 0.6)
    main = cv2.resize(main, shape[::-1], interpolation=cv2.INTER_LINEAR)
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]]
    turn = np.radians(turn_deg)
    s = ((x - shape[1] * 0.55) * np.cos(turn) + (y - shape[0] / 2) * np.sin(turn)) / K
    light = 0.9 + 0.1 * x / shape[1]
    edge = main * light + contrast * ndtr(s / wide_mm)
    return tuple((p + rng.normal(0, noise, shape)).astype(np.float32) for p in (edge, main))


@pytest.mark.parametrize("wide", [0.8, 2.0, 6.0, 18.0])
@pytest.mark.parametrize("turn", [8.0, 97.0, 185.0, 266.0])
def test_width_and_contrast_are_those_of_the_edge_whichever_way_it_lies(wide, turn):
    edge, main = edged(wide, turn_deg=turn)
    found = find_shine(edge, main, np.ones(edge.shape, bool), K)
    assert found.width_mm == pytest.approx(wide, rel=0.08)
    assert found.contrast == pytest.approx(0.3, rel=0.06)
    assert found.step == pytest.approx(0.3 * (2 * ndtr(2.0 / wide) - 1), rel=0.08)


@pytest.mark.parametrize(("wide", "grade"), [(2.7, Gloss.GLOSS), (3.3, Gloss.SEMI), (7.3, Gloss.SEMI), (8.8, Gloss.SATIN), (27.0, Gloss.SATIN)])
def test_grade_goes_by_the_width(wide, grade):
    edge, main = edged(wide)
    assert find_shine(edge, main, np.ones(edge.shape, bool), K).grade is grade
    assert [str(g) for g in Gloss] == list(GLOSSES)


def piece(x: float, y: float, contrast: float, width: float) -> EdgePiece:
    return EdgePiece(x_mm=x, y_mm=y, contrast=contrast, width_mm=width)


def test_pieces_lie_on_the_edge_where_it_was_drawn():
    edge, main = edged(2.0, turn_deg=30.0)
    pieces = find_shine(edge, main, np.ones(edge.shape, bool), K).pieces
    assert len(pieces) > 10
    turn = np.radians(30.0)
    middle = np.array([480 * 0.55, 180.0]) / K
    for one in pieces:
        off = (one.x_mm - middle[0]) * np.cos(turn) + (one.y_mm - middle[1]) * np.sin(turn)
        assert off == pytest.approx(0.0, abs=0.2)
        assert 0.0 < one.y_mm < 90.0
    along = np.sort([-(p.x_mm - middle[0]) * np.sin(turn) + (p.y_mm - middle[1]) * np.cos(turn) for p in pieces])
    assert np.diff(along) == pytest.approx(STRIP_MM, abs=0.3)


def test_figures_are_medians_of_the_pieces():
    found = shine_of([piece(50.0, 3.0 + 6 * i, 0.2 + 0.02 * i, 2.0) for i in range(5)])
    share = 0.682689  # of a Gaussian within one standard deviation
    assert (found.contrast, found.width_mm) == (pytest.approx(0.24), 2.0)
    assert found.step == pytest.approx(0.24 * share, rel=1e-5)
    assert found.sd == pytest.approx(1.2533 * 1.4826 * 0.02 * share / np.sqrt(5), rel=1e-4)
    assert shine_of([piece(50.0, 6.0 * i, 0.2, 2.0) for i in range(3)]) is None
    assert shine_of([piece(50.0, 6.0 * i, 0.0099, 2.0) for i in range(6)]) is None


def test_a_zone_takes_its_pieces_of_the_edge_out_and_too_few_are_no_shine():
    """Ten pieces down the middle of 100 mm; the lower five mirror less, and over more."""
    shine = shine_of([piece(50.0, 5.0 + 10 * i, 0.3 if i < 5 else 0.1, 1.5 if i < 5 else 10.0) for i in range(10)])
    told = {"panel": {"width_mm": 100.0, "height_mm": 100.0}, "shine": as_told(shine)}
    assert without(told, [Zone(5.0, 50.0, 4.0)])["shine"] == told["shine"]
    upper = without(told, [Zone(50.0, 75.0, 27.0)])["shine"]
    assert (upper["contrast"], upper["width_mm"], upper["grade"], upper["step_sd"]) == (0.3, 1.5, "gloss", 0.0)
    assert upper["step"] == pytest.approx(0.3 * 0.81759, abs=1e-4)
    assert len(upper["pieces"]) == 5
    lower = without(told, [Zone(50.0, 25.0, 27.0)])["shine"]
    assert (lower["contrast"], lower["grade"]) == (0.1, "satin")
    rim = part_of(told, Where.RIM)
    assert rim["shine"] is None  # 15 mm at either end hold two pieces, and what lies on the line is the middle's
    middle = part_of(told, Where.MIDDLE)["shine"]
    assert [p[1] for p in middle["pieces"]] == [15.0, 25.0, 35.0, 45.0, 55.0, 65.0, 75.0, 85.0]
    assert value_of(part_of(told, Where.RIM), Response.SHINE) is None
    assert value_of(told, Response.SHINE) == pytest.approx(100 * told["shine"]["step"])


def test_a_matte_film_and_a_reading_without_places_stay_as_they_are():
    for held in (as_told(NONE_SEEN), {k: v for k, v in as_told(NONE_SEEN).items() if k != "pieces"} | {"step": 0.2}):
        told = {"panel": {"width_mm": 100.0, "height_mm": 100.0}, "shine": held}
        assert without(told, [Zone(50.0, 50.0, 60.0)])["shine"] == held


def test_pieces_that_cannot_be_are_refused(read):
    told = sight.as_json(read(0.25))
    for wrong in ([[1.0, 2.0, 0.3]], [[1.0, 2.0, 0.3, 0.0]], [[1.0, float("nan"), 0.3, 1.0]], 3):
        with pytest.raises(RecordError, match="pieces of a mirrored edge"):
            check_result(told | {"shine": told["shine"] | {"pieces": wrong}})
    check_result(told | {"shine": {k: v for k, v in told["shine"].items() if k != "pieces"}})


def test_no_edge_is_none_however_the_light_falls():
    edge, main = edged(2.0, contrast=0.0)
    assert find_shine(edge, main, np.ones(edge.shape, bool), K) is NONE_SEEN
    assert find_shine(edge - 0.3 * ndtr(0.0), main, np.zeros(edge.shape, bool), K) is NONE_SEEN  # no film


def test_dark_side_that_takes_light_away_is_no_edge():
    """A shadow's edge darkens by a share; a mirror image adds, over dark paint and light paint alike."""
    _, main = edged(2.0)
    x = np.arange(main.shape[1])[None, :]
    shadow = main * (0.75 + 0.25 * ndtr((x - 240) / 8.0))
    found = find_shine(shadow.astype(np.float32), main, np.ones(main.shape, bool), K)
    assert found.contrast < 0.15  # of it, what a shadow's edge is taken for


def test_drawn_edge_is_as_wide_as_its_grain_makes_it_and_waves_bend_it():
    film = np.ones((200, 800), bool)
    film[:20] = False
    drawn = mirrored(film, K, 0.5, np.random.default_rng(1))
    row = drawn[100]
    steep = np.abs(np.gradient(row)).max() * K
    wide = 500.0 * np.tan(np.radians(0.5))
    assert steep == pytest.approx(MIRRORED / (np.sqrt(2 * np.pi) * wide), rel=0.03)
    assert np.abs(np.gradient(drawn[5])).max() < np.abs(np.gradient(row)).max() * 0.5 / BASE_DEG * 1.2
    bent = mirrored(film, K, 0.5, np.random.default_rng(1), height_mm=np.cumsum(np.full((200, 800), 0.01 / K, np.float32), axis=1))
    moved = np.argmax(np.abs(np.gradient(bent[100]))) - np.argmax(np.abs(np.gradient(row)))
    assert abs(moved) == pytest.approx(500.0 * 0.01 * K, abs=2)


@pytest.fixture(scope="module")
def read():
    def of(rough: float, *, card: bool = True, other: int = 0):
        panel = draw_panel(dataclasses.replace(PANEL, rough_deg=rough))
        shot = Shot(seed=9, width_px=2000, height_px=1500, noise=0.005)
        main, corners = photograph(panel, shot)
        seen = draw_panel(dataclasses.replace(PANEL, seed=77)) if other else panel
        edge, _ = photograph(seen, dataclasses.replace(shot, card=card), "edge")
        return sight.measure(sight.Lamps(main=main, edge=edge), PANEL.width_mm, PANEL.height_mm, corners_px=corners)

    return of


def test_photographed_films_are_told_apart_and_told_in_the_reading(read):
    found = {rough: read(rough) for rough in (0.25, 1.0, 4.0)}
    for rough, one in found.items():
        assert one.shine.width_mm == pytest.approx(500.0 * np.tan(np.radians(rough)), rel=0.10)
        assert one.shine.contrast == pytest.approx(MIRRORED, rel=0.12)
    steps = [one.shine.step for one in found.values()]
    assert steps == sorted(steps, reverse=True)
    told = sight.as_json(found[0.25])
    check_result(told)
    assert told["shine"]["grade"] == "gloss"
    assert told["shine"]["step"] == pytest.approx(found[0.25].shine.step, abs=1e-4)
    assert told["shine"]["step_sd"] < 0.05 * told["shine"]["step"]
    shine = told["shine"] | {"step": 0.2, "step_sd": 0.008}
    assert doubt_of(told | {"shine": shine}, Response.SHINE) == pytest.approx(100 * np.hypot(0.008, 0.006))  # 3 % of it beside its pieces' own
    assert doubt_of({}, Response.SHINE) == 0.0


def test_photograph_without_card_or_of_another_panel_gives_no_shine_and_says_so(read):
    bare = read(0.5, card=False)
    assert bare.shine is None
    assert any("card is not in view where the edge is mirrored" in w for w in bare.warnings)
    assert "shine" not in sight.as_json(bare)
    other = read(0.5, other=1)
    assert other.shine is None
    assert any("does not fit the first: shine" in w for w in other.warnings)


def test_matte_film_mirrors_nothing_and_the_reading_says_what_else_it_may_be(read):
    found = read(14.0)
    assert found.shine == NONE_SEEN
    assert any("it is matte, or the lit board" in w for w in found.warnings)
    assert sight.as_json(found)["shine"]["width_mm"] is None
    check_result(sight.as_json(found))
