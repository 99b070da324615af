"""What photographing alone changes: pooled over panels by degrees of freedom, steadied by the reader's figure, brought to the face asked about."""

from __future__ import annotations

import math

import pytest

from dribbet.lab.plan.responses import mean_of
from dribbet.lab.verdict import laws
from dribbet.lab.verdict.gauge import MEASURED_DM2, Noise, Repeated, noise_of
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Asked, Test, answers, without
from dribbet.records import Response


def test_without_panels_photographed_again_it_is_the_readers_figure():
    assert noise_of(Response.CELL_COUNT, [], MEASURED_DM2) == Noise(2.5, 0, 0)
    assert not noise_of(Response.CELL_COUNT, [], MEASURED_DM2).own
    assert noise_of(Response.VIVIDNESS, [Repeated((20.0,), 1.65)], 9.0) == Noise(1.0, 0, 0)  # one photograph tells nothing


def test_own_panels_count_by_their_degrees_of_freedom():
    """By hand: squares 8 and 2 with 2 and 1 degrees of freedom, and 4 times 2.5 squared: (8 + 2 + 25) / 7 = 5."""
    own = noise_of(Response.CELL_COUNT, [Repeated((40.0, 42.0, 44.0), 1.65), Repeated((10.0, 12.0), 1.65)], 1.65)
    assert own.sd == pytest.approx(5.0**0.5)
    assert (own.photographs, own.panels, own.own) == (5, 2, True)


def test_many_own_photographs_leave_little_of_the_readers_figure():
    noisy = [Repeated((40.0, 60.0), 1.65)] * 50  # squares 200 each
    assert noise_of(Response.CELL_COUNT, noisy, 1.65).sd == pytest.approx((10_025.0 / 54.0) ** 0.5)


@pytest.mark.parametrize(
    ("response", "times"),
    [
        (Response.CELL_COUNT, 2.0), (Response.CRACK_LENGTH, 2.0), (Response.CELL_WIDTH, 0.5), (Response.SPREAD, 1.0), (Response.LACING, 1.0),
        (Response.VIVIDNESS, 1.0), (Response.SHIMMER, 1.0),
    ],
)  # fmt: skip
def test_noise_goes_with_the_face_as_its_figure_errs(response, times):
    small, large = (noise_of(response, [], area).sd for area in (1.65, 6.6))
    assert large / small == pytest.approx(times)
    own = Repeated((10.0, 14.0), 6.6)  # squares 8 on four times the face
    steady = 4.0 * small**2
    assert noise_of(response, [own], 1.65).sd == pytest.approx(((steady + 8.0 / times**2) / 5.0) ** 0.5)
    assert noise_of(response, [own], 0.0).sd == pytest.approx(((steady + 8.0 / times**2) / 5.0) ** 0.5)  # an unknown face is the usual one


def told(**groups: dict[str, float]) -> dict[str, dict[str, float]]:
    return groups


def test_figure_of_a_panel_is_the_mean_of_its_photographs_and_of_yes_or_no_what_most_say():
    assert mean_of([told(cells={"count": 40}), told(cells={"count": 43}), told()], Response.CELL_COUNT) == 41.5
    assert mean_of([told(), told()], Response.CELL_COUNT) is None
    one, none = told(cracks={"count": 2}), told(cracks={"count": 0})
    assert mean_of([none, one, one], Response.CRACKED) == 1.0
    assert mean_of([one, none, none], Response.CRACKED) == 0.0
    assert mean_of([none, one], Response.CRACKED) == 0.0  # even: as the photograph that stands for it
    assert mean_of([one, none], Response.CRACKED) == 1.0


# ------------------------------------------------------------ what the judge makes of it


def judged(values: list[float | None], noise: tuple[float, ...], kind: Kind = Kind.AMOUNT, **more: object):
    asked = Asked(name="y", kind=kind, values=tuple(values), noise_sd=noise)
    test = Test(factors={"A": tuple("1112222"[: len(values)])}, responses=(asked,), **more)
    return test, answers(test)[0]


