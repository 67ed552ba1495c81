"""Where the sound of a run goes: every way to something that makes noise, the best format on it, who must be on.

Sound rides forward with the picture, leaves boxes by sound leads, and comes back from a screen over the
return channel. Formats by STANDARDS: optical carries two channels or lossy 5.1; ARC the same plus, on most
sets, the newer lossy format that carries object sound; eARC everything (HDMI 1.4b and 2.1, common practice).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import product
from typing import Any

from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.shapes import SoundWayOut
from wavilex.core.gear.ports import SOUND_FORMATS, Port
from wavilex.core.rig.model import Rig, Run, Socket
from wavilex.core.rig.plugging import plug_ops

FORMAT_NAMES = {
    "bitstream": "lossless bitstream",
    "pcm8": "8-channel PCM",
    "object": "lossy with object sound",
    "lossy5": "lossy 5.1",
    "pcm2": "2-channel PCM",
}
CARRIES = {
    "hdmi": SOUND_FORMATS,
    "dp": SOUND_FORMATS,
    "usbc": SOUND_FORMATS,
    "dvi": (),
    "arc": ("object", "lossy5", "pcm2"),
    "earc": SOUND_FORMATS,
    "optical": ("lossy5", "pcm2"),
    "coaxial": ("lossy5", "pcm2"),
    "jack": ("pcm2",),
    "phono": ("pcm2",),
    "usb": ("pcm8", "pcm2"),
    "wireless": ("pcm2",),
    "composite": (), "s_video": (), "scart": ("pcm2",), "component": (), "vga": (),
}  # fmt: skip
RETURN_NAMES = {"arc": "ARC", "earc": "eARC"}
CONTROL_SETTING = "device_control"
_MOST_BOXES = 8


@dataclass(frozen=True, slots=True)
class SoundHop:
    """One step of the sound: from a socket to a socket over a lead. way: hdmi, arc, earc or the plug's name."""

    start: Socket
    end: Socket
    lead: str
    way: str


@dataclass(frozen=True, slots=True)
class SoundEnd:
    """A box that makes the noise. formats, best first; own_speakers: a screen's; on: boxes to switch on besides."""

    device: str
    hops: tuple[SoundHop, ...]
    formats: tuple[str, ...]
    certain: bool
    own_speakers: bool = False

    @property
    def on(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(h.start.device for h in self.hops))[1:]


@dataclass(frozen=True)
class SoundAnswer:
    """A run's sound. ends: best first. barred: why a way that is there does not serve. ways: single leads that help."""

    run: Run
    ends: tuple[SoundEnd, ...]
    barred: tuple[str, ...] = ()
    silent: str = ""
    ways: tuple[SoundWayOut, ...] = field(default=())

    @property
    def best(self) -> SoundEnd | None:
        return self.ends[0] if self.ends else None


def sound_of(layer: Layer, result: RunResult) -> SoundAnswer:
    """Follow a run's sound over the wiring as it is."""
    run, rig = result.run, layer.rig
    source = rig.devices[run.source]
    ends: dict[str, SoundEnd] = {}
    barred: list[str] = []
    reached: dict[str, tuple[str, ...]] = {run.source: source.profile.sound or SOUND_FORMATS}

    def arrive(device: str, hops: tuple[SoundHop, ...], formats: tuple[str, ...]) -> None:
        profile = rig.devices[device].profile
        known = reached.get(device, ())
        reached[device] = tuple(f for f in SOUND_FORMATS if f in formats or f in known)
        plays = layer.plays(device)
        if hops and (plays or (plays is None and profile.role in ("screen", "sound"))):
            own = profile.role == "screen"
            end = SoundEnd(device, hops, ("pcm2",) if own else formats, bool(plays), own)
            if device not in ends or _rank(end) < _rank(ends[device]):
                ends[device] = end
        if len(hops) >= _MOST_BOXES:
            return
        seen = {h.start.device for h in hops} | {device}
        for hop in _onward(layer, result, device, hops, barred):
            left = tuple(f for f in formats if f in _carried(rig, hop))
            if hop.end.device not in seen and left:
                arrive(hop.end.device, (*hops, hop), left)

    arrive(run.source, (), reached[run.source])
    ranked = tuple(sorted(ends.values(), key=_rank))
    if any(e.certain for e in ranked):
        return SoundAnswer(run, ranked, tuple(dict.fromkeys(barred)))
    ways = tuple(_one_lead(layer, reached))
    return SoundAnswer(run, ranked, tuple(dict.fromkeys(barred)), _silence(layer, reached, ranked, ways), ways)


def _rank(end: SoundEnd) -> tuple[bool, bool, int, int]:
    """Sure before unsure, a sound device before a screen's own speakers, the better format, the shorter way."""
    return not end.certain, end.own_speakers, SOUND_FORMATS.index(end.formats[0]), len(end.hops)


def _carried(rig: Rig, hop: SoundHop) -> tuple[str, ...]:
    """Formats that pass a hop: what its way carries, and both sockets."""
    formats = CARRIES[hop.way]
    for socket in (hop.start, hop.end):
        port = rig.devices[socket.device].profile.port(socket.port)
        if port is not None and port.sound is not None:
            formats = tuple(f for f in formats if f in port.sound)
    return formats


