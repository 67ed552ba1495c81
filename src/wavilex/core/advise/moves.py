"""The moves that could lift a reason. Fix search tries only these."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from wavilex.core.advise.moves_kinds import other_kinds, past_adapter, unmirrored
from wavilex.core.advise.moves_settings import Move, moves_against_unsteady, moves_inside, sampling_moves
from wavilex.core.chain.paths import Hop, Layer, Path, facts_of_want
from wavilex.core.chain.reasons import Reason
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.ports import Port
from wavilex.core.link.cable import GRADES, GRADES_OF, TAKEN_FOR, Cable
from wavilex.core.rig.edit_common import plain
from wavilex.core.rig.edit_wiring import cable_data
from wavilex.core.rig.model import Lead, Rig, Run, Socket
from wavilex.core.rig.ops import CableData, Change, End, MoveLead, ReplaceLead, SelectInput, Selection, SwapLeads
from wavilex.core.rig.plugging import new_lead

_RATES = ("tmds", "frl", "dp")
_FIELDS = {
    "no_hdr": ("hdr",),
    "no_dynamic_hdr": ("hdr",),
    "no_vrr": ("vrr",),
    "no_vrr_kind": ("vrr", "vrr_kinds"),
    "no_low_latency": ("low_latency",),
    "link_rate": _RATES,
    "capacity_unknown": _RATES,
    "streams_full": _RATES,
    "no_common_link": _RATES,
    "no_compression": ("dsc", *_RATES),
    "compression_unknown": ("dsc",),
    "no_audio_room": _RATES,
    "source_mode": ("modes",),
    "panel_rate": ("modes",),
    "mode_not_taken": ("modes",),
    "no_encoding": ("encodings", "modes_420"),
    "no_protection": ("hdcp", "encrypts"),
    "source_prefers": ("modes",),
    "guessed": (*_RATES, "modes"),
}
_NEXT_ROOM_MM = 5000  # the least that reaches a socket in the next room: own figure
_TRY_FIRST = "Or try the one that hangs there first: nobody certified it, and it may do."
_UNKNOWN_FIELDS = ("hdr", "vrr", "low_latency", "hdcp", "modes")
_CHOICE_FIELDS = ("encodings", "modes_420", "modes", "dsc")  # what decides which signals may be sent at all

_BY_ANOTHER_SIGNAL = (
    "link_rate", "no_encoding", "capacity_unknown", "no_audio_room", "compression_unknown", "proved_so_far",
    "no_compression", "dvi_format", "streams_full",
)  # fmt: skip


def lifts(layer: Layer, result: RunResult, reason: Reason) -> list[Move]:
    """Every stated move that could lift a reason: a run that is mended must use one of them."""
    if reason.code == "not_connected":
        return [*_new_leads(layer, result.run), *_reroutes_of_loose(layer, result.run)]
    moves: dict[str, Move] = {}
    signal = facts_of_want(result.run.want)

    def add(found: Iterator[Move]) -> None:
        for move in found:
            moves.setdefault(repr(move.ops), move)

    if reason.socket is not None:
        fields = _UNKNOWN_FIELDS if reason.code == "unknown_feature" else _FIELDS.get(reason.code, ())
        add(moves_inside(layer, signal, reason.socket, fields))
        if reason.code == "comes_and_goes":
            add(moves_against_unsteady(layer, signal, reason.socket))
        add(_other_sockets(layer, result, reason.socket))
    if reason.lead is not None:
        add(_handled_leads(layer.rig, reason))
        add(_better_leads(layer.rig, reason.lead))
        if reason.code in ("lead_long", "lead_too_long"):
            add(_active_lead(layer.rig, reason.lead))
    if reason.code == "no_compression":  # or it is to fit uncompressed: faster ends, a faster lead
        for station in result.stations:
            add(moves_inside(layer, signal, station.socket, _FIELDS[reason.code]))
        for hop in result.path:
            add(_better_leads(layer.rig, hop.lead))
    if reason.code in ("no_protection", "source_prefers"):
        add(moves_inside(layer, signal, result.stations[0].socket, _FIELDS[reason.code]))
    if reason.code == "source_prefers":  # it may prefer what it could not read elsewhere
        for station in result.stations[1:]:
            add(moves_inside(layer, signal, station.socket, _CHOICE_FIELDS))
    if reason.code == "multiple":
        add(sampling_moves(layer, reason.data["box"]))
    if reason.code in ("panel_rate", "mode_not_taken") and result.resent is not None:
        for station in result.stations:  # a scaler on the way might send another
            if layer.rig.devices[station.socket.device].profile.converts is not None:
                add(moves_inside(layer, signal, station.socket, ("modes",)))
    if reason.code in _BY_ANOTHER_SIGNAL:
        for station in result.stations:  # another signal might do if some box let it through
            add(moves_inside(layer, signal, station.socket, _CHOICE_FIELDS))
            add(_other_sockets(layer, result, station.socket))
    for hop in result.path:
        add(_reroutes(layer, result.run, hop))
        add(other_kinds(layer, hop))
    add(_bypasses(layer, result.path))
    for hop, onward in pairwise(result.path):
        add(past_adapter(layer, hop, onward))
    on_the_way = {s.device for hop in result.path for s in (hop.out, hop.inp)}
    if reason.socket is not None and reason.socket.device not in on_the_way:
        add(unmirrored(layer, result.run.source))
    if reason.code == "not_together":  # or the other of the two gives way
        for hop in layer.hops_from(result.run.source):
            add(other_kinds(layer, hop))
    return [m for m in moves.values() if honours_marks(layer, m)]


def honours_marks(layer: Layer, move: Move) -> bool:
    """Does a move leave what must stay: a lead in the wall where it runs, a box in the picture path?"""
    return not any(_disturbs(layer, op) for op in move.ops)


def _disturbs(layer: Layer, op: Change) -> bool:
    rig = layer.rig
    if op["op"] == "replace_lead":
        return rig.leads[op["lead"]].mark == "stays" and not {"grade", "build"}.isdisjoint(op)
    if op["op"] != "move_lead":
        return False  # a swap at one box leaves both leads there
    lead, end = rig.leads[op["lead"]], op["end"] == "b"
    now, to = lead.ends(layer.name)[end], op["to"]
    if now is None or (to is not None and to["device"] == now.device):
        return False
    return held_at(rig, lead, now.device)


def held_at(rig: Rig, lead: Lead, device: str) -> bool:
    """Must a lead's end stay at a box: the lead is in the wall, or the box in the picture path?"""
    box = rig.devices[device]
    return lead.mark == "stays" or (box.mark == "stays" and box.profile.role == "repeater")


