"""Ask in the window: several things varied, what cannot be told apart, sizes, undo, looks and goals, paper."""

from __future__ import annotations

import itertools
import time
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from dribbet.bench.parts.margin import Weight
from dribbet.bench.stations.ask.chooser import ChoiceRow
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.ask.view import Leaf
from dribbet.bench.stations.pour.presenter import PourPresenter
from dribbet.lab.plan import stops, templates
from dribbet.records import Advice, Design, DribbetError, DropsBy, Equal, Factor, Goal, Layout, Response, Series
from dribbet.words.kinds import KINDS
from dribbet.words.parts import Part
from tests.bench.conftest import choose, open_part, press, trouble


@pytest.fixture
def ask(desk):
    made = AskPresenter(desk)
    made.planning.new_series()
    return made


@pytest.fixture
def page(window, desk):
    window.walk("ask")
    window.page("ask").presenter.planning.new_series()
    return window.page("ask")


def series_of(desk) -> Series:
    return desk.need_run().series


def parts(view) -> dict[str, Part]:
    return {p.id: p for p in view.sentence if isinstance(p, Part)}


def bodies(view) -> str:
    return " ".join(f"{r.head} {r.body}" for r in view.margin)


# ---------------------------------------------------------------- what is varied


def test_five_things_can_be_varied_and_a_part_is_poured_where_letters_run_out(desk, ask):
    for factor in (Factor.SILICONE, Factor.HEAT, Factor.FILM_LEFT, Factor.BASE):
        ask.choose("crossed", factor)
    s = series_of(desk)
    assert [v.factor for v in s.varied] == [Factor.WATER_SHARE, Factor.SILICONE, Factor.HEAT, Factor.FILM_LEFT, Factor.BASE]
    assert s.layout.design is Design.FRACTION
    view = ask.view()
    assert "crossed" not in parts(view)  # five are the most
    poured = [c for row in view.rows for c in row.cups if c is not None]
    assert len(poured) == len(desk.need_run().arms) <= 26
    assert [len(row.cups) for row in view.rows] == [6] * 8  # three water shares by two films, and what else down the rows
    assert len(view.column_lines) == 2
    assert "half of all recipes" in parts(view)["design"].text


def test_a_thing_varied_can_be_left_out_again(desk, ask):
    ask.choose("crossed", Factor.HEAT)
    ask.choose("factor1", "")
    assert [v.factor for v in series_of(desk).varied] == [Factor.WATER_SHARE]
    ask.choose("crossed", Factor.HEAT)
    ask.choose("levels1", "0, 1, 3")
    assert [lv.value for lv in series_of(desk).varied[1].levels] == [0.0, 1.0, 3.0]


def test_something_of_ones_own_is_named_in_the_sentence(desk, ask):
    ask.choose("crossed", Factor.OWN)
    ask.choose("levels1", "stirring: gently, hard")
    assert series_of(desk).varied[1].words == "stirring"
    assert parts(ask.view())["factor1"].text == "stirring"


@pytest.mark.parametrize(
    ("value", "what"), [("paired", "side by side"), ("centre 2", "the middle"), ("blocks day 2", "2 days"), ("blind on", "each")]
)
def test_layouts_are_chosen_in_the_sentence(desk, ask, value, what):
    ask.choose("design", value)
    assert what in parts(ask.view())["design"].text
    ask.draw_lots()
    assert desk.need_run().panels


def test_pieces_of_one_panel_are_drawn_and_neighbours_warned_of(desk, ask):
    ask.choose("design", "paired")
    ask.leaf = Leaf.PANELS
    view = ask.view()
    assert [len(p) for p in view.sheet.panels] == [3, 3]
    assert "Side by side" in bodies(view)
    assert "of the panel" in bodies(view)
    ask.draw_lots()
    run = desk.need_run()
    one = run.panels[0]
    assert {p.recipe for p in run.together(one)} == {"a", "b", "c"}
    assert run.area_m2(one) == pytest.approx(0.03 / 3)
    assert run.size_mm(one)[0] < run.sheet_mm(one)[0] / 2


# ---------------------------------------------------------------- basis, confounds, control


