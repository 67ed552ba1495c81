"""Films as meters, on light added up in small steps of time (tests/films.py), not by the sums that are tested."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from numpy.typing import NDArray

from tests.films import lit
from wavilex.core.film.between import apart
from wavilex.core.film.clock import FilmError, clock, flicker, folded, said_by_counter, said_by_flicker
from wavilex.core.film.patches import Rect, light_of, propose
from wavilex.core.film.press import Patch, measure
from wavilex.core.film.sound import NS_A_METRE, clicks, offset
from wavilex.core.film.strip import BITS, CELLS, cadence, cells_of, counts
from wavilex.core.film.trace import Trace, turns

_WITHIN = 40


def _filmed(
    at: NDArray[np.float64], begins: NDArray[np.float64], shutter: float, rise: float, noise: NDArray[np.float64]
) -> Trace:
    """A patch as a camera sees it: light looked at `_WITHIN` times while the shutter is open."""
    when = at[:, None] + (np.arange(_WITHIN) + 0.5) / _WITHIN * shutter
    light = lit(when.ravel(), begins, 0.22, rise).reshape(when.shape).mean(axis=1)
    return Trace(np.round(at * 1e9).astype(np.int64), 0.1 + 0.6 * light + noise)


def _errors(
    rng: np.random.Generator, fps: int, share: float, rise: float, drop: float
) -> tuple[list[float], list[bool], int]:
    """Of one film with 20 presses: errors in frames of the place, whether the interval held, what was invented."""
    starts = 0.7 + np.cumsum(rng.uniform(0.6, 0.85, 20))
    lags = np.maximum(0.002, rng.uniform(0.003, 0.12) + rng.uniform(-0.001, 0.001, 20))
    missing = rng.choice(20, 2, replace=False)
    at = np.arange(round((starts[-1] + 1) * fps)) / fps
    at = at[rng.random(len(at)) >= drop]
    answers = starts + lags
    answers[missing] = np.nan
    noise = rng.normal(0, 0.008, (2, len(at)))
    drift = 0.05 * np.sin(0.7 * at)
    pair = [
        _filmed(at, begins, share / fps, r, n + drift)
        for begins, r, n in ((starts, 0.0, noise[0]), (answers, rise, noise[1]))
    ]
    found, _ = measure(*pair)
    read = [p for p in found if p.what == "read"]
    assert [p.what for p in found].count("missed") == 2
    errors, held = [], []
    for p, lag in zip(read, lags[~np.isnan(answers)], strict=True):
        assert p.lag_ns is not None
        assert p.half_ns is not None
        assert p.start is not None
        assert p.answer is not None
        off = p.lag_ns - lag * 1e9
        errors.append(off / max(p.start.gap_ns, p.answer.gap_ns))
        held.append(abs(off) <= p.half_ns)
    return errors, held, sum(p.what == "unasked" for p in found)


def test_every_press_is_found_none_invented_and_the_intervals_hold() -> None:
    """Rates × open shutters × rises × dropped frames: bias under 0.1 frame, 99 % within one, intervals 93 to 97 %."""
    rng = np.random.default_rng(20)
    every: list[float] = []
    held: list[bool] = []
    for fps in (60, 120, 240, 960):
        for share in (0.15, 0.55, 0.95):
            for rise in (0.0, 0.004):
                for drop in (0.0, 0.04):
                    errors, ok, invented = _errors(rng, fps, share, rise, drop)
                    assert len(errors) == 18
                    assert not invented
                    every += errors
                    held += ok
    assert abs(float(np.mean(every))) < 0.1
    assert float(np.mean(np.abs(every) <= 1)) >= 0.99
    assert 0.93 <= float(np.mean(held)) <= 0.97


def test_rows_read_out_one_after_another_are_allowed_for() -> None:
    rng = np.random.default_rng(4)
    fps, readout, lag = 240, 0.0035, 0.030
    starts = 0.7 + np.cumsum(rng.uniform(0.6, 0.8, 25))
    at = np.arange(round((starts[-1] + 1) * fps)) / fps
    patches = (Patch(0.9, 0.05), Patch(0.2, 0.05))
    pair = [
        # a row further down sees the same light later: its frame begins later
        _filmed(at, begins - p.row * readout, 0.5 / fps, 0.0, rng.normal(0, 0.005, len(at)))
        for begins, p in ((starts, patches[0]), (starts + lag, patches[1]))
    ]
    known, _ = measure(*pair, patches=patches, readout_ns=readout * 1e9)
    bare, _ = measure(*pair, patches=patches)
    off = float(np.mean([p.lag_ns for p in known if p.lag_ns])) / 1e9 - lag
    assert abs(off) < 0.1 / fps
    assert float(np.mean([p.lag_ns for p in bare if p.lag_ns])) / 1e9 - lag > 0.4 / fps
    assert all(p.half_ns and p.lag_ns and abs(p.lag_ns - lag * 1e9) <= p.half_ns for p in bare)


def test_nothing_that_turns_gives_nothing() -> None:
    rng = np.random.default_rng(9)
    for n in (3, 400):
        at = (np.arange(n) * 4_166_667).astype(np.int64)
        assert turns(Trace(at, 0.3 + rng.normal(0, 0.01, n))) == []
    slow = 0.3 + 0.2 * np.sin(np.arange(2000) / 300)
    assert turns(Trace((np.arange(2000) * 4_166_667).astype(np.int64), slow + rng.normal(0, 0.005, 2000))) == []


@pytest.mark.parametrize(("fps", "mains"), [(240, 100), (240, 120), (480, 100), (120, 100), (960, 120)])
def test_the_lamps_flicker_bears_out_the_rate_or_contradicts_it(fps: int, mains: int) -> None:
    """Folding by sampling a cosine, not by the formula; 120 Hz at 240 lies at the edge of what can be seen."""
    rng = np.random.default_rng(fps)
    t = np.arange(1500) / fps
    light = 1 + 0.1 * np.cos(2 * np.pi * mains * t + 0.3) + rng.normal(0, 0.01, 1500)
    cycles = flicker(light)
    assert cycles is not None
    assert cycles == pytest.approx(folded(mains, fps), abs=0.002)
    assert said_by_flicker(cycles, fps)[0] is True
    wrong, words = said_by_flicker(cycles, 30 if cycles < 0.3 or cycles > 0.36 else 240)
    assert wrong is False
    assert f"{fps:g}" in words
    assert flicker(1 + rng.normal(0, 0.01, 1500)) is None


def test_a_film_stored_slow_is_stretched_and_times_that_fall_are_refused() -> None:
    at = (np.arange(100) * 33_333_333).astype(np.int64)
    true = clock(at, 240)
    assert true.stored_fps == pytest.approx(30, abs=0.01)
    assert true.at_ns[-1] == pytest.approx(99 / 240 * 1e9, abs=2000)
    with pytest.raises(FilmError, match="do not follow"):
        clock(at[::-1], None)


def test_sound_against_picture_within_a_millisecond_and_half_a_frame() -> None:
    rng = np.random.default_rng(2)
    for fps, late, metres in ((240, 0.042, 2.0), (60, -0.015, 0.3)):
        flashes = 0.8 + np.arange(12) * 1.0 + rng.uniform(0, 0.02, 12)
        at = np.arange(round(13.5 * fps)) / fps
        light = _filmed(at, flashes, 0.5 / fps, 0.0, rng.normal(0, 0.01, len(at)))
        heard = flashes + late + metres * NS_A_METRE / 1e9
        t = np.arange(round(13.5 * 48_000)) / 48_000
        sound = rng.normal(0, 0.004, len(t))
        for begin in heard:
            u = t - begin
            own = (u >= 0) & (u < 0.02)
            sound[own] += 0.5 * np.sin(2 * np.pi * 1800 * u[own]) * np.exp(-u[own] / 0.006)
        level = np.abs(sound[: len(sound) // 12 * 12]).reshape(-1, 12).max(axis=1)
        got = offset(turns(light, "rise"), clicks(level, 0.0, 250_000.0), metres, 1e9 / fps)
        assert got is not None
        assert got.events == 12
        assert abs(got.offset_ns - late * 1e9) <= 1e6 + 0.5e9 / fps


@pytest.mark.parametrize("late", [0.0123, -0.031, 0.0], ids=["later", "earlier", "at once"])
def test_two_screens_in_one_film_and_the_interval_holds(late: float) -> None:
    """Against the truth they were rendered with: flashes at no even beat, one of each screen missing."""
    inside, fps = 0, 240
    for seed in range(20):
        rng = np.random.default_rng(seed)
        at = np.arange(0, 14, 1 / fps)
        flashes = 0.8 + np.cumsum(rng.uniform(0.95, 1.15, 11))
        one = _filmed(at, np.delete(flashes, 4), 0.5 / fps, 0.002, rng.normal(0, 0.01, len(at)))
        two = _filmed(at, np.delete(flashes, 7) + late, 0.5 / fps, 0.004, rng.normal(0, 0.01, len(at)))
        told = apart(turns(one, "rise"), turns(two, "rise"), 0.0, 1e9 / fps)
        assert told is not None
        assert (told.events, told.alone) == (9, 2)
        assert abs(told.ns - late * 1e9) <= 1e9 / fps
        low, high = told.low_ns, told.high_ns
        assert low is not None
        assert high is not None
        inside += low - told.grain_ns <= late * 1e9 <= high + told.grain_ns
    assert inside == 20
    assert apart([], turns(one, "rise"), 0.0, 1e9 / fps) is None


def test_what_darkens_is_read_like_what_lights_up() -> None:
    """The same film as a negative gives the same presses, and nothing where the wrong way is asked."""
    rng = np.random.default_rng(3)
    at = np.arange(0, 10, 1 / 240)
    presses = 0.8 + np.cumsum(rng.uniform(0.9, 1.1, 7))
    start, answer = (_filmed(at, b, 0.5 / 240, 0.002, rng.normal(0, 0.005, len(at))) for b in (presses, presses + 0.04))
    dark = Trace(answer.at_ns, 1 - answer.light)
    lit_up, _ = measure(start, answer)
    darkened, _ = measure(start, dark, ways=("rise", "fall"))
    wrong, _ = measure(start, dark)  # the end of the dark is no answer to the press
    assert [p.lag_ns for p in darkened] == pytest.approx([p.lag_ns for p in lit_up], abs=1)
    assert all(p.lag_ns is None or p.lag_ns > 200e6 for p in wrong)


def test_a_counter_of_known_rate_bears_the_films_rate_out_or_names_another() -> None:
    """By hand: a film taken at 240 and read as 30 shows a counter of 60 at 7.5 a second."""
    assert said_by_counter(59.9, 60.0, 240) == (
        True, "the counter bears it out: it runs at 60 a second and is seen at 59.90",
    )  # fmt: skip
    borne, words = said_by_counter(7.5, 60.0, 30)
    assert not borne
    assert words.endswith("is seen at 7.50: that fits 240 frames a second")
    assert said_by_counter(50.0, 60.0, 100)[1].endswith("seen at 50.00: that fits 120 frames a second")
    assert "fits" not in said_by_counter(44.0, 60.0, 100)[1]


def test_the_strip_tells_frames_shown_twice_and_missed() -> None:
    """Every count reads back; neighbours differ in one cell (the reflected code's own property, F. Gray 1953)."""
    every = np.array([cells_of(n) for n in range(1 << BITS)], float)
    assert list(counts(0.05 + 0.8 * every)) == list(range(1 << BITS))
    assert all(int(np.abs(a[:-1] - b[:-1]).sum()) == 1 for a, b in pairwise(every))
    assert list(counts(np.full((5, CELLS), 0.4))) == [-1] * 5
    rng = np.random.default_rng(6)
    hz, fps = 59.94, 240
    shown: list[int] = []
    count = 1000
    for n in range(600):  # one refresh each: 12 times the same count again, 5 times one is never shown
        count += 0 if n % 50 == 20 else 2 if n % 120 == 61 else 1
        shown.append(count % 1024)
    t = np.arange(round(590 / hz * fps)) / fps + rng.uniform(0, 0.001)
    cells = np.array([cells_of(shown[int(x * hz)]) for x in t], float)
    told = cadence(counts(0.03 + 0.7 * cells + rng.normal(0, 0.03, cells.shape)), (t * 1e9).astype(np.int64))
    assert told is not None
    assert (told.twice, told.missed) == (12, 5)
    real = (shown[589] - 1000) % 1024 / (590 / hz)
    assert told.hz == pytest.approx(real, rel=0.01)
    assert cadence(np.full(50, -1), np.arange(50) * 1000) is None


def test_patches_are_proposed_what_starts_first() -> None:
    rng = np.random.default_rng(1)
    stack = rng.normal(60, 2, (900, 54, 96))
    stack[:, 10:40, 50:90] += 5
    for n in range(60, 860, 160):
        stack[n : n + 60, 35:45, 8:16] += 110
        stack[n + 9 : n + 69, 10:40, 50:90] += 90
    film = stack.clip(0, 255).round().astype(np.uint8)
    at = (np.arange(900) * 4_166_667).astype(np.int64)
    first, second = propose(film, at)
    assert (first.rises, second.rises) == (5, 5)
    assert (first.rect.x, first.rect.y) == pytest.approx((8 / 96, 35 / 54), abs=0.02)
    assert second.rect.width == pytest.approx(40 / 96, abs=0.03)
    assert propose(np.full((200, 54, 96), 70, np.uint8), at[:200]) == []
    half = light_of(np.array([[[16, 235]]], np.uint8), Rect(0.25, 0, 0.5, 1))
    assert half[0] == pytest.approx(0.5)
    with pytest.raises(FilmError, match="within the picture"):
        Rect(0.5, 0, 0.7, 1)