def _select(layer: Layer, socket: Socket) -> SelectInput:
    return {"op": "select_input", "layer": layer.name, "device": socket.device, "value": socket.port}


def _plug(layer: Layer, lead: str, end: End, socket: Socket) -> MoveLead:
    return {"op": "move_lead", "layer": layer.name, "lead": lead, "end": end, "to": plain(socket)}


def _other_sockets(layer: Layer, result: RunResult, socket: Socket) -> Iterator[Move]:
    """The run's own plug in another socket of the same box, swapped with its lead if there is one."""
    hop = next((h for h in result.path if socket in (h.out, h.inp)), None)
    if hop is None:
        return
    device = layer.rig.devices[socket.device]
    end: End = "b" if socket == hop.inp else "a"
    ports = device.profile.inputs() if end == "b" else device.profile.outputs()
    lead = layer.rig.leads[hop.lead]
    own = device.profile.port(socket.port)
    for port in ports:
        target = Socket(device.uid, port.id)
        if target == socket or own is None or port.plug != own.plug:
            continue
        other = layer.lead_at(target)
        if other is None:
            ops: list[Change] = [_plug(layer, lead.uid, end, target)]
            if end == "b":
                ops.append(_select(layer, target))
            label = f"Move lead {lead.label} to {device.label} · {port.label}"
            note = f"{port.label} has stored settings of its own: re-check them."
            yield Move("input", tuple(ops), label + (" and select it" if end == "b" else ""), note, 2)
        elif end == "b":
            select: list[Selection] = [{"device": device.uid, "value": port.id}]
            op: SwapLeads = {
                "op": "swap_leads",
                "layer": layer.name,
                "end": "b",
                "leads": [lead.uid, other.uid],
                "select": select,
            }
            here = device.profile.port(socket.port)
            now = here.label if here else socket.port
            yield Move(
                "swap", (op,),
                f"Swap leads {lead.label} and {other.label} at {device.label} and select {port.label}",
                f"Settings stay with the socket: {now} and {port.label} now meet the other box, re-check both.", 3,
            )  # fmt: skip
        else:
            crossed: SwapLeads = {
                "op": "swap_leads", "layer": layer.name, "end": "a", "leads": [lead.uid, other.uid],
            }  # fmt: skip
            yield Move("swap", (crossed,), f"Swap leads {lead.label} and {other.label} at the outputs of "
                       f"{device.label}", "", 3)  # fmt: skip


