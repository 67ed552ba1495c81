"""Readings on steps: counted in frames, or late by whole frames; against simulated truth, scipy, and sums by hand."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from scipy.stats import binomtest, t

from wavilex.core.lag.difference import compare, costs, equivalence, ratio
from wavilex.core.lag.enough import enough
from wavilex.core.lag.groups import Group, names
from wavilex.core.lag.mean import mean_of
from wavilex.core.lag.methods import camera, reference
from wavilex.core.lag.plan import Cell
from wavilex.core.lag.readings import Readings, Way, off_of, step_of, way_of
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.steps import steps_of
from wavilex.core.lag.summary import LEVEL, judge, summarise
from wavilex.core.lag.table import by_group, read_table, write_table

FRAME_60 = Fraction(1_000_000, 60)


def counted(lags_us: np.ndarray, fps: int, rng: np.random.Generator) -> Readings:
    """Presses of these true lags, each filmed with the camera's frames at a phase of their own: by the clock alone."""
    frame = 1e6 / fps
    pressed = rng.random(len(lags_us)) * frame
    frames = np.floor((pressed + lags_us) / frame) - np.floor(pressed / frame)
    return Readings(tuple(round(float(n) * frame) for n in frames), Fraction(1_000_000, fps))


@pytest.mark.parametrize("fps", [60, 240, 480])
@pytest.mark.parametrize("n", [6, 12, 20, 40])
def test_counted_readings_hold_the_truth_wherever_it_lies_in_a_frame(fps: int, n: int) -> None:
    """Coverage of the interval of the mean, true lags spread over a frame: 93 % at least, of 400 sets."""
    rng = np.random.default_rng(1000 * fps + n)
    frame = 1e6 / fps
    hits, worst = 0, 1.0
    for phase in np.linspace(0, 1, 10, endpoint=False):
        truth = 30_000 + phase * frame
        here = 0
        for _ in range(40):
            s = summarise(counted(np.full(n, truth), fps, rng))
            assert s is not None
            assert s.ci_low_us is not None
            assert s.ci_high_us is not None
            here += s.ci_low_us <= truth <= s.ci_high_us
        hits += here
        worst = min(worst, here / 40)
    assert hits / 400 >= 0.93
    assert worst >= 0.8  # nowhere in the frame is it a trap


@pytest.mark.parametrize("n", [8, 20, 40])
@pytest.mark.parametrize("spread", [0.1, 0.5, 1.5])
def test_counted_readings_of_a_lag_that_varies(n: int, spread: float) -> None:
    """The lag itself varies, evenly and by a skewed tail; the mean of the truth is held."""
    rng = np.random.default_rng(int(100 * spread) + n)
    frame = 1e6 / 240
    hits = 0
    for run in range(300):
        noise = rng.normal(0, 1, n) if run % 2 else rng.gamma(4, 0.5, n) - 2
        hits += _holds(summarise(counted(50_000 + spread * frame * noise, 240, rng)), 50_000)
    assert hits / 300 >= 0.92


def _holds(s: object, truth: float) -> bool:
    low, high = getattr(s, "ci_low_us", None), getattr(s, "ci_high_us", None)
    return low is not None and high is not None and low <= truth <= high


def test_the_median_of_counts_stays_on_a_frame_and_their_mean_does_not() -> None:
    """A lag of 30.4 frames of 1/60: three in five counts say 30. By the arithmetic of the standard procedure."""
    frame = FRAME_60
    r = Readings(tuple(round(n * frame) for n in [30] * 12 + [31] * 8), frame)
    s = summarise(r)
    assert s is not None
    assert (s.of, s.lag_us) == ("mean", s.mean_us)
    assert float(s.lag_us) == pytest.approx(30.4 * float(frame), abs=1)
    assert float(s.median_us) == pytest.approx(500_000, abs=1)
    low, high = binomtest(8, 20).proportion_ci(0.95, method="exact")  # Clopper and Pearson, by scipy
    own = t.interval(0.95, 19, loc=30.4, scale=np.std([0] * 12 + [1] * 8, ddof=1) / np.sqrt(20))
    assert s.ci_low_us == pytest.approx(min(30 + low, own[0]) * float(frame), abs=1)
    assert s.ci_high_us == pytest.approx(max(30 + high, own[1]) * float(frame), abs=1)


def test_counts_that_are_all_alike_still_have_an_interval() -> None:
    """Eight times 10 frames: the true lag lies up to the exact upper bound beside them, on both sides."""
    s = summarise(Readings((41_667,) * 8, Fraction(1_000_000, 240)))
    assert s is not None
    upper = binomtest(0, 8).proportion_ci(0.95, method="exact").high
    assert upper == pytest.approx(1 - 0.025 ** (1 / 8))
    assert s.ci_low_us == pytest.approx((10 - upper) * 1e6 / 240, abs=2)
    assert s.ci_high_us == pytest.approx((10 + upper) * 1e6 / 240, abs=2)
    assert s.outliers == 0
    far = summarise(Readings((41_667,) * 8, Fraction(1_000_000, 240), off_us=500))
    assert far is not None
    assert far.ci_high_us == s.ci_high_us + 500


