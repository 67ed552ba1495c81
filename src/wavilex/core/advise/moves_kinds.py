"""The other socket of the card: a new lead of another kind between two boxes that are joined already."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.advise.moves_settings import Move
from wavilex.core.chain.paths import Hop, Layer
from wavilex.core.gear.ports import Port
from wavilex.core.rig.edit_wiring import KIND_WORDS
from wavilex.core.rig.model import Device, Socket
from wavilex.core.rig.ops import ENDS, Change, End, MoveLead, SelectInput
from wavilex.core.rig.plugging import new_lead


def unlike(layer: Layer, device: Device, ports: Sequence[Port]) -> list[Port]:
    """The digital sockets of a box, of those that are alike to every rule and fact the first only."""
    found: dict[str, Port] = {}
    for port in ports:
        if port.digital:
            rules = [q.id for q in device.profile.limits if port.id in q.ports]
            facts = [(path.split(".", 2)[2:], repr(f.value)) for (uid, path), f in layer.rig.facts.items()
                     if uid == device.uid and path.split(".")[1:2] == [port.id]]  # fmt: skip
            found.setdefault(repr((port.kind, port.links, port.video, rules, facts)), port)
    return list(found.values())


def other_kinds(layer: Layer, hop: Hop) -> Iterator[Move]:
    """A new lead between free sockets of another kind, in place of the one that joins two boxes now."""
    lead = layer.rig.leads[hop.lead]
    sender, taker = (layer.rig.devices[s.device] for s in (hop.out, hop.inp))
    kinds = tuple(layer.state(s).port.kind for s in (hop.out, hop.inp))
    outs = [p for p in sender.profile.outputs() if layer.lead_at(Socket(sender.uid, p.id)) is None]
    ins = [p for p in taker.profile.inputs() if layer.lead_at(Socket(taker.uid, p.id)) is None]
    own_out, own_in = sender.profile.port(hop.out.port), taker.profile.port(hop.inp.port)
    for out in unlike(layer, sender, [*outs, *([own_out] if own_out else [])]):
        for inp in unlike(layer, taker, [*ins, *([own_in] if own_in else [])]):
            if not out.joins(inp) or (out.kind, inp.kind) == kinds:
                continue
            a, b = Socket(sender.uid, out.id), Socket(taker.uid, inp.id)
            loose: list[Change] = [_loose(layer, lead.uid, end) for end in ENDS]
            select: SelectInput = {"op": "select_input", "layer": layer.name, "device": taker.uid, "value": inp.id}
            ops = (*loose, new_lead(layer.rig, layer.name, a, b), select)
            words = KIND_WORDS[out.kind]
            label = (f"{words[0].upper()}{words[1:]} from {sender.label} · {out.label} to {taker.label} · {inp.label} "
                     "and select it")  # fmt: skip
            note = f"Lead {lead.label} comes out. Each socket of a card has its own ceiling."
            yield Move("lead", ops, label, note, 10)


def _loose(layer: Layer, uid: str, end: End) -> MoveLead:
    return {"op": "move_lead", "layer": layer.name, "lead": uid, "end": end, "to": None}
