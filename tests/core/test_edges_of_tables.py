"""Edges of tables: readings in and out, how many a session holds, how near a clock must lie to a formula's."""

from __future__ import annotations

import csv
from dataclasses import replace
from fractions import Fraction
from io import StringIO

import pytest

from tests.rigs import device, lead, rig, run
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.table import mode_choices, shared_timings
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.shape import _cure
from wavilex.core.edid.facts import address_of
from wavilex.core.gear.classes import TEMPLATES, from_template
from wavilex.core.gear.profile import profile_data
from wavilex.core.lag.enough import settled
from wavilex.core.lag.methods import LagError
from wavilex.core.lag.recognise import buffers
from wavilex.core.lag.table import COLUMNS, Row, lag_us, read_table, within, write_table
from wavilex.core.rig.model import Socket
from wavilex.core.video.codes import parse_timing
from wavilex.library import starter_profiles


def row(n: int, condition: str = "game", note: str = "") -> Row:
    return Row("", "TV", "", condition, "", "", "typed", 1000 + n, False, note)


@pytest.mark.parametrize("count", [0, 1, 499, 500, 501, 1000, 1500])
def test_a_table_of_any_length_is_one_table(count: int) -> None:
    """However it is cut on the way: read by Python's csv, a header and a line for each reading, none twice."""
    rows = [row(n) for n in range(count)]
    lines = list(csv.reader(StringIO(write_table(rows))))
    assert lines[0] == list(COLUMNS)
    assert [line[COLUMNS.index("lag_ms")] for line in lines[1:]] == [f"{r.lag_us / 1000:.3f}".rstrip("0").rstrip(".")
                                                                    for r in rows]  # fmt: skip
    assert read_table(write_table(rows)) == (rows, [])


def test_a_session_holds_so_many_conditions_and_any_number_of_readings() -> None:
    rows = [row(0, "a"), row(1, "b"), row(2, "c"), row(3, "a"), row(4, "d"), row(5, "c")]
    kept, refused = within(rows, ["z"], 4)
    assert [r.condition for r in kept] == ["a", "b", "c", "a", "c"]
    assert len(refused) == 1
    assert "holds 4 conditions; 'd' is one too many" in refused[0].why
    assert within(rows, ["z"], 5) == (rows, [])
    assert within(rows[:1], ["a"], 1) == (rows[:1], [])
    assert within(rows[:1], ["z"], 1)[0] == []


@pytest.mark.parametrize(("text", "us"), [
    ("0.001", 1), ("0,5", 500), ("12.3456", 12_346), ("59999.999", 59_999_999), ("0.0005", None), ("60000", None),
    ("0", None), ("-1", None), ("inf", None), ("", None), ("12 ms", None),
])  # fmt: skip
def test_a_lag_lies_between_a_microsecond_and_a_minute(text: str, us: int | None) -> None:
    if us is None:
        with pytest.raises(LagError):
            lag_us(text)
    else:
        assert lag_us(text) == us


@pytest.mark.parametrize(("field", "letters"), [("condition", 60), ("device", 60), ("note", 200), ("signal", 200)])
def test_texts_of_a_reading_are_as_long_as_said(field: str, letters: int) -> None:
    def refused(length: int) -> int:
        said = {"device": "TV", "condition": "game", "lag_ms": "5", field: "x" * length}
        out = StringIO()
        csv.writer(out).writerows([said.keys(), said.values()])
        return len(read_table(out.getvalue())[1])

    assert (refused(letters), refused(letters + 1)) == (0, 1)


@pytest.mark.parametrize("kind", ["rb0", "rb1"])
@pytest.mark.parametrize(
    ("off_hz", "known"), [(0, True), (10_000, True), (-10_000, True), (10_001, False), (-10_001, False)]
)
def test_a_clock_within_what_an_edid_can_say_is_a_formulas(kind: str, off_hz: int, known: bool) -> None:
    """A detailed timing counts its clock in 10 kHz (VESA E-EDID 1.4): nearer than that it is the formula's."""
    t = parse_timing(f"cvt:2560x1440@144:{kind}")
    seen = replace(t, code="", pixel_clock_hz=t.pixel_clock_hz + off_hz)
    assert (address_of(seen) == t.code) is known
    assert known or address_of(seen).startswith("modeline:")


