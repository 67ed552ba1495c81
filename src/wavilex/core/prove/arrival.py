"""What will arrive on a run as it stands: the signal each box meets, and how sure that is."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.advise.table import nearest_of
from wavilex.core.chain.choice import has_hdr_at, signals_of
from wavilex.core.chain.notes import sent_signal
from wavilex.core.chain.offer import advertise
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.read import read_run
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.link.check import check_link
from wavilex.core.video.signal import HDR_BITS, DigitalVideo, demand


@dataclass(frozen=True, slots=True)
class Arrival:
    """signal: what leaves the source, None where nobody can tell or nothing gets through. resent: what a scaler on the
    way makes of it. stopped: a link on the way is known not to carry what is sent. hdr, vrr: is the picture HDR, does
    its rate follow the title; None: not known.
    """

    signal: DigitalVideo | None
    resent: DigitalVideo | None
    stopped: bool
    hdr: bool | None
    vrr: bool | None
    sure: bool
    why: str


def arrival(layer: Layer, result: RunResult) -> Arrival:
    """What runs, as the boxes stand. Where the want is not to be had, what the source sends in its place; a guess where
    its profile does not say what it picks.
    """
    limiting = render(result.limiting, layer.rig) if result.limiting else ""
    if not result.stations:
        return Arrival(None, None, False, None, None, False, limiting)
    signal, sure, why = _signal(layer, result, limiting)
    if signal is None:
        return Arrival(None, None, why != limiting, None, None, False, why)
    if any(s.state.modes is None for s in (result.stations[0], result.stations[-1])):
        sure = False
    hdr = _carries_hdr(layer, result, signal)
    vrr = _item(result, "vrr") if result.run.want.vrr else False
    return Arrival(signal, result.resent, False, hdr, vrr, sure, why)


def _signal(layer: Layer, result: RunResult, limiting: str) -> tuple[DigitalVideo | None, bool, str]:
    sent = sent_signal(result)
    if sent is not None:
        stopped = _stopped(layer, result, sent)
        if stopped is None:
            return sent, result.verdict not in ("unknown", "tight"), limiting
        return None, False, stopped
    if result.verdict == "unknown" and result.asked is not None:
        return result.asked, False, limiting
    read = read_run(layer, result.run, facts_of_want(result.run.want))
    if read is not None:
        stations = [*read[0], *result.beside]
        seen = advertise(layer, read[0], result.beside)
        for signal in signals_of(result.run.want.mode, stations, seen, read[1][0], result.run.want.audio):
            if _stopped(layer, result, signal) is None:
                return signal, True, limiting
    _rate, detail = nearest_of(layer, result)
    if detail is not None:
        return detail.signal, False, f"a guess, the best that fits: {limiting}"
    return None, False, limiting


def _stopped(layer: Layer, result: RunResult, signal: DigitalVideo) -> str | None:
    """Which link does not carry a signal, in words; None where all may."""
    for x in result.links:
        if result.resent is not None and x.signal == result.resent:
            continue
        if check_link(demand(signal), x.capacity).verdict == "blocked":
            lead = layer.rig.leads[x.hop.lead]
            return f"lead {lead.label} does not carry {signal.name}: no picture, or the source falls back"
    return None


def _carries_hdr(layer: Layer, result: RunResult, signal: DigitalVideo) -> bool | None:
    """Does the picture come in HDR? Only where it is wanted, every box knows it, and the depth is there."""
    if result.run.want.hdr == "off" or signal.bits < HDR_BITS:
        return False
    if not has_hdr_at(layer, result.run, signal.timing.mode):
        return False
    kinds = [s.state.hdr for s in result.stations]
    if any(k is not None and "static" not in k for k in kinds):
        return False
    return None if any(k is None for k in kinds) else True


def _item(result: RunResult, key: str) -> bool | None:
    verdict = next((i.verdict for i in result.items if i.key == key), "fits")
    return {"blocked": False, "unknown": None}.get(verdict, True)
