"""Shelf: cards, guided measurements on the practice scale, house mixes, bottles and leftovers."""

from __future__ import annotations

import pytest

from dribbet.bench.doors.shelf import card, guide
from dribbet.bench.doors.shelf.presenter import ShelfPresenter
from dribbet.devices import ScaleReading
from dribbet.lab.paint import costs, measures
from dribbet.notebook import open_notebook
from dribbet.records import Bottle, BottleKind, DribbetError, Gauging, GaugingKind, Grade, Hazard, Kind, Material, silent
from dribbet.studio.acts import gauging
from dribbet.studio.standing import shelf as shelf_standing
from dribbet.words.card import lines as card_lines
from dribbet.words.units import Units
from tests.bench.conftest import press, trouble


@pytest.fixture
def shelf(desk):
    return ShelfPresenter(desk)


def named(desk, name) -> Material:
    return next(m for m in desk.shelf() if m.name == name)


def said(remarks) -> str:
    return " ".join(f"{r.head} {r.body}" for r in remarks)


def through(g: guide.Guide, *values: float) -> str:
    for value in values:
        g.take(value)
    return g.said


# ---------------------------------------------------------------- cards


def test_every_line_of_a_card_can_be_changed_and_is_kept(desk, shelf):
    typed = {
        "hex": ("#010203", "hex", "#010203"),
        "lot": ("25-01", "lot", "25-01"),
        "stock_kg": ("250", "stock_kg", 0.25),
        "full_kg": ("900", "full_kg", 0.9),
        "density": ("1.21", "density_kg_m3", 1210.0),
        "volume_solids": ("41", "volume_solids", 0.41),
        "variant": ("inland", "variant", "inland"),
        "note": ("keep cool", "note", "keep cool"),
        "opened_at": ("today", "opened_at", desk.now()),
    }
    for key, (text, field, value) in typed.items():
        shelf.change(named(desk, "conditioner"), key, text)
        assert getattr(named(desk, "conditioner"), field) == (pytest.approx(value) if isinstance(value, float) else value)
    for key in card.GOES_ROUND:
        before = getattr(named(desk, "conditioner"), key)
        shelf.change(named(desk, "conditioner"), key, None)
        assert getattr(named(desk, "conditioner"), key) != before
    shelf.change(named(desk, "foam"), "hazard dust", None)
    assert named(desk, "foam").hazards == (Hazard.DUST,)
    shelf.change(named(desk, "foam"), "hazard dust", None)
    assert named(desk, "foam").hazards == ()


@pytest.mark.parametrize(
    ("key", "text", "words"),
    [
        ("hex", "blue", "no colour"),
        ("density", "9", "0.6 to 3 g"),
        ("density", "x", "no figure"),
        ("price", "dear", "no price"),
        ("opened_at", "soon", "no day"),
        ("name", "foam", "on the shelf already"),
        ("volume_solids", "140", "between 0 and 100"),
        ("made_of", "glue", "no amount"),
        ("made_of", "jam 20", "no jam on the shelf"),
        ("made_of", "channel teal 20", "made of itself"),
    ],
)
def test_what_cannot_be_is_refused_with_what_to_type(desk, shelf, key, text, words):
    before = named(desk, "channel teal")
    with pytest.raises(DribbetError, match=words):
        shelf.change(before, key, text)
    assert named(desk, "channel teal") == before


def test_price_is_typed_as_a_pack_with_its_delivery(desk, shelf):
    shelf.change(named(desk, "glue"), "price", "6 for 500 (+ 1.5)")
    shelf.change(named(desk, "glue"), "price", "18 for 2000")
    glue = named(desk, "glue")
    assert [(p.content_kg, p.price, p.delivery) for p in glue.packs] == [(0.5, 6.0, 1.5), (2.0, 18.0, 0.0)]
    assert costs.packs_of(glue)[0].per_kg == pytest.approx(9.0)
    assert "The large one pays from 1.2\u202fkg on" in said(shelf.remarks(glue))


def test_new_lot_asks_for_its_density_until_it_is_weighed_again(desk, shelf):
    foam = named(desk, "foam")
    shelf.change(foam, "lot", "25-02")
    assert shelf.sentence()[0] == "Foam and dulse red came in a new lot: measure them again."
    assert "measured before this lot came" in said(shelf.remarks(named(desk, "foam")))
    desk.clock.pass_(minutes=5)
    through(shelf.guide_for(foam.id, GaugingKind.DENSITY), 0.0106, 0.0241, 0.0242)
    assert "foam" in shelf.sentence()[0].lower()  # its slump disc is of the old lot, too
    through(shelf.guide_for(foam.id, GaugingKind.BODY), 0.005, 60.0, 0.070, 0.072)
    assert "foam" not in shelf.sentence()[0].lower()
    assert named(desk, "foam").density_kg_m3 == pytest.approx(1355.0)


# ---------------------------------------------------------------- guided measurements


