"""CTA-861-I video identification codes. Tests compare every one with `edid-decode --vic N`."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from functools import lru_cache

from wavilex.core.errors import TimingError
from wavilex.core.video.cta_table import CTA_ROWS, Row
from wavilex.core.video.timing import Timing

VICS = tuple(CTA_ROWS)
_NTSC = Fraction(1000, 1001)
# HDMI 1.4b table 8-13: the older HDMI block's own four codes, now CTA codes
HDMI_VICS = {1: 95, 2: 94, 3: 93, 4: 98}


def timing_of_row(row: Row, code: str, family: str) -> Timing:
    """A timing from a table row, at its listed clock."""
    ha, hf, hs, hb, va, vf, vs, vb, khz, flags = row
    interlaced, half_line = "i" in flags, "=" not in flags
    lines = Fraction(va + vf + vs + vb) + (Fraction(1, 2) if interlaced and half_line else 0)
    refresh = Fraction(khz * 1000) / ((ha + hf + hs + hb) * lines)
    h_plus, v_plus = flags[-2] == "+", flags[-1] == "+"
    return Timing(
        code, family, ha, hf, hs, hb, va, vf, vs, vb, khz * 1000, refresh, interlaced, h_plus, v_plus, half_line
    )  # fmt: skip


@lru_cache(maxsize=512)
def cta_timing(vic: int, refresh: Fraction | None = None) -> Timing:
    """The timing of a CTA code, at its listed clock or at its 1000/1001 partner.

    `refresh` in Hz picks the partner: `60000/1001` for vic 97, `60` for vic 2.
    Raises TimingError for a code or a rate the code does not stand for.
    Source: CTA-861-I, table 1 and its note that one code stands for both rates.
    """
    row = CTA_ROWS.get(vic)
    if row is None:
        raise TimingError(f"there is no CTA code {vic}", where=f"vic:{vic}")
    listed = timing_of_row(row, f"vic:{vic}", "CTA")
    if refresh is None or refresh == listed.refresh:
        return listed
    allowed = _partners(listed.refresh)
    if refresh not in allowed:
        names = " or ".join(str(r) for r in (listed.refresh, *allowed))
        raise TimingError(f"vic {vic} runs at {names} Hz, not {refresh}", where=f"vic:{vic}@{refresh}")
    clock_hz = round(refresh * listed.h_total * listed.v_total)
    return replace(listed, code=f"vic:{vic}@{refresh}", refresh=refresh, pixel_clock_hz=clock_hz)


def hdmi_timing(hdmi_vic: int) -> Timing:
    """The timing of one of the older HDMI block's four 4K codes. Raises TimingError."""
    if hdmi_vic not in HDMI_VICS:
        raise TimingError("the older HDMI block has codes 1 to 4", where=f"hdmivic:{hdmi_vic}")
    return replace(cta_timing(HDMI_VICS[hdmi_vic]), code=f"hdmivic:{hdmi_vic}", family="HDMI")


def _partners(listed: Fraction) -> tuple[Fraction, ...]:
    """The other rate a code stands for, in Hz: none for the 50 Hz family."""
    if round(listed) % 6:
        return ()
    whole = Fraction(round(listed))
    return (whole * _NTSC,) if listed == whole else (whole,)
