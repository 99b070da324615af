"""Drawn parts: geometry, and every state painted on paper and on wall."""

from __future__ import annotations

from datetime import timedelta

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest

from dribbet.bench.parts.cup import CupGlyph, CupState, CupView, band, layer_heights
from dribbet.bench.parts.drip_lanes import DripCardView, DripLanes, Lane
from dribbet.bench.parts.film_gauge import FilmGauge, GaugeView
from dribbet.bench.parts.interval_strip import IntervalStrips, StripView
from dribbet.bench.parts.keys import Key, KeyButton, KeyStrip
from dribbet.bench.parts.pebbles import Pebbles, scale_of
from dribbet.bench.parts.photo_stage import Overlay, PhotoStage, ShownPlace
from dribbet.bench.parts.tape import Tape, TapeLabel, strip_size
from dribbet.bench.parts.time_bands import BandsView, BandView, TimeBands
from dribbet.bench.parts.wipe import Wipe
from dribbet.bench.pictures import Pictures, qimage
from dribbet.bench.theme.inks import PAPER, WALL
from dribbet.bench.theme.type import SMALLEST_PX, fitting_px, width
from dribbet.lab.verdict.judge import Word
from tests.conftest import NOW

LAYERS = (("#ECE8DC", 0.4), ("#0F6A7A", 0.35), ("#1F262A", 0.25))


def pixels(image: QImage) -> np.ndarray:
    image = image.convertToFormat(QImage.Format.Format_RGB888)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    rows = np.frombuffer(bits, np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3).copy()  # the image goes with this function


def painted(part, wide: int = 420, tall: int = 300) -> np.ndarray:
    part.resize(wide, tall)
    return pixels(part.grab().toImage())


# ---------------------------------------------------------------- geometry


def test_layers_of_a_cup_take_height_by_their_share_and_thin_ones_stay_visible():
    heights = layer_heights(CupView(layers=(("#000000", 0.99), ("#FFFFFF", 0.01))), 100.0)
    assert heights[0][0] == 0.0
    assert heights[1][1] == pytest.approx(0.86, abs=0.01)
    assert (heights[1][1] - heights[1][0]) * 100 >= 1.9
    plain = layer_heights(CupView(layers=LAYERS), 400.0)
    shares = [(high - low) / 0.86 for low, high in plain]
    assert shares == [pytest.approx(s, abs=0.02) for _, s in LAYERS]


def test_cup_tapers_and_its_bands_meet():
    room = QRectF(0, 0, 100, 200)
    low, high = band(room, 0.0, 0.5).boundingRect(), band(room, 0.5, 1.0).boundingRect()
    assert low.width() < high.width()
    assert low.top() == pytest.approx(high.bottom(), abs=0.5)


def test_drip_lanes_are_true_to_scale(qtbot):
    card = DripCardView((Lane("Teal", "#0F6A7A", 60.0, "60", "Good", good=True),), (45.0, 75.0), "aim", 100.0, "mm", 20.0)
    lanes = DripLanes()
    qtbot.addWidget(lanes)
    lanes.resize(500, 500)
    lanes.show_card(card)
    assert lanes.y_of(60.0) - lanes.y_of(0.0) == pytest.approx(3 * (lanes.y_of(20.0) - lanes.y_of(0.0)), abs=0.5)


def test_same_code_tears_alike_and_fits_its_words(qtbot):
    label = TapeLabel("K3-b2", 18, Tape.OTHER)
    qtbot.addWidget(label)
    first, second = (pixels(label.grab().toImage()) for _ in range(2))
    np.testing.assert_array_equal(first, second)
    assert strip_size("K3-b2", 18).width() > width("K3-b2", 18, 700, code=True)


def test_large_figures_fit_their_room():
    room = QRectF(0, 0, 300, 120)
    px = fitting_px("1234.5", room, 262)
    assert width("1234.5", px, 800) <= 300
    assert fitting_px("1", QRectF(0, 0, 1, 1), 262) == SMALLEST_PX


@pytest.mark.parametrize("wide", [1200, 700, 460])
def test_key_strip_wraps_rather_than_cut_a_word(qtbot, wide):
    strip = KeyStrip()
    qtbot.addWidget(strip)
    strip.resize(wide, 60)
    strip.offer([Key("Space", "Draw lots for the pouring order"), Key("R", "Add a repeat"), Key("T", "Fewer panels"), Key("H", "What is held")])
    assert all(b.width() >= b.natural_width() - 1 for b in strip.buttons)
    assert all(b.geometry().right() <= wide + 1 for b in strip.buttons)
    assert strip.button_for("h") is strip.buttons[3]


