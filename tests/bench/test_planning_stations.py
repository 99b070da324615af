"""Ask and what it holds, without a window: what is shown, and what choosing does."""

from __future__ import annotations

import pytest

from dribbet.bench.parts.margin import Weight
from dribbet.bench.stations.ask import choosing
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.lab.plan import stops
from dribbet.records import DribbetError, DropsBy, Factor, Kind, Level, Response, Series, Technique, Wanted
from dribbet.words import held, levels
from dribbet.words.units import Units, clock_text, count_text, in_words, listed, percent
from tests.bench.conftest import press, trouble
from tests.made_up import material, series

METRIC, IMPERIAL = Units(), Units(mass="oz", volume="fl oz", length="in", temperature="°F")
CONTAINERS = ("conditioner", "glue", "foam", "teal", "foam matt", "house paint", "house gloss")
NAMES = levels.Names(
    called=tuple((n, n) for n in CONTAINERS), mediums=("conditioner", "glue", "water"), colours=("foam", "teal"),
    bases=("house paint", "house gloss"), paints=("foam", "teal", "foam matt"),
    sheens=(("foam", "gloss"), ("foam matt", "matte"), ("house paint", "satin"), ("house gloss", "gloss")),
    opacities=(("foam", "opaque"), ("teal", "transparent")),
)  # fmt: skip


# ---------------------------------------------------------------- units and words


@pytest.mark.parametrize(
    ("text", "units", "kg"),
    [("12.4", METRIC, 0.0124), ("12,4 g", METRIC, 0.0124), ("1", IMPERIAL, 0.028349523125), ("0", METRIC, 0.0)],
)
def test_typed_weight_in_the_persons_unit(text, units, kg):
    assert units.mass_kg(text) == pytest.approx(kg, rel=1e-9)


@pytest.mark.parametrize("grams", [0.1, 2.4, 77.1, 310.0])
def test_weights_go_round_through_both_systems(grams):
    for units in (METRIC, IMPERIAL):
        shown = units.mass_figure(grams / 1e3)
        digits = 0.05e-3 if units is METRIC else 0.0005 * 0.02835
        assert units.mass_kg(shown) == pytest.approx(grams / 1e3, abs=digits * 1.01)


@pytest.mark.parametrize(
    ("found", "wanted"),
    [
        (METRIC.mass_text(-0.0024), "−2.4\u202fg"),
        (METRIC.length_text(33.4), "33\u202fmm"),
        (METRIC.length_text(-0.4), "0\u202fmm"),
        (IMPERIAL.length_text(25.4), "1.00\u202fin"),
        (METRIC.size_text(200, 150), "200 × 150\u202fmm"),
        (IMPERIAL.size_text(203.2, 152.4), "8.0 × 6.0\u202fin"),
        (METRIC.volume_text(120e-6), "120\u202fmL"),
        (IMPERIAL.volume_text(29.5735e-6), "1.0\u202ffl\u202foz"),
        (METRIC.temperature_text(21.0), "21\u202f°C"),
        (IMPERIAL.temperature_text(21.0), "70\u202f°F"),
        (METRIC.stock_text(1.9), "1.9\u202fkg"),
        (METRIC.stock_text(0.78), "780\u202fg"),
        (percent(0.163), "16\u202f%"),
        (clock_text(24.2), "0:24"),
        (clock_text(3725), "1:02:05"),
        (count_text(1, "panel"), "1 panel"),
        (count_text(3, "panel"), "3 panels"),
        (in_words(12), "twelve"),
        (in_words(13), "13"),
    ],
)
def test_figures_are_written_as_the_guide_says(found, wanted):
    assert found == wanted


# ---------------------------------------------------------------- levels


@pytest.mark.parametrize(
    ("factor", "text", "units", "found"),
    [
        (Factor.WATER_SHARE, "10, 16 %, 22%", METRIC, (0.10, 0.16, 0.22)),
        (Factor.RATIO, "1 : 1; 1:2; 3", METRIC, (1.0, 2.0, 3.0)),
        (Factor.SILICONE, "0,1,2,4", METRIC, (0.0, 1.0, 2.0, 4.0)),
        (Factor.FILM_LEFT, "1.2, 2.3", METRIC, (1.2e-3, 2.3e-3)),
        (Factor.FILM_LEFT, "0.05, 0.09", IMPERIAL, (1.27e-3, 2.286e-3)),
    ],
)
def test_levels_are_read_as_typed(factor, text, units, found):
    assert [lv.value for lv in levels.parse(factor, text, units, NAMES).levels] == [pytest.approx(v) for v in found]


