"""Why links do not carry a signal, part by part, with the sums."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import reduce

from wavilex.core.chain.analogue import meetings
from wavilex.core.chain.multiple_set import SAMPLINGS, Taken, taken
from wavilex.core.chain.offer import is_plain
from wavilex.core.chain.paths import Layer, Path, Station
from wavilex.core.chain.reasons import Code, Reason
from wavilex.core.chain.results import LinkResult
from wavilex.core.gear.conditions import SignalFacts
from wavilex.core.gear.origin import Origin
from wavilex.core.gear.ports import Dsc
from wavilex.core.gear.state import PortState, quirk_acts
from wavilex.core.link.cable import GRADES, NOT_READ, TAKEN_FOR, cable_bounds
from wavilex.core.link.check import TIGHT_FROM, Capacity, End, Verdict, capacity, check_link
from wavilex.core.link.dp import DP_TIGHT_FROM
from wavilex.core.link.dp_rates import BEST_DP, NO_DP, SLOTS_OF_STREAMS
from wavilex.core.link.dsc import DscSink, common_dsc
from wavilex.core.link.rates import FRL_RATES, NO_FRL, ceiling_text
from wavilex.core.rig.model import Socket
from wavilex.core.scan.signals import GOOD
from wavilex.core.video.signal import DigitalVideo, demand
from wavilex.core.video.timing import Timing

_BEST = End(600_000_000, FRL_RATES[-1], BEST_DP)


def link_reasons(layer: Layer, links: Sequence[LinkResult], asked: DigitalVideo, leanest: DigitalVideo) -> list[Reason]:
    """Every part that stops or strains the asked signal, the gravest links first.

    A link is blamed when it does not carry even the leanest signal the want accepts; only where every link
    carries that one, but none carries all of them together, are links blamed for the asked signal.
    """
    reasons: list[Reason] = []
    words = {"signal": asked.name}
    lean = demand(leanest)
    stopped = [x for x in links if x.wanted.verdict == "blocked"]
    plain = _plain_box(layer, links) if stopped else None
    if plain is not None:
        return [plain]
    hopeless = [x for x in stopped if check_link(lean, x.capacity).verdict == "blocked"]
    for link in links:
        v = link.wanted
        if v.verdict == "blocked":
            if hopeless and link not in hopeless:
                continue
            reasons += _blocked(layer, link, asked, leanest)
        elif v.verdict == "unknown":
            reasons += _unknown(layer, links, link, words)
        elif v.verdict == "compressed" and v.dsc is not None:
            data = {**words, "bpp": f"{v.dsc.bits_per_pixel_x16 / 16:g}"}
            origin = layer.state(link.hop.inp).origins["dsc"]
            reasons.append(Reason("compressed", "link", "compressed", link.hop.inp, origin=origin, data=data, link=v))
        elif _taken_on_trust(layer, link):
            data = {**words, "taken": GRADES[TAKEN_FOR[layer.rig.leads[link.hop.lead].kind]].name}
            reasons.append(Reason("lead_unread", "link", "tight", lead=link.hop.lead, data=data, link=v))
        elif v.long is not None:
            reasons.append(Reason("lead_long", "link", "tight", lead=link.hop.lead, link=v))
        elif v.verdict == "tight" and v.transport in ("frl", "dp"):
            full = {**words, "share": float((DP_TIGHT_FROM if v.transport == "dp" else TIGHT_FROM) * 100)}
            reasons.append(Reason("nearly_full", "link", "tight", link.hop.inp, data=full, link=v))
    return reasons


def _plain_box(layer: Layer, links: Sequence[LinkResult]) -> Reason | None:
    """The one box that passes no compression, where all others of the way do and the signal would fit so."""
    sockets = [s for x in links for s in (x.hop.out, x.hop.inp)]
    states = {s: layer.state(s) for s in sockets}
    refusing = [s for s in sockets if states[s].dsc is False]
    others = [states[s].dsc for s in sockets if s not in refusing]
    if len({s.device for s in refusing}) != 1 or any(is_plain(x) for x in states.values()):
        return None
    own = (_dsc_of_profile(layer, s) for s in refusing)
    sink = reduce(common_dsc, [*others, *(d for d in own if d)])
    if not isinstance(sink, DscSink):
        return None  # nothing that decodes is left: the rate is the answer
    if not all(check_link(x.wanted.demand, replace(x.capacity, dsc=sink)).fits for x in links):
        return None
    first = refusing[0]
    data = {"end": "out" if first == sockets[0] else "in" if first == sockets[-1] else ""}
    link = next(x.wanted for x in links if x.wanted.verdict == "blocked")
    data["signal"] = link.demand.signal.name
    return Reason("no_compression", "link", "blocked", first, origin=states[first].origins["dsc"], data=data, link=link)


def _dsc_of_profile(layer: Layer, socket: Socket) -> DscSink | bool | None:
    """What a box compresses when none of its settings is in the way."""
    profile = layer.rig.devices[socket.device].profile
    port = profile.port(socket.port)
    own = port.video.dsc if port is not None and port.video.dsc is not None else profile.video.dsc
    return own.sink() if isinstance(own, Dsc) else own


def _taken_on_trust(layer: Layer, link: LinkResult) -> bool:
    """Does a link hang on a lead whose print nobody read, beyond what it was proved to carry?"""
    cable = layer.rig.leads[link.hop.lead].cable
    if cable.grade != NOT_READ:
        return False
    cap = link.capacity
    proved = replace(cap, tmds_hz=cap.trusted_tmds_hz, frl=cap.trusted_frl, dp=cap.trusted_dp, beyond=None)
    return cable.proved is None or not check_link(link.wanted.demand, proved).fits


def _blocked(layer: Layer, link: LinkResult, asked: DigitalVideo, leanest: DigitalVideo) -> list[Reason]:
    hop, v = link.hop, link.wanted
    words: dict[str, object] = {"signal": asked.name}
    if v.blocked_by == "lead_turned" or v.blocked_by == "lead_unfed":
        return [Reason(v.blocked_by, "link", "blocked", lead=hop.lead, data=words)]
    if v.blocked_by == "no_common_link":
        return [_no_common(layer, link)]
    if v.dp is not None and v.blocked_by == "rate" and v.dp.slots is not None and v.dp.demand_bps <= v.dp.data_bps:
        data = {"lead": layer.rig.leads[hop.lead].label, "most": SLOTS_OF_STREAMS, **words}
        data |= {"slots": v.dp.slots, "taken": v.dp.taken}
        return [Reason("streams_full", "link", "blocked", hop.inp, data=data, link=v)]
    if v.blocked_by is not None and v.blocked_by != "rate":
        return [Reason(v.blocked_by, "link", "blocked", hop.inp, data=words, link=v)]
    lead = layer.rig.leads[hop.lead]
    parts: list[tuple[str, End]] = []
    for end, socket in (("out", hop.out), ("in", hop.inp)):
        parts.append((end, layer.state(socket).end))
    most = cable_bounds(lead.cable).most
    parts.insert(1, ("lead", End(most.tmds_hz, most.frl, most.dp, most.dvi if v.capacity.dvi else 0)))
    blamed = []
    for signal in (leanest, asked):
        need = demand(signal)
        blamed = [(name, p) for name, p in parts if check_link(need, _alone(p)).verdict == "blocked"]
        if blamed:
            break
    blamed.sort(key=lambda x: x[0] == "lead")  # a socket first: a new lead there changes nothing
    found = []
    for name, part in blamed:
        limit = ceiling_text(part.tmds_hz, part.frl, part.dp if v.transport == "dp" else NO_DP, part.dvi)
        if name == "lead":
            data = {**words, "limit": limit, "grade": most.name if lead.cable.failed else f"certified {most.name}"}
            found.append(Reason("link_rate", "link", "blocked", lead=lead.uid, link=v, data=data))
            continue
        socket = hop.out if name == "out" else hop.inp
        by_frl = part.frl == NO_FRL and layer.state(socket).port.kind == "hdmi"
        field_name = "dp" if v.transport == "dp" else "frl" if by_frl else "tmds"
        origins = layer.state(socket).origins
        by_rate = origins["tmds"].kind == "quirk" and v.transport != "dp"
        origin = origins["tmds"] if by_rate else origins[field_name]
        data = {**words, "limit": limit, "end": name}
        found.append(Reason("link_rate", "link", "blocked", socket, origin=origin, link=v, data=data))
    return found


def _alone(part: End) -> Capacity:
    """A link limited by one part only."""
    dual = replace(_BEST, dvi=2)
    return capacity(part, dual, dual) if part.dvi else capacity(part, _BEST, _BEST)


def _no_common(layer: Layer, link: LinkResult) -> Reason:
    """Two ends that speak no common language, or a lead without lanes for a picture."""
    most = cable_bounds(layer.rig.leads[link.hop.lead].cable).most
    if most.dp == NO_DP and not most.tmds_hz:
        return Reason("no_lanes", "link", "blocked", lead=link.hop.lead, link=link.wanted)
    out, inp = layer.state(link.hop.out), layer.state(link.hop.inp)
    data = {"sends": layer.rig.socket_name(link.hop.out), "has": _speaks(out), "takes": _speaks(inp)}
    return Reason("no_common_link", "link", "blocked", link.hop.inp, origin=inp.origins["dp"], data=data)


def _speaks(state: PortState) -> str:
    """The ways of sending that a socket is known to have."""
    ways = [name for name, there in (("DisplayPort", state.dp and state.dp.lanes), ("TMDS", state.tmds_hz)) if there]
    return " and ".join(ways) or "nothing known"


def _unknown(layer: Layer, links: Sequence[LinkResult], link: LinkResult, words: dict[str, str]) -> list[Reason]:
    if link.wanted.blocked_by == "compression_unknown":
        sockets = [s for x in links for s in (x.hop.out, x.hop.inp)]
        silent = next((s for s in sockets if layer.state(s).dsc is None), sockets[-1])
        origin = layer.state(silent).origins["dsc"]
        return [Reason("compression_unknown", "link", "unknown", silent, origin=origin, data=words, link=link.wanted)]
    if link.wanted.blocked_by == "lead_too_long":
        return [Reason("lead_too_long", "link", "unknown", lead=link.hop.lead, link=link.wanted)]
    if link.capacity.beyond is not None:
        cap = link.capacity
        data = {**words, "proved": ceiling_text(cap.trusted_tmds_hz, cap.trusted_frl, cap.trusted_dp)}
        return [Reason("proved_so_far", "link", "unknown", lead=link.hop.lead, data=data, link=link.wanted)]
    out = []
    dual = link.capacity.dp == NO_DP and layer.state(link.hop.out).port.kind in ("dp", "usbc")
    for part in link.capacity.unknown:
        lead = link.hop.lead if part == "lead" else None
        socket = None if lead else (link.hop.out if part == "out" else link.hop.inp)
        asked = {**words, "dual": dual and part == "out"}
        out.append(Reason("capacity_unknown", "link", "unknown", socket, lead, data=asked))
    return out


def guess_reasons(stations: Sequence[Station]) -> list[Reason]:
    """Sockets whose rate or modes rest on a guess: the run is tight at best."""
    return [
        Reason("guessed", "picture", "tight", s.socket, origin=s.origin(f))
        for s in stations
        for f in ("tmds", "frl", "dp", "modes")
        if s.origin(f).provenance == "guess" and getattr(s.state, "tmds_hz" if f == "tmds" else f) is not None
    ][:1]


def unsteady_reasons(layer: Layer, stations: Sequence[Station], signal: SignalFacts) -> list[Reason]:
    """Defects that come and go on the path: the run is tight while a condition for one holds."""
    found = []
    for station in stations:
        device = layer.rig.devices[station.socket.device]
        if not device.profile.unsteady:
            continue
        standing, around = layer.standing(device, signal), layer.around(device, signal)
        for quirk in device.profile.unsteady:
            acts, origin = quirk_acts(device.profile, station.state.port, quirk, standing, around)
            if acts is not False:
                data = {"seen": quirk.seen}
                found.append(Reason("comes_and_goes", "picture", "tight", station.socket, origin=origin, data=data))
    return found


def analogue_reasons(layer: Layer, path: Path, sent: Timing | None) -> list[Reason]:
    """Analogue links of a path: an input that refuses the scan rate, mistakes it, or of which nobody knows.

    sent: the timing on the path's last digital links.
    """
    found = []
    for met in meetings(layer, path, sent=sent):
        data = {"signal": met.signal.name if met.signal else "", "treats": met.treats}
        if met.wants:
            data |= {"wants": met.wants, "brings": met.brings}
        if met.treats is None:
            found.append(Reason("analogue_link", "link", "unknown", met.hop.inp, met.hop.lead, data=data))
        elif met.wants:
            code: Code = "scan_no_sync" if met.treats == "no_sync" else "scan_grey"
            found.append(Reason(code, "link", "blocked", met.hop.inp, met.hop.lead, data=data))
        elif met.treats not in GOOD:
            found.append(Reason("scan_refused", "link", "blocked", met.hop.inp, met.hop.lead, data=data))
        elif met.treats == "as_interlaced":
            found.append(Reason("scan_mistaken", "link", "tight", met.hop.inp, met.hop.lead, data=data))
    return found + _multiple_reasons(taken(layer, path))


def _multiple_reasons(sent: Taken | None) -> list[Reason]:
    """What the screen says to the multiple that is set, where it is not sure or likely."""
    if sent is None or sent.answer.answer in ("sure", "likely"):
        return []
    name = f"{sent.multiple.times}× {SAMPLINGS[sent.multiple.sampling]}"
    data = {"multiple": name, "why": sent.answer.why, "answer": sent.answer.answer, "box": sent.box.uid}
    origin = Origin("fact", "measured_here") if sent.answer.tried else Origin("rule", "common_practice")
    verdict: Verdict = "blocked" if sent.answer.answer == "no" else "tight"
    return [Reason("multiple", "link", verdict, sent.inp, origin=origin, data=data)]
