"""The other socket of the card: a new lead of another kind between two boxes that are joined already."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.advise.moves_settings import Move
from wavilex.core.chain.paths import Hop, Layer
from wavilex.core.gear.ports import Port
from wavilex.core.rig.edit_wiring import KIND_WORDS
from wavilex.core.rig.model import Device, Socket
from wavilex.core.rig.ops import ENDS, Change, End, MoveLead, SelectInput, SetSetting
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
    own_out, own_in = sender.profile.port(hop.out.port), taker.profile.port(hop.inp.port)
    for out in unlike(layer, sender, _free(layer, sender, sender.profile.outputs(), own_out)):
        for inp in unlike(layer, taker, _free(layer, taker, taker.profile.inputs(), own_in)):
            if out.joins(inp) and (out.kind, inp.kind) != kinds:
                note = f"Lead {lead.label} comes out. Each socket of a card has its own ceiling."
                yield _joined(
                    layer, [lead.uid], (sender, out), (taker, inp), _lead_words(out, inp, sender, taker), note
                )


def unmirrored(layer: Layer, source: str) -> Iterator[Move]:
    """A picture of its own for each display of a source that sends all the same one."""
    device = layer.rig.devices[source]
    setting = next((s for s in device.profile.settings if s.effect == "mirroring"), None)
    if setting is not None and layer.mirrors(source):
        op: SetSetting = {"op": "set_setting", "layer": layer.name, "device": source, "scope": "", "key": setting.id,
                          "value": "off"}  # fmt: skip
        yield Move("setting", (op,), f"{device.label}: {setting.label} → {setting.option_label('off')}")


def past_adapter(layer: Layer, hop: Hop, onward: Hop) -> Iterator[Move]:
    """A lead straight from box to box, past an adapter that stands between them; both its leads come out."""
    sender, between, taker = (layer.rig.devices[s.device] for s in (hop.out, hop.inp, onward.inp))
    if between.profile.adapts is None:
        return
    own_out, own_in = sender.profile.port(hop.out.port), taker.profile.port(onward.inp.port)
    for out in unlike(layer, sender, _free(layer, sender, sender.profile.outputs(), own_out)):
        for inp in unlike(layer, taker, _free(layer, taker, taker.profile.inputs(), own_in)):
            if out.joins(inp):
                label = f"{_lead_words(out, inp, sender, taker)}, past {between.label}"
                note = f"{between.label} is left out; its leads come out."
                yield _joined(layer, [hop.lead, onward.lead], (sender, out), (taker, inp), label, note)


def _free(layer: Layer, device: Device, ports: Sequence[Port], own: Port | None) -> list[Port]:
    """Sockets without a lead, and the one that is given up."""
    return [p for p in ports if p == own or layer.lead_at(Socket(device.uid, p.id)) is None]


def _lead_words(out: Port, inp: Port, sender: Device, taker: Device) -> str:
    words = KIND_WORDS[out.kind]
    return f"{words[0].upper()}{words[1:]} from {sender.label} · {out.label} to {taker.label} · {inp.label}"


def _joined(
    layer: Layer, leads: list[str], start: tuple[Device, Port], end: tuple[Device, Port], label: str, note: str
) -> Move:
    """A new lead from socket to socket, others coming out at both ends, and the input selected."""
    a, b = (Socket(device.uid, port.id) for device, port in (start, end))
    loose: list[Change] = [_loose(layer, uid, side) for uid in leads for side in ENDS]
    select: SelectInput = {"op": "select_input", "layer": layer.name, "device": b.device, "value": b.port}
    return Move("lead", (*loose, new_lead(layer.rig, layer.name, a, b), select), f"{label} and select it", note, 10)


def _loose(layer: Layer, uid: str, end: End) -> MoveLead:
    return {"op": "move_lead", "layer": layer.name, "lead": uid, "end": end, "to": None}
