"""A link's verdict in words: its sentence, its document, its ceiling as people say it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

from wavilex.core.link.cable import BUILDS, GRADES, Cable
from wavilex.core.link.check import LinkVerdict, LongLead, check_link
from wavilex.core.link.dp_rates import dvi_words
from wavilex.core.link.frl import MOST_BORROWED_TRIBYTES
from wavilex.core.link.rates import TMDS_MIN_HZ, FrlRate, Stop, ceiling_text, parse_over
from wavilex.core.video.audio import SoundFormat, parse_audio
from wavilex.core.video.derived import least_repetition
from wavilex.core.video.signal import Demand, DigitalVideo, demand, encoding_name

DP_SOURCE = "VESA DisplayPort 1.4a and 2.1; value from memory"
DP_DSC_SOURCE = "VESA DSC 1.2a over DisplayPort; value from memory"
DVI_SOURCE = "DVI 1.0; value from memory"
FRL_SOURCE = "HDMI 2.1 capacity procedure, steps 1–7; value from memory of the document"
TMDS_SOURCE = "HDMI 2.0 character rate; value from memory of the document"
DSC_SOURCE = "VESA DSC 1.2a over FRL; value from memory; approximate"
LEAD_SOURCE = "common practice"
DEAD_LEADS: Mapping[Stop, str] = {
    "lead_turned": "the lead has a sending end and is plugged the wrong way round",
    "lead_unfed": "the lead’s own supply is off",
}
LONGER_LEAD = "An active or optical lead settles it, or a proof of this one."
_LESSER_SOUNDS = ("8ch@192", "8ch@96", "8ch@48", "2ch@192", "2ch@48", "none")
_MILLION = 1_000_000


def cable_text(cable: Cable) -> str:
    """`Ultra High Speed, optical, proved 40 Gb/s (4 × 10)`: what is known of a lead, for tables."""
    words = [GRADES[cable.grade].name]
    if cable.build != "unknown":
        words.append(BUILDS[cable.build])
    for name, over in (("proved", cable.proved), ("failed at", cable.failed)):
        if over:
            words.append(f"{name} {ceiling_text(*parse_over(over))}")
    return ", ".join(words)


def bits_per_pixel(need: Demand) -> Fraction:
    """Bits a pixel costs on the link: 4:2:2 travels in a container of 24 whatever its depth."""
    s = need.signal
    return Fraction(24 * (8 if s.encoding == "422" else s.bits), 8 * (2 if s.encoding == "420" else 1))


def richest_sound(link: LinkVerdict) -> SoundFormat | None:
    """The richest usual sound the blanking has room for where the asked one does not fit; None: it fits."""
    if link.blocked_by != "no_audio_room":
        return None
    asked = link.demand.signal.sound
    for code in _LESSER_SOUNDS:
        sound = parse_audio(code)
        lesser = (sound.packet_quarters, sound.sample_rate_hz) < (asked.packet_quarters, asked.sample_rate_hz)
        signal: DigitalVideo = replace(link.demand.signal, audio=code)
        if lesser and check_link(demand(signal), link.capacity).blocked_by != "no_audio_room":
            return sound
    return None


def verdict_sentence(link: LinkVerdict) -> str:
    """The answer for one link in a sentence."""
    name = link.demand.signal.name
    if link.blocked_by is not None and link.blocked_by in DEAD_LEADS:
        return f"Nothing passes: {DEAD_LEADS[link.blocked_by]}."
    if link.blocked_by == "no_common_link":
        return "Nothing passes: the two ends have no way of sending in common."
    if link.used is None:
        return f"{name}: nobody knows what the link carries."
    over = over_words(link)
    share = float(link.used * 100)
    if link.blocked_by == "lead_too_long" and link.long is not None:
        return f"{unlikely(link.long)}{long_words(link.long)}. {LONGER_LEAD}"
    if link.blocked_by == "compression_unknown":
        return f"Fits {over} only compressed, and nobody knows yet whether both ends compress."
    if link.dsc is not None:
        bpp = link.dsc.bits_per_pixel_x16 / 16
        if link.dp is not None:
            return f"Fits compressed: {over} has room for {bpp:.1f} bits a pixel."
        step = _lanes(link.dsc.rate) if link.dsc.rate else over
        return f"Fits compressed to {bpp:g} bits a pixel on {step}, about {100 - share:.1f} % to spare."
    if link.fits:
        spare = f"Fits with {100 - share:.1f} % to spare on {over}."
        if link.dp is not None and link.verdict == "tight" and link.long is None:
            spare += " A link whose clock is spread has up to 0.5 % less."
        return f"{spare} DVI carries no sound." if link.capacity.dvi and link.demand.signal.sound.channels else spare
    if link.blocked_by == "dvi_format":
        return f"{name} does not pass: DVI carries RGB at 8 bits and nothing else."
    if link.blocked_by == "no_audio_room":
        asked, lesser = link.demand.signal.sound, richest_sound(link)
        would = f"; {would_pass(lesser)}" if lesser else ""
        return f"The picture would fit {over}, but its blanking leaves no room for {asked.name}{would}."
    if link.blocked_by == "below_minimum_clock":
        return f"Too slow: {below_minimum_sentence(link.demand)}"
    if link.blocked_by == "rate":
        return f"Does not fit{_neither(link)}: {shortage_words(link)}."
    if link.verdict == "unknown":
        return f"It would use {share:.1f} % of {over}, but not every part of the link is known."
    assert link.blocked_by == "no_blanking_room", link.blocked_by
    return f"Does not fit {over}: its blanking leaves no room for what controls the link."


def over_words(link: LinkVerdict) -> str:
    """What a signal travels over: `4 lanes × 10 Gb/s`, `600 MHz`, `4 lanes × HBR3`."""
    if link.dp is not None:
        rate = link.dp.rate
        shared = ", shared with other streams" if link.dp.slots is not None else ""
        return f"{'1 lane' if rate.lanes == 1 else f'{rate.lanes} lanes'} × {rate.lane.upper()}{shared}"
    if link.transport == "frl" and link.capacity.frl:
        return _lanes(link.capacity.frl)
    if link.capacity.dvi:
        return dvi_words(link.capacity.dvi)
    return f"{(link.capacity.tmds_hz or 0) / _MILLION:g} MHz"


def short_over(link: LinkVerdict) -> str:
    """The same as briefly as it is said: `40 Gb/s`, `600 MHz`, `4 × HBR3`."""
    cap = link.capacity
    if link.dp is not None:
        return link.dp.rate.name
    if link.transport == "frl" and cap.frl:
        return f"{cap.frl.total_gbps} Gb/s"
    return f"{cap.tmds_hz / _MILLION:g} MHz" if cap.tmds_hz is not None else "not known"


def _lanes(rate: FrlRate) -> str:
    return f"{rate.lanes} lanes × {rate.lane_gbps} Gb/s"


def long_words(long: LongLead) -> str:
    """`12 m of passive copper; at this rate it is trusted to about 3 m, and carries 5 m at best`."""
    what = "of passive copper" if long.passive else "long, and nobody wrote down that it is active or optical"
    trusted, best = long.reach.trusted_mm / 1000, long.reach.at_best_mm / 1000
    return (
        f"{long.length_mm / 1000:g} m {what}; at this rate copper is trusted to about {trusted:g} m, {best:g} m at best"
    )


def unlikely(long: LongLead) -> str:
    """How a sentence on a lead that is too long begins: nobody says what is not known to be copper will fail."""
    if not long.unlikely:
        return ""
    return "Unlikely: " if long.passive else "Doubtful: "


def shortage_words(link: LinkVerdict) -> str:
    """What of a link is too small for a signal's rate, with both figures."""
    frl = link.frl if link.transport == "frl" else None
    if frl is None or frl.short_of in (None, "line"):
        over = _lanes(frl.rate) if frl else over_words(link)
        return f"it would use {float((link.used or 0) * 100):.1f} % of {over}"
    if frl.short_of == "blanking":
        needs, has = link.demand.tb_blank, frl.blank_share_tribytes
        return f"its blanking has {needs} tri-bytes, and blanking's share of a line of {_lanes(frl.rate)} holds {has}"
    asked = math.ceil(frl.borrowed_tribytes)
    return (
        f"its picture would borrow {asked} tri-bytes of each line's blanking on {_lanes(frl.rate)}, "
        f"and {MOST_BORROWED_TRIBYTES} is the most"
    )


