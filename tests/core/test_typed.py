"""Analogue signals as people type them, against the clocks of BT.601, BT.1700 and CTA-861."""

from __future__ import annotations

from fractions import Fraction

import pytest

from wavilex.core.errors import SignalError
from wavilex.core.scan.described import Scan
from wavilex.core.scan.signals import analogue
from wavilex.core.scan.typed import scan_data, typed
from wavilex.library import starter_profiles


@pytest.mark.parametrize(
    ("text", "line_hz", "vertical_hz"),
    [
        ("480i", Fraction(4_500_000, 286), Fraction(60_000, 1001)),  # BT.1700: 525 lines at 59.94 fields
        ("576i", Fraction(15_625), Fraction(50)),
        ("240p", Fraction(4_500_000, 286), Fraction(4_500_000, 286 * 262)),
        ("288p", Fraction(15_625), Fraction(15_625, 312)),
        ("480p", Fraction(9_000_000, 286), Fraction(60_000, 1001)),  # BT.1358, value from memory; VIC 2 at 59.94
        ("576p", Fraction(31_250), Fraction(50)),
    ],
)
def test_names(text: str, line_hz: Fraction, vertical_hz: Fraction) -> None:
    read = typed(text)
    s = analogue(read.scan)
    assert (s.line_hz, s.vertical_hz) == (line_hz, vertical_hz)
    assert s.shape == Fraction(4, 3)
    assert "BT.601" in read.guessed


def test_modes_are_their_standards_timings() -> None:
    """640 × 480: 25.175 MHz, 800 × 525 (DMT 0x04); line and frame sync on two wires."""
    scan = typed("640x480@60").scan
    assert (scan.dot_clock_hz, scan.dots, scan.lines, scan.sync) == ("25175000", "800", 525, "two_wires")


@pytest.mark.parametrize(
    "text",
    ["59.0625/11 MHz 341.25 dots 262 lines 256x224", "256x224, 262 lines, 341.25 dots, 59.0625/11 MHz"],
)
def test_a_machines_own_figures_in_any_order(text: str) -> None:
    """The 256-dot console of the starter library: 5.3693 MHz, dots 8:7."""
    own = starter_profiles()["brindlo-c16"].ports[0].sends[0]
    read = typed(text)
    assert read.guessed == ""
    assert analogue(read.scan).line_hz == analogue(own).line_hz
    assert scan_data(read.scan)["pixel_aspect"] == "8:7"


def test_what_is_left_out_is_worked_out_or_said_to_be_a_guess() -> None:
    read = typed("15.734 kHz 60.05 Hz")
    assert (read.scan.lines, read.scan.active) == (262, "720x240")
    assert read.guessed
    assert analogue(read.scan).shape == Fraction(4, 3)
    inter = typed("15.625 kHz 50 Hz interlaced")
    assert (inter.scan.lines, inter.scan.interlaced) == (625, True)
    assert analogue(inter.scan).vertical_hz == 50
    clock = typed("7 MHz 15.625 kHz 312 lines 256x192")
    assert (Fraction(clock.scan.dots), clock.guessed) == (448, "")


@pytest.mark.parametrize(
    ("text", "lines", "vertical_hz"),
    [
        ("15.734 kHz 59.94 Hz interlaced", 525, 59.94), ("15.734 kHz 60 Hz interlaced", 525, 59.94),
        ("15.75 kHz 60 Hz interlaced", 525, 60.0), ("15.625 kHz 50 Hz interlaced", 625, 50.0),
        ("15.7 kHz 60 Hz interlaced", 525, 59.81), ("33.75 kHz 60 Hz interlaced 1920x1080", 1125, 60.0),
        ("15.3 kHz 59.51 Hz interlaced", 515, 59.42),  # no total in use: the nearest odd one to 514.2
        ("31.469 kHz 60 Hz 640x480", 525, 59.94), ("31.469 kHz 60 Hz", 525, 59.94),
        ("24.83 kHz 56.4 Hz", 440, 56.43), ("31.469 kHz 70.09 Hz 640x400", 449, 70.09),
        ("15.734 kHz 60 Hz", 262, 60.05), ("15.734 kHz 59.826 Hz", 263, 59.83), ("45 kHz 60 Hz 1280x720", 750, 60.0),
        ("24.83 kHz 56.4 Hz 640x400", 440, 56.43), ("48.363 kHz 60 Hz 1024x768", 806, 60.0),
    ],
)  # fmt: skip
def test_lines_of_a_frame_out_of_the_rates_that_were_typed(text: str, lines: int, vertical_hz: float) -> None:
    """BT.1700 (525, 625), DMT (449 of 720x400's family, 525, 806), CTA-861 (750, 1125); 24 kHz machines have 440 lines:
    common practice. Two fields share a whole, odd number of lines, as the half line between them parts their rows.
    """
    scan = typed(text).scan
    assert scan.lines == lines
    assert float(analogue(scan).vertical_hz) == pytest.approx(vertical_hz, abs=0.01)


@pytest.mark.parametrize(
    ("text", "active"),
    [("31.469 kHz 60 Hz", "640x480"), ("24.83 kHz 56.4 Hz", "640x400"), ("45 kHz 60 Hz", "1280x720"),
     ("33.75 kHz 60 Hz interlaced", "1920x1080"), ("48.363 kHz 60 Hz", "1024x768")],
)  # fmt: skip
def test_a_picture_nobody_typed_is_the_usual_one_of_its_lines_and_a_guess(text: str, active: str) -> None:
    read = typed(text)
    assert read.scan.active == active
    assert f"its picture: {active}" in read.guessed


