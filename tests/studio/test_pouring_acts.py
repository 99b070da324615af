"""What a person does at the pour: steps again, passed over, told as they were; zones; level; figures of steps as things varied."""

from __future__ import annotations

import base64
import io
from dataclasses import replace

import pytest
from PIL import Image

from dribbet.bench.application import practice_camera
from dribbet.lab.cup import house_mix
from dribbet.lab.panel import pouring
from dribbet.lab.plan import stops
from dribbet.lab.plan.factors import NATURES, applied
from dribbet.records import (
    WAYS,
    BottleKind,
    Constants,
    Does,
    DribbetError,
    Factor,
    Figure,
    How,
    Level,
    MishapKind,
    PanelWeight,
    RecordError,
    Step,
    Still,
    Technique,
    Varied,
    Way,
    WayStep,
)
from dribbet.studio.acts import asking, stills, zones
from dribbet.studio.acts import pouring as acts
from dribbet.studio.acts.planning import PlanStopped
from dribbet.studio.acts.shelving import Shelving, with_drops
from dribbet.studio.standing import panels
from dribbet.words import pour as words
from dribbet.words import stops as stop_words
from dribbet.words.units import Units
from tests.conftest import NOW
from tests.studio.test_six_plans import Bench, numbers

UNITS = Units()


@pytest.fixture
def poured(desk):
    """A test whose first panel is weighed bare, its cups checked."""
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    panel = desk.need_run().in_order()[0]
    acts.weigh(desk, panel, PanelWeight.BARE, 0.2146)
    return desk, panel


def steps(desk, panel) -> list[tuple[str, How]]:
    return [(m.step.value, m.how) for m in desk.need_run().steps if m.panel_id == panel.id]


def go_to(desk, panel, step: Step) -> None:
    while acts.progress_of(desk.need_run(), panel).current is None or acts.progress_of(desk.need_run(), panel).current.plan.step is not step:
        assert acts.go_on(desk, panel)


def test_heat_is_given_twice_and_the_plan_goes_on_where_it_was(poured):
    desk, panel = poured
    go_to(desk, panel, Step.TORCH)
    acts.once_more(desk, panel)
    assert acts.progress_of(desk.need_run(), panel).after.plan.step is Step.TILT
    acts.go_on(desk, panel)
    assert steps(desk, panel)[-3:] == [("torch", How.DONE), ("torch", How.ADDED), ("tilt", How.DONE)]
    shown = [(s.plan.step.value, s.place) for s in acts.progress_of(desk.need_run(), panel).stages]
    assert shown[4:7] == [("torch", 4), ("torch", -1), ("tilt", 5)]


def test_a_cup_is_lifted_once_only(poured):
    desk, panel = poured
    go_to(desk, panel, Step.LIFT)
    with pytest.raises(DribbetError, match="done once only"):
        acts.once_more(desk, panel)


def test_a_step_is_passed_over_on_record_but_never_the_weighing(poured):
    desk, panel = poured
    with pytest.raises(DribbetError, match="Begin the pour first"):
        acts.pass_over(desk, panel)
    go_to(desk, panel, Step.TORCH)
    acts.pass_over(desk, panel)
    progress = acts.progress_of(desk.need_run(), panel)
    assert progress.current.plan.step is Step.TORCH  # what is passed over is not being done
    assert progress.after.plan.step is Step.WEIGH
    with pytest.raises(DribbetError, match="weighing stays"):
        acts.pass_over(desk, panel)
    assert steps(desk, panel)[-1] == ("tilt", How.SKIPPED)
    acts.take_back(desk)
    assert acts.progress_of(desk.need_run(), panel).after.plan.step is Step.TILT


def test_what_was_otherwise_is_told_and_told_anew(poured):
    desk, panel = poured
    with pytest.raises(DribbetError, match="No step has begun"):
        acts.tell(desk, panel, Figure(does=Does.PASSES, value=3.0))
    go_to(desk, panel, Step.TORCH)
    acts.tell(desk, panel, Figure(does=Does.PASSES, value=3.0))
    acts.tell(desk, panel, Figure(does=Does.PASSES, value=4.0))
    mark = next(m for m in desk.need_run().steps if m.step is Step.TORCH)
    assert mark.figures == (Figure(does=Does.PASSES, value=4.0),)
    planned = acts.progress_of(desk.need_run(), panel).current.plan
    assert pouring.told(planned, mark.figures) == ((mark.figures[0], Figure(does=Does.PASSES, value=2.0)),)