def _neither(link: LinkVerdict) -> str:
    """` compressed (a line is cut into …), nor uncompressed` where compression was tried, else nothing."""
    stop = link.dsc_stop
    if stop is None:
        return ""
    if stop.why == "depth":
        signal = link.demand.signal
        why = f"{encoding_name(signal.encoding)} at {signal.bits} bits is not taken compressed"
    elif stop.why == "slices":
        needs = f"{stop.with_slices.slices} would do" if stop.with_slices else "more would not do either"
        why = f"a line is cut into {_slices(stop.slices)} at most, too few for this clock; {needs}"
    elif stop.why == "bytes":
        why = "a line has more bytes than the receiving end takes, at the fewest bits a pixel"
    else:
        used = f"it would use {float(stop.used * 100):.1f} %" if stop.used is not None else "the rate is too small"
        why = f"{used} at the fewest bits a pixel"
    return f" compressed ({why}), nor uncompressed"


def _slices(count: int) -> str:
    return "1 slice" if count == 1 else f"{count} slices"


def would_pass(lesser: SoundFormat) -> str:
    """What a signal without room for its sound could have instead."""
    return f"{lesser.name} would pass" if lesser.channels else "without sound it would pass"


def below_minimum_sentence(need: Demand) -> str:
    """Why a slow signal does not travel, and the pixel repetition that would carry it."""
    t = need.signal.timing
    factor = need.tmds_rate_hz / t.pixel_clock_hz
    times = least_repetition(t, int(-(-TMDS_MIN_HZ // factor)))
    cure = (
        f" With each pixel sent {times} times it runs at {float(need.tmds_rate_hz * times) / _MILLION:g} MHz and "
        "passes, if the source can repeat pixels."
        if times
        else ""
    )
    return f"{float(need.tmds_rate_hz) / _MILLION:g} MHz, and TMDS starts at 25 MHz.{cure}"


def source_of(link: LinkVerdict) -> str:
    """The document behind the sums."""
    if link.blocked_by in DEAD_LEADS or link.blocked_by == "lead_too_long":
        return LEAD_SOURCE
    if link.dp is not None:
        return DP_DSC_SOURCE if link.dsc is not None else DP_SOURCE
    if link.capacity.dvi:
        return DVI_SOURCE
    if link.dsc is not None:
        return DSC_SOURCE
    return FRL_SOURCE if link.transport == "frl" else TMDS_SOURCE


def plain_count(link: LinkVerdict) -> str | None:
    """What the common shortcut (clock × bits × 18/16) would say where it wrongly refuses an FRL fit; else None."""
    if link.transport != "frl" or link.frl is None or not link.fits or link.dsc is not None:
        return None
    bits = bits_per_pixel(link.demand)
    gbps = link.demand.signal.timing.pixel_clock_hz * bits * 18 / 16 / 10**9
    if gbps <= link.frl.rate.total_gbps:
        return None
    return (
        f"A plain count, clock × {float(bits):g} bits × 18/16, gives {float(gbps):.1f} Gb/s and would wrongly refuse "
        "it: blanking does not travel in full."
    )
