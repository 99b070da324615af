"""A plan played through by the very judge: what is promised is what comes out."""

from __future__ import annotations

import pytest

from dribbet.lab.plan import power
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Test
from dribbet.lab.verdict.rehearse import TESTS, Played, rehearse
from dribbet.records import Cancelled, silent

TWO = Test(factors={"A": tuple("11112222")}, responses=(), area_dm2=(3.0,) * 8)
WIDTH = Played(name="width", kind=Kind.AMOUNT, mean=4.0, sd=0.5)


def play(*responses: Played, size: float, plan: Test = TWO):
    return rehearse(silent, plan, responses, {"1": 0.0, "2": size}, "A", ("1", "2"))


def test_power_of_students_t_comes_out():
    """Four panels each, two standard deviations: 0.66 by the noncentral t law, less where they seem to scatter unlike, as half of the tests do."""
    out = play(WIDTH, size=1.0)
    assert out.found == pytest.approx(power.power_of_means(1.0, 0.5, 4, 6, repeats=4), abs=0.06)
    assert power.power_of_means(1.0, 0.5, 4, 6, repeats=4) < power.power_of_means(1.0, 0.5, 4, 6) - 0.02
    assert out.wrong == pytest.approx(0.05, abs=0.03)
    assert out.tests == TESTS


def test_asking_more_beside_it_costs():
    others = tuple(Played(name=f"n{i}", kind=Kind.AMOUNT, mean=1.0, sd=0.2) for i in range(4))
    alone, among = play(WIDTH, size=1.2), play(WIDTH, *others, size=1.2)
    assert among.found < alone.found - 0.1
    assert among.wrong < 0.08


@pytest.mark.parametrize(
    ("played", "size"),
    [
        (Played(name="cells", kind=Kind.COUNT, mean=120.0, sd=18.0, dispersion=2.7), 90.0),
        (Played(name="cracks", kind=Kind.LENGTH, mean=200.0, sd=40.0, dispersion=8.0), 250.0),
        (Played(name="spread", kind=Kind.SHARE, mean=0.7, sd=0.03), 0.15),
        (Played(name="cracked", kind=Kind.YES_NO, mean=0.02, sd=0.1), 0.96),
        (Played(name="hours", kind=Kind.TIME, mean=4.0, sd=4.0), 4000.0),
    ],
)
def test_a_large_effect_is_found_in_every_kind_and_nothing_in_nothing(played, size):
    out = play(played, size=size)
    assert out.found > 0.75
    assert out.wrong < 0.08


def test_the_made_up_panels_scatter_as_those_poured_alike():
    import numpy as np

    from dribbet.lab.verdict.rehearse import _values

    rng = np.random.default_rng(3)
    for played in (
        Played(name="c", kind=Kind.COUNT, mean=60.0, sd=15.0, dispersion=3.75),
        Played(name="l", kind=Kind.LENGTH, mean=200.0, sd=50.0, dispersion=12.5),
        Played(name="s", kind=Kind.SHARE, mean=0.8, sd=0.05),
        WIDTH,
    ):
        drawn = np.array(_values(rng, played, np.zeros(4000)))
        assert drawn.mean() == pytest.approx(played.mean, rel=0.03)
        assert drawn.std() == pytest.approx(played.sd, rel=0.06)


def test_counts_without_excess_scatter_as_chance_alone():
    import numpy as np

    from dribbet.lab.verdict.rehearse import _values

    played = Played(name="c", kind=Kind.COUNT, mean=40.0, sd=6.3, dispersion=1.0)
    drawn = np.array(_values(np.random.default_rng(5), played, np.zeros(40_000)))
    assert drawn.var() / drawn.mean() == pytest.approx(1.0, abs=0.03)


def test_it_can_be_ended():
    def enough(done: int, total: int) -> None:
        if done > 3:
            raise Cancelled

    with pytest.raises(Cancelled):
        rehearse(enough, TWO, (WIDTH,), {"2": 1.0}, "A", ("1", "2"))
