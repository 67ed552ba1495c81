"""Names and figures of link rates: TMDS ceilings and FRL steps, and how any link is written.

Source: HDMI 1.4b, 2.0 (TMDS ceilings), 2.1 and 2.2 (FRL); value from memory.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal, NamedTuple

from wavilex.core.errors import SignalError
from wavilex.core.link.dp_rates import DVI_LINK_HZ, NO_DP, DpRate, dp_rate, dvi_words

TMDS_STEP_MHZ = 5
TMDS_MAX_MHZ = 600
TMDS_MIN_MHZ = 25
TMDS_MIN_HZ = TMDS_MIN_MHZ * 1_000_000
TMDS_BITS_PER_CHARACTER = 30

DeadLead = Literal["lead_turned", "lead_unfed"]
Stop = (
    Literal[
        "rate", "no_audio_room", "no_blanking_room", "below_minimum_clock", "capacity_unknown", "compression_unknown",
        "lead_too_long", "no_common_link", "dvi_format",
    ]
    | DeadLead
)  # fmt: skip  # why a link does not carry a signal, or why nobody knows


@dataclass(frozen=True, slots=True, order=True)
class FrlRate:
    """A fixed-rate-link step. Ordered by total rate. `NO_FRL` is a known absence, not an unknown."""

    total_gbps: int
    lanes: int
    lane_gbps: int

    @property
    def code(self) -> str:
        return f"{self.lanes}x{self.lane_gbps}" if self.lanes else "none"

    @property
    def name(self) -> str:
        """`4 × 10 Gb/s`."""
        return f"{self.lanes} × {self.lane_gbps} Gb/s" if self.lanes else "no FRL"


NO_FRL = FrlRate(0, 0, 0)
FRL_RATES = tuple(
    FrlRate(lanes * gbps, lanes, gbps)
    for lanes, gbps in ((3, 3), (3, 6), (4, 6), (4, 8), (4, 10), (4, 12), (4, 16), (4, 20), (4, 24))
)
_BY_CODE = {r.code: r for r in (NO_FRL, *FRL_RATES)}
FRL_CODES = tuple(_BY_CODE)


def frl_rate(code: str) -> FrlRate:
    """`4x10` → its rate; `none` → NO_FRL. Raises SignalError."""
    try:
        return _BY_CODE[code]
    except KeyError:
        known = ", ".join(_BY_CODE)
        raise SignalError(f"{code!r} is no FRL rate; one of {known}") from None


NO_SCRAMBLING_HZ = 340_000_000  # above it both ends scramble, agreed over SCDC (HDMI 2.0)
_OVER = re.compile(r"(frl|tmds|dp|usbc|dvi):([^,\s]+)(,noscdc)?$", re.ASCII)
_DVI_LINKS = {"single": 1, "dual": 2}


class Ceilings(NamedTuple):
    """A link by its rate. tmds_hz None: the question does not arise (FRL); 0: there is none. dvi: TMDS links of DVI."""

    tmds_hz: int | None
    frl: FrlRate
    dp: DpRate = NO_DP
    dvi: int = 0


def parse_over(text: str) -> Ceilings:
    """`tmds:600`, `frl:4x10`, `dp:4xhbr3`, `usbc:2xhbr3`, `dvi:dual` → what such a link carries. Raises SignalError.

    `tmds:600,noscdc`: an end without the control channel for scrambling stops at 340 MHz, whatever it declares.
    """
    m = _OVER.match(text)
    if not m:
        raise SignalError(
            f"{text!r} is no link; write frl:4x10, tmds:600, tmds:600,noscdc, dp:4xhbr3, usbc:2xhbr3 or dvi:dual"
        )
    if m[3] and m[1] not in ("frl", "tmds"):
        raise SignalError("noscdc is of HDMI links only")
    if m[1] in ("dp", "usbc"):
        lanes = dp_rate(m[2])
        if lanes is NO_DP:
            raise SignalError(f"{text} is no link; write {m[1]}:4xhbr3")
        if m[1] == "usbc" and lanes.lanes == 1:
            raise SignalError("USB-C carries pictures on two lanes or four; write usbc:2xhbr3")
        return Ceilings(0, NO_FRL, lanes)
    if m[1] == "dvi":
        if m[2] not in _DVI_LINKS:
            raise SignalError(f"a DVI link is dvi:single or dvi:dual, not {m[2]!r}")
        return Ceilings(DVI_LINK_HZ * _DVI_LINKS[m[2]], NO_FRL, NO_DP, _DVI_LINKS[m[2]])
    if m[1] == "frl":
        if m[3]:
            raise SignalError("FRL is trained over SCDC: without it there is only TMDS")
        rate = frl_rate(m[2])
        if rate is NO_FRL:
            raise SignalError("frl:none is no link; write tmds:600 for a link without FRL")
        return Ceilings(None, rate)
    if not re.fullmatch(r"\d{2,4}", m[2], re.ASCII) or not 25 <= int(m[2]) <= TMDS_MAX_MHZ:
        raise SignalError(f"a TMDS ceiling is a whole number of MHz from 25 to {TMDS_MAX_MHZ}, not {m[2]!r}")
    hz = int(m[2]) * 1_000_000
    return Ceilings(min(hz, NO_SCRAMBLING_HZ) if m[3] else hz, NO_FRL)


def ceiling_text(tmds_hz: int | None, frl: FrlRate | None, dp: DpRate | None = NO_DP, dvi: int = 0) -> str:
    """`40 Gb/s (4 × 10)`, `18 Gb/s (600 MHz)`, `25.92 Gb/s (4 lanes, HBR3)`, as people say a ceiling."""
    if dp is not None and dp.lanes:
        return dp.words
    if dvi:
        return dvi_words(dvi)
    if tmds_hz == 0 and dp is not None:
        return "nothing that the other end speaks"
    if frl is not None and frl.total_gbps:
        return f"{frl.total_gbps} Gb/s ({frl.lanes} × {frl.lane_gbps})"
    if tmds_hz is None:
        return "a rate nobody knows"
    return f"{tmds_hz * TMDS_BITS_PER_CHARACTER / 1e9:.3g} Gb/s ({tmds_hz / 1_000_000:g} MHz)"
