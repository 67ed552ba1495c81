"""The parts of a want, each held against the sockets of a path: mode, source, chroma, features, protection."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from wavilex.core.chain.choice import delivers, has_hdr_at
from wavilex.core.chain.offer import CHROMA_ALLOWS, common_signals, least_bits, sends, station_encodings, timing_for
from wavilex.core.chain.paths import Layer, Station
from wavilex.core.chain.reasons import Code, Reason
from wavilex.core.gear.ports import VRR_KINDS
from wavilex.core.gear.socket_kinds import family
from wavilex.core.gear.state import PROTECTIONS, PortState
from wavilex.core.link.check import Verdict, worst
from wavilex.core.rig.model import Run, Want
from wavilex.core.video.codes import listed_timing, usual_timing
from wavilex.core.video.signal import DigitalVideo
from wavilex.core.video.timing import Timing

_CHROMA_NAMES = {"444": "RGB or 4:4:4", "422": "4:2:2 or better", "any": "picture"}
_PROTECTED_BY_14 = 1920 * 1200  # pixels: HDCP 1.4 suffices to 1080p


@dataclass(frozen=True, slots=True)
class Item:
    """One part of the want and its answer. Items that do not block are answered `blocked` all the same."""

    key: str
    verdict: Verdict
    blocking: bool
    reasons: tuple[Reason, ...] = ()


def judge_mode(stations: Sequence[Station], seen: PortState, want: Want) -> tuple[Timing, Item]:
    """Does every socket behind the source list the mode; and the timing it travels as, as the source reads it."""
    words: dict[str, Any] = {"mode": want.mode.name, "hz": want.mode.hz}
    reasons = []
    for station in stations[1:]:
        if timing_for(station.state.modes, want.mode) is None:
            timings = [t for t in map(listed_timing, station.state.modes or ()) if not t.interlaced]
            fastest = max(timings, key=lambda t: (t.nominal_hz, t.h_active), default=None)
            too_fast = fastest is None or fastest.nominal_hz < words["hz"]
            data = {
                **words, "fastest": fastest.mode.name if fastest else "not known", "beside": station.beside,
            }  # fmt: skip
            code: Code = "panel_rate" if too_fast else "mode_not_taken"
            reasons.append(
                Reason(code, "picture", "blocked", station.socket, origin=station.origin("modes"), data=data)
            )
    timing = timing_for(seen.modes, want.mode) or usual_timing(want.mode)
    return timing, Item("picture", "blocked" if reasons else "fits", True, tuple(reasons))


def judge_source(source: Station, chosen: Sequence[DigitalVideo], want: Want) -> Item:
    """Does the source send the mode, and does it choose it, or one as good, when a title starts?

    chosen: its choice, where it could have sent what is wanted; what links stop is not the source's doing.
    """
    words = {"mode": want.mode.name}
    code: Code | None = None
    if not sends(source.state, want.mode):
        code = "source_mode"
    elif chosen and not delivers(chosen[0].timing.mode, want.mode):
        code, words["chosen"] = "source_prefers", chosen[0].timing.mode.name
    if not code and source.state.modes is None and source.origin("modes").kind == "quirk":
        data = {"what": words["mode"], "field": "modes"}  # how it is set, nobody has seen
        unseen = Reason("unknown_feature", "source", "unknown", source.socket, origin=source.origin("modes"), data=data)
        return Item("source", "unknown", True, (unseen,))
    if not code:
        return Item("source", "fits", True)
    reason = Reason(code, "source", "blocked", source.socket, origin=source.origin("modes"), data=words)
    return Item("source", "blocked", True, (reason,))


def judge_chroma(stations: Sequence[Station], timing: Timing, want: Want) -> tuple[list[DigitalVideo], Item]:
    """The encodings all sockets share that the want accepts, preferred first; where there are none, what some of them
    offer."""
    allowed, bits = CHROMA_ALLOWS[want.chroma], least_bits(want)
    signals = common_signals(stations, timing, allowed, bits, want.audio)
    if signals:
        return signals, Item("chroma", "fits", True)
    asked = f"{_CHROMA_NAMES[want.chroma]} at {bits} bits"
    offered = left = set.union(*(station_encodings(s, timing, allowed, bits) for s in stations))
    reasons = []
    for station in stations:
        still = left & station_encodings(station, timing, allowed, bits)
        if still != left:
            origin = station.origin("encodings")
            reasons.append(
                Reason(
                    "no_encoding",
                    "chroma",
                    "blocked",
                    station.socket,
                    origin=origin,
                    data={
                        "asked": asked,
                        "end": station.state.port.direction,
                    },
                )
            )
        if not still:
            break
        left = still
    least = {e: min(b for x, b in offered if x == e) for e in allowed if any(x == e for x, _ in offered)}
    wished = [DigitalVideo(timing, e, b, want.audio) for e, b in least.items()]
    fallback = DigitalVideo(timing, allowed[-1], min(bits, 12), want.audio)
    return wished or [fallback], Item("chroma", "blocked", True, tuple(reasons))


_HDR_WORDS: dict[str, tuple[Code, str]] = {
    "static": ("no_hdr", "HDR"),
    "dynamic": ("no_dynamic_hdr", "dynamic-metadata HDR"),
}


def judge_features(layer: Layer, run: Run, stations: Sequence[Station], want: Want) -> list[Item]:
    """HDR, variable refresh, automatic low latency and copy protection, those that are wanted."""
    items = []
    if want.hdr != "off":
        code, words = _HDR_WORDS[want.hdr]
        item = _feature_item("hdr", code, words, "hdr", stations, want.hdr, blocking=True)
        if not has_hdr_at(layer, run, want.mode):
            reason = Reason("hdr_not_at_mode", "hdr", "blocked", stations[0].socket,
                            data={"mode": want.mode.name})  # fmt: skip
            item = Item("hdr", "blocked", True, (reason, *item.reasons))
        items.append(item)
    if want.vrr:
        item = _feature_item("vrr", "no_vrr", "variable refresh", "vrr", stations, None, blocking=True)
        items.append(item if item.reasons else _same_kind(stations))
    if want.low_lag:
        item = _feature_item(
            "low_lag", "no_low_latency", "automatic low latency", "low_latency", stations, None, blocking=False
        )
        items.append(item)
    if want.protected or stations[0].state.encrypts:
        items.append(_protection_item(stations, want))
    return items


def _feature_item(
    key: str, code: Code, words: str, field_name: str, stations: Sequence[Station],
    member: str | None, *, blocking: bool,
) -> Item:  # fmt: skip
    reasons = []
    for station in stations:
        value = getattr(station.state, field_name)
        if value is None:
            reasons.append(
                Reason("unknown_feature", key, "unknown", station.socket,
                       origin=station.origin(field_name), data={"what": words, "field": field_name})
            )  # fmt: skip
        elif (member not in value) if member is not None else value is False:
            data = {"beside": station.beside}
            reasons.append(Reason(code, key, "blocked", station.socket, origin=station.origin(field_name), data=data))
    return Item(key, worst([r.verdict for r in reasons]), blocking, tuple(reasons))


def _same_kind(stations: Sequence[Station]) -> Item:
    """Do source, boxes between and screen mean the same variable refresh? Where a box says nothing, it does."""
    left: tuple[str, ...] = VRR_KINDS
    before = family(stations[0].state.port)
    for station in stations:
        here = family(station.state.port)
        if here != before:  # a converter that passes it makes the other kind of it
            left, before = VRR_KINDS, here
        own = station.state.vrr_kinds
        if own is not None and not set(own) & set(left):
            data = {"kind": own[0] if own else "none", "asked": left[0], "beside": station.beside}
            reason = Reason("no_vrr_kind", "vrr", "blocked", station.socket, origin=station.origin("vrr_kinds"),
                            data=data)  # fmt: skip
            return Item("vrr", "blocked", True, (reason,))
        left = left if own is None else tuple(k for k in left if k in own)
    return Item("vrr", "fits", True)


def _protection_item(stations: Sequence[Station], want: Want) -> Item:
    """Protected pictures need version 1.4 up to 1080p and 2.2 above, at every stage (HDCP on HDMI)."""
    width, height = want.mode.size
    least = "2.2" if width * height > _PROTECTED_BY_14 else "1.4"
    everything = bool(stations[0].state.encrypts) and not want.protected
    reasons = []
    for station in stations:
        version = station.state.hdcp
        data = {"least": least, "everything": everything, "field": "hdcp", "what": "copy protection",
                "version": version, "beside": station.beside}  # fmt: skip
        origin = station.origin("hdcp")
        if version is None:
            reasons.append(Reason("unknown_feature", "protection", "unknown", station.socket, origin=origin, data=data))
        elif PROTECTIONS.index(version) < PROTECTIONS.index(least):
            reasons.append(Reason("no_protection", "protection", "blocked", station.socket, origin=origin, data=data))
    return Item("protection", worst([r.verdict for r in reasons]), True, tuple(reasons))