def _handled_leads(rig: Rig, reason: Reason) -> Iterator[Move]:
    """What is done to a lead as it hangs: turned round, its supply switched on."""
    uid = str(reason.lead)
    label = rig.leads[uid].label
    if reason.code == "lead_turned":
        turn: ReplaceLead = {"op": "replace_lead", "lead": uid, "turned": False}
        yield Move("swap", (turn,), f"Turn lead {label} round", "Its plugs are marked: one sends, one receives.", 5)
    if reason.code == "lead_unfed":
        feed: ReplaceLead = {"op": "replace_lead", "lead": uid, "power": "fed"}
        yield Move("setting", (feed,), f"Switch on the supply of lead {label}", "", 2)


def _better_leads(rig: Rig, uid: str) -> Iterator[Move]:
    """New leads of a higher certification, or of any where this one failed or is dead; all else of it is forgotten."""
    lead, fresh = rig.leads[uid], Cable()
    order = GRADES_OF.get(lead.kind, ())[:-1]
    read = lead.cable.grade in order
    spoilt = lead.cable.failed or lead.cable.turned or lead.cable.power == "unfed" or not read
    now = -1 if spoilt else order.index(lead.cable.grade)
    forget: CableData = {}
    forget.update({k: v for k, v in cable_data(fresh).items()  # type: ignore[typeddict-item]
                   if k not in ("grade", "length_mm") and v != getattr(lead.cable, k)})  # fmt: skip
    for place, grade in enumerate(order):
        if place > now:
            op: ReplaceLead = {"op": "replace_lead", "lead": uid, "grade": grade}
            op.update(forget)  # type: ignore[typeddict-item]  # a lead's own words are part of the change
            name = GRADES[grade].name
            article = "an" if name[0] in "AEIOU" and not name.startswith("USB") else "a"
            note = _TRY_FIRST if lead.cable.grade == "unknown" and not (lead.cable.failed or forget) else ""
            yield Move("lead", (op,), f"Replace lead {lead.label} by {article} {name} one", note, 10)


def _active_lead(rig: Rig, uid: str) -> Iterator[Move]:
    """A lead made for its length, in the place of passive copper."""
    lead = rig.leads[uid]
    read = GRADES_OF[lead.kind][:-1]
    least = {"hdmi": "premium"}.get(lead.kind, TAKEN_FOR[lead.kind])
    grade = max(lead.cable.grade, least, key=lambda g: read.index(g) if g in read else -1)
    op: ReplaceLead = {"op": "replace_lead", "lead": uid, "grade": grade, "build": "optical"}
    name = GRADES[grade].name
    yield Move("lead", (op,), f"Replace lead {lead.label} by an optical one, {name}",
               "It is plugged one way round, and wants its supply.", 10)  # fmt: skip


