"""A layer of the rig made ready for questions: port states, who feeds whom, the path of a run."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.chain.rig import INPUT_KEY, Device, Lead, Rig, Run, SettingValue, Socket
from wavilex.core.gear.state import Origin, PortState, resolve

MOST_BOXES = 16
MOST_PATHS = 32


@dataclass(frozen=True, slots=True)
class Hop:
    """One link of a path: from an output, over a lead, into an input."""

    out: Socket
    lead: str
    inp: Socket


Path = tuple[Hop, ...]


class States:
    """Port states, remembered by what they depend on, so that rigs that differ little share them."""

    def __init__(self) -> None:
        self._kept: dict[object, dict[str, PortState]] = {}

    def of(self, rig: Rig, layer: str, device: Device) -> dict[str, PortState]:
        values = {
            (scope, setting.id): rig.setting_value(layer, device.uid, scope, setting)
            for setting in device.profile.settings
            for scope in (setting.ports or ("",))
        }
        facts = rig.device_facts(device.uid)
        key = (
            device.profile_digest,
            tuple(values.items()),
            tuple((path, repr(fact.value), fact.provenance) for path, fact in facts.items()),
        )
        if key not in self._kept:
            self._kept[key] = resolve(device.profile, facts, lambda scope, s: values[(scope, s)])
        return self._kept[key]


class Layer:
    """One layer of a rig, compiled."""

    def __init__(self, rig: Rig, name: str = "plan", states: States | None = None) -> None:
        self.rig = rig
        self.name = name
        self.states = states or States()
        self._state: dict[str, dict[str, PortState]] = {}
        self._lead_of: dict[Socket, Lead] = {}
        for lead in rig.leads.values():
            for socket in lead.ends(name):
                if socket is not None:
                    self._lead_of.setdefault(socket, lead)

    def state(self, socket: Socket) -> PortState:
        if socket.device not in self._state:
            device = self.rig.devices[socket.device]
            self._state[socket.device] = self.states.of(self.rig, self.name, device)
        return self._state[socket.device][socket.port]

    def lead_at(self, socket: Socket) -> Lead | None:
        return self._lead_of.get(socket)

    def hop_from(self, out: Socket) -> Hop | None:
        lead = self.lead_at(out)
        if lead is None:
            return None
        inp = lead.ends(self.name)[1]
        return Hop(out, lead.uid, inp) if inp is not None else None

    def paths(self, run: Run) -> list[Path]:
        """Every way from the run's source to its sink, the one the boxes select first, then the shortest."""
        found: list[Path] = []

        def walk(device: str, so_far: Path) -> None:
            if len(so_far) >= MOST_BOXES or len(found) >= MOST_PATHS:
                return
            for port in self.rig.devices[device].profile.outputs():
                hop = self.hop_from(Socket(device, port.id))
                if hop is None or any(hop.inp.device == h.out.device for h in so_far):
                    continue
                if hop.inp.device == run.sink:
                    found.append((*so_far, hop))
                elif self.rig.devices[hop.inp.device].profile.role == "repeater":
                    walk(hop.inp.device, (*so_far, hop))

        if run.source in self.rig.devices and run.sink in self.rig.devices:
            walk(run.source, ())
        return sorted(found, key=lambda path: (self._not_selected(path), len(path)))

    def _not_selected(self, path: Path) -> int:
        """How many boxes on the path have another input chosen for good."""
        wrong = 0
        for hop in path:
            value = self.rig.settings.get((hop.inp.device, "", INPUT_KEY), SettingValue())
            chosen = value.plan or value.found if self.name == "plan" else value.found
            wrong += chosen is not None and chosen != hop.inp.port
        return wrong

    def stations(self, path: Path) -> list[Station]:
        """Every socket a path passes, in order, with its state."""
        return [Station(s, self.state(s)) for hop in path for s in (hop.out, hop.inp)]


@dataclass(frozen=True, slots=True)
class Station:
    """A socket on a path and what it carries."""

    socket: Socket
    state: PortState

    def origin(self, field: str) -> Origin:
        return self.state.origins[field]