def test_over_more_frames_the_interval_is_the_t_one_and_never_narrower_than_counting() -> None:
    frames = [9, 10, 10, 11, 12, 10, 9, 11]
    frame = 1e6 / 240
    m = mean_of(Readings(tuple(round(n * frame) for n in frames), Fraction(1_000_000, 240)), LEVEL)
    own = t.interval(0.95, 7, loc=np.mean(frames), scale=np.std(frames, ddof=1) / np.sqrt(8))
    assert m.low_us is not None
    assert m.low_us == pytest.approx(own[0] * frame, rel=1e-3)
    jitter = [10] * 6 + [9, 11]  # the t interval of these is narrower than what eight counts can tell
    told = mean_of(Readings(tuple(round(n * frame) for n in jitter), Fraction(1_000_000, 240)), LEVEL)
    assert told.high_us is not None
    exact = binomtest(0, 8).proportion_ci(0.95, method="exact").high
    assert told.high_us >= (10 + exact) * frame - 2


@pytest.mark.parametrize("n", [8, 20, 100])
@pytest.mark.parametrize("late", [0.1, 0.3, 0.5, 0.7, 0.9])
def test_a_difference_on_frame_steps_holds_the_difference_of_means(n: int, late: float) -> None:
    """Screens that are a frame late now and then: 93 % coverage at least, of 200 pairs, frame known and not."""
    rng = np.random.default_rng(int(100 * late) + n)

    def draw(share: float) -> tuple[int, ...]:
        return tuple(int(v) for v in rng.normal(20_000, 500, n) + 16_667 * (rng.random(n) < share))

    truth, hits = (0.45 - late) * 16_667, 0
    for run in range(200):
        frame = FRAME_60 if run % 2 else None
        d = compare(Readings(draw(late), frame_us=frame), Readings(draw(0.45), frame_us=frame))
        assert d is not None
        assert d.ci_low_us is not None
        assert d.ci_high_us is not None
        assert d.ci_low_us <= d.us <= d.ci_high_us  # the figure lies in its own interval
        hits += d.ci_low_us <= truth <= d.ci_high_us
    assert hits / 200 >= 0.93


def test_a_free_difference_is_its_own_estimate_with_its_interval() -> None:
    """Hodges and Lehmann's estimate by numpy: the median of all pairwise differences; skewed readings, so that the
    difference of medians is another figure.
    """
    rng = np.random.default_rng(5)
    a = [int(v) for v in 20_000 + rng.exponential(2500, 21)]
    b = [int(v) for v in 26_000 + rng.exponential(2500, 18)]
    d = compare(a, b)
    assert d is not None
    assert d.of == "shift"
    assert float(d.us) == np.median([y - x for x in a for y in b])
    assert float(d.medians_us) == np.median(b) - np.median(a)
    assert d.us != d.medians_us
    assert d.ci_low_us is not None
    assert d.ci_high_us is not None
    assert d.ci_low_us <= d.us <= d.ci_high_us
    big = [int(v) for v in rng.exponential(2500, 301)], [int(v) for v in 900 + rng.exponential(2500, 200)]
    wide = compare(*big)
    assert wide is not None
    assert float(wide.us) == np.median(np.subtract.outer(big[1], big[0]))


def test_late_frames_are_recognised_and_said_and_weigh_on_equivalence() -> None:
    """45 % against 55 % a frame late: medians may agree to a hair, the means are 1.7 ms apart."""

    def screen(late: int, of: int, seed: int) -> Readings:
        noise = np.random.default_rng(seed).normal(0, 200, of)
        return Readings(tuple(int(20_000 + 16_667 * (n < late) + x) for n, x in enumerate(noise)), frame_us=FRAME_60)

    few = equivalence(screen(18, 40, 1), screen(22, 40, 2))
    assert few is not None
    assert few.decision == "undecided"
    assert "45 % against 55 % a frame late" in few.sentence
    assert few.difference.of == "means"
    assert float(few.difference.us) == pytest.approx(1667, abs=150)
    same = equivalence(screen(900, 2000, 3), screen(910, 2000, 4))
    assert same is not None
    assert same.decision == "same"
    other = equivalence(screen(900, 2000, 3), screen(1500, 2000, 4))
    assert other is not None
    assert other.decision == "changed"
    one = equivalence(screen(0, 12, 5), screen(12, 12, 6))  # none against all: no set lies on two steps by itself
    assert one is not None
    assert one.decision == "changed"
    most = equivalence(screen(3, 12, 5), screen(12, 12, 6))  # the second lies on one step, the first one's upper
    assert most is not None
    assert "25 % against 100 % a frame late" in most.sentence


