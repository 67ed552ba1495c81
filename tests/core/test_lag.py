"""Lag statistics against scipy."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from wavilex.core.lag.difference import compare, u_counts
from wavilex.core.lag.groups import Group
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.summary import judge, median_interval_rank, summarise

READINGS = st.lists(st.integers(1000, 200_000), min_size=1, max_size=40)


@given(READINGS)
def test_median_mean_and_spread_agree_with_numpy(values: list[int]) -> None:
    s = summarise(values)
    assert s is not None
    assert float(s.median_us) == np.median(values)
    assert float(s.mean_us) == pytest.approx(np.mean(values))
    if len(values) > 1:
        assert s.sd_us == pytest.approx(np.std(values, ddof=1), abs=1e-6)


@pytest.mark.parametrize("n", range(1, 60))
def test_interval_of_the_median_agrees_with_the_binomial(n: int) -> None:
    """Reference: scipy.stats.binom. None below six readings at 95 %."""
    rank = median_interval_rank(n)
    if n < 6:
        assert rank is None
        return
    assert rank is not None
    assert 1 - 2 * stats.binom.cdf(rank - 1, n, 0.5) >= 0.95
    assert 1 - 2 * stats.binom.cdf(rank, n, 0.5) < 0.95


@pytest.mark.parametrize(("n", "m"), [(6, 6), (7, 9), (10, 12), (20, 15)])
def test_shift_counts_agree_with_scipy(n: int, m: int) -> None:
    """Reference: the exact p-values of scipy.stats.mannwhitneyu."""
    counts = u_counts(n, m)
    x, y = list(range(n)), list(range(n, n + m))  # U = 0 for x against y
    exact = stats.mannwhitneyu(x, y, alternative="less", method="exact").pvalue
    assert Fraction(counts[0], sum(counts)) == pytest.approx(exact)
    assert counts == counts[::-1]


@settings(max_examples=30)
@given(st.lists(st.integers(1, 10**6), min_size=8, max_size=14, unique=True), st.integers(-50_000, 50_000))
def test_the_shift_interval_holds_what_the_test_does_not_reject(values: list[int], move: int) -> None:
    """Inside the interval scipy's exact two-sided test does not reject at 5 %, outside it does."""
    a, b = values[::2], [v + move for v in values[1::2]]
    d = compare(a, b)
    if d is None or d.ci_low_us is None or d.ci_high_us is None:
        assert min(len(a), len(b)) < 6
        return
    for shift, rejected in ((d.ci_low_us - 1, True), (d.ci_high_us + 1, True)):
        moved = [float(v) - float(shift) + 0.25 for v in b] if rejected else b
        p = stats.mannwhitneyu(a, moved, method="exact").pvalue
        assert p <= 0.05 + 1e-9


@pytest.mark.parametrize(
    ("values", "bound", "verdict"),
    [([8000] * 8, 10, "within"), ([12000] * 8, 10, "over"), ([8000] * 3, 10, "undecided"),
     ([9000, 9500, 10500, 11000] * 3, 10, "undecided")],
)  # fmt: skip
def test_judged_against_the_bound_with_its_interval(values: list[int], bound: int, verdict: str) -> None:
    """10 ms for a monitor, 40 ms for a television: common practice."""
    s = summarise(values)
    assert s is not None
    assert judge(s, bound, "monitor").verdict == verdict


def test_report_compares_the_first_two_conditions() -> None:
    readings = {"standard": [92_000] * 8, "game": [11_000] * 8, "film": []}
    groups = [Group(Cell(condition=name), tuple(values)) for name, values in readings.items()]
    report = lag_report(groups, Asked("television"))
    assert report["bound_ms"] == 40
    assert report["difference"]["ms"] == -81.0
    assert "81.0 ms less" in report["difference"]["sentence"]
    assert [c["verdict"] for c in report["conditions"]] == ["over", "within", None]