def test_time_to_the_first_flame_counts_from_when_the_paint_lay(poured):
    desk, panel = poured
    go_to(desk, panel, Step.WAIT)
    at = next(m.at for m in desk.need_run().steps if m.step is Step.WAIT)
    assert pouring.heat_after_s(acts.progress_of(desk.need_run(), panel)) is None
    acts.go_on(desk, panel)
    torch = next(m.at for m in desk.need_run().steps if m.step is Step.TORCH)
    assert pouring.heat_after_s(acts.progress_of(desk.need_run(), panel)) == (torch - at).total_seconds()


def test_a_mishap_gets_a_place_and_its_zone_is_out_until_it_is_turned(poured):
    desk, panel = poured
    entry = acts.mishap(desk, panel, MishapKind.SPILL)
    with pytest.raises(DribbetError, match="no place"):
        zones.turn(desk, entry)
    acts.place(desk, entry, 0.5, 0.5, 0.2)
    (zone,) = desk.need_run().zones(panel)
    wide, high = desk.need_run().sheet_mm(panel)
    assert (zone.x_mm, zone.y_mm, zone.radius_mm) == pytest.approx((wide / 2, high / 2, wide * 0.2))
    zones.turn(desk, zones.last_placed(desk.need_run(), panel))
    assert desk.need_run().zones(panel) == ()


def test_creep_follows_from_both_slopes_until_the_skin_holds(poured):
    desk, panel = poured
    assert panels.creep(desk, desk.need_run(), panel) is None
    acts.level(desk, panel, 0.002, -0.001)
    run = desk.need_run()
    found = panels.creep(desk, run, panel)
    film, thick = panels.film(desk, run, panel).wet_m, run.arm(panel).viscosity_pa_s
    speed = desk.density(run, panel) * 9.80665 * 0.002 * film**2 / (3 * thick)  # small slopes: sin and tan alike
    assert found.until_s == panels.windows(desk, run, panel)[0].latest_s
    assert found.x_m == pytest.approx(-speed * found.until_s, rel=1e-3)  # it rises to the right, so paint goes left
    assert found.y_m == pytest.approx(speed / 2 * found.until_s, rel=1e-3)


@pytest.mark.parametrize(
    ("x", "y", "said"),
    [
        (0.0001, 0.0, "It lies level."),
        (-0.004, 0.0, "Its paint creeps 4\u202fmm to the left until the skin holds it, in 2.0 h. Level it."),
        (0.001, 0.0015, "Its paint creeps 1\u202fmm to the right and 2\u202fmm away from you until the skin holds it, in 2.0 h."),
    ],
)
def test_creep_is_said_with_where_to(x, y, said):
    assert words.creep(x, y, 7200.0, UNITS) == said


def test_a_level_is_typed_in_millimetres_on_a_metre():
    assert words.typed_level("2, -1") == (0.002, -0.001)
    assert words.typed_level("0") == (0.0, 0.0)
    with pytest.raises(DribbetError, match="no level"):
        words.typed_level("flat")


def test_a_panel_with_more_on_it_than_its_cup_held_is_named(poured):
    desk, panel = poured
    go_to(desk, panel, Step.WEIGH)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2146 + 0.0685)
    assert panels.film(desk, desk.need_run(), panel).too_much_kg == 0.0  # the scale's drift is no contradiction
    acts.take_back(desk)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2146 + 0.080)
    film = panels.film(desk, desk.need_run(), panel)
    assert film.too_much_kg == pytest.approx(0.012)
    assert (film.run_off_kg, film.left_kg) == (0.0, pytest.approx(0.080))
    assert film.dry_m < film.wet_m


# ---------------------------------------------------------------- figures of steps


@pytest.mark.parametrize("factor", [f for f in Factor if NATURES[f].doing])
def test_a_figure_of_a_step_can_be_varied_and_the_pour_follows(desk, factor):
    bench = Bench(desk)
    nature = NATURES[factor]
    levels = tuple(Level(name=v) if isinstance(v, str) else Level(value=v) for v in nature.start)
    bench.vary(Varied(factor=factor, levels=levels))
    step, does = nature.doing
    arms = desk.need_run().arms
    found = [next(p for p in pouring.planned(a.held) if p.step is step).figure(does) for a in arms]
    assert [f.word or f.value for f in found] == list(nature.start)


