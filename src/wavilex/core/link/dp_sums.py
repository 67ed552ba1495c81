"""The arithmetic of a DisplayPort verdict, line by line, each with its working."""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.link.check import LinkVerdict
from wavilex.core.link.dp import DpUse
from wavilex.core.link.dp_rates import CORRECTION, SLOTS, SLOTS_OF_STREAMS, STREAM_MARGIN, DpRate
from wavilex.core.link.dsc import DscUse
from wavilex.core.quantity import Quantity
from wavilex.core.video.signal import Demand

_GIGA = 10**9
_TIMES = {"422": "2", "420": "1.5"}


def _figure(value: Fraction | int | float, digits: int = 2) -> str:
    return f"{float(value):.{digits}f}".rstrip("0").rstrip(".")


def pixel_words(need: Demand) -> str:
    """`3 × 10`: how the bits of a pixel are reckoned."""
    return f"{_TIMES.get(need.signal.encoding, '3')} × {need.signal.bits}"


def dp_sums(verdict: LinkVerdict, use: DpUse) -> list[Quantity]:
    """What is asked, what the link has, and the share; then sound's room where it matters."""
    need, squeezed = verdict.demand, verdict.dsc
    lines = [
        Quantity("asked", use.demand_bps / _GIGA, "Gb/s", use.blocked_by == "rate" and squeezed is None, 2,
                 f"{_figure(Fraction(need.signal.timing.pixel_clock_hz, 10**6), 3)} MHz × "
                 f"{_figure(use.bits_per_pixel, 1)} bit/px"),
        _has(use.rate),
    ]  # fmt: skip
    if squeezed is not None:
        return lines + _squeezed_sums(need, use, squeezed)
    if use.slots is not None:
        lines += _slots(use)
    else:
        lines.append(
            Quantity("used", use.used * 100, "%", use.used > 1,
                     working=f"{_figure(use.demand_bps / _GIGA)} ÷ {_figure(use.data_bps / _GIGA)}")
        )  # fmt: skip
    if need.tmds_audio_packets:
        over = use.blocked_by == "no_audio_room"
        lines += [
            Quantity("blanking needed, about", use.blank_needed, "symbols", over),
            Quantity("blanking there is", use.blank_symbols, "symbols",
                     working=f"{need.signal.timing.h_blank} pixels at {_figure(use.rate.symbols_hz / 10**6)} M/s"),
        ]  # fmt: skip
    return lines


def _has(rate: DpRate) -> Quantity:
    coding = "128/132 × 383/384" if rate.own_correction else "8/10"
    return Quantity("link carries", rate.data_bps / _GIGA, "Gb/s", digits=2,
                    working=f"{rate.lanes} × {_figure(rate.lane_gbps)} Gb/s × {coding}")  # fmt: skip


def _slots(use: DpUse) -> list[Quantity]:
    total = (use.slots or 0) + use.taken
    return [
        Quantity("time slots, about", use.slots or 0, "",
                 working=f"⌈{SLOTS} × {_figure(use.demand_bps / _GIGA)} × {float(STREAM_MARGIN):g} ÷ "
                 f"{_figure(use.data_bps / _GIGA)}⌉"),
        Quantity("of the other streams", use.taken),
        Quantity("used, about", use.used * 100, "%", use.used > 1, working=f"{total} ÷ {SLOTS_OF_STREAMS} slots"),
    ]  # fmt: skip


def _squeezed_sums(need: Demand, use: DpUse, u: DscUse) -> list[Quantity]:
    bpp = Fraction(u.bits_per_pixel_x16, 16)
    width = -(-need.signal.timing.h_active // u.slices)
    lines = [Quantity("uncompressed it would use", use.used * 100, "%", over=True)]
    if not use.rate.own_correction:
        lines.append(
            Quantity("with error correction", use.rate.corrected_bps / _GIGA, "Gb/s", digits=2,
                     working=f"{_figure(use.rate.data_bps / _GIGA)} × {float(CORRECTION):g}")
        )  # fmt: skip
    lines += [
        Quantity("slices", u.slices, working=f"each {width} wide"),
        Quantity("room for", bpp, "bit/px", digits=2, working="in steps of 1/16, the most that fits"),
        Quantity("given up", use.bits_per_pixel - bpp, "bit/px", digits=2,
                 working=f"{_figure(use.bits_per_pixel, 1)} − {_figure(bpp, 4)}"),
        Quantity("used, about", u.used * 100, "%"),
    ]  # fmt: skip
    return lines