def test_a_guessed_clock_yields_to_the_picture_that_was_typed() -> None:
    read = typed("24.83 kHz 56.4 Hz 640x400")
    assert "640 dots fill a line" in read.guessed
    assert Fraction(read.scan.dots) == Fraction(640 * 858, 720)
    assert analogue(read.scan).shape == Fraction(4, 3)
    assert typed("15.734 kHz 262 lines 640x240").guessed == "its dot clock: BT.601’s"


@pytest.mark.parametrize(
    ("text", "line_khz", "hz"),
    [("720p", 45, 60), ("720p50", 37.5, 50), ("1080i", 33.75, 60), ("1080i50", 28.125, 50), ("1080p", 67.5, 60),
     ("1280x720@60", 45, 60), ("1920x1080i@60", 33.75, 60),
     ("74.25 MHz 2200 dots 1125 lines 1920x1080 interlaced", 33.75, 60)],
)  # fmt: skip
def test_wide_component_is_wide(text: str, line_khz: float, hz: float) -> None:
    """SMPTE 296M and 274M: square dots in 16:9, by component as by any other wire."""
    s = analogue(typed(text).scan)
    assert (float(s.line_hz) / 1000, float(s.vertical_hz), s.shape) == (line_khz, hz, Fraction(16, 9))


def test_computer_rasters_are_meant_for_a_tube_of_4_to_3() -> None:
    for text in ("640x480@60", "1024x768@60", "1280x1024@60", "24.83 kHz 56.4 Hz 640x400"):
        assert analogue(typed(text).scan).shape == Fraction(4, 3)


@pytest.mark.parametrize(
    ("text", "aspect"),
    [
        ("3/2 x ntsc 341.25 dots 262 lines 256x224", "8:7"), ("ntsc × 3/2 341.25 dots 262 lines 256x224", "8:7"),
        ("5.3693 MHz 341.25 dots 262 lines 256x224", "8:7"), ("5.369318 MHz 341.25 dots 262 lines 256x224", "8:7"),
        ("6.7116 MHz 426.5625 dots 262 lines 320x224", "32:35"),
        ("bt601 858 dots 525 lines 704x480 interlaced", "10:11"),
        ("13.5 MHz 858 dots 525 lines 704x480 interlaced", "10:11"),
    ],
)  # fmt: skip
def test_pixel_aspects_are_exact_where_the_clock_has_a_name(text: str, aspect: str) -> None:
    """The square-pixel rate (135/11 MHz, half of it for whole lines) over the clock: 5.3693 MHz is 3/2 of 315/88."""
    read = typed(text)
    assert scan_data(read.scan)["pixel_aspect"] == aspect
    if text.startswith("5.3693 "):
        assert read.guessed == "its dot clock: 3/2 of the 525-line colour carrier"


def test_a_clock_that_is_no_simple_part_stays_as_it_was_typed() -> None:
    assert Fraction(typed("7.1 MHz 455 dots 262 lines 320x200").scan.dot_clock_hz) == 7_100_000
    assert Fraction(typed("5.3111 MHz 340 dots 262 lines 256x224").scan.dot_clock_hz) == 5_311_100


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "line rate is missing"), ("262 lines", "line rate is missing"), ("15.7 kHz", "lines a frame are missing"),
        ("31.5 kHz 700 lines", "picture’s size is missing"), ("15.7 kHz 262 lines red", "'red' is not understood"),
        ("640x480@abc", "write"), ("7 MHz 448 dots 262 lines 900x240", "blanking included"),
        ("3/0 x ntsc 341 dots 262 lines", "divides by 0"),
        ("5000x5000@60", "at most 4000"), ("7/0 MHz 9 dots", "divides by 0"),
        ("0 MHz 341 dots 262 lines", "write"), ("7 MHz 0 dots 262 lines", "write"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_says_what_is_missing(text: str, says: str) -> None:
    with pytest.raises(SignalError, match=says):
        typed(text)


def test_every_signal_of_the_library_says_what_it_is() -> None:
    for profile in starter_profiles().values():
        for port in profile.ports:
            for scan in port.sends:
                data = scan_data(scan)
                assert data["name"]
                assert Scan.model_validate(data["scan"]) == scan


@pytest.mark.parametrize(
    ("said", "same", "hz"),
    [("288p50", "288p", 50), ("480i60", "480i", 60), ("576i 50 Hz", "576i", 50), ("720p50", "720p50", 50),
     ("1080i60", "1080i", 60)],
)  # fmt: skip
def test_a_name_with_its_rate_is_that_name(said: str, same: str, hz: int) -> None:
    """BT.601, SMPTE 296M and 274M name rates with the lines; people put both together."""
    scan = typed(said).scan
    assert scan == typed(same).scan
    rate = Fraction(scan.dot_clock_hz) / Fraction(scan.dots) / scan.lines * (2 if scan.interlaced else 1)
    assert abs(rate - hz) < Fraction(1, 2)


@pytest.mark.parametrize(("said", "lines", "colour"), [
    ("PAL", 312, "pal"), ("ntsc", 262, "ntsc"), ("secam", 312, "secam"), ("PAL60", 262, "pal_525"),
])  # fmt: skip
def test_a_colour_system_is_taken_for_its_lines_and_said_to_be_a_guess(said: str, lines: int, colour: str) -> None:
    """What PAL and NTSC say is how colour is carried (BT.470); the lines that usually go with it are a guess."""
    read = typed(said)
    assert (read.scan.lines, read.scan.colour) == (lines, colour)
    assert "says only how colour is carried" in read.guessed