@pytest.mark.parametrize("wide", range(420, 1200, 20))
def test_no_key_stands_on_a_line_of_its_own(qtbot, wide):
    strip = KeyStrip()
    qtbot.addWidget(strip)
    strip.resize(wide, 60)
    strip.offer([Key("Space", "Go to Decide"), *(Key(c, w) for c, w in zip("VXRNO", ("Lines", "Remove", "Again", "Next", "Leave out"), strict=True))])
    assert [len(row) for row in strip._rows()][-1] > 1
    assert [b for row in strip._rows() for b in row] == strip.buttons


def test_quiet_key_is_never_the_one_key(qtbot):
    strip = KeyStrip()
    qtbot.addWidget(strip)
    strip.offer([Key("Space", "Cannot tell", quiet=True), Key("Z", "Take back")])
    assert not any(b.one for b in strip.buttons)
    strip.offer([Key("Space", "Go on"), Key("Z", "Take back")])
    assert [b.one for b in strip.buttons] == [True, False]


def test_disabled_key_says_why(qtbot):
    button = KeyButton(one=True)
    qtbot.addWidget(button)
    button.set_key(Key("Z", "Take back", why_not="Nothing to take back yet."))
    assert not button.isEnabled()
    assert button.accessibleDescription() == "Nothing to take back yet."


# ---------------------------------------------------------------- every state is painted


@pytest.mark.parametrize("state", list(CupState))
@pytest.mark.parametrize("inks", [PAPER, WALL])
def test_cup_in_every_state(qtbot, state, inks):
    view = CupView(layers=LAYERS, state=state, stick=(0.3, 0.5, 0.2), drops={1: 8}, behind=2, over_from=0.7, hand=True)
    glyph = CupGlyph(view, 80, inks)
    qtbot.addWidget(glyph)
    assert painted(glyph, glyph.width(), glyph.height()).std() > 5


LANES = {
    "empty": Lane("Teal", "#0F6A7A", None, "", "Not dripped"),
    "good": Lane("Foam", "#ECE8DC", 61.0, "61", "Good", good=True),
    "thick": Lane("Slate", "#1F262A", 12.0, "12", "Too thick", "add 1.5 g water", hand=True),
    "thin": Lane("Red", "#9C2F3C", 99.0, "99", "Too thin", "add 4 g red"),
}


@pytest.mark.parametrize("names", [("empty",), ("good", "thick"), ("good", "thick", "thin", "empty", "good", "thin")])
def test_drip_card_in_every_state(qtbot, names):
    lanes = DripLanes()
    qtbot.addWidget(lanes)
    lanes.show_card(DripCardView(tuple(LANES[n] for n in names), (45.0, 75.0) if len(names) > 1 else None, "aim: 45\nto 75 mm", 110.0, "mm", 20.0))
    assert painted(lanes, 620, 520).std() > 5
    said = [t.accessibleName() for t in lanes._targets]
    assert [s.split(":")[0] for s in said] == [LANES[n].name for n in names]


ZONES = ((0.9, "thin"), (1.9, "safe"), (2.5, "risky"), (3.0, "cracks"))


@pytest.mark.parametrize(
    "view",
    [
        GaugeView(ZONES),
        GaugeView(ZONES, empty="Weigh the bare panel first"),
        GaugeView(ZONES, (("a1", 1.2), ("a2", 2.4)), "b1", 1.7, True, "if 54 g stay", "Panel before: 214.6 g"),
        GaugeView(ZONES, (), "b1", 2.9, False, "84 g stayed"),
        GaugeView(ZONES, (), "b1", 9.0, False, "too much"),
        GaugeView(ZONES, unit_factor=1 / 25.4, unit="in", digits=2),
    ],
)
def test_film_gauge_in_every_state(qtbot, view):
    gauge = FilmGauge()
    qtbot.addWidget(gauge)
    gauge.show_gauge(view)
    assert painted(gauge, 270, 260).std() > 5
    assert gauge.accessibleName()


@pytest.mark.parametrize("word", Word)
@pytest.mark.parametrize("ends", [(-2.0, -3.0, -1.2), (0.2, -0.4, 0.8), (9.0, 7.0, 12.0), (-9.0, -30.0, 11.0), (0.5, None, None), (None, None, None)])
def test_interval_strip_in_every_state(qtbot, word, ends):
    strips = IntervalStrips()
    qtbot.addWidget(strips)
    strips.show_strips("10 % instead of 22 %", (StripView("Cracks", ends[0], ends[1], ends[2], word, "96 mm less"),), "3 against 3 panels")
    assert painted(strips, 760, 120).std() > 5
    assert word in strips.accessibleDescription()