def test_density_is_refused_where_the_fillings_disagree_and_asked_for_again(desk, shelf):
    teal = named(desk, "channel teal")
    g = shelf.guide_for(teal.id, GaugingKind.DENSITY)
    g.take(0.0106)
    with pytest.raises(DribbetError, match="not heavier than the empty one"):
        g.take(0.0100)
    g.take(0.0215)
    with pytest.raises(DribbetError, match="Press the air out"):
        g.take(0.0205)
    assert g.step.words.startswith("Fill it")  # both fillings again: nobody knows which one had the air
    assert "1.090 g in each mL" in through(g, 0.0215, 0.0215)
    kept = next(x for x in desk.gaugings() if x.kind is GaugingKind.DENSITY and x.at == desk.now())
    assert (kept.value, kept.lot) == (pytest.approx(1090.0), "24-03")


def test_body_and_measures_are_kept_and_used(desk, shelf):
    teal, silicone = named(desk, "channel teal"), named(desk, "belt silicone")
    words = through(shelf.guide_for(teal.id, GaugingKind.BODY), 0.005, 60.0, 0.061, 0.059)
    assert "60\u202fmm across" in words
    assert "One drop of belt silicone weighs 41 mg, from 20 together" in through(shelf.guide_for(silicone.id, GaugingKind.DROP), 0.82e-3)
    assert measures.one("drop", named(desk, "belt silicone"), desk.gaugings()).kg == pytest.approx(41e-6)
    through(shelf.guide_for(teal.id, GaugingKind.SQUIRT), 0.012)
    assert measures.to_kg(2, "squirt", teal, desk.gaugings()) == pytest.approx(0.0024)
    with pytest.raises(DribbetError, match="Set about 5 g down"):
        shelf.guide_for(teal.id, GaugingKind.BODY).take(0.05)


def test_guide_on_the_page_takes_steady_weights_and_typed_ones(window, desk):
    window.walk("shelf")
    page = window.page("shelf")
    page._choose(named(desk, "foam").id)
    press(window, "Space")
    press(window, "Space")  # density is the first offer
    page.timer.stop()
    page._zero_kg = 0.0
    page._reading = ScaleReading(mass_kg=0.0106, steady=False)
    press(window, "Space")
    assert page.guide.readings == []
    page._reading = ScaleReading(mass_kg=0.0106, steady=True)
    press(window, "Space")
    page.typed.setText("24.1")
    page._typed()
    assert page.guide.readings == [0.0106, pytest.approx(0.0241)]
    press(window, "Z")
    page.typed.setText("24.0")
    page._typed()
    page.typed.setText("24.1")
    page._typed()
    assert "1.345 g in each mL" in page.guide_words.text()
    press(window, "Space")
    assert page.guide is None
    assert trouble(window) == ""
    assert named(desk, "foam").density_kg_m3 == pytest.approx(1345.0)


# ---------------------------------------------------------------- house mixes


def test_house_mix_has_the_figures_and_flags_of_its_parts_and_nests(desk, shelf):
    shelf.add("cut glue = glue 200, water 100")
    shelf.add("slick = cut glue 90, belt silicone 10, alcohol 20")
    cut, slick = named(desk, "cut glue"), named(desk, "slick")
    assert cut.kind is Kind.HOUSE_MIX
    assert cut.density_kg_m3 == pytest.approx(300 / (200 / 1.080 + 100 / 0.998) * 1000)
    assert (slick.wash_off, Hazard.FLAMMABLE in slick.hazards, cut.wash_off) == (True, True, False)
    assert "glue 50" in next(line.text for line in card_lines(slick, desk.shelf(), Units()) if line.key == "made_of")
    with pytest.raises(DribbetError, match="made of itself"):
        shelf.change(cut, "made_of", "slick 20, water 10")


def test_house_mix_takes_volumes_drops_and_own_measures(desk, shelf):
    shelf.add("brew = glue 100 mL, water 2 tsp, belt silicone 3 drops")
    parts = dict(named(desk, "brew").made_of)
    assert parts == pytest.approx({"glue": 0.108, "water": 0.00998, "belt silicone": 87e-6})
    with pytest.raises(DribbetError, match="never weighed"):
        shelf.add("other = glue 2 squirts")
    with pytest.raises(DribbetError, match="no measure here"):
        shelf.add("other = glue 2 buckets")


# ---------------------------------------------------------------- bottles


def bottle(desk, code) -> Bottle:
    return next(b for b in desk.notebook.all(Bottle) if b.code == code)


def test_bottle_that_lost_water_says_so_and_is_whole_again_after_the_top_up(desk, shelf):
    stored = bottle(desk, "A10")
    assert "It lost 4.1\u202fg of water" in said(shelf.bottle_remarks(stored))
    g = shelf.guide_for(stored.id, None)
    g.take(0.1578)
    assert gauging.wants_back_kg(desk, stored, 0.1578) == pytest.approx(0.0043, abs=1e-6)
    assert "are back" in through(g, 0.0043)
    stand = shelf_standing.stand(desk, stored)
    assert stand.contents["water"] == pytest.approx(0.16, abs=0.002)
    assert stand.unchecked
    assert "Water was given back" in said(shelf.bottle_remarks(stored))


