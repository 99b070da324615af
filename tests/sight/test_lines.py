"""Thin lines: found, measured, and told apart."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from dribbet.sight import colour, lines
from dribbet.sight.breaks import along_the_edge
from dribbet.sight.cracks import find_cracks_and_lacing
from dribbet.sight.network import see
from tests.sight import drawn

K = 8.0
PAPER = (225, 220, 208)
INK = (28, 26, 25)


def looked_at(picture: np.ndarray):
    srgb = picture.astype(np.float32) / 255.0
    lab = colour.lab_of(srgb)
    centres, _ = colour.modes(lab)
    nothing = np.zeros(lab.shape[:2], np.uint16)
    return lab, centres, nothing, np.ones(lab.shape[:2], bool), see(srgb, K)


def segments_of(picture: np.ndarray, polarity: int):
    return lines.find_segments(lines.Scene.of(*looked_at(picture), K), polarity)


def wandering(rng: np.random.Generator, start: tuple[float, float], steps: int) -> list[tuple[float, float]]:
    points, heading = [start], rng.uniform(0, 6.3)
    for _ in range(steps):
        heading += rng.normal(0, 0.25)
        points.append((points[-1][0] + 8 * np.cos(heading), points[-1][1] + 8 * np.sin(heading)))
    return points


@pytest.mark.parametrize("polarity", [lines.DARK, lines.BRIGHT])
def test_segments_of_either_polarity_have_their_length_and_width(polarity):
    ground, ink = (PAPER, INK) if polarity == lines.DARK else (INK, PAPER)
    picture = drawn.flat(600, 500, ground, noise=1.0)
    length = drawn.line(picture, [(80, 250), (300, 240), (520, 262)], 3, ink)
    found = segments_of(picture, polarity)
    assert found.length_px.sum() == pytest.approx(length, rel=0.06)
    assert found.core.sum() / length == pytest.approx(3.0, abs=0.8)
    other = segments_of(picture, 1 - polarity)
    assert other.length_px.sum() < 0.1 * length


def test_film_without_lines_has_no_segments():
    found = segments_of(drawn.flat(400, 400, PAPER, noise=1.0), lines.DARK)
    assert len(found.features) == 0
    assert [len(look) for look in lines.judged(found)] == [0, 0]


def test_dark_branching_lines_across_colours_are_cracks_of_about_their_length():
    rng = np.random.default_rng(3)
    picture = drawn.marble(800, 640, seed=4)
    length = sum(drawn.line(picture, wandering(rng, start, 36), 3, INK) for start in ((200, 200), (520, 330), (330, 470)))
    cracks, _ = find_cracks_and_lacing(*looked_at(picture), K)
    assert cracks.count >= 1
    assert cracks.length_mm == pytest.approx(length / K, rel=0.35)
    assert cracks.mean_width_mm == pytest.approx(3 / K, abs=0.15)
    assert cracks.mean_width_mm <= cracks.max_width_mm
    assert cracks.area_fraction == pytest.approx(cracks.mask.mean(), abs=1e-6)


def test_marbled_film_without_a_crack_has_none():
    for seed in range(3):
        cracks, _ = find_cracks_and_lacing(*looked_at(drawn.marble(800, 640, seed=seed)), K)
        assert cracks.length_mm == 0.0
        assert not cracks.mask.any()


@pytest.mark.parametrize(("chance", "counted", "doubtful"), [(0.81, True, False), (0.79, False, True), (0.41, False, True), (0.39, False, False)])
def test_pieces_that_may_be_cracks_are_said_where_none_is_counted(monkeypatch, chance, counted, doubtful):
    from dribbet.sight import breaks

    def as_cracks(segments: lines.Segments):
        return np.zeros((len(segments.features), 3)), np.full(len(segments.features), 2.0)

    monkeypatch.setattr(lines, "judged", as_cracks)
    monkeypatch.setattr(breaks, "chances", lambda pieces, *_: np.full(len(pieces.length_mm), chance))
    picture = drawn.flat(600, 500, PAPER, noise=1.0)
    length = drawn.line(picture, [(80, 250), (300, 240), (520, 262)], 3, INK) / K
    found, _ = find_cracks_and_lacing(*looked_at(picture), K)
    assert found.length_mm == pytest.approx(length if counted else 0.0, rel=0.1)
    assert found.mask.any() == counted
    assert found.doubtful_mm == pytest.approx(length if doubtful else 0.0, rel=0.1)


def rugged(line: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The same course in steps of some 2 mm that go to either side by a fifth of one: film breaks so, a thread of paint bends evenly."""
    rng = np.random.default_rng(5)
    told = []
    for (x0, y0), (x1, y1) in pairwise(line):
        steps = max(1, round(float(np.hypot(x1 - x0, y1 - y0)) / (2 * K)))
        told += [(x0 + (x1 - x0) * t + rng.normal(0, 0.2 * K), y0 + (y1 - y0) * t + rng.normal(0, 0.2 * K)) for t in np.arange(steps) / steps]
    return [*told, line[-1]]


def test_paint_between_two_dark_cracks_is_no_light_one():
    """Two dark cracks 1.4 mm apart for 50 mm, one of them meeting a third: between them lies a bright ridge, which is paint."""
    rng = np.random.default_rng(2)
    picture = drawn.marble(800, 640, seed=4)
    length = 0.0
    for line in (
        [(100.0, 300.0), (300.0, 310.0), (500.0, 305.0), (700.0, 320.0)],
        [(100.0, 312.0), (300.0, 321.0), (500.0, 316.0), (700.0, 331.0)],
        [(420.0, 318.0), (430.0, 420.0), (410.0, 560.0)],
        [(200.0, 60.0), (230.0, 180.0), (220.0, 305.0)],
    ):
        length += drawn.line(picture, rugged(line), 2.4, (24, 22, 24))
    picture = np.clip(picture + rng.normal(0, 1.5, picture.shape), 0, 255).astype(np.uint8)
    found, _ = find_cracks_and_lacing(*looked_at(picture), K)
    assert found.length_mm == pytest.approx(length / K, rel=0.08)


def test_a_sliver_of_table_along_the_edge_is_no_crack():
    """Segments: along the edge a quarter of a millimetre in; a crack that runs off the panel; along it, 1.2 mm in."""
    skeleton = np.zeros((400, 600), np.int32)
    skeleton[398, 100:400], skeleton[200:400, 500], skeleton[390, 100:400] = 1, 2, 3
    nothing = np.zeros((400, 600), bool)
    length = np.array([300.0, 200.0, 300.0])
    made = lines.Segments(skeleton=skeleton, body=nothing, core=nothing, features=np.zeros((3, 35)), component=np.zeros(3, int), length_px=length)
    assert along_the_edge(made, K).tolist() == [True, False, False]