def test_named_levels_come_from_the_shelf_and_the_list():
    assert levels.parse(Factor.MEDIUM, "Glue, conditioner", METRIC, NAMES).levels == (Level(name="glue"), Level(name="conditioner"))
    assert levels.parse(Factor.TECHNIQUE, "flip cup, swipe", METRIC, NAMES).levels == (Level(name="flip cup"), Level(name="swipe"))
    assert levels.parse(Factor.MEDIUM, "glue, conditioner 60 + Glue 40", METRIC, NAMES).levels[1] == Level(name="conditioner 60 + glue 40")


def test_things_of_my_own_bring_their_name():
    found = levels.parse(Factor.OWN, "stirring: gently, hard", METRIC, NAMES)
    assert (found.words, [lv.name for lv in found.levels]) == ("stirring", ["gently", "hard"])
    assert levels.typed_text(found, METRIC) == "stirring: gently, hard"
    assert [lv.value for lv in levels.parse(Factor.OWN, "sugar: 0, 5", METRIC, NAMES).levels] == [0.0, 5.0]


@pytest.mark.parametrize(
    ("factor", "text", "words"),
    [
        (Factor.WATER_SHARE, "10", "2 to 8"),
        (Factor.WATER_SHARE, "1,2,3,4,5,6,7,8,9", "2 to 8"),
        (Factor.WATER_SHARE, "10, much", "no number"),
        (Factor.WATER_SHARE, "10, 120", "Type 0 to 89"),
        (Factor.WATER_SHARE, "10, nan", "is no number"),
        (Factor.WATER_SHARE, "10, 10", "the same"),
        (Factor.SILICONE, "0, -1", "out of reach"),
        (Factor.FILM_LEFT, "1, 99", "out of reach"),
        (Factor.MEDIUM, "glue, jam", "not a medium on the shelf"),
        (Factor.TECHNIQUE, "flip cup, throwing", "not a way to pour"),
        (Factor.MEDIUM, "glue, glue + jam", "not a medium on the shelf"),
        (Factor.SILICONE_COLOUR, "foam, red", "not in the cup"),
        (Factor.PANEL_SIZE, "200 x 150, big", "no panel size"),
        (Factor.GRADE, "3, 7", "out of reach"),
    ],
)
def test_levels_that_cannot_be_are_refused_where_they_are_typed(factor, text, words):
    with pytest.raises(DribbetError, match=words):
        levels.parse(factor, text, METRIC, NAMES)


@pytest.mark.parametrize("factor", list(Factor))
def test_levels_shown_as_typed_are_read_back(factor):
    made = levels.fresh(factor, NAMES)
    for units in (METRIC, IMPERIAL):
        again = levels.parse(factor, levels.typed_text(made, units), units, NAMES)
        assert [a.name for a in again.levels] == [b.name for b in made.levels]
        assert [a.value for a in again.levels] == [b.value if b.value is None else pytest.approx(b.value, rel=0.01) for b in made.levels]
        assert all(levels.level_text(factor, level, units) for level in made.levels)
        assert levels.column_head(made)


# ---------------------------------------------------------------- what is held

PARTS = [*held.NUMBERS, *held.CHOICES, *held.TEXTS, *held.LISTS, "size_mm", "support", "strip", "ratio", "colour_parts"]
SHELF = [*(material(n) for n in ("foam", "teal", "slate", "brass")), material("conditioner", kind=Kind.MEDIUM), material("glue", kind=Kind.MEDIUM)]


@pytest.mark.parametrize("units", [METRIC, IMPERIAL])
@pytest.mark.parametrize("part", [p for p in PARTS if p not in held.CHOICES])
def test_constant_typed_as_it_stands_changes_nothing(part, units):
    s = series()
    again = choosing.changed(s, part, held.typed_of(s, part, units), units, SHELF)
    for field in ("layers", "responses"):
        assert getattr(again, field) == getattr(s, field)
    for name in s.constants.__slots__:
        now, before = getattr(again.constants, name), getattr(s.constants, name)
        assert now == (pytest.approx(before, rel=0.02) if isinstance(before, float) else before), name
    assert all(held.said_of(s, part, units))


def test_other_panel_size_brings_its_own_amount_of_paint():
    s = choosing.changed(series(), "size_mm", "400 x 300", METRIC, SHELF)
    assert (s.constants.panel_width_m, s.constants.panel_height_m) == (pytest.approx(0.4), pytest.approx(0.3))
    assert s.constants.poured_kg == pytest.approx(4 * 0.068)


def test_cup_is_typed_from_below_and_normalised():
    s = choosing.changed(series(), "cup", "foam 40, Brass, teal 20%, foam 10", METRIC, SHELF)
    assert [(layer.material, layer.share) for layer in s.layers] == [
        ("foam", pytest.approx(40 / 71)), ("brass", pytest.approx(1 / 71)), ("teal", pytest.approx(20 / 71)), ("foam", pytest.approx(10 / 71)),
    ]  # fmt: skip


