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
    ("text", "says"),
    [
        ("", "line rate is missing"), ("262 lines", "line rate is missing"), ("15.7 kHz", "lines a frame are missing"),
        ("31.5 kHz 449 lines", "picture’s size is missing"), ("15.7 kHz 262 lines red", "'red' is not understood"),
        ("640x480@abc", "write"), ("15.734 kHz 262 lines 900x240", "blanking included"),
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