def _reaches(layer: Layer, device: str, sink: str, seen: tuple[str, ...] = ()) -> bool:
    if device == sink:
        return True
    if device in seen or not layer.rig.devices[device].profile.passes_pictures:
        return False
    hops = [layer.hop_from(Socket(device, p.id)) for p in layer.rig.devices[device].profile.outputs()]
    return any(h is not None and _reaches(layer, h.inp.device, sink, (*seen, device)) for h in hops)


def _free_inputs(
    layer: Layer, run: Run, out: Socket, without: tuple[str, ...], lead: Lead | None = None
) -> Iterator[Socket]:
    """Free inputs of boxes from which the run's sink is reached, `without` some boxes: those that a lead from an output
    joins, or the one given, whose plug it keeps.
    """
    sender = layer.rig.devices[out.device].profile.port(out.port)
    for device in layer.rig.devices.values():
        if device.uid in without or not _reaches(layer, device.uid, run.sink):
            continue
        for port in device.profile.inputs():
            socket = Socket(device.uid, port.id)
            if layer.lead_at(socket) is None and sender is not None and _fits(layer, sender, port, lead):
                yield socket


def _fits(layer: Layer, sender: Port, port: Port, lead: Lead | None) -> bool:
    """Does a lead from an output go into an input; one that is there keeps the plug it has?"""
    now = lead.ends(layer.name)[1] if lead is not None else None
    return sender.joins(port) and (now is None or layer.state(now).port.kind == port.kind)


def _reroutes(layer: Layer, run: Run, hop: Hop) -> Iterator[Move]:
    """The lead of a hop taken to a free input of another box that reaches the screen."""
    lead = layer.rig.leads[hop.lead]
    for socket in _free_inputs(layer, run, hop.out, (hop.inp.device, hop.out.device), lead):
        if not spans(layer, lead, hop.out, socket):
            continue
        ops = (_plug(layer, lead.uid, "b", socket), _select(layer, socket))
        name = layer.rig.socket_name(socket)
        if hop.inp.device == run.sink:
            yield Move("reroute", ops, f"Take lead {lead.label} to {name}", "", 10)
            continue
        passed = layer.rig.devices[hop.inp.device].label
        note = f"{passed} is left out of the picture path: find its sound another way."
        yield Move("reroute", ops, f"Take lead {lead.label} to {name}, past {passed}", note, 10)


def _passable(layer: Layer, hop: Hop, onward: Hop) -> bool:
    """Does the lead into a box fit where its own lead goes?"""
    kinds = [layer.rig.leads[h.lead].kind for h in (hop, onward)]
    return kinds[0] == kinds[1] and layer.state(hop.inp).port.kind == layer.state(onward.inp).port.kind


def _bypasses(layer: Layer, path: Path) -> Iterator[Move]:
    """A box left out: the lead into it goes where its own lead went, which comes out."""
    for hop, onward in pairwise(path):
        lead, freed = layer.rig.leads[hop.lead], layer.rig.leads[onward.lead]
        if not _passable(layer, hop, onward) or not spans(layer, lead, hop.out, onward.inp):
            continue
        loose: MoveLead = {"op": "move_lead", "layer": layer.name, "lead": freed.uid, "end": "b", "to": None}
        ops = (loose, _plug(layer, lead.uid, "b", onward.inp), _select(layer, onward.inp))
        passed, name = layer.rig.devices[hop.inp.device].label, layer.rig.socket_name(onward.inp)
        note = f"{passed} is left out of the picture path; lead {freed.label} comes out."
        yield Move(
            "reroute", ops, f"Take lead {lead.label} to {name} in place of {freed.label}, past {passed}", note, 10
        )


