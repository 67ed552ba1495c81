"""What a run carries: the want held against every socket and link of its path, item by item.

Three passes: capabilities upstream (what the source reads), the source's choice, the signal downstream.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from wavilex.core.chain.choice import delivers, has_hdr_at, signals_of, title_signals
from wavilex.core.chain.offer import (
    CHROMA_ALLOWS,
    advertise,
    common_signals,
    least_bits,
    path_capacities,
    sends,
    station_encodings,
    timing_for,
)
from wavilex.core.chain.paths import Hop, Layer, Path, Station, facts_of_want
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.rig import Rig, Run, Want
from wavilex.core.chain.why import analogue_reasons, guess_reasons, link_reasons, unsteady_reasons
from wavilex.core.gear.state import PROTECTIONS, PortState
from wavilex.core.link.check import Capacity, LinkVerdict, check_link, worst
from wavilex.core.retro.path import meetings
from wavilex.core.video.codes import parse_mode, parse_timing, usual_timing
from wavilex.core.video.signal import DigitalVideo, demand, mode_name
from wavilex.core.video.timing import Timing

_CHROMA_NAMES = {"444": "RGB or 4:4:4", "422": "4:2:2 or better", "any": "picture"}
ITEMS = ("joined", "source", "picture", "hdr", "chroma", "link", "vrr", "low_lag", "protection")
_PROTECTED_BY_14 = 1920 * 1200  # pixels: HDCP 1.4 suffices to 1080p


@dataclass(frozen=True, slots=True)
class LinkResult:
    """One link of the run: its hop, what it can carry, and the verdict on the wanted signal."""

    hop: Hop
    capacity: Capacity
    wanted: LinkVerdict


@dataclass(frozen=True, slots=True)
class Item:
    """One part of the want and its answer. Items that do not block are answered `blocked` all the same."""

    key: str
    verdict: str
    blocking: bool
    reasons: tuple[Reason, ...] = ()


@dataclass(frozen=True)
class RunResult:
    """The answer for one run. `asked` is the want as a signal; `chosen` what the source picks by itself for a
    title, None where its profile does not tell. `beside`: sockets off the path whose screens the source reads too.
    """

    run: Run
    verdict: str
    path: Path
    asked: DigitalVideo | None
    chosen: DigitalVideo | None
    links: tuple[LinkResult, ...] = ()
    items: tuple[Item, ...] = ()
    alternatives: tuple[DigitalVideo, ...] = ()
    stations: tuple[Station, ...] = field(default=(), repr=False)
    beside: tuple[Station, ...] = field(default=(), repr=False)

    @property
    def reasons(self) -> list[Reason]:
        """Every reason, what blocks first."""
        found = [(i.blocking, r) for i in self.items for r in i.reasons]
        order = ("blocked", "unknown", "compressed", "tight", "fits")
        return [r for _, r in sorted(found, key=lambda x: (not x[0], order.index(x[1].verdict)))]

    @property
    def limiting(self) -> Reason | None:
        """The reason that decides, None when all is well."""
        first = next((r for i in self.items if i.blocking for r in i.reasons if r.verdict == self.verdict), None)
        return None if self.verdict == "fits" else first

    @property
    def good(self) -> bool:
        return self.verdict in ("fits", "tight", "compressed")


def run_result(layer: Layer, run: Run, want: Want | None = None) -> RunResult:
    """Judge a run (or another want on the same path) in a compiled layer."""
    want = want or run.want
    paths = layer.paths(run)
    if not paths:
        return _unjoined(layer.rig, run)
    facts = facts_of_want(want)
    path = layer.digital(paths[0])
    stations = layer.stations(path, facts)
    beside = layer.beside(path, facts)
    met = tuple(meetings(layer, paths[0])) if len(path) < len(paths[0]) else ()
    key = (
        run, want, paths[0], met, tuple(layer.rig.leads[h.lead].cable for h in path),
        tuple(id(s.state) for s in stations), tuple((s.socket, id(s.state)) for s in beside),
    )  # fmt: skip
    kept = layer.states.results
    found: RunResult | None = kept.get(key)
    if found is None:
        found = kept[key] = _judge(layer, run, want, paths[0], path, stations, beside)
    return found


def _judge(
    layer: Layer, run: Run, want: Want, whole: Path, path: Path, stations: list[Station], beside: list[Station]
) -> RunResult:
    """Hold the want against every socket and link of a path; `path` are its digital links."""
    analogue = analogue_reasons(layer, whole)
    if not path:
        return _unread(run, whole, analogue)
    facts = facts_of_want(want)
    read = [*stations, *beside]
    seen = advertise(layer, stations, beside)
    capacities = path_capacities(layer, stations, path)
    timing, mode_item = _judge_mode(read, seen, want)
    signals, chroma_item = _judge_chroma(read, timing, want)
    chosen = title_signals(layer, run, read, seen, capacities[0], want)
    could = bool(chosen) and bool(signals_of(want.mode, read, seen, capacities[0], want.audio))
    source_item = _judge_source(stations[0], chosen if could else [], want)
    asked = choose(signals, capacities)
    links = tuple(
        LinkResult(hop, cap, check_link(demand(asked), cap)) for hop, cap in zip(path, capacities, strict=True)
    )
    leanest = min(signals, key=lambda s: demand(s).tb_active)
    reasons = link_reasons(layer, links, asked, leanest)
    reasons += analogue
    link_item = Item("link", worst([r.verdict for r in reasons]), True, tuple(reasons))
    guesses = [*guess_reasons(stations), *unsteady_reasons(layer, stations, facts)]
    features = _judge_features(layer, run, read, want)
    items = [
        Item("joined", "fits", True),
        source_item,
        Item("picture", worst([mode_item.verdict, *(r.verdict for r in guesses)]), True,
             (*mode_item.reasons, *guesses)),
        *(i for i in features if i.key == "hdr"),  # said before depth: no HDR is why ten bits are missing
        chroma_item,
        link_item,
        *(i for i in features if i.key != "hdr"),
    ]  # fmt: skip
    verdict = worst([i.verdict for i in items if i.blocking])
    alternatives = tuple(s for s in signals if s != asked and _all_fit(s, capacities))
    return RunResult(
        run, verdict, whole, asked, chosen[0] if chosen else None, links, tuple(items), alternatives,
        tuple(stations), tuple(beside),
    )  # fmt: skip


def _unjoined(rig: Rig, run: Run) -> RunResult:
    words = {"source": rig.devices[run.source].label, "sink": rig.devices[run.sink].label}
    reason = Reason("not_connected", "joined", "blocked", data=words)
    return RunResult(run, "blocked", (), None, None, (), (Item("joined", "blocked", True, (reason,)),))


def _unread(run: Run, path: Path, analogue: list[Reason]) -> RunResult:
    """A run without any digital link: judged by its scan rates alone."""
    verdict = worst([r.verdict for r in analogue])
    items = (Item("joined", "fits", True), Item("link", verdict, True, tuple(analogue)))
    return RunResult(run, verdict, path, None, None, (), items)


def _judge_mode(stations: Sequence[Station], seen: PortState, want: Want) -> tuple[Timing, Item]:
    words: dict[str, Any] = {"mode": mode_name(want.mode), "hz": parse_mode(want.mode)[2]}
    reasons = []
    for station in stations[1:]:
        if timing_for(station.state.modes, want.mode) is None:
            timings = [parse_timing(m) for m in station.state.modes or ()]
            fastest = max(timings, key=lambda t: (t.nominal_hz, t.h_active), default=None)
            too_fast = fastest is None or fastest.nominal_hz < words["hz"]
            data = {
                **words, "fastest": mode_name(fastest.mode) if fastest else "not known", "beside": station.beside,
            }  # fmt: skip
            code = "panel_rate" if too_fast else "mode_not_taken"
            reasons.append(
                Reason(code, "picture", "blocked", station.socket, origin=station.origin("modes"), data=data)
            )
    timing = timing_for(seen.modes, want.mode) or usual_timing(want.mode)
    return timing, Item("picture", "blocked" if reasons else "fits", True, tuple(reasons))


def _judge_source(source: Station, chosen: Sequence[DigitalVideo], want: Want) -> Item:
    """Does the source send the mode, and does it choose it, or one as good, when a title starts?

    chosen: its choice, where it could have sent what is wanted; what links stop is not the source's doing.
    """
    words = {"mode": mode_name(want.mode)}
    code = ""
    if not sends(source.state, want.mode):
        code = "source_mode"
    elif chosen and not delivers(chosen[0].timing.mode, want.mode):
        code, words["chosen"] = "source_prefers", mode_name(chosen[0].timing.mode)
    if not code:
        return Item("source", "fits", True)
    reason = Reason(code, "source", "blocked", source.socket, origin=source.origin("modes"), data=words)
    return Item("source", "blocked", True, (reason,))


def _judge_chroma(stations: Sequence[Station], timing: Timing, want: Want) -> tuple[list[DigitalVideo], Item]:
    allowed, bits = CHROMA_ALLOWS[want.chroma], least_bits(want)
    signals = common_signals(stations, timing, allowed, bits, want.audio)
    if signals:
        return signals, Item("chroma", "fits", True)
    asked = f"{_CHROMA_NAMES[want.chroma]} at {bits} bits"
    left = set.union(*(station_encodings(s, timing, allowed, bits) for s in stations))
    reasons = []
    for station in stations:
        still = left & station_encodings(station, timing, allowed, bits)
        if still != left:
            origin = station.origin("encodings")
            reasons.append(
                Reason("no_encoding", "chroma", "blocked", station.socket, origin=origin, data={"asked": asked})
            )
        if not still:
            break
        left = still
    first = "444" if want.chroma == "444" else "rgb"
    wished = [DigitalVideo(timing, first, bits, want.audio)]
    return wished, Item("chroma", "blocked", True, tuple(reasons))


def choose(signals: Sequence[DigitalVideo], capacities: Sequence[Capacity]) -> DigitalVideo:
    """The source's choice: of the signals most links carry the first it prefers (all links, if any signal fits)."""

    def carried_by(signal: DigitalVideo) -> int:
        need = demand(signal)
        return sum(check_link(need, cap).fits for cap in capacities)

    return max(signals, key=carried_by)  # max keeps the first of equals


