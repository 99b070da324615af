from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
import scipy.stats
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.verdict.effects import EffectsError, anova, effects

NIST = Path(scipy.stats.__file__).parent / "tests" / "data" / "nist_anova"
# NIST Statistical Reference Datasets, as they ship in SciPy's test data; digits by the difficulty that NIST states.
DIGITS = {
    "SiRstv": 9,
    "SmLs01": 9,
    "SmLs02": 9,
    "SmLs03": 9,
    "AtmWtAg": 7,
    "SmLs04": 7,
    "SmLs05": 7,
    "SmLs06": 7,
    "SmLs07": 4,
    "SmLs08": 4,
    "SmLs09": 4,
}


def read_nist(name: str) -> tuple[np.ndarray, np.ndarray, dict[str, float]]:
    lines = (NIST / f"{name}.dat").read_text().splitlines()
    between = next(re.findall(r"[-\d.E+]+", line) for line in lines if line.startswith("Between"))
    within = next(re.findall(r"[-\d.E+]+", line) for line in lines if line.startswith("Within"))
    r_squared = next(float(line.split()[-1]) for line in lines if "Certified R-Squared" in line)
    deviation = float(next(line.split()[-1] for line in lines if line.strip().startswith("Standard Deviation")))
    start = max(i for i, line in enumerate(lines) if line.startswith("Data:")) + 1
    rows = np.array([[float(v) for v in line.split()] for line in lines[start:] if line.strip() and re.match(r"^\s*\d", line)])
    certified = {
        "df_between": float(between[0]), "ss_between": float(between[1]), "ms_between": float(between[2]), "f": float(between[3]),
        "df_within": float(within[0]), "ss_within": float(within[1]), "ms_within": float(within[2]), "r_squared": r_squared, "sd": deviation,
    }  # fmt: skip
    return rows[:, 0], rows[:, 1], certified


@pytest.mark.parametrize("name", DIGITS)
def test_analysis_of_variance_agrees_with_nist(name):
    treatment, response, certified = read_nist(name)
    found = anova(response, [int(t) for t in treatment])
    assert (found.df_between, found.df_within) == (certified["df_between"], certified["df_within"])
    for figure in ("ss_between", "ms_between", "ss_within", "ms_within", "f", "r_squared"):
        assert getattr(found, figure) == pytest.approx(certified[figure], rel=10.0 ** -DIGITS[name]), figure
    assert np.sqrt(found.ms_within) == pytest.approx(certified["sd"], rel=10.0 ** -DIGITS[name])


def test_textbook_two_level_factorial_with_repeats():
    """Chemical yield: 2^2 with three repeats (Montgomery, Design and Analysis of Experiments, example 6.1)."""
    runs = {("-1", "-1"): (28, 25, 27), ("1", "-1"): (36, 32, 32), ("-1", "1"): (18, 19, 23), ("1", "1"): (31, 30, 29)}
    y = np.array([v for values in runs.values() for v in values], float)
    factors = {"A": [a for (a, _), v in runs.items() for _ in v], "B": [b for (_, b), v in runs.items() for _ in v]}
    found = effects(y, factors, interactions=True)
    terms = {t.term: t for t in found.terms}
    assert terms["A"].effect == pytest.approx(8.33, abs=0.005)
    assert terms["B"].effect == pytest.approx(-5.00, abs=0.005)
    assert terms["A:B"].effect == pytest.approx(1.67, abs=0.005)
    assert found.anova.ss_within == pytest.approx(31.34, abs=0.02)
    assert found.residual_df == 8
    assert terms["A"].p < 0.001 < terms["A:B"].p
    assert terms["A"].low < 8.33 < terms["A"].high


def test_textbook_three_level_factor_gives_a_table_only():
    found = effects(np.array([1.0, 2.0, 3.0, 2.0, 4.0, 6.0]), {"level": ["a", "a", "b", "b", "c", "c"]})
    assert found.terms == ()
    assert found.anova.df_between == 2


def test_effects_of_two_levels_stand_beside_a_factor_of_three():
    three = {"kind": ["x", "x", "y", "y", "z", "z"]}
    response = np.array([1.0, 3.0, 2.0, 4.0, 5.0, 7.1])
    found = effects(response, {"water": ["8", "16"] * 3, **three})
    assert [t.term for t in found.terms] == ["water"]
    assert found.terms[0].effect == pytest.approx(2.0333, abs=1e-3)
    assert effects(response, three).terms == ()


@given(st.lists(st.floats(-1e3, 1e3), min_size=8, max_size=8), st.floats(-1e6, 1e6))
def test_a_common_offset_changes_no_effect(values, offset):
    factors = {"a": ["0", "0", "1", "1"] * 2, "b": ["x", "y"] * 4}
    plain, shifted = effects(np.array(values), factors), effects(np.array(values) + offset, factors)
    for before, after in zip(plain.terms, shifted.terms, strict=True):
        assert after.effect == pytest.approx(before.effect, abs=1e-6)


def test_levels_that_are_numbers_sort_as_numbers():
    found = effects(np.array([1.0, 1.0, 5.0, 5.0]), {"water": ["9", "9", "10", "10"]})
    assert found.terms[0].effect == pytest.approx(4.0)


def test_without_repeats_no_error_is_given():
    found = effects(np.array([10.0, 16.0, 8.0, 14.0]), {"a": ["-1", "1", "-1", "1"], "b": ["-1", "-1", "1", "1"]})
    assert found.residual_sd is None
    assert {t.term: t.effect for t in found.terms} == {"a": pytest.approx(6.0), "b": pytest.approx(-2.0)}
    assert all(t.low is None and t.high is None and t.p is None for t in found.terms)


@pytest.mark.parametrize(
    ("response", "factors", "words"),
    [
        ([1.0], {"a": ["0"]}, "at least two runs"),
        ([1.0, float("nan")], {"a": ["0", "1"]}, "at least two runs"),
        ([1.0, 2.0], {"a": ["0", "0"]}, "same level in every run"),
        ([1.0, 2.0, 3.0, 4.0], {"a": ["0", "0", "1", "1"], "b": ["x", "x", "y", "y"]}, "a and b always move together"),
    ],
)
def test_runs_that_show_nothing_are_refused_in_words(response, factors, words):
    with pytest.raises(EffectsError, match=words):
        effects(np.array(response), factors)
