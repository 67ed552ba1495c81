"""The bench beside its statistics: methods, scan-out, kinds of signal, regression, sound, plans, tables, reports."""

from __future__ import annotations

import random
from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_lag_judgement import sample
from wavilex.core.lag.budget import lip_sync
from wavilex.core.lag.difference import (
    EQUIVALENCE_LEVEL,
    compare,
)
from wavilex.core.lag.groups import Group
from wavilex.core.lag.methods import LagError, camera, reference
from wavilex.core.lag.plan import Cell, cells, ordered
from wavilex.core.lag.recognise import buffers, interlaced, low_progressive
from wavilex.core.lag.regression import Epoch, changes
from wavilex.core.lag.report import Asked, lag_report
from wavilex.core.lag.scanout import parts, scan_out, slope
from wavilex.core.lag.summary import median, summarise
from wavilex.core.lag.table import COLUMNS, by_group, read_table, write_table
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.named import shown, timing_of

# --- methods


def test_camera_frames() -> None:
    """19 frames at 240 a second: 79.2 ms, a frame at either end: ±4.2 ms."""
    taken = camera(19, 240)
    assert (taken.lag_us, taken.uncertainty_us) == (79_167, 4167)
    assert camera(19, 240, 2).uncertainty_us == 4167 + 665  # and up to 0.84 % of 79.2 ms
    with pytest.raises(LagError):
        camera(0, 240)


def test_two_counters_in_one_picture() -> None:
    taken = reference(4512.5, 4480.0, 60)
    assert (taken.lag_us, taken.uncertainty_us) == (32_500, 16_667)
    with pytest.raises(LagError, match="right way round"):
        reference(4480, 4512, 60)


# --- scan-out and kinds of signal


def test_scan_out_of_1080p60() -> None:
    """CTA VIC 16: 2200 × 1125 at 148.5 MHz: a line takes 14.81 µs, 1080 of them 16 ms; the middle is 8 ms down."""
    s = scan_out(parse_timing("vic:16"))
    assert float(s.line_us) == pytest.approx(14.8148, abs=1e-3)
    assert s.at_us(Fraction(1, 2)) == 8000
    split = parts(Fraction(11_300), parse_timing("vic:16"), Fraction(1, 2))
    assert split.processing_us == 3300


@pytest.mark.parametrize(
    ("values", "strobes", "kind"),
    [({"top": 4800, "middle": 11_200, "bottom": 17_600}, False, "rolling"),
     ({"top": 19_900, "middle": 20_000, "bottom": 20_100}, False, "at_once"),
     ({"top": 19_900, "bottom": 20_100}, True, "strobed"), ({"top": 17_000, "bottom": 5000}, False, "reversed"),
     ({"top": 10_000, "bottom": 16_000}, False, "between")],
)  # fmt: skip
def test_top_to_bottom_tells_what_kind_of_light(values: dict[str, int], strobes: bool, kind: str) -> None:
    lags = {p: median(sample(v, 100, 9, n)) for n, (p, v) in enumerate(values.items())}
    found = slope(lags, parse_timing("vic:16"), strobes=strobes)
    assert found is not None
    assert found.kind == kind
    assert found.expected_us == 16_000


def test_s18_interlaced_and_low_resolution_progressive_are_flagged() -> None:
    field = Fraction(1_000_000, 60)
    progressive, weave = sample(11_000, 300, 12, 1), sample(44_300, 400, 12, 2)
    low_as_weave, low_as_is = sample(44_500, 400, 12, 3), sample(11_100, 300, 12, 4)
    found = interlaced(progressive, weave, field)
    assert found is not None
    assert found.kind == "holds_fields"
    assert found.words.startswith("interlaced is 2.0 fields later: it holds 2 fields")
    taken = low_progressive(progressive, weave, low_as_weave, field)
    assert taken is not None
    assert taken.kind == "as_interlaced"
    plain = low_progressive(progressive, weave, low_as_is, field)
    assert plain is not None
    assert plain.kind == "as_progressive"


@pytest.mark.parametrize(("left", "kind"), [(2000, "none"), (12_000, "part"), (36_000, "frames")])
def test_whole_frames_held_back(left: int, kind: str) -> None:
    assert buffers(Fraction(left), Fraction(16_667)).kind == kind


# --- regression, sound


def test_a_firmware_that_changed_the_lag_raises_an_alert() -> None:
    epochs = [Epoch("2026-06-01", "2.4", tuple(sample(11_000, 300, 10, 1))),
              Epoch("2026-07-01", "2.4", tuple(sample(11_100, 300, 10, 2))),
              Epoch("2026-09-01", "2.6", tuple(sample(19_000, 300, 10, 3)))]  # fmt: skip
    assert [c.alert for c in changes(epochs)] == [False, True]


@pytest.mark.parametrize(
    ("picture", "sound", "most", "verdict", "delay"),
    [(92_000, 20_000, 200, "set", 72), (92_000, 20_000, 50, "set", 50), (30_000, 20_000, 200, "fits", 10),
     (11_000, 60_000, 200, "fits", 0), (11_000, 120_000, 200, "late", None), (None, 20_000, 200, "unknown", None)],
)  # fmt: skip
def test_a_bar_can_only_delay_sound(
    picture: int | None, sound: int, most: int, verdict: str, delay: int | None
) -> None:
    """Bounds of EBU R 37 (value from memory): 40 ms early, 60 ms late."""
    found = lip_sync(None if picture is None else Fraction(picture), Fraction(sound), "the bar", most)
    assert (found.verdict, found.delay_ms) == (verdict, delay)


# --- plan, table, report