def _all_fit(signal: DigitalVideo, capacities: Sequence[Capacity]) -> bool:
    return all(check_link(demand(signal), cap).fits for cap in capacities)


_HDR_WORDS = {"static": ("no_hdr", "HDR"), "dynamic": ("no_dynamic_hdr", "dynamic-metadata HDR")}


def _judge_features(layer: Layer, run: Run, stations: Sequence[Station], want: Want) -> list[Item]:
    items = []
    if want.hdr != "off":
        code, words = _HDR_WORDS[want.hdr]
        item = _feature_item("hdr", code, words, "hdr", stations, want.hdr, blocking=True)
        if not has_hdr_at(layer, run, want.mode):
            reason = Reason("hdr_not_at_mode", "hdr", "blocked", stations[0].socket,
                            data={"mode": mode_name(want.mode)})  # fmt: skip
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
    key: str, code: str, words: str, field_name: str, stations: Sequence[Station],
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
    left: tuple[str, ...] = ("hdmi", "vendor")
    for station in stations:
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
    width, height, _ = parse_mode(want.mode)
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


def used_of(result: RunResult) -> Fraction | None:
    """The largest share used on any link of the run, for the wanted signal."""
    shares = [x.wanted.used for x in result.links if x.wanted.used is not None]
    return max(shares, default=None)