def _onward(
    layer: Layer, result: RunResult, device: str, hops: tuple[SoundHop, ...], barred: list[str]
) -> Iterator[SoundHop]:
    """Where sound goes from a box that has it: with the picture, by its sound sockets, back over a return channel."""
    rig = layer.rig
    for hop in result.path:
        if hop.out.device == device:
            yield SoundHop(hop.out, hop.inp, hop.lead, _plug(rig, hop.out))
    for port in rig.devices[device].profile.ports:
        socket = Socket(device, port.id)
        lead = layer.lead_at(socket)
        a, b = lead.ends(layer.name) if lead else (None, None)
        if lead is None or a is None or b is None:
            continue
        if port.kind == "audio" and port.direction == "out":
            yield SoundHop(a, b, lead.uid, port.plug)
        elif port.returns and port.direction == "in" and a.device not in {h.start.device for h in hops}:
            other = rig.devices[a.device].profile.port(a.port)
            why = _no_return(layer, device, port, a, other)
            if why:
                barred.append(why)
            else:
                assert other is not None
                yield SoundHop(socket, a, lead.uid, "earc" if "arc" not in (port.returns, other.returns) else "arc")


def _plug(rig: Rig, socket: Socket) -> str:
    port = rig.devices[socket.device].profile.port(socket.port)
    return port.plug if port else "hdmi"


def _no_return(layer: Layer, device: str, port: Port, far: Socket, other: Port | None) -> str:
    """Why no sound comes back over a lead, "" where it does. ARC needs device control; eARC does not."""
    rig = layer.rig
    box = rig.devices[far.device]
    if box.profile.role == "source":
        return "" if other is None else f"{box.label} takes no sound back."
    if other is None or other.returns is None:
        return f"{box.label} takes no sound back at {other.label if other else 'that socket'}."
    if "arc" in (port.returns, other.returns):
        for uid in (device, far.device):
            at = layer.standing(rig.devices[uid]).get(("", CONTROL_SETTING))
            if at is not None and at.value == "off":
                return f"ARC needs device control, and it is off at {rig.devices[uid].label}."
    return ""


def _silence(layer: Layer, reached: dict[str, tuple[str, ...]], ends: tuple[SoundEnd, ...], ways: Any) -> str:
    """Why nothing is heard, and what is missing."""
    rig = layer.rig
    if ends:
        names = " or ".join(rig.devices[e.device].label for e in ends)
        return f"Nobody knows yet whether {names} makes any sound."
    mute = [rig.devices[d].label for d in reached if rig.devices[d].profile.role in ("screen", "sound")]
    said = f"{' and '.join(mute)} makes no sound" if mute else "its sound reaches no box that plays it"
    if ways:
        return f"Silent: {said}."
    free = [
        f"{way_name(p.plug)} from {rig.devices[d].label}" for d in reached for p in rig.devices[d].profile.ports
        if p.kind == "audio" and p.direction == "out" and layer.lead_at(Socket(d, p.id)) is None
    ]  # fmt: skip
    back = [
        f"{RETURN_NAMES[p.returns]} at {p.label} of {rig.devices[d].label}"
        for d in reached for p in rig.devices[d].profile.ports if p.returns and p.direction == "in"
    ]  # fmt: skip
    need = (
        f"a sound device that takes {' or '.join([*free, *back])}"
        if free or back
        else ("an extractor in the picture's path, with a sound device behind it")
    )
    return f"Silent: {said}, and this job has nothing that fits. It needs {need}."


def _one_lead(layer: Layer, reached: dict[str, tuple[str, ...]]) -> Iterator[SoundWayOut]:
    """Single new leads that would bring the sound to something that plays, best format first."""
    boxes = layer.rig.devices
    ends = _free(layer, [uid for uid in boxes if layer.plays(uid) and uid not in reached])
    starts = _free(layer, reached)
    found: list[tuple[int, SoundWayOut]] = []
    for (end, end_port), (start, start_port) in product(ends, starts):
        way = _joins(start_port, end_port)
        left = [f for f in reached[start.device] if f in CARRIES.get(way, ())]
        if left:
            found.append((SOUND_FORMATS.index(left[0]), _new_lead(layer, start, end, end_port, way, left[0])))
    yield from (row for _, row in sorted(found, key=lambda x: x[0])[:3])


def _free(layer: Layer, devices: Iterable[str]) -> list[tuple[Socket, Port]]:
    """Every socket of these boxes without a lead."""
    sockets = [(Socket(uid, port.id), port) for uid in devices for port in layer.rig.devices[uid].profile.ports]
    return [(socket, port) for socket, port in sockets if layer.lead_at(socket) is None]


def _new_lead(layer: Layer, start: Socket, end: Socket, end_port: Port, way: str, best: str) -> SoundWayOut:
    rig = layer.rig
    label = f"{RETURN_NAMES.get(way, way)} lead from {rig.socket_name(start)} to {rig.socket_name(end)}"
    ends = (start, end) if end_port.direction == "in" else (end, start)
    return {"label": label, "format": FORMAT_NAMES[best], "ops": plug_ops(rig, layer.name, *ends)}


def _joins(start: Port, end: Port) -> str:
    """The way sound would take between two free sockets, "" for none."""
    if start.kind == end.kind == "audio" and (start.direction, end.direction) == ("out", "in"):
        return start.plug if start.plug == end.plug else ""
    if start.returns and end.returns and (start.direction, end.direction) == ("in", "out"):
        return "arc" if "arc" in (start.returns, end.returns) else "earc"
    return ""


def sound_headline(rig: Rig, answer: SoundAnswer) -> str:
    """A run's sound in one sentence."""
    best = answer.best
    if answer.silent or best is None:
        return answer.silent
    on = [rig.devices[uid].label for uid in best.on]
    must = f"; {' and '.join(on)} must be on" if on else ""
    how = f"at best as {FORMAT_NAMES[best.formats[0]]}, by {way_name(best.hops[-1].way)}"
    return f"{rig.devices[best.device].label} plays it, {how}{must}."


def way_name(way: str) -> str:
    """How people call a way sound takes."""
    return {"hdmi": "HDMI", "usb": "USB", "dp": "DisplayPort", "usbc": "USB-C", "dvi": "DVI", **RETURN_NAMES}.get(
        way, way
    )