def test_a_grouped_plan_spares_resyncs_and_a_random_one_mixes() -> None:
    wanted = cells(["standard", "game"], ["1920x1080@60", "1280x720@60"], [], ["top", "middle", "bottom"])
    assert len(wanted) == 12
    grouped = ordered(wanted, "grouped", random.Random(3).shuffle)
    assert sorted(grouped) == sorted(wanted)

    def resyncs(order: list[Cell]) -> int:
        return sum(a.signal != b.signal for a, b in pairwise(order))

    assert resyncs(grouped) == 1
    assert resyncs(ordered(wanted, "random", random.Random(3).shuffle)) > 1


ROWS = """taken_at,device,input,condition,signal,position,method,lag_ms,discarded,note
2026-11-25T14:03:22Z,TV,HDMI 3,game,1920x1080@60,middle,meter,11.3,no,
2026-11-25T14:03:23Z,TV,HDMI 3,game,1920x1080@60,middle,meter,"11,4",no,
2026-11-25T14:03:24Z,TV,HDMI 3,game,1920x1080@60,left,meter,11.4,no,
yesterday,TV,HDMI 3,game,,,meter,11.4,no,
,TV,,game,,,feeling,11.4,no,
,TV,,game,,,guess,25,no,a feeling
,TV,,game,,,typed,-4,no,
,TV,,game,,,typed,11.9,yes,somebody walked past
,TV,,game
"""


def test_a_table_is_read_row_by_row_and_told_where_it_is_wrong() -> None:
    rows, refused = read_table(ROWS)
    assert [r.lag_us for r in rows] == [11_300, 11_400, 25_000, 11_900]
    assert [(r.line, r.why.split(",")[0].split(":")[0]) for r in refused] == [
        (4, "position is top"), (5, "taken_at is a time in UTC like 2026-11-25T14"), (6, "method is meter"),
        (8, "lag_ms lies between 0 and 60000"), (10, "has 4 values where the first line names 10"),
    ]  # fmt: skip
    again, none = read_table(write_table(rows))
    assert (again, none) == (rows, [])
    groups = by_group(rows)
    assert groups["game, HDMI 3, 1920x1080@60, middle"].values == (11_300, 11_400)
    assert groups["game"].values == ()  # a guess and a discarded reading: neither counts


@pytest.mark.parametrize("text", ["", "a,b\n1,2\n"])
def test_what_is_no_table_is_refused_at_its_first_line(text: str) -> None:
    with pytest.raises(LagError) as told:
        read_table(text)
    assert told.value.where == "line 1"


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused_plainly(text: str) -> None:
    try:
        rows, refused = read_table(",".join(COLUMNS) + "\n" + text)
    except LagError:
        return
    assert all(r.lag_us > 0 for r in rows)
    assert all(r.why for r in refused)


def test_guesses_are_told_and_never_mixed_in() -> None:
    groups = [Group(Cell(condition="game"), tuple(sample(11_000, 200, 8)), guesses=(40_000,), methods=("meter",))]
    condition = lag_report(groups, Asked())["conditions"][0]
    assert condition["summary"]["n"] == 8
    assert condition["guess_ms"] == 40
    assert condition["summary"]["high_ms"] < 12


def test_a_hundred_thousand_readings_are_summarised_quickly_enough_to_wait_for() -> None:
    """Timed in `make bench`; here only that it is done, and agrees with numpy."""
    values = np.rint(np.random.default_rng(2).normal(11_000, 400, 100_000)).astype(int).tolist()
    s = summarise(values)
    assert s is not None
    assert float(s.median_us) == np.median(values)
    assert s.sd_us == pytest.approx(float(np.std(values, ddof=1)))
    d = compare(values[:50_000], values[50_000:], EQUIVALENCE_LEVEL)
    assert d is not None
    assert d.ci_low_us is not None


def test_s18_a_report_over_signals_and_places() -> None:
    """The simulated screen: rolling light, two fields held, low-resolution progressive taken for interlaced."""
    from wavilex.instruments.framing import encode
    from wavilex.instruments.lag_protocol import MeterReading, decode
    from wavilex.instruments.lag_simulator import Simulator

    meter, groups = Simulator(11), []
    for signal in ("1920x1080@60", "1920x1080i@60", "720x480@60", "1440x480i@60", "1440x240@60"):
        for position in ("top", "middle", "bottom"):
            meter.answer(encode(f"SIGNAL {signal}"))
            meter.answer(encode(f"LABEL television game {position}"))
            meter.answer(encode("TAKE 40"))
            lines = [decode(line) for _ in range(40) for line in meter.reading()]
            values = [m.lag_us for m in lines if isinstance(m, MeterReading)][26:]
            groups.append(Group(Cell(signal, "", "game", position), tuple(values), methods=("meter",)))
    report = lag_report(groups, Asked("television", None, "game, 1080p60, middle"))
    assert [p["kind"] for p in report["places"]] == ["rolling"] * 5
    told = {h["condition"] for h in report["handling"]}  # each against the progressive of its own size and rate
    assert told == {"game, 1080i60", "game, 480i60"}
    kinds = [h["kind"] for h in report["handling"]]
    assert kinds.count("as_interlaced") == 3  # 240p against 480i and 480p, at each of three places
    assert set(kinds) == {"holds_fields", "as_interlaced"}
    assert report["baseline"] == "game, 1080p60, middle"


@pytest.mark.parametrize(
    ("signal", "name", "code"),
    [("1920x1080i@60", "1080i60", "vic:5"), ("1440x480i@60", "480i60", "vic:6"), ("1920x1080@60", "1080p60", "vic:16"),
     ("whatever", "whatever", None)],
)  # fmt: skip
def test_test_signals_by_name(signal: str, name: str, code: str | None) -> None:
    timing = timing_of(signal)
    assert shown(signal) == name
    assert (timing.code if timing else None) == code
