"""A layer of the rig made ready for questions: port states, who feeds whom, the path of a run."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from wavilex.core import bounds
from wavilex.core.gear.cells import Spot
from wavilex.core.gear.conditions import SignalFacts, Surroundings
from wavilex.core.gear.origin import Origin
from wavilex.core.gear.profile import EdidBySetting
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.stand import ChosenOf, Place, Standing, scope_at, stand_in, value_at
from wavilex.core.gear.state import PortState, resolve
from wavilex.core.link.check import LinkVerdict
from wavilex.core.memory import Memory
from wavilex.core.rig.model import PLAYS_FACT, Device, Lead, Rig, Run, Socket, Want
from wavilex.core.rig.ops import LayerName

MOST_BOXES = bounds.WAY
MOST_PATHS = 32
STATES_BYTES = 6000  # a box’s port states, measured on the demo job


@dataclass(frozen=True, slots=True)
class Hop:
    """One link of a path: from an output, over a lead, into an input."""

    out: Socket
    lead: str
    inp: Socket


Path = tuple[Hop, ...]


class States:
    """Port states and run results, remembered by what they depend on: rigs that differ little share them.

    memory: may be shared with others, who go by another name; keys of results hold the identity of port states,
    which the results themselves keep alive.
    """

    def __init__(self, memory: Memory | None = None, name: Hashable = None) -> None:
        self.memory = memory or Memory()
        self.name = name

    def of(self, rig: Rig, layer: LayerName, device: Device, around: Surroundings) -> dict[str, PortState]:
        values = _kept(rig, layer, device)
        facts = rig.device_facts(device.uid)
        key = (
            self.name, device.profile_digest, values,
            tuple((path, repr(fact.value), fact.provenance) for path, fact in facts.items()),
            around.firmware, around.shown_input, tuple(around.plugged.items()), around.signal,
        )  # fmt: skip
        found: dict[str, PortState] | None = self.memory.get(key)
        if found is not None:
            return found
        new = resolve(device.profile, facts, kept_of(rig, layer, device), around)
        return self.memory.put(key, new, STATES_BYTES)


def kept_of(rig: Rig, layer: LayerName, device: Device) -> ChosenOf:
    """What a box's settings are left at in a layer, by scope and setting."""

    def value(scope: str, key: str) -> str | None:
        setting = device.profile.setting(key)
        return rig.setting_value(layer, device.uid, scope, setting) if setting else None

    return value


def _kept(rig: Rig, layer: LayerName, device: Device) -> tuple[object, ...]:
    """All that is kept of a box's settings, to tell one state of it from another."""
    if device.profile.in_cells:
        own = ((scope, key, v.found, v.plan) for (uid, scope, key), v in rig.settings.items() if uid == device.uid)
        return (layer, *own)
    return tuple(
        rig.setting_value(layer, device.uid, scope, setting)
        for setting in device.profile.settings
        for scope in (setting.ports or ("",))
    )


def facts_of_want(want: Want) -> SignalFacts:
    """What conditions may ask of the wanted signal."""
    return SignalFacts(want.mode, hdr=want.hdr, vrr=want.vrr)