def test_equal_flow_says_what_is_then_unequal_and_bars_the_pour_until_checked(desk, ask):
    ask.choose("factor", Factor.MEDIUM)
    ask.choose("equal", Equal.FLOW)
    said = bodies(ask.view())
    assert "At equal flow" in said
    assert "Water is an estimate" in said
    assert "paint" in said
    ask.draw_lots()
    pour = PourPresenter(desk)
    pour.advance(0.2, "typed")
    with pytest.raises(DribbetError, match="was not checked"):
        pour.advance(None, "typed")


def test_basis_that_undoes_the_question_is_refused_and_kept_out(desk, ask):
    with pytest.raises(DribbetError, match="would undo the water share"):
        ask.choose("equal", Equal.FLOW)
    assert series_of(desk).equal is Equal.RECIPE


def test_equal_cost_keeps_the_prices_it_was_chosen_at(desk, ask):
    ask.choose("factor", Factor.MEDIUM)
    ask.choose("equal", Equal.COST)
    assert dict(series_of(desk).prices)["conditioner"] > 0


def test_one_key_adds_the_panels_that_separate_and_they_stand_besides(desk, ask):
    assert "\x02X\x03 adds 1 panel" in bodies(ask.view())
    ask.planning.separate()
    view = ask.view()
    assert view.rows[-1].head == "Besides"
    assert "Recipe d tells the two apart" in bodies(view)
    ask.planning.leave_extras_out()
    assert all(r.head != "Besides" for r in ask.view().rows)


def test_lots_are_not_drawn_without_a_control_unless_insisted_and_that_is_kept(desk, ask):
    ask.choose("factor", Factor.SILICONE)
    ask.choose("levels", "1, 2")
    with pytest.raises(DribbetError, match="nothing to stand against"):
        ask.draw_lots()
    ask.planning.add_control()
    assert series_of(desk).levels[0].value == 0.0
    ask.undo()
    ask.planning.insist()
    ask.drops_by(DropsBy.DILUTED)
    assert any(r.weight is Weight.CAUTION and "You chose to go without" in r.body for r in ask.view().margin)
    ask.draw_lots()
    assert [(i.against, i.of) for i in series_of(desk).insisted] == [(Advice.CONTROL, "silicone")]


# ---------------------------------------------------------------- sizes, scatter, what is short


def test_three_sizes_stand_side_by_side_and_a_digit_takes_one(desk, page, window):
    offers = page.view.offers
    assert [o.name for o in offers] == ["Smallest", "Sensible", "Thorough"]
    assert offers[0].current
    QTest.keyClick(window, Qt.Key.Key_3)
    assert series_of(desk).repeats > 2
    assert page.view.offers[2].current


def test_margin_counts_what_its_scatter_rests_on(ask):
    assert "Kelp 02" in bodies(ask.view())
    assert "(19 panels: in Kelp 02" in bodies(ask.view())
    ask.add_repeat(2)
    assert "panels)" in bodies(ask.view())


def test_expected_size_tells_how_many_repeats_it_takes(ask):
    ask.choose("expect", "less")
    ask.choose("size", "25")
    assert "It takes" in bodies(ask.view())


def test_more_panels_than_are_at_hand_are_said_and_nothing_is_refused(desk, ask):
    ask.choose("have_panels", "4")
    assert "Short of panels" in bodies(ask.view())
    ask.draw_lots()
    assert len(desk.need_run().panels) == 6


def test_amounts_compare_every_container_with_the_shelf(ask):
    ask.choose("base_plan", "flood coat")
    ask.leaf = Leaf.AMOUNTS
    bottles = {b.name: b for b in ask.view().bottles}
    assert {"foam", "conditioner", "water"} <= set(bottles)
    assert bottles["house paint"].short
    assert "BUY" in ask.shopping_list()


def test_paint_is_worked_out_from_size_and_sides(desk, ask):
    ask.choose("sides", "10")
    ask.choose("from_size", "")
    assert series_of(desk).constants.poured_kg == pytest.approx(0.037 * 2.2e-3 * 1075, rel=0.05)