def test_time_bands_in_every_state(qtbot):
    hour = timedelta(hours=1)

    def cuts(poured):
        return tuple((poured + a * hour, poured + b * hour) for a, b in ((3, 6), (8, 20), (24, 70), (500, 720)))

    poured = NOW - 30 * hour
    bands = (
        BandView("1", "K1-a1", poured, cuts(poured), (poured + hour,), NOW, False, None, None, True, "in hand"),
        BandView("2", "K1-a2", poured, cuts(poured), (), None, True, poured + 9 * hour, None, False, "overdue, may crack"),
        BandView("3", "K1-b1", poured, cuts(poured), (), None, False, poured + 9 * hour, poured + 20 * hour, False, "cracked"),
        BandView("4", "K1-b2", None, words="not poured"),
    )
    part = TimeBands()
    qtbot.addWidget(part)
    part.show_bands(BandsView(bands, NOW - 48 * hour, NOW + 240 * hour, NOW, "now, 14:20"))
    assert painted(part, 900, 360).std() > 5
    part.show_bands(BandsView((), NOW, NOW + hour, NOW, "now"))
    painted(part, 900, 360)


@pytest.mark.parametrize("diameters", [(), (1.2,), tuple(np.linspace(1, 14, 60)), tuple(np.full(400, 2.0))])
def test_pebbles_of_any_number(qtbot, diameters):
    heap = Pebbles(WALL)
    qtbot.addWidget(heap)
    heap.show_cells(tuple(diameters))
    painted(heap, 300, 200)