def test_silicone_stays_only_in_colours_that_are_in_the_cup():
    s = choosing.changed(series(), "silicone_in", "teal, slate", METRIC, SHELF)
    assert s.constants.silicone_colours == ("teal", "slate")
    assert choosing.changed(s, "cup", "foam 1, teal 1", METRIC, SHELF).constants.silicone_colours == ("teal",)
    assert choosing.changed(s, "cup", "foam 1, brass 1", METRIC, SHELF).constants.silicone_colours == ("foam",)
    assert choosing.changed(s, "silicone_in", "none", METRIC, SHELF).constants.silicone_colours == ()


def test_more_things_can_be_asked_of_one_test():
    s = choosing.changed(series(), "asked", "cell width more, crack length less, lacing less, shimmer", METRIC, SHELF)
    assert s.responses == (
        (Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_WIDTH, Wanted.MORE), (Response.LACING, Wanted.LESS), (Response.SHIMMER, Wanted.MORE),
    )  # fmt: skip
    assert choosing.changed(s, "asked", "nothing else", METRIC, SHELF).responses == ((Response.CRACK_LENGTH, Wanted.LESS),)


@pytest.mark.parametrize(
    ("part", "text", "words"),
    [
        ("poured", "much", "no number"),
        ("poured", "-3", "Paint per panel|grams"),
        ("water", "120", "between 0 and 100"),
        ("dwell", "-1", "out of reach"),
        ("room", "90", "no room to pour in"),
        ("film", "0", "wet film"),
        ("size_mm", "200", "Type width x height"),
        ("size_mm", "2 x 3", "20 to 3000"),
        ("support", "  ", "made of"),
        ("cup", "jam 3", "not a paint on the shelf"),
        ("cup", "foam 0", "parts above zero"),
        ("cup", "", "1 to 36 layers"),
        ("silicone_in", "brass", "not in the cup"),
        ("asked", "joy more", "cannot be measured"),
        ("asked", ", ".join(str(r) for r in Response), "at most six"),
    ],
)
def test_constant_that_cannot_be_is_refused_in_words(part, text, words):
    with pytest.raises(DribbetError, match=words):
        choosing.changed(series(), part, text, METRIC, SHELF)


# ---------------------------------------------------------------- Ask


@pytest.fixture
def ask(desk):
    made = AskPresenter(desk)
    made.planning.new_series()
    return made


def heads(view) -> list[str]:
    return [r.head for r in view.margin]


def test_new_series_gets_a_fresh_name_code_and_the_last_cup(desk, ask):
    run = desk.need_run()
    assert run.series.code not in {s.code for s in desk.all_series()[:-1]}
    assert run.series.layers == desk.all_series()[-2].layers
    assert not run.panels


def test_first_series_of_an_empty_notebook_brings_plain_materials(empty_desk):
    AskPresenter(empty_desk).planning.new_series()
    assert {"conditioner", "water"} <= {m.name for m in empty_desk.shelf()}
    view = AskPresenter(empty_desk).view()
    assert view.columns
    assert "It can show" in heads(view)


def test_sentence_holds_the_parts_of_the_question(ask):
    parts = {p.id: p for p in ask.view().sentence if not isinstance(p, str)}
    assert set(parts) == {"factor", "levels", "response", "crossed", "equal", "design", "repeats"}
    assert {v for v, _ in parts["factor"].choices} >= {str(f) for f in Factor if f not in (Factor.SILICONE, Factor.ADDED)}
    assert [v for v, _ in parts["repeats"].choices][:6] == ["1", "2", "3", "4", "5", "6"]


@pytest.mark.parametrize("factor", list(Factor))
def test_every_factor_can_be_asked_about_and_drawn(desk, ask, factor):
    ask.choose("factor", str(factor))
    view = ask.view()
    assert len(view.columns) >= 2
    assert len(view.rows[0].cups) == len(view.columns)
    if factor is Factor.GRADE:
        ask.choose("levels", "2, 3")  # grade 4 is thicker than this recipe without water: that stops the lots
        view = ask.view()
    if stops.doses(desk.need_run().series):
        ask.drops_by(DropsBy.GROWN)
    ask.draw_lots()
    run = desk.need_run()
    assert len(run.panels) == len(view.columns) * 2
    assert len(run.mixes) >= len({layer.material for layer in run.series.layers})


def test_one_panel_of_each_recipe_is_said_to_show_nothing(ask):
    ask.choose("repeats", "1")
    stop = ask.view().margin[0]
    assert (stop.head, stop.weight) == ("It can show nothing", Weight.STOP)


