"""Judging lag: equivalence, many settings, ratios, scan-out, kinds of signal, regression, methods, plans, tables."""

from __future__ import annotations

import random
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from wavilex.core.lag.difference import (
    compare,
    costs,
    equivalence,
    holm,
    nth_difference,
    ratio,
)
from wavilex.core.lag.enough import enough, readings_for, settled
from wavilex.core.lag.summary import median_interval_rank, outliers, summarise


def sample(middle_us: int, spread_us: int, n: int, seed: int = 1) -> list[int]:
    rnd = random.Random(seed)
    return [max(1, round(rnd.gauss(middle_us, spread_us))) for _ in range(n)]


# --- summary and its interval


@pytest.mark.parametrize("n", [6, 8, 12, 20, 40, 150, 299, 300, 301, 500, 3000, 100_000])
def test_the_rank_agrees_with_scipys_binomial_also_for_many(n: int) -> None:
    """Reference: scipy.stats.binom; exact fractions up to 300, its quantile beyond."""
    rank = median_interval_rank(n)
    assert rank is not None
    assert 1 - 2 * stats.binom.cdf(rank - 1, n, 0.5) >= 0.95
    assert 1 - 2 * stats.binom.cdf(rank, n, 0.5) < 0.95


@settings(max_examples=60)
@given(st.lists(st.integers(500, 200_000), min_size=2, max_size=60))
def test_quartiles_and_outliers_agree_with_numpy_and_scipy(values: list[int]) -> None:
    """References: numpy.quantile (linear); scipy.stats.median_abs_deviation scaled to a normal distribution."""
    s = summarise(values)
    assert s is not None
    assert [float(q) for q in s.quartiles_us] == pytest.approx(list(np.quantile(values, [0.25, 0.75])))
    mad = stats.median_abs_deviation(values)
    if len(values) >= 6 and mad:
        distance = np.abs(np.array(values) - np.median(values)) / (1.4826 * mad)
        expected = [n for n, d in enumerate(distance) if d > 3.5]
        near = any(abs(d - 3.5) < 1e-9 for d in distance)
        assert near or outliers(values) == expected


@pytest.mark.parametrize("n", [8, 12, 20, 40])
def test_the_intervals_real_coverage_is_what_it_says(n: int) -> None:
    """2,000 simulated sets of skewed, drifting-free readings: the interval holds the true median in at least 95 % of
    them, within sampling error (three standard errors of 2,000 trials).
    """
    rnd = np.random.default_rng(n)
    held = 0
    runs = 2000
    true = 9000 + 2500 * np.exp(0)  # median of the lognormal part is 1
    for _ in range(runs):
        values = np.rint(9000 + 2500 * rnd.lognormal(0, 0.6, n)).astype(int).tolist()
        s = summarise(values)
        assert s is not None
        assert s.ci_low_us is not None
        assert s.ci_high_us is not None
        held += s.ci_low_us <= true <= s.ci_high_us
    coverage = held / runs
    print(f"coverage of the median's interval at n = {n}: {coverage:.3f}")
    assert coverage >= 0.95 - 3 * (0.95 * 0.05 / runs) ** 0.5


# --- differences


@settings(max_examples=80)
@given(
    st.lists(st.integers(1, 10**6), min_size=1, max_size=30), st.lists(st.integers(1, 10**6), min_size=1, max_size=30),
    st.data(),
)  # fmt: skip
def test_a_difference_by_rank_is_the_one_in_the_sorted_list(a: list[int], b: list[int], data: st.DataObject) -> None:
    """Brute force over all pairs, against the search that never holds them all."""
    from wavilex.core.lag import difference

    k = data.draw(st.integers(1, len(a) * len(b)))
    expected = sorted(y - x for x in a for y in b)[k - 1]
    assert nth_difference(a, b, k) == expected
    small, difference._EXACT_UP_TO = difference._EXACT_UP_TO, 0
    try:
        assert nth_difference(a, b, k) == expected
    finally:
        difference._EXACT_UP_TO = small


@pytest.mark.parametrize("level", [0.90, 0.95, 0.99])
def test_the_shift_interval_inverts_scipys_test_at_any_level(level: float) -> None:
    """Reference: scipy.stats.mannwhitneyu, exact. Just inside it does not reject, just outside it does."""
    a, b = sample(9000, 700, 12, 13), sample(10_400, 900, 11, 24)
    assert len(set(a + b)) == 23  # no ties: the exact test applies
    d = compare(a, b, Fraction(str(level)))
    assert d is not None
    assert d.ci_low_us is not None
    assert d.ci_high_us is not None

    def p(shift: Fraction, nudge: float) -> float:
        return float(stats.mannwhitneyu(a, [v - float(shift) - nudge for v in b], method="exact").pvalue)

    assert p(d.ci_low_us, 0.5) > 1 - level
    assert p(d.ci_low_us, -0.5) <= 1 - level
    assert p(d.ci_high_us, -0.5) > 1 - level
    assert p(d.ci_high_us, 0.5) <= 1 - level


