"""What sinks in a cup: which joints, how wide the patches are and when they begin, worked by hand from what was weighed in."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest

from dribbet.lab.cup import composition
from dribbet.records import Constants, Sheen, Weighing
from dribbet.studio.standing import sinking, turning
from dribbet.studio.standing.sinking import Sinking
from dribbet.words import check, held
from dribbet.words.units import Units
from tests.made_up import series


@pytest.fixture
def sinks(desk):
    desk.choose_series("k3")
    return sinking.of_group(desk, desk.need_run(), "a")


def test_joints_patches_and_times_follow_from_the_heaviest_step(desk, sinks):
    run = desk.need_run()
    densities = [d for _, d in sinks.layers]
    steps = {i: b - a for i, (a, b) in enumerate(pairwise(densities)) if b - a > 15.0}
    assert sinks.joints == tuple(steps)
    step = max(steps.values())
    weight = step * 9.80665
    assert sinks.patches_m == pytest.approx([2 * math.pi * math.sqrt(2 * gamma / weight) for gamma in (0.1e-3, 1e-3)], rel=1e-4)
    arm = next(a for a in run.arms if a.letter == "a")
    thick = turning.viscosities_of(desk, run, arm)

    def takes(i, gamma):
        return 12 * thick[sinks.layers[i + 1][0]] * gamma / ((steps[i] * 9.80665) ** 2 * (arm.film_m * run.series.layers[i + 1].share) ** 3)

    quickest = min(steps, key=lambda i: takes(i, 1.0))
    assert quickest != max(steps, key=steps.get)  # the steepest joint lies under the thinner layer
    assert sinks.begins_s == pytest.approx([takes(quickest, gamma) for gamma in (0.1e-3, 1e-3)], rel=1e-4)


def test_a_joint_is_as_thick_as_the_layer_above_it(desk, sinks):
    """Twice the share of what lies above the joint: eight times as quick."""
    run = desk.need_run()
    joint = sinks.joints[0]

    def begins(share):
        layers = tuple(replace(layer, share=share if i == joint + 1 else 0.1) for i, layer in enumerate(run.series.layers))
        other = replace(run, series=replace(run.series, layers=layers))
        arm = next(a for a in other.arms if a.letter == "a")
        return sinking.of_group(desk, other, "a").begins_s[0] * arm.film_m**3

    assert begins(0.2) / begins(0.4) == pytest.approx(8.0, rel=1e-6)


def test_densities_are_those_of_what_was_really_weighed_in(desk, sinks):
    run = desk.need_run()
    name, density = sinks.layers[0]
    mix = next(m for m in run.mixes if "a" in m.recipes and m.colour == name)
    cup = {n: kg for n, kg in composition.weighed_in(mix, run.weighings).items() if kg > 0.0}
    assert density == pytest.approx(composition.density_kg_m3(cup, run.shelf))
    more = Weighing(id="more", mix_id=mix.id, ingredient="water", mass_kg=0.02, at=desk.now())
    thinned = sinking.of_group(desk, replace(run, weighings=(*run.weighings, more)), "a").layers[0][1]
    assert thinned < density - 5.0  # twenty grams of water more are in it, whatever the plan says


def test_neighbours_of_unlike_sheen_are_named(desk, sinks):
    sheen = {m.key: m.sheen for m in desk.need_run().shelf}
    assert sinks.sheens
    assert all(sheen[a] is sa and sheen[b] is sb and sa is not sb for a, sa, b, sb in sinks.sheens)


@pytest.mark.parametrize(
    ("begins", "said"),
    [((2.0, 20.4), "2 s to 20 s"), ((31.0, 310.0), "31 s to 5.2 min"), ((712.0, 7124.0), "12 min to 2 h"), ((9.96, 99.4), "10 s to 99 s")],
)
def test_times_are_told_as_roughly_as_they_are_known(begins, said):
    found = Sinking(layers=(), joints=(1,), patches_m=(0.0028, 0.0089), begins_s=begins)
    assert check.sinks(found).replace("\u202f", " ") == (
        f"g in each cm³. One joint turns over: where they do, patches of about 3 to 9 mm. By weight alone they take {said} on the panel."
    )


def test_sheens_are_said_with_how_many_more_there_are():
    unlike = ("foam", Sheen.MATTE, "brass", Sheen.GLOSS)
    assert check.sinks(Sinking(layers=())) == check.NOTHING_SINKS
    found = Sinking(layers=(), joints=(0, 2), patches_m=(0.003, 0.009), begins_s=(2.0, 20.0), sheens=(unlike, unlike))
    assert check.sinks(found).endswith(" Unlike sheen: brass (gloss) over foam (matte), and 1 more such joint.")
    assert check.sinks(found).startswith("g in each cm³. Two joints turn over: ")


def test_alcohol_is_told_as_it_is_poured_and_as_pure():
    """A tenth of a 70 % v/v solution brings 0.1 x 0.7 x 785 / (0.7 x 785 + 0.3 x 998) = 6.5 % by mass."""
    s = series(constants=replace(Constants(), alcohol_share=0.1, alcohol_strength=0.7))
    assert held.said_of(s, "alcohol", Units())[1].replace("\u202f", " ") == "10 %, 6.5 % pure alcohol"
    assert held.said_of(series(), "alcohol", Units())[1].replace("\u202f", " ") == "0 %"
