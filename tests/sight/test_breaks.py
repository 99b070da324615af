"""Lines joined into pieces, and what a piece is asked, on drawn skeletons whose figures can be worked by hand."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.sight import breaks, cracks, lines
from dribbet.sight.breaks import Ridge
from dribbet.sight.skeletons import DIAGONAL, STRAIGHT, skeleton_length_px, skeleton_lengths_px

K = 10.0
SHAPE = (300, 400)


def ridge(polarity: int, rows: list[tuple[int, int, int]], odds: list[float], *, high: int = 1, **columns: float) -> Ridge:
    """Straight lines, one pixel high unless more is asked: row, from, to; every feature nought but those named by number (`f4=…`)."""
    skeleton = np.zeros(SHAPE, np.int32)
    for i, (row, begin, end) in enumerate(rows):
        skeleton[row, begin:end] = i + 1
    features = np.zeros((len(rows), lines.COLUMNS), np.float32)
    features[:, 18] = polarity
    for name, value in columns.items():
        features[:, int(name[1:])] = value
    body = cv2.dilate((skeleton > 0).astype(np.uint8), np.ones((high, 1), np.uint8)) > 0
    segments = lines.Segments(
        skeleton=skeleton,
        body=body,
        core=body,
        features=features,
        component=np.arange(len(rows)),
        length_px=np.array([float(e - b) for _, b, e in rows]),
    )
    first = np.tile([0.5, 2.0, -1.0], (len(rows), 1))
    return Ridge(polarity=polarity, segments=segments, first=first, odds=np.array(odds), inside=np.ones(len(rows), bool))


def test_lines_with_a_gap_of_a_millimetre_are_one_piece_and_with_two_are_two():
    dark = ridge(lines.DARK, [(50, 50, 150), (50, 160, 260), (200, 50, 150), (200, 170, 270)], [1.0] * 4)
    pieces = breaks.joined([dark], K)
    assert pieces.length_mm.tolist() == pytest.approx([20.0 * STRAIGHT, 10.0 * STRAIGHT, 10.0 * STRAIGHT], abs=0.2)


def test_a_piece_of_less_than_three_millimetres_is_none():
    dark = ridge(lines.DARK, [(50, 50, 78), (200, 50, 82)], [1.0, 1.0])
    pieces = breaks.joined([dark], K)
    assert pieces.length_mm.tolist() == pytest.approx([3.2 * STRAIGHT], abs=0.1)
    assert not pieces.body[50].any()


def test_lines_that_are_no_cracks_or_run_along_the_edge_join_nothing():
    dark = ridge(lines.DARK, [(50, 50, 150), (100, 50, 150)], [-0.1, 3.0])
    dark.inside[1] = False
    assert dark.cracked.tolist() == [False, False]
    assert len(breaks.joined([dark], K).length_mm) == 0
    assert dark.kinds.tolist() == [lines.NEITHER, lines.NEITHER]


def test_a_line_that_is_no_crack_is_lacing_where_the_first_look_says_so():
    dark = ridge(lines.DARK, [(50, 50, 150)], [-0.1])
    dark.first[0] = (0.5, 2.0, 0.6)
    assert dark.kinds.tolist() == [lines.LACE]


def test_what_a_piece_is_asked_is_weighed_by_the_length_of_its_lines():
    """Two lines of 10 and 20 mm with odds of 1 and 2.5, end to end; of two kinds of ridge."""
    dark = ridge(lines.DARK, [(50, 50, 150)], [1.0], f3=30.0, f23=0.2)
    seen = ridge(lines.SEEN, [(50, 155, 355)], [2.5], f3=36.0, f23=0.8)
    pieces = breaks.joined([dark, seen], K)
    (row,) = breaks.described(pieces, [dark, seen], K)
    assert row.shape == (breaks.COLUMNS,)
    named = dict(zip(("mean", "most", "dark", "bright", "seen", "share_seen", "share_dark", "over_none", "over_lace"), row, strict=False))
    assert named["mean"] == pytest.approx((1.0 * 10 + 2.5 * 20) / 30)
    assert named["most"] == 2.5
    assert (named["dark"], named["bright"], named["seen"]) == pytest.approx((1.0, 0.0, 2.5))
    assert (named["share_seen"], named["share_dark"]) == pytest.approx((2 / 3, 1 / 3))
    assert (named["over_none"], named["over_lace"]) == pytest.approx((1.5, 3.0))
    along = row[breaks.BY_LINES :]
    assert along[3] == pytest.approx(34.0)
    length, uneven, winding, box, count, surest = along[lines.COLUMNS : lines.COLUMNS + breaks.BY_SHAPE]
    assert length == pytest.approx(30.0 * STRAIGHT, abs=0.25)
    assert uneven == pytest.approx(np.sqrt((4.0**2 * 10 + 2.0**2 * 20) / 30))
    assert (winding, count, surest) == pytest.approx((length / box, 2.0, 16.0), abs=0.01)
    assert box == pytest.approx(30.4, abs=0.2)
    total, mean, most, pieces_, every, network, evidence = row[-breaks.BY_PANEL :]
    assert total == pytest.approx(np.log(length))
    assert (mean, most, pieces_, network) == pytest.approx((2.0, 2.0, 1.0, 0.6))
    assert every == pytest.approx(np.log(31.0))
    assert evidence == pytest.approx(1.0 * 10 + 2.5 * 20)


def test_a_line_that_is_very_sure_is_no_more_of_a_piece_than_one_that_is_sure():
    dark = ridge(lines.DARK, [(50, 50, 150)], [6.0])
    (row,) = breaks.described(breaks.joined([dark], K), [dark], K)
    assert row[-1] == pytest.approx(4.0 * 10)


def test_what_the_eyes_saw_comes_after_what_lightness_shows_and_may_lie_nearer():
    """A line that the eyes saw 0.8 mm beside a shorter dark one is a crack of its own; a bright ridge there is the paint along it."""
    dark, rows = ridge(lines.DARK, [(50, 50, 250)], [1.0]), [(58, 50, 350)]
    both = breaks.joined([ridge(lines.SEEN, rows, [1.0]), dark], K)
    assert both.length_mm.sum() == pytest.approx(50.0 * STRAIGHT, abs=0.3)
    longer_first = breaks.joined([ridge(lines.BRIGHT, rows, [1.0]), dark], K)
    assert longer_first.length_mm.sum() == pytest.approx(30.0 * STRAIGHT, abs=0.3)


@pytest.mark.parametrize(("inside", "is_edge"), [(35, True), (45, False)])
def test_a_line_that_lies_by_two_fifths_further_in_is_no_edge(inside, is_edge):
    """100 px, of which so many lie more than 0.8 mm in."""
    skeleton = np.zeros(SHAPE, np.int32)
    skeleton[2, 50 : 150 - inside] = 1
    skeleton[100 : 100 + inside, 200] = 1
    nothing = np.zeros(SHAPE, bool)
    features, length = np.zeros((1, lines.COLUMNS), np.float32), np.array([100.0])
    made = lines.Segments(skeleton=skeleton, body=nothing, core=nothing, features=features, component=np.zeros(1, int), length_px=length)
    assert breaks.along_the_edge(made, K).tolist() == [is_edge]


# ---------------------------------------------------------------- what is counted, and what is said


def told(monkeypatch, rows: list[tuple[int, int, int]], odds: list[float], chances: list[float], labels: np.ndarray | None = None) -> cracks.Cracks:
    """Cracks of a panel on which these lines are found, dark ones alone, joined into pieces of these chances."""
    empty = ridge(lines.BRIGHT, [], [])
    made = {lines.DARK: ridge(lines.DARK, rows, odds, high=3)}
    monkeypatch.setattr(cracks.Scene, "of", lambda *_: None)
    monkeypatch.setattr(cracks.Ridge, "of", lambda _scene, polarity, _face: made.get(polarity, empty))
    monkeypatch.setattr(breaks, "chances", lambda *_: np.array(chances))
    labels = np.zeros(SHAPE, np.int32) if labels is None else labels
    found, _ = cracks.find_cracks_and_lacing(np.zeros((*SHAPE, 3)), np.zeros((0, 3)), labels, np.ones(SHAPE, bool), None, K)
    return found


def test_a_sure_piece_is_counted_and_an_unsure_one_beside_it_is_said(monkeypatch):
    """30 mm at odds of 2 with a chance of 0.9, 20 mm at odds of 1 with one of 0.3."""
    found = told(monkeypatch, [(50, 50, 350), (200, 100, 300)], [2.0, 1.0], [0.9, 0.3])
    assert found.length_mm == pytest.approx(30.0 * STRAIGHT, abs=0.3)
    assert found.count == 1
    assert not found.mask[200].any()
    more = found.doubtful
    assert more is not None
    assert (more.length_mm, more.count) == (pytest.approx(50.0 * STRAIGHT, abs=0.5), 2)
    assert found.doubtful_mm == pytest.approx(20.0 * STRAIGHT, abs=0.3)
    assert {round(y) for line in more.lines_mm for _, y in line} == {20}  # the outlines that are asked about, and no others
    wrong = 30.0 / (1.0 + np.exp(2.0)) + 20.0 / (1.0 + np.exp(1.0))
    assert found.length_sd_mm == pytest.approx(np.hypot(1.4 * wrong, 0.2 * found.length_mm), rel=1e-3)


@pytest.mark.parametrize(("chances", "counted", "said"), [
    ([0.8, 0.4], 50, 50), ([0.8, 0.39], 30, 50), ([0.8, 0.25], 30, 50), ([0.8, 0.24], 30, 30),
    ([0.79, 0.4], 0, 50), ([0.79, 0.39], 0, 30), ([0.39, 0.39], 0, 0),
])  # fmt: skip
def test_a_piece_counts_sooner_beside_a_sure_one(monkeypatch, chances, counted, said):
    """30 and 20 mm: what is counted, and what is counted or said."""
    found = told(monkeypatch, [(50, 50, 350), (200, 100, 300)], [2.0, 1.0], chances)
    assert found.length_mm == pytest.approx(counted * STRAIGHT, abs=0.5)
    assert found.length_mm + found.doubtful_mm == pytest.approx(said * STRAIGHT, abs=0.5)


@pytest.mark.parametrize(("columns", "counted"), [(slice(80, 320), 0.0), (slice(80, 200), 30.0)])
def test_what_runs_along_the_outline_of_a_cell_by_three_fifths_is_its_ring(monkeypatch, columns, counted):
    """A line of 300 px along the upper side of a cell that is 240 px wide, and of one that is 120; another cell far away."""
    labels = np.zeros(SHAPE, np.int32)
    labels[52:120, columns], labels[200:260, 100:200] = 1, 2
    assert told(monkeypatch, [(50, 50, 350)], [2.0], [0.9], labels).length_mm == pytest.approx(counted * STRAIGHT, abs=0.3)
    labels[52:60] = 0  # the outline lies 1 mm away now
    assert told(monkeypatch, [(50, 50, 350)], [2.0], [0.9], labels).length_mm == pytest.approx(30.0 * STRAIGHT, abs=0.3)


def test_the_ring_of_a_cell_is_no_sure_piece_for_what_lies_beside_it(monkeypatch):
    """A ring of chance 0.9, and 20 mm elsewhere with one of 0.5: said, and not counted."""
    labels = np.zeros(SHAPE, np.int32)
    labels[52:120, 50:350] = 1
    found = told(monkeypatch, [(50, 50, 350), (200, 100, 300)], [2.0, 1.0], [0.9, 0.5], labels)
    assert found.length_mm == 0.0
    assert found.doubtful_mm == pytest.approx(20.0 * STRAIGHT, abs=0.3)


def test_less_than_twelve_millimetres_on_a_panel_are_none(monkeypatch):
    assert told(monkeypatch, [(50, 50, 180)], [2.0], [0.9]).length_mm == pytest.approx(13.0 * STRAIGHT, abs=0.2)
    short = told(monkeypatch, [(50, 50, 170)], [2.0], [0.9])
    assert (short.length_mm, short.count, short.doubtful) == (0.0, 0, None)


def test_half_a_millimetre_along_the_edge_holds_no_line(monkeypatch):
    seen = []
    monkeypatch.setattr(cracks.Scene, "of", lambda _lab, _centres, _labels, film, *_: seen.append(film))
    monkeypatch.setattr(cracks.Ridge, "of", lambda *_: ridge(lines.DARK, [], []))
    cracks.find_cracks_and_lacing(np.zeros((*SHAPE, 3)), np.zeros((0, 3)), np.zeros(SHAPE, np.int32), np.ones(SHAPE, bool), None, K)
    (film,) = seen
    assert film[5:-5, 5:-5].all()
    assert not film[:5].any()
    assert not film[:, -5:].any()


def test_a_line_beside_a_known_crack_counts_once():
    """A bright ridge 1 mm beside a longer dark crack is the paint along it; one 2 mm away is a crack of its own."""
    dark = ridge(lines.DARK, [(50, 50, 350)], [1.0])
    bright = ridge(lines.BRIGHT, [(60, 100, 200), (90, 100, 200)], [1.0, 1.0])
    pieces = breaks.joined([bright, dark], K)
    assert pieces.length_mm.tolist() == pytest.approx([30.0 * STRAIGHT, 10.0 * STRAIGHT], abs=0.2)
    assert not pieces.body[60].any()


def test_lengths_of_parts_are_told_one_by_one_and_add_up():
    """A row of 10 pixels, a staircase across corners of 5, an L of 4 and 4 that meet at right angles, and one of 3 that nobody numbered."""
    skeleton, numbers = np.zeros((40, 40), bool), np.zeros((40, 40), np.int32)
    parts = (
        [(2, 2 + i) for i in range(10)],
        [(10 + i, 10 - i) for i in range(5)],
        [(20, 20 + i) for i in range(4)] + [(20 + i, 23) for i in range(1, 5)],
    )
    for n, part in enumerate(parts, 1):
        for at in part:
            skeleton[at], numbers[at] = True, n
    skeleton[35, 30:33] = True
    told = skeleton_lengths_px(skeleton, numbers, 3)
    assert told.tolist() == pytest.approx([9 * STRAIGHT, 4 * DIAGONAL, 7 * STRAIGHT])
    assert skeleton_length_px(skeleton) == pytest.approx(told.sum() + 2 * STRAIGHT)