def test_turns_give_a_spin_its_time_and_a_time_stands_before_what_is_held():
    held = applied(Constants(technique=Technique.BLOOM), Varied(factor=Factor.SPIN_TURNS, levels=(Level(value=12.0),)), Level(value=12.0))
    assert dict(pouring.steps(held))[Step.SPIN] == 12.0  # at one turn a second
    own = Way(
        id="w",
        name="mine",
        of=Technique.BLOOM,
        steps=pouring.set_figure(WAYS[Technique.BLOOM], 1, Figure(does=Does.SECONDS, value=77.0)),
        made_at=NOW,
    )
    assert dict(pouring.steps(replace(held, way="mine", ways=(own,))))[Step.LAY] == 77.0


def test_second_heat_and_wait_come_before_the_stretch():
    held = Constants(technique=Technique.FLIP_CUP, grow_s=60.0, second_passes=3)
    assert [s.value for s, _ in pouring.steps(held)][-4:] == ["grow", "torch", "tilt", "weigh"]
    assert pouring.steps(held)[-3] == (Step.TORCH, 9.0)
    assert Step.GROW not in [s for s, _ in pouring.steps(replace(held, grow_s=0.0))]


def test_a_way_ends_on_the_scale_and_has_a_name_of_its_own():
    with pytest.raises(RecordError, match="does not end with the weighing"):
        Way(id="w", name="mine", of=Technique.BLOOM, steps=(WayStep(step=Step.POUR),), made_at=NOW)
    with pytest.raises(RecordError, match="name of its own"):
        Way(id="w", name="bloom", of=Technique.BLOOM, steps=WAYS[Technique.BLOOM], made_at=NOW)
    moved = pouring.moved_step(WAYS[Technique.FLIP_CUP], 1, 40)
    assert moved[-1].step is Step.WEIGH
    assert moved[-2].step is Step.FILL


@pytest.mark.parametrize(
    ("does", "typed", "value", "said"),
    [
        (Does.DISTANCE, "120", 0.12, "120\u202fmm away"),
        (Does.HEIGHT, "50 mm", 0.05, "50\u202fmm high"),
        (Does.GRAMS, "4.2", 0.0042, "4.2\u202fg"),
        (Does.SPEED, "90", 1.5, "90 turns a minute"),
        (Does.TURNS, "1", 1.0, "1 turn"),
        (Does.PASSES, "2", 2.0, "2 passes"),
        (Does.SECONDS, "14 s", 14.0, "14\u202fs"),
    ],
)
def test_figures_are_typed_and_said_in_the_persons_units(does, typed, value, said):
    found = words.typed_figure(does, typed, UNITS)
    assert found.value == pytest.approx(value)
    assert words.figure_text(found, UNITS) == said


def test_words_are_words_and_numbers_are_numbers():
    assert words.typed_figure(Does.TOOL, " straw ", UNITS) == Figure(does=Does.TOOL, word="straw")
    with pytest.raises(DribbetError, match="is no figure"):
        words.typed_figure(Does.TURNS, "many", UNITS)
    with pytest.raises(RecordError, match="is a number"):
        Figure(does=Does.TURNS, word="many")


# ---------------------------------------------------------------- a film has to come from somewhere


def test_three_millimetres_cannot_stay_of_27_grams(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, poured_kg=0.027, film_m=3.0e-3)
    found = stops.stops(desk.need_run().series)
    assert {s.why for s in found} == {stops.Why.FILM}
    arm = desk.need_run().arms[0]
    assert found[0].needed_kg == pytest.approx(3.0e-3 * 0.03 * stops.rough_density_kg_m3(arm) / 0.9)
    assert 0.10 < found[0].needed_kg < 0.12
    assert stop_words.sentence(found[0], UNITS).startswith("A film of 3.0\u202fmm cannot stay of 27.0\u202fg in recipe a. Pour at least 1")
    with pytest.raises(PlanStopped):
        bench.plan.draw_lots()


def test_a_thick_level_of_the_film_brings_the_paint_that_it_needs(desk):
    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.FILM_LEFT, levels=numbers(1.2e-3, 2.3e-3)))
    assert desk.need_run().series.constants.poured_kg >= 0.081
    assert not stops.stops(desk.need_run().series)