def test_margin_says_what_is_mixed_up_and_what_one_more_repeat_would_show(ask):
    assert "repeats of each would show" in " ".join(r.body for r in ask.view().margin)  # two of each show nothing of nine questions
    ask.add_repeat(1)
    view = ask.view()
    assert "Mixed up together" in heads(view)
    assert any("One more repeat" in r.body for r in view.margin)
    assert view.can_show.kind == "line"
    more = view.can_show.size
    ask.add_repeat(2)
    assert ask.view().can_show.size < more


def test_silicone_without_a_zero_is_said_to_have_no_control(ask):
    ask.choose("factor", "silicone")
    ask.choose("levels", "1, 2")
    assert any(r.head == "No control" and r.weight is Weight.STOP for r in ask.view().margin)
    ask.choose("levels", "0, 2")
    assert not any(r.head == "No control" for r in ask.view().margin)


def test_expectation_below_what_can_be_shown_is_said(ask):
    ask.choose("expect", "more")
    ask.choose("size", "1")
    ask.add_repeat(3)
    assert any("less than this test can show" in r.body for r in ask.view().margin)


def test_crossed_factor_makes_a_second_row(desk, ask):
    ask.choose("crossed", "silicone")
    view = ask.view()
    assert len(view.rows) == 2
    ask.choose("crossed", "")
    assert len(ask.view().rows) == 1


def test_short_stock_is_said_before_anything_is_mixed(ask):
    ask.choose("poured", "4000")
    assert any(r.head == "Short on the shelf" for r in ask.view().margin)


def test_everything_held_can_be_opened_and_what_is_tested_is_not_among_it(ask):
    parts = [part for part, _ in ask.held_list().choices]
    assert {"cup", "size_mm", "poured", "technique", "film", "room"} <= set(parts)
    assert "water" not in parts
    for part in parts:
        opened = ask.held_part(part)
        assert opened.choices or opened.typed or part in ("colour_parts", "water_source"), part
    ask.choose("technique", "swipe")
    assert "swipe" in ask.view().held


def test_lots_fix_the_question_until_they_are_taken_back(desk, ask):
    ask.draw_lots()
    with pytest.raises(DribbetError, match="the question stands"):
        ask.choose("repeats", "3")
    assert ask.view().can_take_back
    ask.planning.take_back_lots()
    ask.choose("repeats", "3")
    assert desk.need_run().series.repeats == 3


def test_lots_that_work_has_begun_on_stand(desk):
    desk.choose_series("k4")
    with pytest.raises(DribbetError, match="they stand"):
        AskPresenter(desk).planning.take_back_lots()


def test_locked_prediction_stands(desk):
    desk.choose_series("k3")
    view = AskPresenter(desk).view()
    assert "Locked" in "".join(p if isinstance(p, str) else p.text for p in view.expectation)
    with pytest.raises(DribbetError, match="locked at the first pour"):
        AskPresenter(desk).choose("expect", "more")


def test_bad_level_is_said_and_what_stood_stays(desk, ask):
    before = desk.need_run().series.levels
    with pytest.raises(DribbetError):
        ask.choose("levels", "10, 999")
    assert desk.need_run().series.levels == before
    assert desk.notebook.get(Series, desk.need_run().series.id).levels == before


def test_technique_is_one_of_the_known_ones():
    assert {str(t) for t in Technique} >= {"flip cup", "straight pour", "ring pour", "swipe", "open cup"}


def test_names_are_listed_as_one_says_them():
    assert listed(["f2"]) == "f2"
    assert listed(["f2", "f1"]) == "f2 and f1"
    assert listed(["f2", "f1", "c1", "c2"]) == "f2, f1, c1 and c2"
    assert listed(["a1", "a2", "b1", "b2", "c1"]) == "a1, a2, b1 and two more"


def test_a_plan_is_rehearsed_by_the_judge_and_forgotten_when_it_changes(open_window, desk, qtbot):
    desk.choose_series("e1")
    window = open_window(desk)
    window.walk("ask")
    page = window.page("ask")
    press(window, "E")
    assert "Rehearsing" in trouble(window)
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=400_000)
    told = next(r for r in page.view.margin if r.head == "Rehearsed")
    assert "40\u202fmm of crack length is called real in" in told.body
    page.presenter.add_repeat(1)
    assert not any(r.head == "Rehearsed" for r in page.view.margin)


def test_nothing_is_rehearsed_where_nothing_is_known(open_window, desk):
    desk.choose_series("h1")
    with pytest.raises(DribbetError, match="no series has repeats"):
        AskPresenter(desk).rehearsal()