def test_days_show_work_looks_and_rack(ask):
    ask.leaf = Leaf.DAYS
    days = ask.view().days
    assert any(d.work.startswith("pour") or "pour" in d.work for d in days.days)
    assert {n for d in days.days for n, _ in d.looks} >= {"24 h", "dry"}
    assert days.rack[2] == 20
    assert any("your own" in p for p in days.paces)  # the demo studio has logs


# ---------------------------------------------------------------- bad entries, undo


def test_bad_entry_is_said_at_the_place_and_what_was_typed_stays(desk, page, window):
    chooser = open_part(window, "levels")
    chooser.field.setText("10, 190")
    QTest.keyClick(chooser.field, Qt.Key.Key_Return)
    assert "no share of a mix" in chooser.trouble()
    assert chooser.field.text() == "10, 190"
    chooser.close()
    again = open_part(window, "levels")  # the popup was left: what was typed is still there, with why it cannot be
    assert again.field.text() == "10, 190" or page.presenter.trouble[1] == "10, 190"
    again.field.setText("10, 19")
    QTest.keyClick(again.field, Qt.Key.Key_Return)
    assert [lv.value for lv in series_of(desk).levels] == [pytest.approx(0.10), pytest.approx(0.19)]
    assert page.presenter.trouble is None


@pytest.mark.parametrize(
    ("part", "text", "words"), [("poured", "0", "grams"), ("water", "140", "between 0 and 100"), ("size_mm", "big", "Type width")]
)
def test_bad_constants_are_said_in_their_own_field(window, page, part, text, words):
    chooser = open_part(window, part)
    chooser.field.setText(text)
    QTest.keyClick(chooser.field, Qt.Key.Key_Return)
    assert words in chooser.trouble()
    assert chooser.field.text() == text


def test_undo_and_redo_walk_through_the_plan(desk, page, window):
    first = series_of(desk)
    choose(window, "repeats", "4")
    choose(window, "factor", "film left")
    last = series_of(desk)
    press(window, "Z", "Z")
    assert series_of(desk) == first
    press(window, "Y", "Y")
    assert series_of(desk) == last
    press(window, "Z")
    choose(window, "repeats", "5")
    press(window, "Y")
    assert "Nothing was taken back" in trouble(window)


# ---------------------------------------------------------------- looks and goals


def test_rings_make_the_protocol_and_the_tasks(desk, page, window):
    page.show_leaf(Leaf.LOOKS)
    page.looks.toggled.emit("crack length", "7 d")
    page.looks.toggled.emit("crack length", "12 h")
    judged = {j.response: j.times for j in series_of(desk).protocol}
    assert "7 d" in judged[Response.CRACK_LENGTH]
    assert "12 h" not in judged[Response.CRACK_LENGTH]
    assert "12 h" in judged[Response.CELL_COUNT]
    page.show_leaf(Leaf.DAYS)
    assert "7 d" in {n for d in page.view.days.days for n, _ in d.looks}


def test_goal_is_kept_apart_and_exchanged(desk, ask):
    ask.weigh("crack length")
    ask.choose("range:cell count", "20 to 60")
    (goal,) = desk.notebook.all(Goal)
    aims = {a.response: a for a in goal.aims}
    assert aims[Response.CRACK_LENGTH].weight == 2.0
    assert (aims[Response.CELL_COUNT].low, aims[Response.CELL_COUNT].high) == (20.0, 60.0)
    ask.choose("goal", "new")
    assert series_of(desk).goal_id != goal.id
    ask.choose("goal", goal.id)
    assert series_of(desk).goal_id == goal.id
    with pytest.raises(DribbetError, match="no range"):
        ask.choose("range:cell count", "many")


def test_response_must_be_judged_at_least_once(ask):
    for name in ("wet", "12 h", "24 h", "48 h"):
        ask.toggle_time("spread", name)
    with pytest.raises(DribbetError, match="would never be judged"):
        ask.toggle_time("spread", "dry")


# ---------------------------------------------------------------- templates, repeats, mending


