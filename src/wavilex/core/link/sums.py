"""The arithmetic of a link's verdict, line by line, each with its working, and a line of picture to scale."""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.link.check import LinkVerdict
from wavilex.core.link.dp_sums import dp_sums, pixel_words
from wavilex.core.link.dsc import DscUse
from wavilex.core.link.frl import MOST_BORROWED_TRIBYTES, FrlUse, frl_fits
from wavilex.core.link.rates import FRL_RATES
from wavilex.core.link.shapes import LineOut
from wavilex.core.link.tmds import TMDS_CONTROL_CHARACTERS, TmdsUse, blank_needed
from wavilex.core.link.words import bits_per_pixel
from wavilex.core.quantity import Quantity
from wavilex.core.video.signal import Demand, encoding_name
from wavilex.core.video.worst import (
    CHARACTER_BITS,
    CLOCK_BASE,
    CLOCK_UP,
    CONTROL_CHARACTERS,
    LANE_BASE,
    LANE_DOWN,
    PACKET_CHARACTERS,
    shortest_line,
)

_CLOCK = f"{CLOCK_UP / CLOCK_BASE:g}"
_LANE = f"{LANE_DOWN / LANE_BASE:g}"
_MILLION = 1_000_000
_QUARTERS = {0: "0", 1: "1/4", 4: "1"}


def _exact(value: Fraction) -> int | Fraction:
    return int(value) if value.denominator == 1 else value


def _figure(value: Fraction | int, digits: int) -> str:
    """A figure inside a working: as few digits as it needs, at most `digits`."""
    return f"{float(value):.{digits}f}".rstrip("0").rstrip(".") if digits else str(round(value))


def signal_sums(need: Demand, bits: Fraction, container: str) -> list[Quantity]:
    """The lines every sum starts with. bits: what a pixel costs on this link, container: how that is reckoned."""
    t, s = need.signal.timing, need.signal
    family = f"VIC {t.code[4:]}" if t.family == "CTA" else t.family
    refresh = _figure(t.refresh, 3)
    return [
        Quantity(
            f"pixel clock, {family}", Fraction(t.pixel_clock_hz, _MILLION), "MHz", digits=2,
            working=f"{t.h_total} × {_figure(t.v_total, 1)} × {refresh} Hz",
        ),
        Quantity(
            f"{encoding_name(s.encoding)}, {s.bits} bits", _exact(bits), "bit/px", working=container
        ),
    ]  # fmt: skip


def _container(need: Demand) -> str:
    s = need.signal
    return {"422": "3 × 8, 4:2:2’s container", "420": f"3 × {s.bits} ÷ 2"}.get(s.encoding, f"3 × {s.bits}")


def link_sums(verdict: LinkVerdict) -> tuple[Quantity, ...]:
    """The arithmetic of a link's verdict, line by line."""
    need = verdict.demand
    if verdict.dp is not None:
        lines = signal_sums(need, verdict.dp.bits_per_pixel, pixel_words(need))
        return (*lines, *dp_sums(verdict, verdict.dp))
    lines = signal_sums(need, bits_per_pixel(need), _container(need))
    if verdict.dsc is not None and verdict.frl is not None:
        lines += frl_sums(need, verdict.frl)[:3] + dsc_sums(need, verdict.dsc, verdict.frl)
    elif verdict.transport == "frl" and verdict.frl is not None:
        lines += frl_sums(need, verdict.frl)
    elif verdict.transport == "tmds" and verdict.tmds is not None:
        lines += tmds_sums(need, verdict.tmds, verdict.capacity.dvi)
    return tuple(lines)


def tmds_sums(need: Demand, u: TmdsUse, dvi: int = 0) -> list[Quantity]:
    """Character rate against the ceiling, and the room for sound, which DVI has none of."""
    over = u.blocked_by == "rate"
    clock = _figure(Fraction(need.signal.timing.pixel_clock_hz, _MILLION), 3)
    rate, ceiling = u.character_rate_hz / _MILLION, Fraction(u.ceiling_hz, _MILLION)
    lines = [
        Quantity("character rate", rate, "MHz", over, 2, f"{clock} × {_figure(bits_per_pixel(need), 1)} ÷ 24"),
        Quantity("link carries", ceiling, "MHz", digits=1, working="2 × 165" if dvi == 2 else ""),
        Quantity("used", u.used * 100, "%", over, working=f"{_figure(rate, 3)} ÷ {_figure(ceiling, 2)}"),
    ]
    sound = need.signal.sound
    if sound.channels and not over and not dvi:
        packets = need.tmds_audio_packets
        tight = u.blocked_by == "no_audio_room"
        lines += [
            Quantity("sound, packets a line", packets, working=_packets(need, sound.sample_rate_hz)),
            Quantity(
                "blanking needed",
                blank_needed(need),
                "characters",
                tight,
                working=_room(TMDS_CONTROL_CHARACTERS, packets),
            ),
            Quantity("blanking there is", _exact(need.blank_characters), "characters"),
        ]
    lowest = frl_fits(need, FRL_RATES)
    if over and lowest and not dvi:
        lines.append(Quantity("needs at least", lowest.name if u.ceiling_hz == 600_000_000 else "a faster link"))
    return lines


def _packets(need: Demand, sample_rate_hz: int) -> str:
    t, sound = need.signal.timing, need.signal.sound
    line_us = Fraction(*shortest_line(t)) * _MILLION
    return f"⌈{sample_rate_hz / 1000:g} kHz × {_QUARTERS[sound.packet_quarters]} × {_figure(line_us, 3)} µs⌉"


