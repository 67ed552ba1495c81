"""The arithmetic of a link's verdict, line by line, and its sentence."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from wavilex.core.link.check import LinkVerdict
from wavilex.core.link.frl import FrlUse, frl_fits
from wavilex.core.link.rates import FRL_RATES, TMDS_BITS_PER_CHARACTER, FrlRate
from wavilex.core.quantity import Quantity
from wavilex.core.video.signal import Demand, encoding_name

FRL_SOURCE = "HDMI 2.1 capacity procedure, steps 1–7; value from memory of the document"
TMDS_SOURCE = "HDMI 2.0 character rate; value from memory of the document"
DSC_SOURCE = "VESA DSC 1.2a over FRL; value from memory; approximate"
_MILLION = 1_000_000


def ceiling_text(tmds_hz: int | None, frl: FrlRate | None) -> str:
    """`40 Gb/s (4 × 10)` or `18 Gb/s (600 MHz)`, as people say a ceiling."""
    if frl is not None and frl.total_gbps:
        return f"{frl.total_gbps} Gb/s ({frl.lanes} × {frl.lane_gbps})"
    if tmds_hz is None:
        return "a rate nobody knows"
    return f"{tmds_hz * TMDS_BITS_PER_CHARACTER / 1e9:.3g} Gb/s ({tmds_hz / _MILLION:g} MHz)"


def _bits_per_pixel(need: Demand) -> Fraction:
    s = need.signal
    return Fraction(24 * (8 if s.encoding == "422" else s.bits), 8 * (2 if s.encoding == "420" else 1))


def signal_sums(need: Demand) -> list[Quantity]:
    """The lines every sum starts with."""
    t, s = need.signal.timing, need.signal
    family = f"VIC {t.code[4:]}" if t.family == "CTA" else t.family
    per_pixel = _bits_per_pixel(need)
    return [
        Quantity(f"pixel clock, {family}", Fraction(t.pixel_clock_hz, _MILLION), "MHz", digits=2),
        Quantity(
            f"{encoding_name(s.encoding)}, {s.bits} bits",
            int(per_pixel) if per_pixel.denominator == 1 else per_pixel,
            "bit/px",
        ),
    ]


def link_sums(verdict: LinkVerdict) -> tuple[Quantity, ...]:
    """The arithmetic of a link's verdict, line by line."""
    need = verdict.demand
    lines = signal_sums(need)
    if verdict.transport == "frl" and verdict.frl is not None:
        lines += frl_sums(verdict.frl)
    elif verdict.tmds is not None:
        u = verdict.tmds
        over = u.blocked_by == "rate"
        lines += [
            Quantity("character rate", u.character_rate_hz / _MILLION, "MHz", over, 2),
            Quantity("link carries", Fraction(u.ceiling_hz, _MILLION), "MHz", digits=1),
            Quantity("used", u.used * 100, "%", over),
        ]
        lowest = frl_fits(need, FRL_RATES)
        if over and lowest:
            lines.append(Quantity("needs at least", lowest.name if u.ceiling_hz == 600_000_000 else "a faster link"))
    if verdict.dsc is not None:
        lines += [
            Quantity("compressed to", Fraction(verdict.dsc.bits_per_pixel_x16, 16), "bit/px", digits=2),
            Quantity(
                "given up", _bits_per_pixel(need) - Fraction(verdict.dsc.bits_per_pixel_x16, 16), "bit/px", digits=2
            ),
            Quantity("slices", verdict.dsc.slices),
            Quantity("used, about", verdict.dsc.used * 100, "%"),
        ]
    return tuple(lines)


def frl_sums(u: FrlUse) -> list[Quantity]:
    """Steps 1 to 7 as figures."""
    used_chars = u.picture_characters + u.blank_characters - u.saved_characters
    over = u.blocked_by == "rate"
    share = Fraction(used_chars, u.characters) if u.characters else Fraction(0)
    return [
        Quantity("line, clock +0.5 %", u.line_us, "µs", digits=3),
        Quantity("lane, −300 ppm", u.character_rate_hz / _MILLION, "M/s", digits=2),
        Quantity(f"characters a line, {u.rate.lanes} × {u.rate.lane_gbps}", u.characters),
        Quantity("picture", u.picture_characters),
        Quantity("blanking", u.blank_characters),
        Quantity("its compression", f"−{u.saved_characters}"),
        Quantity("used of a line", share * 100, "%"),
        Quantity("overhead, margin", u.overhead * 100, "%"),
        Quantity("together", u.used * 100, "%", over),
    ]


def verdict_sentence(link: LinkVerdict) -> str:
    """The answer for one link in a sentence."""
    name = link.demand.signal.name
    if link.used is None:
        return f"{name}: nobody knows what the link carries."
    frl = link.transport == "frl" and link.capacity.frl
    over = f"{frl.lanes} lanes × {frl.lane_gbps} Gb/s" if frl else f"{(link.capacity.tmds_hz or 0) / _MILLION:g} MHz"
    share = float(link.used * 100)
    if link.dsc is not None:
        bpp = link.dsc.bits_per_pixel_x16 / 16
        return f"Fits compressed to {bpp:g} bits a pixel on {over}, about {100 - share:.1f} % to spare."
    if link.fits:
        return f"Fits with {100 - share:.1f} % to spare on {over}."
    if link.blocked_by == "no_audio_room":
        return f"The picture would fit {over}, but its blanking leaves no room for this sound."
    if link.blocked_by == "rate":
        return f"Does not fit: it would use {share:.1f} % of {over}."
    return f"Does not fit {over}: {str(link.blocked_by).replace('_', ' ')}."


def source_of(link: LinkVerdict) -> str:
    """The document behind the sums."""
    if link.dsc is not None:
        return DSC_SOURCE
    return FRL_SOURCE if link.transport == "frl" else TMDS_SOURCE


def plain_count(link: LinkVerdict) -> str | None:
    """What the common shortcut (clock × bits × 18/16) would say where it wrongly refuses an FRL fit; else None."""
    if link.transport != "frl" or link.frl is None or not link.fits or link.dsc is not None:
        return None
    bits = _bits_per_pixel(link.demand)
    gbps = link.demand.signal.timing.pixel_clock_hz * bits * 18 / 16 / 10**9
    if gbps <= link.frl.rate.total_gbps:
        return None
    return (
        f"A plain count, clock × {float(bits):g} bits × 18/16, gives {float(gbps):.1f} Gb/s and would wrongly refuse "
        "it: blanking does not travel in full."
    )


def line_data(v: LinkVerdict) -> dict[str, Any] | None:
    """One line of the picture in characters, to draw to scale; None when it is no FRL line."""
    if v.frl is None or v.transport != "frl" or v.dsc is not None:
        return None
    u = v.frl
    overhead = u.overhead * u.characters
    used = u.picture_characters + u.blank_characters - u.saved_characters
    return {
        "microseconds": f"{float(u.line_us):.2f}",
        "characters": u.characters,
        "picture": u.picture_characters,
        "blanking": u.blank_characters - u.saved_characters,
        "overhead": round(overhead),
        "spare": max(0, round(u.characters - used - overhead)),
        "overhead_percent": f"{float(u.overhead * 100):.1f}",
        "spare_percent": f"{max(0.0, 100 - float(u.used * 100)):.1f}",
    }