@pytest.mark.parametrize(
    ("shift", "spread", "n", "decision"),
    [(300, 400, 20, "same"), (8000, 600, 20, "changed"), (-8000, 600, 20, "changed"), (2000, 900, 12, "undecided"),
     (0, 400, 4, "undecided")],
)  # fmt: skip
def test_s06_equivalence_decides_three_ways(shift: int, spread: int, n: int, decision: str) -> None:
    """Two one-sided tests at 5 %: the 90 % interval against ±2 ms (textbook result)."""
    found = equivalence(sample(11_000, spread, n, 1), sample(11_000 + shift, spread, n, 2))
    assert found is not None
    assert found.decision == decision
    low, high = found.difference.ci_low_us, found.difference.ci_high_us
    if decision == "same":
        assert low is not None
        assert high is not None
        assert -2000 <= low <= high <= 2000
        assert "no practical change" in found.sentence
    if decision == "changed":
        assert found.sentence.startswith("changes by ")
    if decision == "undecided":
        assert found.more is not None
        assert f"take {found.more} more" in found.sentence


def test_equivalence_is_rarely_claimed_wrongly() -> None:
    """At a true difference exactly at the bound, at most about 5 % of sets may be called the same."""
    rnd = np.random.default_rng(5)
    wrong = 0
    for _ in range(400):
        a = np.rint(rnd.normal(11_000, 800, 14)).astype(int).tolist()
        b = np.rint(rnd.normal(13_000, 800, 14)).astype(int).tolist()
        found = equivalence(a, b)
        assert found is not None
        wrong += found.decision == "same"
    assert wrong / 400 <= 0.05 + 3 * (0.05 * 0.95 / 400) ** 0.5


def test_the_promised_readings_do_settle_it_mostly() -> None:
    """An undecided pair with as many more as asked for is decided in most sets."""
    decided = tried = 0
    for seed in range(60):
        a, b = sample(11_000, 1500, 10, seed), sample(11_200, 1500, 10, seed + 1000)
        found = equivalence(a, b)
        assert found is not None
        if found.decision == "undecided" and found.more:
            tried += 1
            n = 10 + found.more
            again = equivalence(sample(11_000, 1500, n, seed), sample(11_200, 1500, n, seed + 1000))
            assert again is not None
            decided += again.decision != "undecided"
    assert tried >= 10
    assert decided / tried > 0.5


@given(st.dictionaries(st.text(min_size=1, max_size=4), st.floats(0, 1), min_size=1, max_size=8))
def test_holms_rule_by_its_definition(p: dict[str, float]) -> None:
    """Reference: Holm 1979: reject in order while p(i) ≤ α/(m − i + 1); the corrected p is the least such α."""
    corrected = holm(p)
    for alpha in (0.01, 0.05, 0.2, 0.5):
        order = sorted(p, key=lambda k: p[k])
        rejected = set()
        for place, name in enumerate(order):
            if p[name] * (len(order) - place) > alpha:
                break
            rejected.add(name)
        assert {k for k, v in corrected.items() if v <= alpha} == rejected


def test_s18_what_each_setting_costs_ranked_with_correction() -> None:
    base = sample(9000, 500, 16, 1)
    found = costs(base, {
        "noise reduction": sample(26_000, 700, 16, 2), "sharpness": sample(9050, 500, 16, 3),
        "interpolation": sample(47_000, 900, 16, 4),
    })  # fmt: skip
    assert [c.name for c in found] == ["interpolation", "noise reduction", "sharpness"]
    assert [c.different for c in found] == [True, True, False]
    assert all(c.p_corrected >= c.p for c in found)
    raw = stats.mannwhitneyu(base, sample(47_000, 900, 16, 4)).pvalue
    assert found[0].p == pytest.approx(raw)


def test_s18_analogue_against_digital_as_a_ratio_with_interval() -> None:
    digital, analogue = sample(12_000, 400, 20, 1), sample(36_000, 900, 20, 2)
    r = ratio(digital, analogue)
    assert r is not None
    assert r.ci_low is not None
    assert r.ci_high is not None
    assert r.ci_low < 3 < r.ci_high
    assert r.of_medians == pytest.approx(float(np.median(analogue) / np.median(digital)))
    every = sorted(y / x for x in digital for y in analogue)
    assert r.ratio == pytest.approx(float(np.exp(np.median(np.log(every)))), rel=1e-6)  # the shift, of logarithms
    assert any(r.ci_low == pytest.approx(v, rel=1e-8) for v in every)
    assert any(r.ci_high == pytest.approx(v, rel=1e-8) for v in every)


# --- enough, settled


def test_enough_readings_and_how_many_more() -> None:
    assert enough(None).more == 6
    wide = enough(summarise(sample(20_000, 3000, 10)))
    assert not wide.enough
    assert wide.more is not None
    narrow = enough(summarise(sample(20_000, 3000, 10 + 3 * wide.more)))
    assert narrow.enough
    assert enough(summarise(sample(20_000, 300, 12))).enough


def test_readings_for_a_wanted_width() -> None:
    """Half a standard deviation needs more readings than one; both bear out on simulated normal readings."""
    n = readings_for(0.6)
    assert readings_for(1.0) < n
    rnd = np.random.default_rng(1)
    widths = []
    for _ in range(400):
        s = summarise(np.rint(rnd.normal(20_000, 1000, n)).astype(int).tolist())
        assert s is not None
        assert s.ci_low_us is not None
        assert s.ci_high_us is not None
        widths.append((s.ci_high_us - s.ci_low_us) / 2000)
    assert np.mean(widths) == pytest.approx(0.6, abs=0.12)


def test_a_picture_that_still_moves_has_not_settled() -> None:
    falling = [round(11_000 + 9000 * np.exp(-n / 3)) for n in range(20)]
    when = next(n for n in range(1, 21) if settled(falling[:n]))
    assert 8 <= when <= 16
    assert settled(sample(11_000, 350, 6))
    assert not settled([11_000] * 4)