def _room(control: int, packets: int | str) -> str:
    """What control and sound ask of the blanking, as it is reckoned."""
    return f"{control} + {PACKET_CHARACTERS} × {packets}"


def _factor(need: Demand) -> str:
    """k_cd ÷ k_420 as people write it: `10/8`, `10/8/2`, `1`."""
    s = need.signal
    k = "1" if s.encoding == "422" or s.bits == 8 else f"{s.bits}/8"
    return f"{k}/2" if s.encoding == "420" else k


def frl_sums(need: Demand, u: FrlUse) -> list[Quantity]:
    """Steps 1 to 7 as figures."""
    t, packets = need.signal.timing, need.audio_packets
    used_chars = u.picture_characters + u.blank_characters - u.saved_characters
    over = u.blocked_by == "rate"
    no_room = u.blocked_by in ("no_audio_room", "no_blanking_room")
    share = Fraction(used_chars, u.characters) if u.characters else Fraction(0)
    rate_text = _figure(u.character_rate_hz / _MILLION, 2)
    bpp = _figure(bits_per_pixel(need), 1)
    lines = [
        Quantity(
            "line, clock +0.5 %", u.line_us, "µs", digits=3,
            working=f"{t.h_total} ÷ ({_figure(Fraction(t.pixel_clock_hz, _MILLION), 3)} MHz × {_CLOCK})",
        ),
        Quantity(
            "lane, −300 ppm", u.character_rate_hz / _MILLION, "M/s", digits=2,
            working=f"{u.rate.lane_gbps} Gb/s × {_LANE} ÷ {CHARACTER_BITS}",
        ),
        Quantity(
            "characters a line", u.characters,
            working=f"⌊{_figure(u.line_us, 3)} µs × {rate_text} M/s × {u.rate.lanes}⌋",
        ),
        Quantity(
            "picture", u.picture_characters,
            working=f"⌈1.5 × {need.tb_active}⌉, {need.tb_active} = ⌈{bpp} × {t.h_active} ÷ 24⌉",
        ),
        Quantity("blanking", u.blank_characters, over=no_room, working=f"⌈{t.h_blank} × {_factor(need)}⌉"),
        Quantity(
            "of it coded away", u.saved_characters,
            working=f"⌊({t.h_blank} × {_factor(need)} − 1 − ({_room(CONTROL_CHARACTERS, packets)}) − 4)"
            " × 7/8⌋, at least 0",
        ),
    ]  # fmt: skip
    if packets:
        lines += [
            Quantity(
                "sound, packets a line", packets,
                working=_packets(need, max(192_000, need.signal.sound.sample_rate_hz)),
            ),
            Quantity("blanking needed", need.blank_needed, over=no_room, working=_room(CONTROL_CHARACTERS, packets)),
        ]  # fmt: skip
    if u.borrowed_tribytes:
        too_much = u.borrowed_tribytes > MOST_BORROWED_TRIBYTES
        most = f"of {MOST_BORROWED_TRIBYTES}"
        lines.append(Quantity("picture borrows, tri-bytes", u.borrowed_tribytes, most, too_much))
    lines += [
        Quantity(
            "used of a line", share * 100, "%",
            working=f"({u.picture_characters} + {u.blank_characters} − {u.saved_characters}) ÷ {u.characters}",
        ),
        Quantity(
            "overhead, margin", u.overhead * 100, "%",
            working=f"({u.rate.lanes} + 34.5) ÷ (2040 + {u.rate.lanes}) + 0.3 %",
        ),
        Quantity("together", u.used * 100, "%", over),
    ]  # fmt: skip
    return lines


def dsc_sums(need: Demand, u: DscUse, line: FrlUse) -> list[Quantity]:
    """The compressed line: slices, bits a pixel, what is given up, chunk bytes and the share used."""
    bpp, plain = Fraction(u.bits_per_pixel_x16, 16), bits_per_pixel(need)
    width = -(-need.signal.timing.h_active // u.slices)
    return [
        Quantity("uncompressed it would use", line.used * 100, "%", over=True),
        Quantity("slices", u.slices, working=f"each {width} wide, at most 2720"),
        Quantity("compressed to", bpp, "bit/px", digits=2, working="in steps of 1/16, the most that fits"),
        Quantity("given up", plain - bpp, "bit/px", digits=2, working=f"{_figure(plain, 1)} − {_figure(bpp, 4)}"),
        Quantity("chunk bytes a line", u.chunk_bytes, "B", working=f"{u.slices} × ⌈{width} × {_figure(bpp, 4)} ÷ 8⌉"),
        Quantity("used, about", u.used * 100, "%"),
    ]


def line_data(v: LinkVerdict) -> LineOut | None:
    """One line of the picture in characters, to draw to scale; None when it is no FRL line.

    Sound is its own part of the blanking.
    """
    if v.frl is None or v.transport != "frl" or v.dsc is not None:
        return None
    u = v.frl
    overhead = u.overhead * u.characters
    used = u.picture_characters + u.blank_characters - u.saved_characters
    blanking = u.blank_characters - u.saved_characters
    sound = min(PACKET_CHARACTERS * v.demand.audio_packets, blanking)
    return {
        "microseconds": f"{float(u.line_us):.2f}",
        "characters": u.characters,
        "picture": u.picture_characters,
        "blanking": blanking - sound,
        "sound": sound,
        "overhead": round(overhead),
        "spare": max(0, round(u.characters - used - overhead)),
        "overhead_percent": f"{float(u.overhead * 100):.1f}",
        "spare_percent": f"{max(0.0, 100 - float(u.used * 100)):.1f}",
    }
