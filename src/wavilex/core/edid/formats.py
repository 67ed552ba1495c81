"""Short references to whole families of formats: the video-format block (tag 6).

Source: CTA-861.6, resolution identification codes (RID) and video format descriptors, value from memory [M];
tests hold every code and rate against `edid-decode --list-rid-timings`.
"""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

from wavilex.core.errors import TimingError
from wavilex.core.video.cta import cta_timing
from wavilex.core.video.cta_table import CTA_ROWS
from wavilex.core.video.ovt import ovt_timing
from wavilex.core.video.timing import Timing

# code: width, height, and which of two CTA codes of that size is meant (0: the first, 16:9; 1: the second, 64:27)
RIDS: dict[int, tuple[int, int, int]] = dict(enumerate((
    (1280, 720, 0), (1280, 720, 1), (1680, 720, 0), (1920, 1080, 0), (1920, 1080, 1), (2560, 1080, 0),
    (3840, 1080, 0), (2560, 1440, 0), (3440, 1440, 0), (5120, 1440, 0), (3840, 2160, 0), (3840, 2160, 1),
    (5120, 2160, 0), (7680, 2160, 0), (5120, 2880, 0), (5120, 2880, 1), (6880, 2880, 0), (10240, 2880, 0),
    (7680, 4320, 0), (7680, 4320, 1), (10240, 4320, 0), (15360, 4320, 0), (11520, 6480, 0), (11520, 6480, 1),
    (15360, 6480, 0), (15360, 8640, 0), (15360, 8640, 1), (20480, 8640, 0),
), 1))  # fmt: skip
RATES = (24, 25, 30, 48, 50, 60, 100, 120, 144, 200, 240, 300, 360, 400, 480)
_FACTORS = (1, 2, 4, 8, 12, 16)  # bits 0 to 5 of a descriptor's second byte
_DEFAULT_SECOND = 0x83  # left out: 30 and 60 Hz


@lru_cache(maxsize=512)
def rid_timing(rid: int, hz: int) -> Timing:
    """The timing of a resolution code at a rate: the CTA code's where there is one, else the optimised one.

    Raises TimingError for an unknown code or one that makes no timing at this rate.
    """
    if rid not in RIDS:
        raise TimingError(f"there is no resolution code {rid}", where=f"rid:{rid}")
    width, height, which = RIDS[rid]
    vics = [
        vic for vic, row in CTA_ROWS.items()
        if (row[0], row[4]) == (width, height) and "i" not in row[9] and round(cta_timing(vic).refresh) == hz
    ]  # fmt: skip
    return cta_timing(vics[which]) if len(vics) > which else ovt_timing(width, height, Fraction(hz))


def rates_of(descriptor: bytes) -> tuple[int, ...]:
    """Rates in Hz that a descriptor of one to four bytes states."""
    first = descriptor[0]
    second = descriptor[1] if len(descriptor) > 1 else _DEFAULT_SECOND
    third = descriptor[2] if len(descriptor) > 2 else 0
    rates = {24: first & 0x40, 144: second & 0x40, 48: third & 1}
    for bit, factor in enumerate(_FACTORS):
        if second >> bit & 1:
            rates[25 * factor] = first & 0x80
            rates[30 * factor] = second & 0x80
    return tuple(sorted(hz for hz, said in rates.items() if said))


def read_formats(d: bytes) -> tuple[list[Timing], bool, list[str]]:
    """The timings of a video-format block's body, whether they go in 4:2:0 too, and what could not be read."""
    if not d:
        return [], False, ["the block is empty"]
    width = (d[0] & 3) + 1
    timings, faults = [], []
    if (len(d) - 1) % width:
        faults.append(f"{len(d) - 1} bytes are no whole number of {width}-byte descriptors")
    for at in range(1, len(d) - width + 1, width):
        descriptor = d[at : at + width]
        for hz in rates_of(descriptor):
            try:
                timings.append(rid_timing(descriptor[0] & 63, hz))
            except TimingError as error:
                faults.append(error.message)
                break
    return timings, bool(d[0] & 0x80), faults