def test_pebbles_are_of_one_scale_as_large_as_the_fullest_heap_lets():
    few, many = [2.0, 2.0], [4.0] * 60
    assert scale_of([few, []], 50, 300) == 5.0
    px = scale_of([few, many], 50, 200)
    ring = 4.0 * px + 1.5
    assert 60 / int(50 / ring) * ring <= 200  # they fit,
    larger = 4.0 * px / 0.95 + 1.5
    assert -(-60 // int(50 / larger)) * larger > 200  # and would not at the next scale
    assert scale_of([[20.0]], 50, 200) == scale_of([[14.0]], 50, 200)
    assert scale_of([[2.0] * 100_000], 50, 200) == pytest.approx(0.4, abs=0.02)


# ---------------------------------------------------------------- the photo stage


@pytest.fixture
def stage(qtbot):
    made = PhotoStage(WALL, empty="No photo yet.")
    qtbot.addWidget(made)
    made.resize(400, 300)
    made.show()
    return made


def picture(wide: int = 800, tall: int = 600) -> QImage:
    return qimage(np.random.default_rng(0).integers(0, 255, (tall, wide, 3), dtype=np.uint8))


def test_photo_stage_in_every_state(stage):
    empty = painted(stage, 400, 300)
    stage.loading = ("Reading K3-a1", 0.4)
    painted(stage, 400, 300)
    stage.show_photo(picture(), unit_per_px=0.25, overlay=Overlay(
        cells=(((10, 10), (20, 10), (15, 20)),), cracks=(((50, 50), (90, 52), (90, 53)),), edge=(((0, 0), (30, 0), (0, 30)),)
    ))  # fmt: skip
    stage.loading = None
    stage.code, stage.code_note, stage.glare, stage.hand_cell = "K3-a1", "16 %", (0.5, 0.5), 0
    stage.corners = [QPointF(5, 5), QPointF(150, 5), QPointF(150, 100), QPointF(5, 100)]
    with_lines = painted(stage, 400, 300)
    stage.set_lines(False)
    without = painted(stage, 400, 300)
    assert not np.array_equal(empty, with_lines)
    assert not np.array_equal(with_lines, without)


def corner_of(x: float, y: float, reach: float = 40.0) -> tuple[tuple[float, float], ...]:
    """Edge of a bare corner of a picture of 200 × 150 mm."""
    return ((x, abs(y - reach)), (abs(x - reach), abs(y - reach)), (abs(x - reach), y), (x, y))


@pytest.mark.parametrize(
    ("bare", "right", "below"), [((), True, True), ((2,), False, True), ((2, 3), True, False), ((1, 2, 3), True, True), ((1,), True, True)]
)
@pytest.mark.parametrize("unsure", [False, True])
def test_scale_lies_where_it_hides_no_bare_corner(stage, bare, right, below, unsure):
    corners = [(0.0, 0.0), (200.0, 0.0), (200.0, 150.0), (0.0, 150.0)]
    lines = tuple(corner_of(*corners[i]) for i in bare)
    stage.show_photo(picture(), unit_per_px=0.25, overlay=Overlay(unsure=lines) if unsure else Overlay(edge=lines))
    box, room = stage._scale_room(100, 36), stage.photo_room()
    assert (box.right() == room.right() - 10) is right
    assert (box.left() == room.left() + 10) is not right
    assert (box.bottom() == room.bottom() - 8) is below
    assert (box.top() == room.top() + 8) is not below
    stage.set_lines(False)  # nothing is drawn that it could hide
    assert stage._scale_room(100, 36).right() == room.right() - 10


def test_places_on_photo_and_screen_are_inverse_at_any_zoom(stage):
    stage.show_photo(picture(), unit_per_px=0.25)
    for factor in (1.0, 1.7, 3.0):
        stage.zoom_by(factor, QPointF(100, 80))
        for x, y in ((10.0, 10.0), (120.0, 77.0)):
            assert stage.to_photo(stage.to_screen(x, y)) == (pytest.approx(x), pytest.approx(y))
    assert stage.place.zoom <= 12.0


def test_zoom_keeps_the_place_under_the_pointer(stage):
    stage.show_photo(picture(), unit_per_px=1.0)
    at = QPointF(130, 120)
    before = stage.to_photo(at)
    stage.zoom_by(2.0, at)
    assert stage.to_photo(at) == (pytest.approx(before[0], abs=2), pytest.approx(before[1], abs=2))


def test_cell_is_taken_in_hand_by_touch_and_by_arrows(stage, qtbot):
    cells = (((10, 10), (90, 10), (90, 90), (10, 90)), ((120, 10), (180, 10), (180, 60)))
    stage.show_photo(picture(), unit_per_px=0.25, overlay=Overlay(cells=cells))
    with qtbot.waitSignal(stage.cell_chosen) as heard:
        QTest.mouseClick(stage, Qt.MouseButton.LeftButton, pos=stage.to_screen(50, 50).toPoint())
    assert heard.args == [0]
    QTest.keyClick(stage, Qt.Key.Key_Right)
    assert stage.hand_cell == 1


def test_corner_is_dragged_and_nudged(stage, qtbot):
    stage.show_photo(picture(), unit_per_px=1.0)
    stage.corners = [QPointF(100, 100), QPointF(700, 100), QPointF(700, 500), QPointF(100, 500)]
    start, end = stage.to_screen(100, 100).toPoint(), stage.to_screen(140, 130).toPoint()
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(stage, end)
    with qtbot.waitSignal(stage.corners_moved) as heard:
        QTest.mouseRelease(stage, Qt.MouseButton.LeftButton, pos=end)
    assert heard.args[0][0] == (pytest.approx(140, abs=4), pytest.approx(130, abs=4))
    QTest.keyClick(stage, Qt.Key.Key_C)
    before = stage.corners[0].x()
    QTest.keyClick(stage, Qt.Key.Key_Right)
    assert stage.corners[0].x() == before + 1


def test_seam_moves_by_drag_and_by_millimetres(qtbot):
    wipe = Wipe(WALL)
    qtbot.addWidget(wipe)
    wipe.resize(400, 300)
    wipe.show()
    wipe.show_photo(picture(), unit_per_px=0.25)
    wipe.show_second(picture(), "K3-f1")
    x = round(wipe._seam_x())
    QTest.mousePress(wipe, Qt.MouseButton.LeftButton, pos=QPointF(x, 150).toPoint())
    QTest.mouseMove(wipe, QPointF(x - 90, 150).toPoint())
    QTest.mouseRelease(wipe, Qt.MouseButton.LeftButton, pos=QPointF(x - 90, 150).toPoint())
    assert wipe._seam_x() == pytest.approx(x - 90, abs=2)
    before = wipe._seam_x()
    QTest.keyClick(wipe, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert wipe._seam_x() - before == pytest.approx(10 * wipe.scale() / 0.25, abs=1)
    wipe.show_second(None, "")
    painted(wipe, 400, 300)


def test_linked_stage_shows_the_same_place(stage):
    stage.show_photo(picture())
    stage.show_place(ShownPlace(3.0, 0.4, 0.6))
    assert stage.place == ShownPlace(3.0, 0.4, 0.6)


def test_pictures_are_remembered_for_a_while():
    memory = Pictures()
    for i in range(20):
        memory.put(("photo", i), i)
    assert memory.get(("photo", 0)) is None
    assert memory.get(("photo", 19)) == 19