def test_noise_of_each_panel_is_in_its_own_figure():
    """First recipe: no scatter, read to 1, 2 and 3, mean square 14/3; the second to 1: variance 14/9 + 1/3, all of it known."""
    _, told = judged([5.0, 5.0, 5.0, 9.0, 9.0, 9.0], (1.0, 2.0, 3.0, 1.0, 1.0, 1.0))
    se = math.sqrt(14.0 / 9.0 + 1.0 / 3.0)
    assert told.high - told.difference == pytest.approx(1.959964 * se, rel=1e-4)


def test_noise_stays_with_its_panel_where_others_have_no_figure():
    """The panel without a figure is the noisy one: nothing of its noise is left. Three degrees of freedom, a hundred times as sure: t is 1.9679."""
    _, told = judged([None, 5.0, 5.0, 9.0, 9.0, 9.0], (50.0, 1.0, 1.0, 1.0, 1.0, 1.0))
    assert told.high - told.difference == pytest.approx(1.9679 * math.sqrt(1.0 / 2.0 + 1.0 / 3.0), rel=1e-4)


def test_noise_of_lengths_is_told_for_the_face_that_was_read():
    _, told = judged([100.0, 100.0, 100.0, 300.0, 300.0, 300.0], (8.0,) * 6, Kind.LENGTH, area_dm2=(2.0,) * 6)
    assert told.difference == pytest.approx(100.0)  # second level less the first, per dm2
    assert told.high - told.difference == pytest.approx(1.959964 * 4.0 * math.sqrt(2.0 / 3.0), rel=1e-4)


def test_panel_left_out_takes_its_noise_with_it():
    test, _ = judged([5.0, 5.1, 5.2, 9.0, 9.1, 9.2], (1.0, 2.0, 3.0, 4.0, 5.0, 6.0))
    assert without(test, 1).responses[0].noise_sd == (1.0, 3.0, 4.0, 5.0, 6.0)
    plain = Test(factors=test.factors, responses=(Asked(name="y", kind=Kind.AMOUNT, values=test.responses[0].values, measuring_sd=1.0),))
    assert without(plain, 1).responses[0].noise_sd == ()


def test_pieces_of_one_sheet_share_its_photographs_noise():
    """Three sheets of two pieces against three: what differs between sheets only is judged on sheet means, whose noise is one piece's."""
    values, noise = [5.0, 5.0] * 3 + [9.0, 9.0] * 3, (1.0,) * 12
    test = Test(
        factors={"A": tuple("1" * 6 + "2" * 6)},
        responses=(Asked(name="y", kind=Kind.AMOUNT, values=tuple(values), noise_sd=noise),),
        sheet=tuple(str(i // 2) for i in range(12)),
    )
    told = answers(test)[0]
    assert told.high - told.difference == pytest.approx(1.959964 * math.sqrt(2.0 / 3.0), rel=1e-4)


def test_variance_that_is_mostly_known_noise_is_surer_than_its_panels_alone():
    assert laws.surer(4.0, 2.0, 2.0, 4.0) == 4.0  # nothing was lifted
    assert laws.surer(4.0, 2.0, 1.0, 4.0) == 4.0
    assert laws.surer(4.0, 1.0, 5.0, 4.0) == pytest.approx(20.0)
    assert laws.surer(2.0, 1.0, 9.0, 4.0) == pytest.approx(6.0)  # few panels: the root of it
    assert laws.surer(4.0, 0.0, 5.0, 4.0) == pytest.approx(4.0e4)  # as good as known


def test_noise_that_alike_panels_share_makes_nothing_surer():
    """Two panels of each, 3 and 3 against 4 and 4 points: alike panels are rounded alike. Two degrees of freedom: t is 4.303."""
    asked = Asked(name="y", kind=Kind.AMOUNT, values=(3.0, 3.0, 4.0, 4.0), measuring_sd=0.29, independent=False)
    told = answers(Test(factors={"A": ("1", "1", "2", "2")}, responses=(asked,)))[0]
    assert told.high - told.difference == pytest.approx(4.302653 * 0.29, rel=1e-4)
    assert told.word is Word.CHANCE