def test_modes_are_listed_by_the_area_of_their_picture() -> None:
    """2048x1536 has more dots than 2560x1080, though its sides are shorter together."""
    screen = profile_data(starter_profiles()["kelpine-m27"])
    screen["video"] = {**screen["video"], "modes": ["cvt:2560x1080@60:rb1", "cvt:2048x1536@60:rb1", "vic:16", "vic:63"]}
    r = rig(
        device("pc", "tindrel-r7"), device("m", "kelpine-m27"), {"op": "set_profile", "device": "m", "profile": screen},
        lead("A1", "pc/hdmi", "m/hdmi1"), run("main", "pc", "m", mode="1920x1080@60"),
    )  # fmt: skip
    result = run_result(Layer(r), r.runs["main"])
    sizes = [(t.h_active, t.v_active, t.nominal_hz) for t in shared_timings(result.stations)]
    assert sizes == [(2048, 1536, 60), (2560, 1080, 60), (1920, 1080, 120), (1920, 1080, 60)]
    assert mode_choices(Layer(r), r.runs["main"])


@pytest.mark.parametrize(("error", "left", "cut", "says"), [
    (0.0, 0.0, 1.0, "The whole of it with"), (0.0, 0.0, 0.99, "At its own size with"), (0.99, 0.0, 1.0, "The whole"),
    (1.0, 0.0, 0.0, "True with"), (6.7, 0.99, 0.0, "True with"), (6.7, -1.0, 0.0, "Nearest with"),
])  # fmt: skip
def test_what_the_best_shape_is_called(error: float, left: float, cut: float, says: str) -> None:
    """A percent counts as true, and a percent cut as cut: figures of our own."""
    assert _cure(error, left, cut).startswith(says)


@pytest.mark.parametrize(("processing_us", "held"), [
    (0, "none"), (7_999, "none"), (8_000, "part"), (15_999, "part"), (16_000, "1 whole frame"),
    (31_999, "1 whole frame"), (32_000, "2 whole frames"), (48_000, "3 whole frames"),
])  # fmt: skip
def test_frames_a_screen_holds_back_are_whole_ones(processing_us: int, held: str) -> None:
    """A frame of 16 ms: under half of one is none, from the whole on it is counted."""
    found = buffers(Fraction(processing_us), Fraction(16_000))
    assert found.kind == held or f"holds back {held} at least" in found.words


@pytest.mark.parametrize(("steps", "done"), [
    ((-900, -900, -900, -900), False), ((-900, 0, -900, -900), True), ((900, 900, 900, 900), False),
    ((900, 900, 0, 900), True), ((500, -500, 500, -500), True), ((0, 0, 0, 0), True), ((1, 300, 300, 300), False),
])  # fmt: skip
def test_readings_that_all_go_one_way_have_not_settled(steps: tuple[int, ...], done: bool) -> None:
    """Five readings near each other; a rule of our own: a step of none is no step that way."""
    values = [30_000]
    for step in steps:
        values.append(values[-1] + step)
    assert settled(values) is done
    assert settled(values[1:]) is False


@pytest.mark.parametrize(("size", "hz", "first"), [
    ("3840x2160", "60", "vic:97"), ("3840x2160", "120", "vic:118"), ("3840x2160", "144", "cvt:3840x2160@144:rb2"),
    ("2560x1440", "120", "cvt:2560x1440@120:rb1"), ("2560x1440", "144", "cvt:2560x1440@144:rb2"),
])  # fmt: skip
def test_a_monitors_own_mode_is_the_code_where_there_is_one(size: str, hz: str, first: str) -> None:
    """CTA-861: 2160p60 and 2160p120 have codes; above 120 Hz monitors use the second reduced blanking."""
    template = next(t for t in TEMPLATES if t.id == "monitor")
    answers = {"panel": size, "rate": hz}
    known = {q.id: [a for a, _ in q.answers] for q in template.questions}
    if size not in known["panel"] or hz not in known["rate"]:
        pytest.skip("not offered")
    modes = from_template("monitor", answers, "Kelpine", "x").video.modes
    assert modes is not None
    assert modes[0] == first


def test_an_analogue_input_has_all_of_itself_to_spare() -> None:
    """No link's share is used where no digital link is."""
    r = rig(device("h8", "brindlo-h8"), device("tube", "brindlo-t14"), run("main", "h8", "tube", mode="720x576@50"))
    (option,) = rank_places(r, Socket("h8", "scart"))
    assert (option.verdict, option.spare_percent) == ("fits", 100)