def test_fresh_bottle_is_weighed_empty_and_capped(desk, shelf):
    fresh = desk.notebook.get(Bottle, shelf.add_leftover("K2-a 60"))
    g = shelf.guide_for(fresh.id, None)
    g.take(0.032)
    with pytest.raises(DribbetError, match="not heavier"):
        g.take(0.030)
    assert "holds 60.0 g" in through(g, 0.092)
    assert shelf_standing.stand(desk, bottle(desk, fresh.code)).content_kg == pytest.approx(0.060)


def test_bottle_that_lost_nothing_asks_for_no_water(desk, shelf):
    b = bottle(desk, "A11")
    assert "lost nothing" in through(shelf.guide_for(b.id, None), b.stored_kg)


def test_leftover_inherits_what_was_scraped_silicone_included_and_is_barred(desk, shelf):
    id_ = shelf.add_leftover("D1-c 30, D1-a 10")
    pot = next(b for b in desk.notebook.all(Bottle) if b.id == id_)
    assert pot.kind is BottleKind.LEFTOVER
    assert pot.silicone
    assert pot.code == "A12"
    assert sum(s for _, s in pot.contents) == pytest.approx(1.0)
    assert "history is not that of your recipe" in said(shelf.bottle_remarks(pot))
    assert not desk.notebook.get(Bottle, shelf.add_leftover("K2-a 20")).silicone
    for wrong in ("K9-a 20", "K2-a", ""):
        with pytest.raises(DribbetError):
            shelf.add_leftover(wrong)


def test_code_finds_its_bottle_and_an_empty_one_leaves_the_shelf(desk, shelf):
    found = shelf.find(" a11 ")
    assert found == bottle(desk, "A11").id
    shelf.finish_bottle(found)
    assert "A11" not in [s.code for s in shelf.standing()]
    with pytest.raises(DribbetError, match="Nothing on the shelf"):
        shelf.find("Z99")


def test_labels_are_a_pdf_of_all_bottles_and_house_mixes(desk, shelf):
    assert shelf.labels("52 x 30")(silent).startswith(b"%PDF")


def test_labels_come_in_common_sizes(window, qtbot, monkeypatch, tmp_path):
    out = tmp_path / "labels.pdf"
    monkeypatch.setattr("dribbet.bench.doors.shelf.page.QFileDialog.getSaveFileName", lambda *_: (str(out), ""))
    window.walk("shelf")
    press(window, "M", "L")
    page = window.page("shelf")
    assert [b.key.words for b in page.strip.buttons[:3]] == ["70 x 37 mm", "99 x 38 mm", "52 x 30 mm"]
    assert page.press_digit(3)
    qtbot.waitUntil(out.exists, timeout=30_000)
    assert out.read_bytes().startswith(b"%PDF")
    qtbot.waitUntil(lambda: "52 x 30 mm" in trouble(window))


def test_empty_shelf_says_what_to_do(empty_desk):
    shelf = ShelfPresenter(empty_desk)
    assert shelf.sentence()[0].startswith("The shelf is empty")
    with pytest.raises(DribbetError, match="no bottle and no house mix"):
        shelf.labels("52 x 30")


# ---------------------------------------------------------------- what is known


def test_card_says_what_own_panels_show_with_their_number(desk, shelf):
    words = said(shelf.remarks(named(desk, "dulse red")))
    assert "14 panels: " in words
    assert "cells a dm²" in words
    assert "readings of" in words
    none = said(shelf.remarks(named(desk, "harbour glue")))
    assert "None of those measured holds it yet" in none


def test_dear_additive_says_how_long_it_lasts(desk, shelf):
    words = said(shelf.remarks(named(desk, "belt silicone")))
    assert "drops are left" in words
    assert "pours as the last ones" in words


def test_grades_are_summed_up_beside_the_single_paint(desk, shelf):
    assert named(desk, "dulse red").grade is Grade.STUDENT
    assert "All student grade" in said(shelf.remarks(named(desk, "dulse red")))


def test_shelf_of_ounces_is_typed_in_ounces(desk, shelf):
    desk.set_units(Units(mass="oz"))
    shelf.add("brew = glue 4, water 2")
    assert named(desk, "brew").stock_kg == pytest.approx(6 * 28.349523e-3)


def test_what_was_measured_is_there_after_reopening(desk, shelf, tmp_path):
    through(shelf.guide_for(named(desk, "foam").id, GaugingKind.PEA), 0.004)
    folder = desk.notebook.folder
    desk.notebook.close()
    again = open_notebook(folder)
    kept = [g for g in again.all(Gauging) if g.kind is GaugingKind.PEA]
    again.close()
    assert [round(g.value, 6) for g in kept] == [0.0004]