@pytest.mark.parametrize("template", templates.TEMPLATES, ids=lambda t: t.key)
def test_each_kind_of_test_is_planned_by_three_presses(desk, page, window, template):
    """P, the kind, Enter: under two minutes leaves time to read."""
    begun = time.monotonic()
    press(window, "P")
    button = next(b for b in page.chooser.findChildren(ChoiceRow) if b.accessibleName() == KINDS[template.key])
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    assert trouble(window) == ""
    press(window, *(["G"] if stops.doses(desk.need_run().series) else []), "Enter")
    assert trouble(window) == ""
    run = desk.need_run()
    assert run.series.seed is not None
    assert len(run.panels) == len({p.code for p in run.panels}) >= 4
    assert time.monotonic() - begun < 120


def test_repeat_with_one_change_starts_from_an_earlier_recipe(desk, page, window):
    page._again()
    page.chooser._choose("k2")
    page.chooser._choose("k2/b")
    page.chooser._choose("water share")
    s = series_of(desk)
    assert s.constants.film_m == pytest.approx(2.3e-3)
    assert s.levels[0].value == pytest.approx(0.16)
    assert s.note == "K2-b"


def test_flawed_test_is_mended_in_a_new_series(desk, ask):
    ask.choose("factor", Factor.MEDIUM)
    old = series_of(desk)
    said = ask.mend()
    new = series_of(desk)
    assert new.id != old.id
    assert new.equal is Equal.FLOW
    assert any("same flow" in line for line in said)


# ---------------------------------------------------------------- paper


def test_run_sheet_and_shopping_list_are_written_whole(desk, page, window, qtbot, tmp_path, monkeypatch):
    out = tmp_path / "sheet.pdf"
    monkeypatch.setattr(page, "ask_where", lambda name, kind: out)
    press(window, "Enter", "L")
    qtbot.waitUntil(lambda: out.exists() and not window.jobs.busy(), timeout=20_000)
    assert out.read_bytes().startswith(b"%PDF")
    assert not list(tmp_path.glob(".*.part"))
    monkeypatch.setattr(page, "ask_where", lambda name, kind: tmp_path / "list.txt")
    page._do_more("shopping")
    assert "foam" in (tmp_path / "list.txt").read_text()
    with pytest.raises(DribbetError, match="could not be written"):
        page.presenter.write_shopping(Path("/no/such/folder/list.txt"))


# ---------------------------------------------------------------- the look of it


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_crowded_rack_keeps_cups_and_codes_apart(desk, open_window, size):
    window = open_window(desk, *size)
    window.walk("ask")
    page = window.page("ask")
    page.presenter.planning.new_series()
    for factor in (Factor.SILICONE, Factor.HEAT, Factor.FILM_LEFT, Factor.BASE):
        page.presenter.choose("crossed", factor)
    page.rack.resizeEvent(None)
    cells = [(r, c, cell) for r, row in enumerate(page.rack.cells) for c, cell in enumerate(row) if cell is not None]
    assert len(cells) == len(desk.need_run().arms)
    for _, _, cell in cells:
        label = cell.codes[0]
        assert cell.glyph.geometry().bottom() <= label.geometry().top() + 4
        assert label.geometry().right() <= cell.width() + 1
        assert cell.glyph.y() >= -1
    tall = {r: cell.geometry() for r, _, cell in cells}
    rows = sorted(tall)
    assert all(tall[a].bottom() <= tall[b].top() + 2 for a, b in itertools.pairwise(rows))


def test_strip_and_layout_survive_being_typed(desk, ask):
    ask.choose("design", "paired")
    ask.choose("strip", "15")
    assert series_of(desk).layout == Layout(design=Design.PAIRED, strip_m=0.015)


def test_plan_is_thinned_by_the_persons_own_cups_and_keeps_their_figures(desk, empty_desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("grade", "3")
    own = dict(series_of(desk).constants.own_pa_s)
    assert {"paint", "conditioner", "water"} <= set(own)
    told = " ".join(r.body for r in ask.view().margin)
    assert "from your own cups" in told
    fresh = AskPresenter(empty_desk)
    fresh.planning.new_series()
    assert series_of(empty_desk).constants.own_pa_s == ()
