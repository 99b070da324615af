"""Run sheets and labels: what stands on them, and that a camera reads the symbols."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dribbet.lab.plan import design
from dribbet.paper.labels import SIZES, PanelLabel, labels_pdf, symbol
from dribbet.paper.run_sheet import run_sheet_pdf
from dribbet.paper.run_sheet_said import run_sheet
from dribbet.records import Constants, Design, Extra, Factor, Layout, Level
from dribbet.words.units import Units
from tests.made_up import ids, series
from tests.paper.test_paper import rendered


def pages(pdf: bytes) -> int:
    return pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page ")


def text_of(pdf: bytes) -> str:
    from PyQt6.QtCore import QBuffer, QByteArray
    from PyQt6.QtPdf import QPdfDocument

    data = QByteArray(pdf)
    buffer = QBuffer(data)
    buffer.open(QBuffer.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    said = " ".join(document.getAllText(i).text() for i in range(document.pageCount()))
    document.close()
    return said.replace("\r", "").replace("\n", " ")


@pytest.mark.parametrize("code", ["K3-a2", "T1-z12"])
def test_symbol_is_read_by_a_general_reader(code):
    cells = np.array(symbol(code))
    picture = np.kron(np.pad(~cells, 4, constant_values=True), np.ones((8, 8), bool)).astype(np.uint8) * 255
    found, *_ = cv2.QRCodeDetector().detectAndDecode(picture)
    assert found == code


@pytest.mark.parametrize("size", SIZES)
def test_printed_labels_carry_code_and_symbol(size):
    pdf = labels_pdf([PanelLabel("K3-a1", ("Kelp 03",)), PanelLabel("K3-b2", ())], "Labels", size)
    assert "K3-a1" in text_of(pdf)
    page = rendered(pdf, dpi=150)
    grey = page if page.ndim == 2 else page.mean(axis=2).astype(np.uint8)
    sheet = SIZES[size]
    px = 150 / 25.4
    first = grey[: round((sheet.top_mm + sheet.height_mm) * px), : round((sheet.left_mm + sheet.width_mm) * px)]
    found, *_ = cv2.QRCodeDetector().detectAndDecode(cv2.resize(np.ascontiguousarray(first), None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC))
    assert found == "K3-a1"


def test_labels_beyond_one_sheet_go_on_the_next():
    assert pages(labels_pdf([PanelLabel(f"K3-a{i}", ()) for i in range(30)], "Labels")) == 2


def made(s):
    panels = design.panels(s, ids())
    return run_sheet(
        s,
        panels,
        (),
        Units(),
        question="Does water share change crack length?",
        held="68.0 g a panel; flip cup.",
        expected="",
        prices={"conditioner": 8.0},
    )


def test_sheet_lists_every_panel_in_the_order_of_the_lots_with_its_rack_place():
    s = series(seed=11, layout=Layout(extras=(Extra(settings=(2,), instead=((Factor.RATIO, Level(value=1.5)),), why="paint share"),)))
    sheet = made(s)
    assert [r.place for r in sheet.rows] == [str(i) for i in range(1, 8)]
    assert {r.code for r in sheet.rows} == {p.code for p in design.panels(s, ids())} == {lb.code for lb in sheet.labels}
    assert any("but ratio 1 : 1.5" in r.words for r in sheet.rows)
    text = text_of(run_sheet_pdf(sheet))
    assert [r[0] for r in sheet.recipes] == ["Recipe", "a", "b", "c", "d"]
    assert sheet.recipes[1][4] == "1.00 times"
    assert float(sheet.recipes[3][4].split()[0]) > 2.0  # more water flows faster
    for word in ("T1-a1", "Pour in this order", "seed 11", "68.0 g a panel", "less paint", "What is equal"):
        assert word in text


def test_blind_sheet_and_labels_do_not_tell_the_recipe():
    s = series(seed=4, factor=Factor.ACTIVATOR, levels=(Level(name="activator A"), Level(name="activator B")), layout=Layout(blind=True))
    text = text_of(run_sheet_pdf(made(s)))
    assert "activator A" not in text
    assert made(s).recipes == ()
    assert "blind" in text


def test_pieces_of_a_panel_name_their_panel_and_silicone_warns_of_washing():
    s = series(seed=4, layout=Layout(design=Design.PAIRED), constants=Constants(silicone_drops_per_100g=2.0, silicone_colours=("teal",)))
    sheet = made(s)
    assert all(r.words.startswith("panel ") for r in sheet.rows)
    assert any("wash before any coat" in line for line in sheet.labels[0].lines)


def test_sheet_before_the_lots_says_so_and_is_the_same_each_time():
    sheet = made(replace(series(), seed=None))
    assert "not drawn yet" in sheet.seed
    assert run_sheet_pdf(sheet) == run_sheet_pdf(sheet)
