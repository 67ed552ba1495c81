"""The sound that rides along in a signal's blanking: channels and sample rate, and the packets it asks."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from wavilex.core.errors import SignalError

SAMPLE_RATES_HZ = (32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000)  # IEC 60958 rates HDMI carries
MOST_CHANNELS = 8
USUAL = ("none", "2ch@48", "2ch", "8ch@48", "8ch@96", "8ch", "bitstream")
_FORM = re.compile(r"(?:([1-8])ch|(bitstream))(?:@(\d{2,3}(?:\.\d)?))?$", re.ASCII)


@dataclass(frozen=True, slots=True)
class SoundFormat:
    """A sound format. `sample_rate_hz` is the fastest it may have when the text names none (192 kHz).

    packet_quarters: quarters of a packet a sample. Two channels share a packet among four samples, three to
    eight channels and the high-bit-rate stream fill one for each (HDMI 2.1, FRL transport; value from memory).
    """

    code: str
    channels: int
    sample_rate_hz: int
    rate_named: bool

    @property
    def packet_quarters(self) -> int:
        return 0 if not self.channels else 1 if self.channels <= 2 else 4

    @property
    def name(self) -> str:
        """`8 channels at 48 kHz`, `2 channels at up to 192 kHz`, `no sound`."""
        if not self.channels:
            return "no sound"
        what = "lossless bitstream" if self.code.startswith("bitstream") else f"{self.channels} channels"
        if self.channels == 1:
            what = "1 channel"
        return f"{what} at {'' if self.rate_named else 'up to '}{self.sample_rate_hz / 1000:g} kHz"


@lru_cache(maxsize=128)
def parse_audio(text: str) -> SoundFormat:
    """`none`, `2ch`, `8ch@48`, `bitstream`: channels 1–8, rate in kHz. Raises SignalError.

    A bitstream is the high-bit-rate kind: eight channels' packets at 192 kHz unless a lower rate is named.
    """
    if text == "none":
        return SoundFormat(text, 0, 0, rate_named=True)
    m = _FORM.match(text)
    if not m:
        raise SignalError(f"{text!r} is no sound; write none, 2ch, 8ch@48 (channels 1 to 8, kHz) or bitstream")
    rate_hz = round(float(m[3]) * 1000) if m[3] else SAMPLE_RATES_HZ[-1]
    if rate_hz not in SAMPLE_RATES_HZ:
        rates = ", ".join(f"{r / 1000:g}" for r in SAMPLE_RATES_HZ)
        raise SignalError(f"{m[3]} kHz is no sample rate HDMI carries; one of {rates}")
    return SoundFormat(text, int(m[1]) if m[1] else MOST_CHANNELS, rate_hz, m[3] is not None)


def usual_audio() -> dict[str, str]:
    """The usual formats, for choosing: name by code."""
    return {code: parse_audio(code).name for code in USUAL}
