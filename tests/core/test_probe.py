"""A browser's frame times as a rate: against simulated clocks that round, jitter, drop and wander."""

from __future__ import annotations

import random
from fractions import Fraction

import pytest

from tests.rigs import s05
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.prove.arrival import arrival
from wavilex.core.prove.cadence import cadence, cadence_words
from wavilex.core.prove.patterns import PATTERNS
from wavilex.core.prove.probe import BrowserIn, FramesIn, PatternIn, measured, probe_lines, what_can_cause

RATES = [Fraction(60_000, 1001), Fraction(60), Fraction(120_000, 1001), Fraction(120), Fraction(50), Fraction(144),
         Fraction(240), Fraction(30_000, 1001), Fraction(24_000, 1001)]  # fmt: skip


def clock(hz: Fraction, seconds: float, *, quantum_us: int = 1, jitter_us: int = 0, drops: set[int] = frozenset(),
          start_us: int = 0, seed: int = 1) -> list[int]:  # fmt: skip
    """Times at which a browser that runs at `hz` calls back: refreshes of which some are missed, each told late by up
    to the jitter and rounded down to the quantum.
    """
    chance = random.Random(seed)
    count = int(hz * Fraction(seconds))
    out = []
    for n in range(count):
        if n in drops:
            continue
        exact = start_us + n * 1_000_000 / hz + chance.randint(0, jitter_us)
        out.append(int(exact) // quantum_us * quantum_us)
    return out


@pytest.mark.parametrize("hz", RATES)
@pytest.mark.parametrize(("quantum", "jitter"), [(1, 0), (100, 40), (1000, 0), (5, 300)])
def test_the_rate_is_found_to_a_thousandth(hz: Fraction, quantum: int, jitter: int) -> None:
    found = cadence(clock(hz, 12, quantum_us=quantum, jitter_us=jitter))
    assert found is not None
    assert abs(found.hz - float(hz)) <= float(hz) / 1000
    assert abs(found.hz - float(hz)) <= found.error_hz + float(hz) * 2 * jitter / 12_000_000
    assert (found.missed, found.early, found.even) == (0, 0, True)


@pytest.mark.parametrize("start", [0, 123, 9_999_991])
def test_59_94_is_told_from_60(start: int) -> None:
    slow = cadence(clock(RATES[0], 12, quantum_us=100, start_us=start))
    fast = cadence(clock(RATES[1], 12, quantum_us=100, start_us=start))
    assert slow is not None
    assert fast is not None
    assert slow.enough
    assert fast.enough
    assert slow.hz + slow.error_hz < fast.hz - fast.error_hz
    assert (slow.nominal, fast.nominal) == (60, 60)
    assert "59.94" in cadence_words(slow)
    assert "60.00" in cadence_words(fast)


def test_too_short_is_not_enough_and_says_so() -> None:
    brief = cadence(clock(Fraction(60), 2.5, quantum_us=1000))
    assert brief is not None
    assert not brief.enough
    told = measured(FramesIn(kind="frames", times_us=clock(Fraction(60), 2.5, quantum_us=1000)))
    assert "too few to tell 59.94 from 60.00" in told[1].words
    assert cadence(clock(Fraction(60), 1)) is None


@pytest.mark.parametrize("seed", range(20))
def test_every_dropped_frame_is_counted(seed: int) -> None:
    chance = random.Random(seed)
    hz = chance.choice(RATES)
    inner = range(5, int(hz * 12) - 5)
    drops = set(chance.sample(inner, 30))
    found = cadence(clock(hz, 12, quantum_us=100, jitter_us=150, drops=drops, seed=seed))
    assert found is not None
    assert found.missed == len(drops)
    runs = sum(1 for d in drops if d - 1 not in drops)
    assert found.late == runs
    assert abs(found.hz - float(hz)) <= float(hz) / 1000
    assert sum(n for _k, n in found.histogram) == found.frames - 1


def test_half_the_frames_dropped_is_half_the_rate_not_sixty_drops() -> None:
    """A browser held to every second refresh of a 120 Hz picture says 60; it knows no other."""
    found = cadence(clock(Fraction(120), 12, drops=set(range(1, 1440, 2))))
    assert found is not None
    assert (round(found.hz), found.missed) == (60, 0)


def test_a_rate_that_follows_the_title_is_no_clock() -> None:
    chance = random.Random(4)
    times, at = [], 0
    for _ in range(900):
        at += chance.randint(8_400, 21_000)
        times.append(at)
    found = cadence(times)
    assert found is not None
    assert not found.steady
    assert "follows the title" in cadence_words(found)


def test_a_pause_is_no_row_of_missed_frames() -> None:
    first = clock(Fraction(60), 6, quantum_us=100)
    found = cadence(first + [t + 40_000_000 for t in first])
    assert found is not None
    assert (found.missed, found.frames) == (0, len(first))


@pytest.mark.parametrize("times", [[0] * 500, list(range(500, 0, -1)), [0, 1], [5] * 100 + [6] * 300])
def test_nonsense_measures_nothing(times: list[int]) -> None:
    assert measured(FramesIn(kind="frames", times_us=times)) == [] or cadence(times) is not None


def test_the_predicted_rate_is_of_what_arrives() -> None:
    r = s05()
    layer = Layer(r, "plan")
    says = {x.key: x.says for x in probe_lines(arrival(layer, run_result(layer, r.runs["main"])))}
    assert says == {"rate": "120 Hz", "size": None, "range": None}, "the browser's own choices contradict nothing"


def test_60_in_a_120_signal_names_what_can_cause_it() -> None:
    assert "every frame twice" in what_can_cause("60 Hz", "120 Hz")
    assert "counter" in what_can_cause("60 Hz", "120 Hz")
    assert "another rate" in what_can_cause("50 Hz", "120 Hz")
    assert what_can_cause("120 Hz", "120 Hz") == ""
    assert what_can_cause("60 Hz", None) == ""


def test_the_browsers_own_words() -> None:
    data = BrowserIn(kind="browser", width=1920, height=1080, ratio_thousandths=2000, gamut="p3", high_range=True,
                     colour_bits=24, pads=1, pad_interval_us=4000)  # fmt: skip
    said = {x.key: x.words for x in measured(data)}
    assert (said["size"], said["ratio"]) == ("3840×2160", "1920×1080, each 2 device pixels wide")
    assert said["range"] == "yes"
    assert "4.0 ms" in said["pads"]


def test_page_not_in_front_is_said() -> None:
    told = measured(FramesIn(kind="frames", times_us=clock(Fraction(60), 12), hidden=1))
    assert "not in front" in told[1].words


def test_patterns_have_one_good_answer_each_and_say_what_to_see() -> None:
    assert len({p.id for p in PATTERNS}) == len(PATTERNS) >= 8
    for p in PATTERNS:
        assert sum(a.good for a in p.answers) == 1
        assert "\n" not in p.see
        assert p.see.endswith(("?", ".")), p.id
    moving = {p.id for p in PATTERNS if p.moving}
    assert moving == {"steps", "trail", "sound"}
    bad = measured(PatternIn(kind="pattern", pattern="edges", answer="cut"))
    assert (bad[0].observed, bad[0].should) == ("an edge is cut off", "all four edges, a round ring")
    assert measured(PatternIn(kind="pattern", pattern="edges", answer="none")) == []
