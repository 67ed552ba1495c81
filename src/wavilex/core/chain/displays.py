"""What hangs on one source together, and adapters that work one way only."""

from __future__ import annotations

from itertools import pairwise

from wavilex.core.chain.paths import Layer, Path
from wavilex.core.chain.reasons import Code, Reason
from wavilex.core.gear.origin import Origin
from wavilex.core.gear.socket_kinds import family
from wavilex.core.rig.model import Run, Socket
from wavilex.core.video.codes import usual_timing

_MEGA = 1_000_000


def screens_on(layer: Layer, source: str) -> dict[str, list[str]]:
    """The screens that each output of a source reaches, by the output's id; outputs that reach none are left out."""
    found = {}
    for port in layer.rig.devices[source].profile.outputs():
        hop = layer.hop_from(Socket(source, port.id))
        if hop is None:
            continue
        reached = [u for u in sorted(layer.reached_from(hop.inp.device))
                   if layer.rig.devices[u].profile.role == "screen"]  # fmt: skip
        if reached:
            found[port.id] = reached
    return found


def display_reasons(layer: Layer, run: Run, path: Path) -> list[Reason]:
    """What a source does not drive together. Which of its displays stays dark nobody knows: the runs are unknown."""
    known = layer.rig.devices[run.source].profile.displays
    if known is None:
        return []
    out, on = path[0].out, screens_on(layer, run.source)
    found = []
    count = len({uid for screens in on.values() for uid in screens})
    if known.most is not None and count > known.most:
        found.append(_reason("too_many_displays", out, count=count, most=known.most))
    for group in known.apart:
        others = [p for p in group if p in on and p != out.port]
        if out.port in group and others:
            other = layer.rig.devices[run.source].profile.port(others[0])
            found.append(_reason("not_together", out, other=other.label if other else others[0]))
    if known.most_mhz is not None:
        asked = _pixels_mhz(layer, run.source)
        if asked > known.most_mhz:
            found.append(_reason("card_full", out, asked=asked, most=known.most_mhz))
    return found


def _reason(code: Code, out: Socket, **data: object) -> Reason:
    return Reason(code, "source", "unknown", out, origin=Origin("port", "makers_claim"), data=data)


def _pixels_mhz(layer: Layer, source: str) -> int:
    """The pixel clocks that the runs of a source want together, one for each screen, in MHz."""
    fastest: dict[str, int] = {}
    for run in layer.rig.runs.values():
        if run.source == source and layer.paths(run):
            clock = usual_timing(run.want.mode).pixel_clock_hz
            fastest[run.sink] = max(clock, fastest.get(run.sink, 0))
    return -(-sum(fastest.values()) // _MEGA)


def turned_adapters(layer: Layer, path: Path) -> list[Reason]:
    """Passive adapters fed from HDMI or DVI whose other side is DisplayPort or USB-C: nothing passes them."""
    found = []
    for hop, onward in pairwise(path):
        profile = layer.rig.devices[hop.inp.device].profile
        into, out = profile.port(hop.inp.port), profile.port(onward.out.port)
        if profile.adapts != "passive" or into is None or out is None:
            continue
        if family(into) == "hdmi" and family(out) == "dp":
            found.append(Reason("adapter_turned", "link", "blocked", hop.inp, origin=Origin("rule", "document")))
    return found
