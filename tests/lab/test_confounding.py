"""What moves along with what is tested, and that the panels offered do separate it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan import basis, confounding, control, design, templates
from dribbet.lab.plan.arm import thinned_to
from dribbet.lab.plan.templates import Mending
from dribbet.records import Advice, Constants, Design, DribbetError, Equal, Extra, Factor, Insisted, Layout, Level, Varied
from dribbet.words import confounding as words
from tests.lab.test_basis import PRICES
from tests.lab.test_planning import SHELF
from tests.made_up import NOON, numbers, series


def confounds(s):
    return {c.what: c for c in confounding.confounds(s, design.arms(s))}


def with_extras(s, extras):
    return replace(s, layout=replace(s.layout, extras=(*s.layout.extras, *extras)))


def test_offered_recipe_holds_the_water_and_the_paint_share_of_the_first():
    s = series()
    found = confounds(s)["paint share"]
    assert found.panels == 1
    more = with_extras(s, found.extras)
    first, *_, extra = design.arms(more)
    assert extra.water_share == pytest.approx(0.22)
    assert extra.paint_share == pytest.approx(first.paint_share, abs=1e-4)
    again = confounds(more)["paint share"]
    assert again.separated
    assert (again.told_by, again.open, again.extras) == (("d",), False, ())
    assert words.sentence(again).endswith(" Recipe d tells the two apart.")


@pytest.mark.parametrize("equal", list(Equal))
@pytest.mark.parametrize("template", templates.TEMPLATES, ids=lambda t: t.key)
def test_every_recipe_that_is_offered_does_separate_what_it_says(template, equal):
    s = replace(templates.filled(template, series(), SHELF), equal=equal, prices=PRICES)
    if basis.clash(equal, [v.factor for v in s.varied]):
        return
    for c in confounding.confounds(s, design.arms(s)):
        for extra in c.extras:
            first, *_, added = design.arms(with_extras(s, (extra,)))
            twin = next(a for a in design.arms(s) if a.settings == extra.settings)
            if c.what == "paint share":
                assert added.paint_share == pytest.approx(first.paint_share, abs=2e-3)
                assert added.water_share == pytest.approx(twin.water_share, abs=1e-5)
            elif c.what == "flow":
                assert added.viscosity_pa_s == pytest.approx(first.viscosity_pa_s, rel=0.01)
                assert added.medium_share / added.paint_share == pytest.approx(twin.medium_share / twin.paint_share, rel=1e-4)
            elif c.what == "film":
                assert added.film_m == pytest.approx(first.film_m)
                assert added.paint_share == pytest.approx(twin.paint_share, abs=1e-4)


def test_offered_recipe_of_two_ways_to_pour_leaves_the_same_film():
    s = series(factor=Factor.TECHNIQUE, levels=(Level(name="flip cup"), Level(name="swipe")))
    (extra,) = confounds(s)["film"].extras
    arm = design.arms(with_extras(s, (extra,)))[-1]
    assert (str(arm.technique), arm.film_m) == ("swipe", pytest.approx(1.7e-3))


def test_offered_recipe_of_silicone_flows_like_the_one_without():
    s = series(factor=Factor.SILICONE, levels=numbers(0, 4), constants=Constants(silicone_colours=("teal",)))
    first, _, extra = design.arms(with_extras(s, confounds(s)["thickness"].extras))
    assert extra.silicone_drops_per_100g == 4
    assert extra.viscosity_pa_s == pytest.approx(first.viscosity_pa_s, rel=1e-3)


def test_chosen_part_says_in_words_what_it_cannot_tell_and_what_would():
    three = tuple(Varied(factor=f, levels=lv) for f, lv in (
        (Factor.REST, numbers(0.0, 3600.0)), (Factor.HEAT_AFTER, numbers(10.0, 60.0)), (Factor.FILM_LEFT, numbers(1.2e-3, 2.0e-3)),
    ))  # fmt: skip
    s = replace(series(), varied=three, layout=Layout(design=Design.FRACTION))
    found = confounds(s)["design"]
    assert "A chosen part cannot tell rest of the mix from moment of heat with film left" in words.sentence(found)
    assert found.panels == 3
    assert "design" not in confounds(with_extras(s, found.extras))


def test_two_things_always_changed_together_are_named():
    two = (Varied(factor=Factor.REST, levels=numbers(0, 60)), Varied(factor=Factor.FILM_LEFT, levels=numbers(1e-3, 2e-3)))
    s = replace(series(), varied=two)
    only = [a for a in design.arms(s) if a.settings in ((0, 0), (1, 1))]
    (found,) = [c for c in confounding.confounds(s, only) if c.what == "design"]
    assert words.sentence(found) == "Rest of the mix and film left always change together: this test cannot tell which of the two did it."
    assert found.panels == 1


@pytest.mark.parametrize(
    ("factor", "levels", "what"),
    [
        (Factor.MEDIUM, (Level(name="conditioner"), Level(name="glue")), "sheen"),
        (Factor.FINISH, (Level(name="matt"), Level(name="glossy")), "paint"),
        (Factor.PANEL_SIZE, (Level(name="200 x 150"), Level(name="400 x 300")), "size"),
        (Factor.HEAT, numbers(0, 2), "heat"),
        (Factor.BASE, (Level(name="no base"), Level(name="flood coat")), "film of the base"),
        (Factor.AFTER, (Level(name="nothing"), Level(name="varnish")), "stage"),
        (Factor.SILICONE, numbers(0, 2), "traces"),
        (Factor.ALCOHOL, numbers(0, 0.1), "flame"),
    ],
)
def test_known_couplings_are_said(factor, levels, what):
    assert what in confounds(series(factor=factor, levels=levels))


def test_later_panels_get_older_paint_only_where_there_are_many():
    assert "age" not in confounds(series())
    assert "age" in confounds(series(repeats=4))
    assert "age" not in confounds(series(repeats=4, layout=Layout(blocks=2)))


def test_after_the_fact_nothing_is_proposed():
    s = series()
    assert not any(c.extras for c in confounding.after_the_fact(s, design.arms(s)))


# ---------------------------------------------------------------- control


def test_effect_without_a_zero_is_missed_and_can_be_added_or_insisted_on():
    s = series(factor=Factor.SILICONE, levels=numbers(1, 2))
    (lacking,) = control.missing(s)
    assert not lacking.insisted
    assert control.missing(control.with_control(s)) == []
    assert control.with_control(s).levels == numbers(0, 1, 2)
    insisted = control.insist(s, NOON)
    assert insisted.insisted == (Insisted(against=Advice.CONTROL, of="silicone", at=NOON),)
    assert control.missing(insisted)[0].insisted
    assert control.still_insisted(replace(insisted, varied=control.with_control(s).varied)).insisted == ()


def test_factors_without_a_zero_need_no_control():
    assert control.missing(series()) == []
    assert control.missing(series(factor=Factor.RATIO, levels=numbers(1, 2))) == []


# ---------------------------------------------------------------- mending and repeating


def test_mended_test_is_at_equal_flow_with_a_control_and_repeats():
    flawed = series(factor=Factor.ALCOHOL, levels=numbers(0.05, 0.15), repeats=1)
    made, said = templates.mended(flawed)
    assert made.repeats == 2
    assert made.levels[0].value == 0.0
    assert made.equal is Equal.FLOW
    assert [m.what for m in said][:3] == [Mending.CONTROL, Mending.TWICE, Mending.FLOW]
    assert words.mended(said[0]) == "A recipe without alcohol was added."


def test_test_without_a_flaw_is_not_mended():
    with pytest.raises(DribbetError, match="Nothing in this plan needs mending"):
        templates.mended(series(factor=Factor.ORDER, levels=(Level(name="as given"), Level(name="turned round"))))


def test_repeat_with_one_change_holds_all_else_as_it_was():
    old = series(crossed=Factor.SILICONE, crossed_levels=numbers(0, 2), layout=Layout(extras=(Extra(settings=(0, 0)),)))
    made = templates.one_change(old, (2, 1), Varied(factor=Factor.FILM_LEFT, levels=numbers(1.2e-3, 2.3e-3)))
    assert (made.constants.water_share, made.constants.silicone_drops_per_100g) == (0.22, 2.0)
    assert made.levels == numbers(1.7e-3, 2.3e-3)
    assert made.layout.extras == ()
    same = templates.one_change(old, (0, 0), Varied(factor=Factor.TECHNIQUE, levels=(Level(name="open cup"), Level(name="flip cup"))))
    assert same.levels == (Level(name="flip cup"), Level(name="open cup"))


def test_a_cup_into_which_no_paint_was_weighed_is_judged_like_any_other():
    s = series(factor=Factor.TECHNIQUE, levels=(Level(name="flip cup"), Level(name="swipe")))
    first, last = design.arms(s)
    bare = replace(last, paint_share=0.0, water_share=0.5)
    found = {c.what: c for c in confounding.confounds(s, (first, bare))}
    assert words.sentence(found["flow"]).startswith("The thinnest recipe flows about ")
    assert found["flow"].extras == found["film"].extras == ()
    assert thinned_to(bare, first.viscosity_pa_s).trouble == "Recipe b holds no paint: no ratio is there to keep while it is thinned."


def test_heat_differs_only_where_some_recipes_hold_alcohol_and_some_do_not():
    some = words.sentence(confounds(series(factor=Factor.ALCOHOL, levels=numbers(0, 0.1)))["flame"])
    assert some.endswith("so recipes with alcohol are not torched: then heat differs too.")
    every = words.sentence(confounds(series(factor=Factor.ALCOHOL, levels=numbers(0.05, 0.1)))["flame"])
    assert every.endswith("so none of these recipes is torched.")
