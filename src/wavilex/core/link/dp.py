"""Does a signal fit a DisplayPort link: plainly, compressed, or as one of several streams?

Source: VESA DisplayPort 1.4a and 2.1, DSC 1.2a; value from memory. The pixel clock counts blanking, which carries no
pixels; packing in units of 64 symbols costs next to nothing on one stream. Sound's share of the blanking is
approximate [medium certainty].
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from wavilex.core.link.dp_rates import LANE_RATES, SLOTS, SLOTS_OF_STREAMS, STREAM_MARGIN, DpRate
from wavilex.core.link.dsc import LEAST_BPP, MOST_PER_BIT, DscSink, DscStop, DscUse, slice_count
from wavilex.core.link.rates import Stop
from wavilex.core.video.signal import Demand

DP_TIGHT_FROM = Fraction(995, 1000)  # down-spread may take half a percent of the link
DP_SLICES = (1, 2, 4, 8, 10, 12, 16, 20, 24)
_BITS = {"rgb": Fraction(3), "444": Fraction(3), "422": Fraction(2), "420": Fraction(3, 2)}
_FRAMING_SYMBOLS = 24  # where blanking begins and ends, and what stands there, on four lanes, about
_PACKET_SYMBOLS = 18  # a sound packet's frame and header, about
_SYMBOLS_A_SAMPLE = 5  # four bytes and their parity for each channel's sample


@dataclass(frozen=True, slots=True)
class DpUse:
    """The sums of one stream over a link.

    bits_per_pixel: what a pixel costs; demand_bps, data_bps: what is asked and what there is, in bits a second.
    slots: time slots this stream takes where a link is shared, taken: those of the others; None on a link of its own.
    blank_symbols: what a line's blanking holds; blank_needed: what framing and sound ask of it.
    """

    rate: DpRate
    bits_per_pixel: Fraction
    demand_bps: Fraction
    data_bps: Fraction
    used: Fraction
    blocked_by: Stop | None
    slots: int | None = None
    taken: int = 0
    blank_symbols: int = 0
    blank_needed: int = 0


def bits_on_dp(need: Demand) -> Fraction:
    """Bits a pixel costs: RGB and 4:4:4 three times the depth, 4:2:2 twice, 4:2:0 one and a half times."""
    return _BITS[need.signal.encoding] * need.signal.bits


def slots_of(bits_a_second: Fraction, rate: DpRate, *, corrected: bool = False) -> int:
    """Time slots of 64 that a stream takes of a shared link. Approximate."""
    whole = rate.corrected_bps if corrected else rate.data_bps
    return -(-(SLOTS * bits_a_second * STREAM_MARGIN) // whole) if whole else SLOTS + 1


def dp_use(need: Demand, rate: DpRate, taken: int | None = None) -> DpUse:
    """Judge a demand against a link. taken: time slots that other streams of it have; None: it has the link alone."""
    bits = bits_on_dp(need)
    asked = need.signal.timing.pixel_clock_hz * bits
    return _judged(need, rate, bits, asked, taken, corrected=False)


def _judged(
    need: Demand, rate: DpRate, bits: Fraction, asked: Fraction, taken: int | None, *, corrected: bool
) -> DpUse:
    """Rate first, then the room for sound."""
    t = need.signal.timing
    data = rate.corrected_bps if corrected else rate.data_bps
    slots = None if taken is None else slots_of(asked, rate, corrected=corrected)
    used = asked / data if slots is None else Fraction(slots + (taken or 0), SLOTS_OF_STREAMS)
    room, needed = int(t.h_blank * rate.symbols_hz // t.pixel_clock_hz), _blank_needed(need)
    blocked: Stop | None = (
        "rate" if used > 1 else "no_audio_room" if needed > room and need.tmds_audio_packets else None
    )
    return DpUse(rate, bits, asked, data, used, blocked, slots, taken or 0, room, needed)


def _blank_needed(need: Demand) -> int:
    """Symbols of a line's blanking that framing and sound ask."""
    sound, t = need.signal.sound, need.signal.timing
    if not sound.channels:
        return _FRAMING_SYMBOLS
    samples = -(-sound.sample_rate_hz * t.h_total // t.pixel_clock_hz)
    channels = 8 if sound.channels > 2 else 2
    return _FRAMING_SYMBOLS + _PACKET_SYMBOLS + samples * channels * _SYMBOLS_A_SAMPLE


def dp_dsc_use(need: Demand, rate: DpRate, sink: DscSink, taken: int | None = None) -> DscUse | DscStop:
    """The most bits a pixel, in sixteenths, that fit a link compressed, or what stops even the fewest.

    Compressed pictures need error correction, which an 8b/10b link pays for.
    """
    signal, t = need.signal, need.signal.timing
    slices = slice_count(need, sink.cut, DP_SLICES)
    if signal.bits not in sink.bits or signal.encoding not in sink.formats:
        return DscStop("depth", slices or 0)
    if slices is None:
        wider = slice_count(need, (DP_SLICES[-1], sink.cut[1]), DP_SLICES)
        return DscStop("slices", sink.cut[0], with_slices=None if wider is None else _squeezed(
            need, rate, wider, LEAST_BPP[signal.encoding] * 16, taken))  # fmt: skip
    width = -(-t.h_active // slices)
    most = int((MOST_PER_BIT[signal.encoding] * signal.bits - Fraction(1, 16)) * 16)
    least = LEAST_BPP[signal.encoding] * 16
    line = rate.corrected_bps * t.h_active / (t.pixel_clock_hz * slices * 8)  # bytes of a slice in its line's time
    found = None
    if taken is None:
        most = min(most, int(line * 128 // width) + 1)
    for x16 in range(most, least - 1, -1):
        found = _squeezed(need, rate, slices, x16, taken)
        if found.used <= 1:
            return found
    found = found or _squeezed(need, rate, slices, least, taken)
    return DscStop("rate", slices, found.used)


def _squeezed(need: Demand, rate: DpRate, slices: int, x16: int, taken: int | None) -> DscUse:
    t = need.signal.timing
    width = -(-t.h_active // slices)
    chunk = slices * -(-width * x16 // 128)
    asked = Fraction(chunk * 8 * t.pixel_clock_hz, t.h_active)
    used = _judged(need, rate, Fraction(x16, 16), asked, taken, corrected=True).used
    return DscUse(None, slices, chunk, x16, used)


def dp_slowest(need: Demand, rate: DpRate, taken: int | None = None) -> DpRate:
    """The slowest lane rate with these lanes that carries the demand; `rate` itself where none does."""
    rates = (DpRate(rate.lanes, lane) for lane in LANE_RATES[: LANE_RATES.index(rate.lane) + 1])
    return next((r for r in rates if dp_use(need, r, taken).blocked_by is None), rate)