def _reroutes_of_loose(layer: Layer, run: Run) -> Iterator[Move]:
    """A source's lead that leads nowhere useful, taken to an input that reaches the screen."""
    for port in layer.rig.devices[run.source].profile.outputs():
        out = Socket(run.source, port.id)
        lead = layer.lead_at(out)
        if lead is None:
            continue
        for socket in _free_inputs(layer, run, out, (run.source,), lead):
            if spans(layer, lead, out, socket):
                ops = (_plug(layer, lead.uid, "b", socket), _select(layer, socket))
                yield Move("input", ops, f"Plug lead {lead.label} into {layer.rig.socket_name(socket)}", "", 2)
        for socket, useless in _useless_at(layer, run, out, lead):
            if spans(layer, lead, out, socket):
                free: MoveLead = _out(layer, useless)
                taken: tuple[Change, ...] = (free, _plug(layer, lead.uid, "b", socket), _select(layer, socket))
                yield Move("swap", taken, f"Plug lead {lead.label} into {layer.rig.socket_name(socket)} in place of "
                           f"{useless.label}, which no run needs", f"Lead {useless.label} comes out.", 3)  # fmt: skip


def _out(layer: Layer, lead: Lead) -> MoveLead:
    return {"op": "move_lead", "layer": layer.name, "lead": lead.uid, "end": "b", "to": None}


def _useless_at(layer: Layer, run: Run, out: Socket, own: Lead) -> Iterator[tuple[Socket, Lead]]:
    """Inputs that lead to the run's sink and hold a lead whose source no run asks for anything."""
    sender = layer.rig.devices[out.device].profile.port(out.port)
    asking = {r.source for r in layer.rig.runs.values() if layer.rig.devices[r.source].mark != "may_go"}
    for lead in layer.rig.leads.values():
        a, b = lead.ends(layer.name)
        if a is None or b is None or a.device in asking or layer.rig.devices[a.device].profile.role != "source":
            continue
        port = layer.rig.devices[b.device].profile.port(b.port)
        fits = port is not None and sender is not None and _fits(layer, sender, port, own)
        if fits and b.device != run.source and _reaches(layer, b.device, run.sink):
            yield b, lead


def spans(layer: Layer, lead: Lead, a: Socket, b: Socket) -> bool:
    """Does a lead reach from one socket to the other? Within a room it does; to another only one as long as the way."""
    rooms = [layer.rig.devices[s.device].room for s in (a, b)]
    if "" in rooms or rooms[0] == rooms[1]:
        return True
    ends = [layer.rig.devices[s.device].room for s in lead.ends(layer.name) if s is not None]
    if len(set(ends)) == 2:  # it goes from room to room already
        return set(ends) == set(rooms)
    return (lead.cable.length_mm or 0) >= (layer.rig.distance_mm(*rooms) or _NEXT_ROOM_MM)


def _new_leads(layer: Layer, run: Run) -> Iterator[Move]:
    """A new lead from a free output of the source to a free input that reaches the screen."""
    for port in layer.rig.devices[run.source].profile.outputs():
        out = Socket(run.source, port.id)
        if layer.lead_at(out) is not None:
            continue
        for socket in _free_inputs(layer, run, out, (run.source,)):
            ops = (new_lead(layer.rig, layer.name, out, socket), _select(layer, socket))
            note = _far(layer.rig, out, socket)
            yield Move("lead", ops, f"A new lead to {layer.rig.socket_name(socket)}", note, 10)


def _far(rig: Rig, out: Socket, inp: Socket) -> str:
    """What is said of a new lead between two rooms."""
    one, other = (rig.devices[s.device].room for s in (out, inp))
    if "" in (one, other) or one == other:
        return ""
    far_mm = rig.distance_mm(one, other)
    if far_mm is None:
        return f"It goes from {one} to {other}: say on Brief how long a lead between them must be."
    return f"It goes from {one} to {other}: at least {far_mm / 1000:g} m."
