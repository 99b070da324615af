"""What a person does at the pour: steps again, passed over, told as they were; zones; level; figures of steps as things varied."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.panel import pouring
from dribbet.lab.plan.factors import NATURES, applied
from dribbet.records import (
    WAYS,
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
    Technique,
    Varied,
    Way,
    WayStep,
)
from dribbet.studio.acts import pouring as acts
from dribbet.studio.acts import zones
from dribbet.studio.standing import panels
from dribbet.words import pour as words
from dribbet.words.units import NARROW, Units
from tests.conftest import NOW
from tests.studio.hands import go_to, steps
from tests.studio.test_six_plans import Bench

UNITS = Units()


def test_heat_is_given_twice_and_the_plan_goes_on_where_it_was(poured):
    desk, panel = poured
    go_to(desk, panel, Step.TORCH)
    acts.once_more(desk, panel)
    assert panels.progress_of(desk.need_run(), panel).after.plan.step is Step.TILT
    acts.go_on(desk, panel)
    assert steps(desk, panel)[-3:] == [("torch", How.DONE), ("torch", How.ADDED), ("tilt", How.DONE)]
    shown = [(s.plan.step.value, s.place) for s in panels.progress_of(desk.need_run(), panel).stages]
    assert shown[4:7] == [("torch", 4), ("torch", -1), ("tilt", 5)]


def test_before_more_is_done_it_is_asked_how_much_pleases_and_where(poured):
    desk, panel = poured
    go_to(desk, panel, Step.TORCH)
    acts.once_more(desk, panel)
    asked = panels.progress_of(desk.need_run(), panel).current.plan.asked
    assert asked == (Does.GOOD, Does.BEST)
    acts.tell(desk, panel, words.typed_figure(Does.GOOD, "80 %", UNITS))
    acts.tell(desk, panel, Figure(does=Does.BEST, word=words.place(0.9, 0.1)))
    mark = desk.need_run().steps[-1]
    assert [words.figure_text(f, UNITS) for f in mark.figures] == [f"80{NARROW}% good", "best in the far right corner"]


@pytest.mark.parametrize(
    ("x", "y", "place"),
    [
        (0.1, 0.5, "at the left"), (0.5, 0.5, "in the middle"), (0.5, 0.1, "at the far side"), (0.5, 1.0, "at the near side"),
        (1.0, 1.0, "in the near right corner"), (0.32, 0.34, "at the left"), (0.34, 0.32, "at the far side"), (0.67, 0.66, "at the right"),
    ],
)  # fmt: skip
def test_a_touch_is_said_as_one_ninth_of_the_panel(x, y, place):
    assert words.place(x, y) == place


def test_drips_are_wiped_once_they_hang_and_before_they_hold(poured):
    desk, panel = poured
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2689)
    run, at = desk.need_run(), desk.need_run().panel_weighings[-1].at
    code = panel.code.split("-")[-1]
    hang = [panels.dripping(run, at + timedelta(seconds=s)) for s in (179, 180, 900, 901)]
    assert hang == [(), (code,), (code,), ()]
    assert words.dripping(hang[1]) == f"Wipe the drips under {code} now."
    assert words.dripping(()) == ""


def test_sides_that_stay_bare_are_taped():
    assert "Tape its back and sides" in words.sides(0.0)
    assert "sides are to be covered" in words.sides(0.018)


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
    progress = panels.progress_of(desk.need_run(), panel)
    assert progress.current.plan.step is Step.TORCH  # what is passed over is not being done
    assert progress.after.plan.step is Step.WEIGH
    with pytest.raises(DribbetError, match="weighing stays"):
        acts.pass_over(desk, panel)
    assert steps(desk, panel)[-1] == ("tilt", How.SKIPPED)
    acts.take_back(desk)
    assert panels.progress_of(desk.need_run(), panel).after.plan.step is Step.TILT


def test_what_was_otherwise_is_told_and_told_anew(poured):
    desk, panel = poured
    with pytest.raises(DribbetError, match="No step has begun"):
        acts.tell(desk, panel, Figure(does=Does.PASSES, value=3.0))
    go_to(desk, panel, Step.TORCH)
    acts.tell(desk, panel, Figure(does=Does.PASSES, value=3.0))
    acts.tell(desk, panel, Figure(does=Does.PASSES, value=4.0))
    mark = next(m for m in desk.need_run().steps if m.step is Step.TORCH)
    assert mark.figures == (Figure(does=Does.PASSES, value=4.0),)
    planned = panels.progress_of(desk.need_run(), panel).current.plan
    assert pouring.told(planned, mark.figures) == ((mark.figures[0], Figure(does=Does.PASSES, value=2.0)),)


def test_time_to_the_first_flame_counts_from_when_the_paint_lay(poured):
    desk, panel = poured
    go_to(desk, panel, Step.WAIT)
    at = next(m.at for m in desk.need_run().steps if m.step is Step.WAIT)
    assert pouring.heat_after_s(panels.progress_of(desk.need_run(), panel)) is None
    acts.go_on(desk, panel)
    torch = next(m.at for m in desk.need_run().steps if m.step is Step.TORCH)
    assert pouring.heat_after_s(panels.progress_of(desk.need_run(), panel)) == (torch - at).total_seconds()


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
