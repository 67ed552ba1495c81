"""What a device can do, in the words people look for: `4K120`, `48 Gb/s`, `eARC`, `15 kHz`, `variable refresh`."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from wavilex.core.errors import WavilexError
from wavilex.core.gear.ports import Dsc, Port
from wavilex.core.gear.profile import Profile
from wavilex.core.link.rates import frl_rate
from wavilex.core.video.codes import listed_timing

_LINE_KHZ = {"15 kHz": Fraction("15.7"), "24 kHz": Fraction("24.8"), "31 kHz": Fraction("31.5")}
_NAMES = {3840: "4K", 2560: "1440p", 1920: "1080p", 7680: "8K"}


def abilities(profile: Profile) -> list[str]:
    """Words a device can be found by, each once, the ones that tell most first."""
    return list(dict.fromkeys(_words(profile)))


def _words(profile: Profile) -> Iterator[str]:
    yield from _modes(profile)
    for port in profile.ports:
        yield from _port(profile, port)
    effects = {s.effect for s in profile.settings}
    if "game_mode" in effects or any(p.lower() == "game" for p in profile.pictures):
        yield "game mode"
    if profile.preset is not None:
        yield "picture presets"
    if profile.converts is not None:
        yield "converts"
    if profile.plays:
        yield "plays sound"
    if profile.peak_cd_m2:
        yield f"{profile.peak_cd_m2} cd/m²"
    yield from (f"{hz} Hz" for hz in sorted({hz for _, hz in _fastest(profile)}, reverse=True))


def _modes(profile: Profile) -> Iterator[str]:
    """Every size it sends or takes with its fastest rate."""
    for name, hz in _fastest(profile):
        yield f"{name}{hz}" if name.endswith("K") else f"{name} {hz} Hz"


def _fastest(profile: Profile) -> list[tuple[str, int]]:
    """The fastest rate at each size, in Hz, the fastest first."""
    best: dict[str, int] = {}
    listed = [profile.video.modes, *(p.video.modes for p in profile.ports)]
    for modes in listed:
        for text in modes if isinstance(modes, tuple) else ():
            try:
                width, height, hz = listed_timing(text).mode.figures
            except WavilexError:
                continue
            name = _NAMES.get(width, f"{height}p")
            best[name] = max(best.get(name, 0), hz)
    return sorted(best.items(), key=lambda x: -x[1])


def _port(profile: Profile, port: Port) -> Iterator[str]:
    def said(name: str) -> object:
        own = getattr(port.video, name)
        return getattr(profile.video, name) if own is None else own

    if port.kind == "hdmi":
        frl, tmds = said("frl"), said("tmds_mhz")
        total = frl_rate(frl).total_gbps if isinstance(frl, str) else 0
        if total:
            yield f"{total} Gb/s"
        elif isinstance(tmds, int):
            yield f"{tmds * 3 / 100:g} Gb/s"
        hdr = said("hdr")
        if hdr:
            yield "HDR"
            yield from ("dynamic HDR",) if isinstance(hdr, tuple) and "dynamic" in hdr else ()
        if said("vrr"):
            yield "variable refresh"
        if said("low_latency"):
            yield "automatic low latency"
        if isinstance(said("dsc"), Dsc) or said("dsc") is True:
            yield "compression"
        if port.returns:
            yield {"arc": "ARC", "earc": "eARC"}[port.returns]
    else:
        yield port.plug.replace("_", "-")
    rates = [Fraction(scan.dot_clock_hz) / Fraction(scan.dots) / 1000 for scan in port.sends]
    spans = [(Fraction(str(low)), Fraction(str(high))) for low, high in (t.line_khz for t in port.takes or ())]
    for name, khz in _LINE_KHZ.items():
        if any(abs(r - khz) < 1 for r in rates) or any(low <= khz <= high for low, high in spans):
            yield name