@pytest.mark.parametrize("free", ["uniform", "normal", "skewed"])
def test_readings_that_lie_on_no_steps_are_taken_for_none(free: str) -> None:
    rng = np.random.default_rng(9)
    draw = {
        "uniform": lambda: 16_667 * rng.random(30), "normal": lambda: rng.normal(0, 3000, 30),
        "skewed": lambda: rng.exponential(6000, 30),
    }[free]  # fmt: skip
    found = [steps_of(Readings(tuple(int(20_000 + v) for v in draw()), frame_us=FRAME_60)) for _ in range(100)]
    assert sum(f is not None for f in found) <= 3


def test_two_cameras_and_a_meter_are_compared_by_their_means() -> None:
    rng = np.random.default_rng(12)
    slow = counted(np.full(40, 41_000.0), 60, rng)
    quick = counted(np.full(40, 41_000.0), 240, rng)
    meter = [int(v) for v in rng.normal(41_000, 300, 40)]
    for other in (quick, meter):
        d = compare(slow, other)
        assert d is not None
        assert d.of == "means"
        assert d.ci_low_us is not None
        assert d.ci_high_us is not None
        assert d.ci_low_us <= 0 <= d.ci_high_us
        assert d.steps == ""
    (cost,) = costs(slow, {"quick": quick})
    assert not cost.different
    (cost,) = costs(slow, {"late": counted(np.full(40, 75_000.0), 60, rng)})
    assert cost.different
    times = ratio(slow, counted(np.full(40, 82_000.0), 60, rng))
    assert times is not None
    assert times.of == "means"
    assert times.ci_low is not None
    assert times.ci_high is not None
    assert times.ci_low < 2 < times.ci_high


def test_a_bound_is_judged_by_what_counting_can_tell() -> None:
    """Six counts of two frames at 60 a second: 33 ms, and anything from 25 to 41 would look so: 40 is undecided."""
    s = summarise(Readings((33_333,) * 6, FRAME_60))
    assert s is not None
    assert judge(s, 40, "television").verdict == "undecided"
    assert judge(s, 45, "television").verdict == "within"
    told = enough(s)
    assert not told.enough
    assert "more for ±1 ms" in told.sentence
    coarse = enough(summarise(Readings((33_333,) * 6, Fraction(1_000_000, 24))))
    assert "too coarse" in coarse.sentence
    fine = enough(summarise(Readings((33_333,) * 40, Fraction(1_000_000, 480))))
    assert fine.enough


# --- kept apart


def test_methods_are_never_mixed() -> None:
    cell = Cell("1920x1080@60", "", "game")
    groups = [
        Group(cell, (11_000,) * 8, (), ("meter",), (), Way("meter", None)),
        Group(cell, (12_500,) * 8, (), ("camera",), (), Way("camera", Fraction(1_000_000, 240))),
        Group(Cell("", "", "film"), (90_000,) * 8, (), ("meter",), (), Way("meter", None)),
    ]
    assert list(names(groups)) == [
        "game, 1080p60, meter", "game, 1080p60, camera frames, 240 a second", "film",
    ]  # fmt: skip
    report = lag_report(groups, Asked())
    told = {c["condition"]: c["summary"] for c in report["conditions"]}
    assert [s["of"] for s in told.values() if s] == ["median", "mean", "median"]
    assert "frames of 4.2 ms" in (told["game, 1080p60, camera frames, 240 a second"] or {})["steps_words"]


def test_a_step_is_kept_with_a_reading_and_found_in_old_ones() -> None:
    taken = camera(19, 240, 2)
    assert taken.step_ns == 4_166_667
    assert step_of("camera", taken.step_ns, taken.uncertainty_us) == Fraction(4_166_667, 1000)
    assert off_of(step_of("camera", taken.step_ns, taken.uncertainty_us), taken.uncertainty_us) == 665
    assert reference(4512.5, 4480.0, 60).step_ns == 16_666_667
    assert step_of("camera", None, 4167) == 4167  # kept before steps were
    assert step_of("camera", None, None) is None
    assert step_of("meter", None, 100) is None
    assert way_of("camera", 4_166_667, None).words == "camera frames, 240 a second"


def test_a_table_keeps_uncertainty_and_step_and_groups_by_them() -> None:
    text = (
        "device,condition,lag_ms,method,uncertainty_ms,step_ms\n"
        "TV,game,41.667,camera,4.167,4.166667\nTV,game,45.833,camera,4.167,4.166667\n"
        "TV,game,33.333,camera,16.667,16.666667\nTV,game,44.1,meter,,\n"
    )
    rows, refused = read_table(text)
    assert refused == []
    assert (rows[0].uncertainty_us, rows[0].step_ns, rows[3].step_ns) == (4167, 4_166_667, None)
    groups = by_group(rows)
    assert {n: len(r.values) for n, r in groups.items()} == {
        "game, camera frames, 240 a second": 2, "game, camera frames, 60 a second": 1, "game, meter": 1,
    }  # fmt: skip
    again, _ = read_table(write_table(rows))
    assert again == rows
    _, refused = read_table(text + "TV,game,44,camera,x,\nTV,game,44,camera,,-1\n")
    assert [r.why.split(" ")[0] for r in refused] == ["uncertainty_ms", "step_ms"]
