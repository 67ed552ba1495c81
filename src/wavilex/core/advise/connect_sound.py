"""Where any output's lead could go: pictures as `connect` ranks them, sound by who plays it and how well."""

from __future__ import annotations

from dataclasses import replace

from wavilex.core.advise.connect import Option, rank_inputs
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.sound import CARRIES, FORMAT_NAMES, RETURN_NAMES
from wavilex.core.errors import ChangeError
from wavilex.core.gear.ports import Port
from wavilex.core.link.check import VERDICTS, Verdict
from wavilex.core.rig.model import Device, Rig, Socket
from wavilex.core.rig.ops import LayerName
from wavilex.core.rig.plugging import plug_ops


def rank_places(rig: Rig, out: Socket, layer: LayerName = "plan") -> list[Option]:
    """Every socket a lead from `out` could go to, best first. Raises ChangeError for no such output."""
    device = rig.devices.get(out.device)
    port = device.profile.port(out.port) if device else None
    if device is None or port is None or port.direction != "out":
        raise ChangeError(f"there is no output {out.device}/{out.port} in this job")
    if port not in device.profile.outputs():
        return sorted(_sound_options(rig, layer, device, port), key=_rank)
    options = rank_inputs(rig, out, layer)
    if port.returns is None:
        return options
    return sorted((_with_return(rig, port, o) for o in options), key=_rank)


def _rank(o: Option) -> tuple[bool, int, bool, Socket]:
    return o.other_room, VERDICTS.index(o.verdict), o.holds is not None, o.socket


def _with_return(rig: Rig, port: Port, option: Option) -> Option:
    """A box that takes sound back goes best where sound comes back."""
    there = rig.devices[option.socket.device].profile.port(option.socket.port)
    if there is None or there.returns is None:
        return option
    way = RETURN_NAMES["arc" if "arc" in (there.returns, port.returns) else "earc"]
    verdict = "fits" if option.off_run else option.verdict
    return replace(option, verdict=verdict, why=f"sound comes back here by {way}; {option.why}")


def _sound_options(rig: Rig, layer: LayerName, device: Device, port: Port) -> list[Option]:
    view = Layer(rig, layer)
    found = []
    for box in rig.devices.values():
        for there in box.profile.ports:
            socket = Socket(box.uid, there.id)
            if box.uid == device.uid or there.direction != "in" or there.plug != port.plug or there.kind != port.kind:
                continue
            verdict, why = _judge(view, port, box, there)
            held = view.lead_at(socket)
            own = held is not None and Socket(device.uid, port.id) in held.ends(layer)
            elsewhere = bool(device.room and box.room and device.room != box.room)
            ops = plug_ops(rig, layer, Socket(device.uid, port.id), socket)
            holds = held.label if held is not None and not own else None
            why = f"{why}; in {box.room}" if elsewhere else why
            found.append(Option(socket, verdict, why, holds, tuple(ops), None, other_room=elsewhere))
    return found


def _judge(view: Layer, port: Port, box: Device, there: Port) -> tuple[Verdict, str]:
    """How a socket serves a sound output: plays, passes on, or sends sound back to a bar."""
    if port.digital:
        if there.returns is None or port.returns is None:
            return "blocked", "no sound comes back at this socket"
        way = "arc" if "arc" in (there.returns, port.returns) else "earc"
        best = FORMAT_NAMES[CARRIES[way][0]]
        return "fits", f"{box.label}’s sound comes back by {RETURN_NAMES[way]}, at best as {best}"
    best = next((f for f in CARRIES[port.plug] if there.sound is None or f in there.sound), "")
    plays = view.plays(box.uid)
    if plays and best:
        return "fits", f"plays it, at best as {FORMAT_NAMES[best]}"
    if plays is None:
        return "unknown", "nobody knows yet whether it makes any sound"
    return "unknown", "takes the sound and passes it on"