def test_little_paint_without_a_film_asked_for_is_said_and_stops_nothing(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, poured_kg=0.040)
    series = desk.need_run().series
    assert not stops.stops(series)
    thin = stops.thinner_than_usual(series)
    arm = desk.need_run().arms[0]
    assert thin[0].film_m == pytest.approx(0.040 * 0.9 / (0.03 * stops.rough_density_kg_m3(arm)))
    assert stop_words.sentence(thin[0], UNITS) == "Of 40.0\u202fg about 1.1\u202fmm of wet film can stay, less than usual."
    assert not stops.thinner_than_usual(replace(series, constants=replace(series.constants, poured_kg=0.068)))


def test_layers_are_ticked_in_their_order_while_the_cup_is_filled(poured):
    desk, panel = poured
    with pytest.raises(DribbetError, match="while the cup is filled"):
        acts.layer_in(desk, panel)
    go_to(desk, panel, Step.FILL)
    count = len(desk.need_run().arm(panel).layers)
    for n in range(count):
        assert acts.layers_in(desk.need_run(), panel) == n
        acts.layer_in(desk, panel)
    assert acts.layers_in(desk.need_run(), panel) == count
    with pytest.raises(DribbetError, match="All layers are in"):
        acts.layer_in(desk, panel)
    go_to(desk, panel, Step.REST)
    assert acts.layers_in(desk.need_run(), panel) == count


def test_density_of_a_colours_mix_is_of_masses_over_volumes(desk):
    from dribbet.lab.plan import design
    from dribbet.studio.standing import turning

    Bench(desk)
    arm = desk.need_run().arms[0]
    shelf = {m.key: m.density_kg_m3 for m in desk.shelf()}
    colour = arm.colours[0]
    shares = design.mix_fractions(arm, colour)
    volume = sum(share / shelf.get(name, 998.0) for name, share in shares.items())
    assert turning.densities_of(desk, arm)[colour] == pytest.approx(1.0 / volume)
    assert 900.0 < 1.0 / volume < 1500.0


def test_pieces_of_one_sheet_share_what_ran_off_and_what_stayed(desk):
    from dribbet.records import Design

    bench = Bench(desk)
    bench.ask(asking.hold, panel_width_m=0.3, panel_height_m=0.2)
    bench.ask(asking.side_by_side)
    assert desk.need_run().series.layout.design is Design.PAIRED
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    run = desk.need_run()
    panel = run.in_order()[0]
    pieces = run.together(panel)
    assert len(pieces) > 1
    cup = run.held(panel).poured_kg  # the pieces share what one panel takes: so their cups were planned
    acts.weigh(desk, panel, PanelWeight.BARE, 0.500)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.500 + cup * 0.8)
    film = panels.film(desk, desk.need_run(), panel)
    assert film.run_off_kg == pytest.approx(cup * 0.2, rel=1e-3)
    assert film.too_much_kg == 0.0
    whole = sum(panels.film(desk, desk.need_run(), p).left_kg for p in pieces)
    assert whole == pytest.approx(cup * 0.8, rel=1e-3)


def test_what_ran_off_is_worth_its_share_of_the_cup(poured):
    from dribbet.words import dry as dry_words

    desk, panel = poured
    go_to(desk, panel, Step.WEIGH)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2146 + 0.048)
    run = desk.need_run()
    film = panels.film(desk, run, panel)
    assert film.run_off_kg == pytest.approx(0.020)
    price = {m.key: m.price_per_kg for m in run.shelf}
    assert film.wasted == pytest.approx(sum(share * 0.020 * price.get(n, 0.0) for n, share in run.cup(panel).items()))
    said = dry_words.film(0.048, 0.020, 0.314, 1.52e-3, 0.45e-3, UNITS)
    assert said == "48.0\u202fg stay: 1.5\u202fmm wet, about 0.5\u202fmm dry. 20.0\u202fg ran off or stayed in the cup (0.31)."


def finish(desk, panel, bare_kg: float, poured_kg: float) -> None:
    if desk.need_run().weight(panel, PanelWeight.BARE) is None:
        acts.weigh(desk, panel, PanelWeight.BARE, bare_kg)
    while acts.go_on(desk, panel):
        pass
    acts.weigh(desk, panel, PanelWeight.POURED, poured_kg)


