"""A digital video signal and what it asks of any link, computed once in whole numbers."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from wavilex.core.errors import SignalError
from wavilex.core.video.audio import SoundFormat, parse_audio
from wavilex.core.video.timing import Timing
from wavilex.core.video.worst import CONTROL_CHARACTERS, PACKET_CHARACTERS, shortest_line

ENCODINGS = ("rgb", "444", "422", "420")
HDR_BITS = 10  # the least HDR is sent with
BITS = (8, 10, 12, 16)
_NAMES = {"rgb": "RGB", "444": "4:4:4", "422": "4:2:2", "420": "4:2:0"}
_FRL_SAMPLE_RATE_HZ = 192_000  # the FRL procedure counts with at least this, whatever the sound


@dataclass(frozen=True, slots=True)
class DigitalVideo:
    """A picture on an HDMI link: timing, encoding, bits per component and the sound beside it."""

    timing: Timing
    encoding: str
    bits: int
    audio: str = "2ch"

    def __post_init__(self) -> None:
        if self.encoding not in ENCODINGS:
            raise SignalError(f"encoding must be one of {', '.join(ENCODINGS)}, not {self.encoding!r}")
        if self.bits not in BITS:
            raise SignalError(f"bits must be one of {', '.join(map(str, BITS))}, not {self.bits}")
        parse_audio(self.audio)
        if self.encoding == "422" and self.bits > 12:
            raise SignalError("4:2:2 carries at most 12 bits (HDMI 1.4b)")

    @property
    def name(self) -> str:
        """`2160p120 4:4:4 10-bit`, as people say it."""
        return f"{self.timing.mode.name} {encoding_name(self.encoding)} {self.bits}-bit"

    @property
    def sound(self) -> SoundFormat:
        return parse_audio(self.audio)


def encoding_name(encoding: str) -> str:
    return _NAMES[encoding]


@dataclass(frozen=True, slots=True)
class Demand:
    """What a signal asks, whatever the link. Whole numbers; tri-bytes and packets are per line.

    tmds_rate_hz is a fraction: 4:2:0 and deep colour need not give whole Hz. Sound packets differ by
    transport: FRL counts with 192 kHz at least, TMDS with the sound's own rate.
    """

    signal: DigitalVideo
    tmds_rate_hz: Fraction
    blank_characters: Fraction
    tb_active: int
    tb_blank: int
    audio_packets: int
    tmds_audio_packets: int
    saved: int

    def __hash__(self) -> int:
        return hash(self.signal)

    @property
    def blank_needed(self) -> int:
        """Tri-bytes the blanking must hold for control and sound (step 4)."""
        return CONTROL_CHARACTERS + PACKET_CHARACTERS * self.audio_packets


def _ceil(numerator: int, denominator: int) -> int:
    return -(-numerator // denominator)


def _packets(sound: SoundFormat, sample_rate_hz: int, t: Timing) -> int:
    line, of_line = shortest_line(t)
    return _ceil(sample_rate_hz * sound.packet_quarters * line, 4 * of_line)


@lru_cache(maxsize=16384)
def demand(signal: DigitalVideo) -> Demand:
    """Work out steps 3, 4 and 6 of the FRL capacity procedure and the TMDS character rate.

    Source: HDMI 2.1, FRL video transport; HDMI 1.4b/2.0 TMDS character rate. Value from memory.
    """
    t, bits = signal.timing, signal.bits
    eighths = 8 if signal.encoding == "422" else bits  # k_cd × 8
    halves = 2 if signal.encoding == "420" else 1  # k_420
    factor = Fraction(eighths, 8 * halves)
    # step 3: bits per pixel = 24·k_cd/k_420 = 3·eighths/halves
    bytes_active = _ceil(3 * eighths * t.h_active, 8 * halves)
    tb_active = _ceil(bytes_active, 3)
    tb_blank = _ceil(t.h_blank * eighths, 8 * halves)
    # step 4: packets = ceil(max(192 kHz, fs) · quarters/4 · T_line), T_line at its shortest
    sound = parse_audio(signal.audio)
    packets = _packets(sound, max(_FRL_SAMPLE_RATE_HZ, sound.sample_rate_hz), t)
    # step 6: what compressing the blanking saves; h_blank·k_cd/k_420 is kept in units of 1/(8·halves)
    room = t.h_blank * eighths - (1 + CONTROL_CHARACTERS + PACKET_CHARACTERS * packets + 4) * 8 * halves
    saved = max(0, room * 7 // (8 * 8 * halves))
    return Demand(
        signal=signal,
        tmds_rate_hz=t.pixel_clock_hz * factor,
        blank_characters=t.h_blank * factor,
        tb_active=tb_active,
        tb_blank=tb_blank,
        audio_packets=packets,
        tmds_audio_packets=_packets(sound, sound.sample_rate_hz, t),
        saved=saved,
    )
