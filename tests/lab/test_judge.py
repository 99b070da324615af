from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from dribbet.lab.verdict import judge


@pytest.mark.parametrize(("sd", "each", "df", "shown"), [(14.0, 4, 6, 33.0), (14.0, 6, 12, 25.0)])
def test_smallest_difference_of_the_design_guide(sd, each, df, shown):
    assert judge.smallest_difference(sd, each, df) == pytest.approx(shown, abs=1.0)


def test_power_of_the_smallest_difference_is_about_four_in_five():
    """The formula is the usual normal approximation by quantiles of t; simulated with a t test on 4 against 4."""
    rng = np.random.default_rng(5)
    delta = judge.smallest_difference(1.0, 4, 6)
    a, b = rng.normal(0.0, 1.0, (6000, 4)), rng.normal(delta, 1.0, (6000, 4))
    seen = float(np.mean(stats.ttest_ind(a, b, axis=1).pvalue < 0.05))
    assert seen == pytest.approx(0.80, abs=0.04)


def test_pooled_scatter_weighs_by_degrees_of_freedom():
    sd, df = judge.pooled_sd([[1.0, 3.0], [10.0, 10.0, 13.0], [7.0]])
    assert df == 3
    assert sd == pytest.approx(np.sqrt((2.0 + 6.0) / 3))
    assert judge.pooled_sd([[1.0], [2.0]]) is None