class Layer:
    """One layer of a rig, compiled."""

    def __init__(self, rig: Rig, name: LayerName = "plan", states: States | None = None) -> None:
        self.rig = rig
        self.name = name
        self.states = states or States()
        self._state: dict[tuple[str, SignalFacts | None], dict[str, PortState]] = {}
        self.alone: dict[str, Mapping[str, LinkVerdict]] = {}  # what runs ask of links of their own (chain/streams)
        self._paths: dict[tuple[str, str, tuple[str, ...]], list[Path]] = {}
        self._lead_of: dict[Socket, Lead] = {}
        for lead in rig.leads.values():
            for socket in lead.ends(name):
                if socket is not None:
                    self._lead_of.setdefault(socket, lead)

    def with_plugged(self, lead: Lead) -> Layer:
        """This layer with one lead's ends as given and all else the same; cheaper than a rig of its own."""
        other = Layer.__new__(Layer)
        other.rig, other.name, other.states = self.rig, self.name, self.states
        other.alone, other._paths = {}, {}
        wired = any(d.profile.asks_wiring for d in self.rig.devices.values())
        other._state = {} if wired else self._state
        other._lead_of = {s: x for s, x in self._lead_of.items() if x.uid != lead.uid}
        other._lead_of.update({s: lead for s in lead.ends(self.name) if s is not None})
        return other

    def reached_from(self, device: str) -> set[str]:
        """The boxes a picture entering this one gets to, itself included."""
        seen, waiting = {device}, [device]
        while waiting:
            box = waiting.pop()
            if self.rig.devices[box].profile.passes_pictures:
                new = {h.inp.device for h in self.hops_from(box)} - seen
                seen |= new
                waiting += new
        return seen

    def state(self, socket: Socket, signal: SignalFacts | None = None) -> PortState:
        """A socket's state; for a signal in question, where its box asks about one."""
        device = self.rig.devices[socket.device]
        asked = signal if device.profile.asks_signal else None
        key = (socket.device, asked)
        if key not in self._state:
            self._state[key] = self.states.of(self.rig, self.name, device, self.around(device, asked))
        return self._state[key][socket.port]

    def around(self, device: Device, signal: SignalFacts | None = None) -> Surroundings:
        """What the conditions of a box are held against."""
        firmware = device.firmware_in(self.name)
        if not device.profile.asks_wiring:
            return Surroundings(firmware, signal=signal)
        plugged = {p.id: self._kind_at(Socket(device.uid, p.id)) for p in device.profile.ports}
        return Surroundings(firmware, plugged, self.rig.selected_input(self.name, device.uid), signal)

    def _kind_at(self, socket: Socket) -> str:
        lead = self.lead_at(socket)
        other = next((e for e in lead.ends(self.name) if e is not None and e != socket), None) if lead else None
        return self.rig.devices[other.device].profile.kind if other else ""

    def standing(
        self, device: Device, signal: SignalFacts | None = None, spot: Spot | None = None
    ) -> dict[Place, Standing]:
        """How a box's settings really stand where a signal meets it: greyed out, forced, inert. spot: in that cell."""
        return stand_in(device.profile, kept_of(self.rig, self.name, device), self.around(device, signal), spot)

    def scope(self, device: Device, setting: Setting, port: str, signal: SignalFacts | None = None) -> str:
        """The scope a setting is kept at where a signal meets a socket."""
        if not setting.in_cells:
            return port if setting.ports else ""
        return scope_at(device.profile, setting, self.standing(device, signal), port, self.around(device, signal))

    def value(self, device: Device, setting: Setting, port: str, signal: SignalFacts | None = None) -> str | None:
        """What a setting is left at where a signal meets a socket."""
        return self.rig.setting_value(self.name, device.uid, self.scope(device, setting, port, signal), setting)

    def plays(self, uid: str) -> bool | None:
        """Does a box make sound itself? A fact learned here goes over its profile; None: nobody knows."""
        fact = self.rig.facts.get((uid, PLAYS_FACT))
        return fact.value if fact is not None else self.rig.devices[uid].profile.plays

    def mirrors(self, uid: str) -> bool:
        """Does a source send all its displays one picture, as it is known to be set?"""
        device = self.rig.devices[uid]
        setting = next((s for s in device.profile.settings if s.effect == "mirroring"), None)
        return setting is not None and self.value(device, setting, "") == "on"

    def edid_way(self, uid: str) -> str | None:
        """How a repeater hands EDIDs on; None when a setting nobody has looked at chooses it."""
        device = self.rig.devices[uid]
        way = device.profile.edid
        if isinstance(way, EdidBySetting):
            return value_at(device.profile, self.standing(device), "")(way.setting)
        return way

    def lead_at(self, socket: Socket) -> Lead | None:
        return self._lead_of.get(socket)

    def hop_from(self, out: Socket) -> Hop | None:
        lead = self.lead_at(out)
        if lead is None:
            return None
        inp = lead.ends(self.name)[1]
        return Hop(out, lead.uid, inp) if inp is not None else None

    def hops_from(self, device: str) -> list[Hop]:
        """Every link a picture leaves a box by."""
        hops = (self.hop_from(Socket(device, port.id)) for port in self.rig.devices[device].profile.outputs())
        return [h for h in hops if h is not None]

    def paths(self, run: Run) -> list[Path]:
        """Every way from the run's source to its sink: the chosen one, then the one the boxes select, then the oldest.

        The oldest, of leads in the order they came: a second lead takes no run over.
        """
        key = (run.source, run.sink, run.way)
        if key not in self._paths:
            self._paths[key] = self._ways(run)
        return self._paths[key]

    def _ways(self, run: Run) -> list[Path]:
        found: list[Path] = []

        def walk(device: str, so_far: Path) -> None:
            if len(so_far) >= MOST_BOXES or len(found) >= MOST_PATHS:
                return
            for hop in self.hops_from(device):
                if any(hop.inp.device == h.out.device for h in so_far):
                    continue
                if hop.inp.device == run.sink:
                    found.append((*so_far, hop))
                elif self.rig.devices[hop.inp.device].profile.passes_pictures:
                    walk(hop.inp.device, (*so_far, hop))

        if run.source in self.rig.devices and run.sink in self.rig.devices:
            walk(run.source, ())
        if len(found) < 2:
            return found
        came = {uid: n for n, uid in enumerate(self.rig.leads)}

        def rank(path: Path) -> tuple[int, int, list[int], int]:
            leads = {h.lead for h in path}
            newest = sorted((came[uid] for uid in leads), reverse=True)
            return len(set(run.way) - leads), self._not_selected(path), newest, len(path)

        return sorted(found, key=rank)

    def _not_selected(self, path: Path) -> int:
        """How many boxes on the path have another input chosen for good."""
        wrong = 0
        onward = [*(h.out.port for h in path[1:]), ""]
        for hop, out in zip(path, onward, strict=True):
            matrix = self.rig.devices[hop.inp.device].profile.routing == "matrix"
            chosen = self.rig.selected_input(self.name, hop.inp.device, out if matrix else "")
            wrong += chosen is not None and chosen != hop.inp.port
        return wrong

    def digital(self, path: Path) -> Path:
        """The digital links of a path, judged by rate; analogue ones before or after have rules of their own."""
        return tuple(h for h in path if self.rig.leads[h.lead].digital)

    def stations(self, path: Path, signal: SignalFacts | None = None) -> list[Station]:
        """Every socket a path passes, in order, with its state for the signal in question."""
        return [Station(s, self.state(s, signal)) for hop in path for s in (hop.out, hop.inp)]

    def beside(self, path: Path, signal: SignalFacts | None = None) -> list[Station]:
        """Sockets behind the other outputs of boxes on the path that offer what all their screens share, and of a
        source that mirrors.
        """
        found: dict[Socket, Station] = {}
        if path and self.mirrors(path[0].out.device):
            for other in self.hops_from(path[0].out.device):
                if other.out != path[0].out:
                    self._down(other, signal, found)
        for hop, following in pairwise(path):
            profile = self.rig.devices[hop.inp.device].profile
            if self.edid_way(hop.inp.device) == "fixed":
                break  # what the source reads ends here
            if profile.routing != "splitter" and profile.edid != "merge":
                continue
            for other in self.hops_from(hop.inp.device):
                if other.out != following.out:
                    self._down(other, signal, found)
        return list(found.values())

    def _down(self, hop: Hop, signal: SignalFacts | None, found: dict[Socket, Station]) -> None:
        if hop.inp in found or len(found) > 2 * MOST_BOXES:
            return
        for socket in (hop.out, hop.inp):
            found[socket] = Station(socket, self.state(socket, signal), beside=True)
        for onward in self.hops_from(hop.inp.device):
            self._down(onward, signal, found)


@dataclass(frozen=True, slots=True)
class Station:
    """A socket a signal passes and what it carries. beside: not on the run's path, but read by its source."""

    socket: Socket
    state: PortState
    beside: bool = field(default=False)

    def origin(self, name: str) -> Origin:
        return self.state.origins[name]