def test_layers_are_ticked_as_in_the_last_cup_that_held_the_same(poured):
    desk, panel = poured
    acts.go_on(desk, panel)
    with pytest.raises(DribbetError, match="No cup with these layers"):
        acts.all_layers_in(desk, panel)
    count = len(desk.need_run().arm(panel).layers)
    for _ in range(count):
        acts.layer_in(desk, panel)
    finish(desk, panel, 0.2146, 0.2500)
    after = next(p for p in desk.need_run().in_order() if p.id != panel.id)
    acts.weigh(desk, after, PanelWeight.BARE, 0.2150)
    acts.go_on(desk, after)
    assert acts.as_before(desk.need_run(), after).id == panel.id
    acts.all_layers_in(desk, after)
    assert acts.layers_in(desk.need_run(), after) == count
    with pytest.raises(DribbetError, match="All layers are in"):
        acts.layer_in(desk, after)


def test_what_ran_off_goes_into_one_pot_with_the_mean_of_what_it_is(poured):
    desk, panel = poured
    shelf = Shelving(desk)
    first, second = panel, next(p for p in desk.need_run().in_order() if p.recipe != panel.recipe)
    finish(desk, first, 0.2146, 0.2346)
    run = desk.need_run()
    off = acts.ran_off(desk, run)
    cup = run.held(first).poured_kg + run.held(first).activator_kg + panels.base_kg(desk, run, first)
    assert off[0].id == first.id
    assert off[1] == pytest.approx(cup - 0.020)
    pot = shelf.keep_run_off(first)
    assert (pot.kind, pot.stored_kg) == (BottleKind.LEFTOVER, pytest.approx(off[1]))
    assert acts.ran_off(desk, desk.need_run()) is None
    with pytest.raises(DribbetError, match="Nothing of"):
        shelf.keep_run_off(first)
    finish(desk, second, 0.2146, 0.2446)
    more = acts.ran_off(desk, desk.need_run())[1]
    both = shelf.keep_run_off(second)
    assert both.id == pot.id
    assert both.stored_kg == pytest.approx(off[1] + more)
    one, other = with_drops(desk.need_run(), first.recipe), with_drops(desk.need_run(), second.recipe)
    raw = [house_mix.raw(c, desk.shelf()) for c in (one, other)]
    for name, share in both.contents:
        assert share == pytest.approx((raw[0].get(name, 0.0) * off[1] + raw[1].get(name, 0.0) * more) / (off[1] + more))
    assert sum(s for _, s in both.contents) == pytest.approx(1.0)


def test_a_pot_that_was_capped_or_is_empty_is_not_added_to(poured):
    desk, panel = poured
    finish(desk, panel, 0.2146, 0.2346)
    shelf = Shelving(desk)
    pot = shelf.keep_run_off(panel)
    shelf.finish_bottle(pot)
    after = next(p for p in desk.need_run().in_order() if p.id != panel.id)
    finish(desk, after, 0.2150, 0.2350)
    assert shelf.keep_run_off(after).id != pot.id


def test_less_than_five_grams_are_not_offered(poured):
    desk, panel = poured
    run = desk.need_run()
    cup = run.held(panel).poured_kg + run.held(panel).activator_kg + panels.base_kg(desk, run, panel)
    finish(desk, panel, 0.2146, 0.2146 + cup - 0.004)
    assert acts.ran_off(desk, desk.need_run()) is None


def test_a_still_is_kept_of_the_step_it_was_taken_of(poured):
    desk, panel = poured
    assert stills.wanted(desk, desk.need_run(), panel) is None  # no camera
    desk.camera = practice_camera(desk.notebook)
    acts.go_on(desk, panel)
    mark = stills.wanted(desk, desk.need_run(), panel)
    stills.keep(desk, mark, stills.small(desk.camera.still(panel.code, str(mark.step)).data))
    kept = stills.of_panel(desk, panel)
    assert list(kept) == [mark.id]
    with Image.open(io.BytesIO(kept[mark.id])) as picture:
        assert (picture.format, max(picture.size)) == ("JPEG", 320)
    acts.take_back(desk)
    stills.keep(desk, mark, stills.small(desk.camera.still(panel.code, "fill").data))
    assert len(stills.of_panel(desk, panel)) == 1  # a step that was taken back meanwhile keeps none


@pytest.mark.parametrize("jpeg", ["no picture", "aGVsbG8=", base64.b64encode(b"\xff\xd8" + b"0" * 130_000).decode()])
def test_a_still_is_a_small_jpeg(jpeg):
    with pytest.raises(RecordError, match="still"):
        Still(id="s", panel_id="p", step_id="m", at=NOW, jpeg=jpeg)
