"""What leaves on paper: cards at true size that our own reader reads back, a report that holds what it should."""

from __future__ import annotations

import io
import zlib
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from dribbet.paper.cards import card_pdf
from dribbet.paper.report import JudgedLine, ReportPicture, ReportPlot, SeriesReport, report_pdf
from dribbet.records.cards import DRIP_CARD, PATCH_LIGHTNESS, PHOTO_CARD
from dribbet.sight.card import find_card, find_markers
from dribbet.sight.drips import read_drips
from dribbet.sight.geometry import apply

MM_PER_INCH = 25.4


def rendered(pdf: bytes, page: int = 0, dpi: int = 200) -> np.ndarray:
    """First page as a printer would put it on paper, by Qt's own PDF reader."""
    from PyQt6.QtCore import QBuffer, QByteArray, QSize
    from PyQt6.QtGui import QImage
    from PyQt6.QtPdf import QPdfDocument

    data = QByteArray(pdf)
    buffer = QBuffer(data)
    buffer.open(QBuffer.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    points = document.pagePointSize(page)
    size = QSize(round(points.width() / 72 * dpi), round(points.height() / 72 * dpi))
    image = document.render(page, size).convertToFormat(QImage.Format.Format_RGBA8888)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    rgba = np.frombuffer(bits, np.uint8).reshape(image.height(), image.width(), 4).astype(np.float32)
    share = rgba[..., 3:] / 255.0
    document.close()
    return np.ascontiguousarray((rgba[..., :3] * share + 255.0 * (1.0 - share)).astype(np.uint8))


@pytest.mark.parametrize(("kind", "face"), [("photo", PHOTO_CARD), ("drip", DRIP_CARD)])
def test_printed_card_has_its_true_size(qapp, kind, face):
    page = rendered(card_pdf(kind))
    marks, seen = find_markers(page, face.markers)
    px_per_mm = 200 / MM_PER_INCH
    lengths = np.linalg.norm(seen - seen[0], axis=1)[1:]
    wanted = np.linalg.norm(marks - marks[0], axis=1)[1:]
    np.testing.assert_allclose(lengths / px_per_mm, wanted, atol=0.15)


def test_printed_greys_are_the_ones_that_the_reader_expects(qapp):
    card = find_card(rendered(card_pdf("photo")))
    assert card.exposure_ev == pytest.approx(0.0, abs=0.05)
    assert card.patch_error < 1.5
    assert len(PATCH_LIGHTNESS) == 6


def test_printed_drip_card_is_read_as_one_without_drips(qapp):
    assert read_drips(rendered(card_pdf("drip"))) == ()


def test_cards_keep_their_bytes(qapp):
    assert card_pdf("photo") == card_pdf("photo")
    assert PHOTO_CARD.markers == {10: (4.0, 4.0), 11: (81.0, 4.0), 12: (81.0, 41.0), 13: (4.0, 41.0)}
    assert apply(np.eye(3), np.array([[1.0, 2.0]])).tolist() == [[1.0, 2.0]]


def picture(code: str) -> ReportPicture:
    buffer = io.BytesIO()
    Image.fromarray(np.full((60, 80, 3), 120, np.uint8)).save(buffer, "JPEG")
    return ReportPicture(buffer.getvalue(), code, "16 % water; 12 cells", 200.0, 150.0)


def a_report(**changed) -> SeriesReport:
    plain = {
        "title": "Thrift 01",
        "question": "Does water share change crack length?",
        "verdict": "10 % cracks less. That is real.",
        "compared": "10 % instead of 22 %",
        "judged": (
            JudgedLine("Cracks", "96 mm less", "real", "95 % interval", -2.4, -3.1, -1.2),
            JudgedLine("Shimmer", "not read yet", "too few panels to say", "no interval can be given", None, None, None),
        ),
        "differs": ("More water also means less paint.",),
        "prediction": "Expected: less crack length.",
        "held": "68 g a panel",
        "recipes": (("Recipe", "Paint"), ("T1-a", "30 %")),
        "results": (("Panel", "cracks"), ("T1-a1", "12 mm")),
        "ledger": (("When", "Cup"), ("19 Nov", "T1-a foam")),
        "pictures": (picture("T1-a1"), picture("T1-b1"), picture("T1-c1")),
        "made": "Made by Dribbet",
    }
    return SeriesReport(**(plain | changed))


def test_report_is_a_pdf_with_pages_pictures_and_shipped_fonts(qapp):
    data = report_pdf(a_report())
    assert data.startswith(b"%PDF-")
    assert data.count(b"/Subtype /Image") >= 1
    assert b"AtkinsonHyperlegible" in data
    page = rendered(data, dpi=60)
    assert (page.min(axis=2) < 128).mean() > 0.01


def test_report_of_a_long_ledger_runs_over_pages(qapp):
    rows = (("When", "Cup"), *((f"{i}", "cup") for i in range(200)))
    short, long_ = report_pdf(a_report()), report_pdf(a_report(ledger=rows))
    assert long_.count(b"/Type /Page\n") > short.count(b"/Type /Page\n")


def test_report_shows_plots_all_answers_picks_and_what_to_pour_next(qapp):
    plot = ReportPlot(
        "Cell count, cells/dm²", "Silicone", ((0.0, "none"), (1.0, "2 drops")), ((0.0, 7.0), (0.0, 8.0), (1.0, 20.0)),
        (("", ((0.0, 7.5), (1.0, 20.0))),), (0.0, 10.0, 20.0),
    )  # fmt: skip
    more = a_report(
        answers=(("What", "Response"), ("2 drops instead of none", "cell count")), plots=(plot, plot, plot), picked=("\x02Real.\x03 Ilka",),
        next_pours=(("What", "Why"), ("4 drops", "The best may lie there.")),
    )  # fmt: skip
    plain, full = report_pdf(a_report(pictures=())), report_pdf(replace(more, pictures=()))
    assert (plain.count(b"/Type /Page\n"), full.count(b"/Type /Page\n")) == (1, 2)
    second = rendered(full, page=1, dpi=60)
    assert (second.min(axis=2) < 128).mean() > 0.005


def test_report_without_pictures_and_with_signs_that_are_markup_is_made(qapp):
    data = report_pdf(a_report(pictures=(), title="Less < more & so on", differs=()))
    assert len(zlib.compress(data)) > 1000
