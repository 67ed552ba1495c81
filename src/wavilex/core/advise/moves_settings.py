"""Moves inside a box: other options of its settings, another firmware, another input shown."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from wavilex.core.chain.paths import Layer
from wavilex.core.fields import version_key
from wavilex.core.gear.conditions import Condition, SignalFacts
from wavilex.core.gear.quirks import Limits
from wavilex.core.link.cable import GRADE_RISE
from wavilex.core.rig.model import Device, Socket
from wavilex.core.rig.ops import Change, SelectInput, SetDevice, to_set
from wavilex.core.rig.visit_facts import kept_values

# points: higher sums are never cheaper to do; disturbance to other runs breaks ties (docs/decisions/0001)
COSTS = {"setting": 1, "firmware": 2, "input": 3, "swap": 5, "lead": 20, "reroute": 30}
COST_NAMES = {
    "setting": "1 setting",
    "firmware": "1 update",
    "input": "1 plug",
    "swap": "2 plugs",
    "lead": "1 new lead",
    "reroute": "re-route",
}
_FIRMWARE_MINUTES = 20


@dataclass(frozen=True, slots=True)
class Move:
    """One act: its ops (with the re-selection it needs), its cost class and what to say of it."""

    kind: str
    ops: tuple[Change, ...]
    label: str
    note: str = ""
    minutes: int = 1

    @property
    def cost(self) -> int:
        return COSTS[self.kind] + self._rise

    @property
    def _rise(self) -> int:
        """A new lead costs the more the higher it is certified; nothing for other moves."""
        op = self.ops[0]
        return GRADE_RISE[op["grade"]] if op["op"] == "replace_lead" and "grade" in op else 0


def moves_inside(layer: Layer, signal: SignalFacts, socket: Socket, fields: tuple[str, ...]) -> Iterator[Move]:
    """What could be changed inside a box so that quirks limiting these fields at this socket end."""
    device = layer.rig.devices[socket.device]
    names = {"tmds": "tmds_mhz"}
    here = [q for q in device.profile.limits if not q.ports or socket.port in q.ports]
    found = [q for q in here if any(getattr(q.limits, names.get(f, f)) is not None for f in fields)]
    yield from _of_quirks(layer, signal, device, socket, found)


def moves_against_unsteady(layer: Layer, signal: SignalFacts, socket: Socket) -> Iterator[Move]:
    """What could end the conditions of a box's defects that come and go."""
    device = layer.rig.devices[socket.device]
    yield from _of_quirks(layer, signal, device, socket, device.profile.unsteady)


def sampling_moves(layer: Layer, uid: str) -> Iterator[Move]:
    """Other samplings of a line multiplier."""
    device = layer.rig.devices[uid]
    c = device.profile.converts
    if c is not None and c.sample is not None:
        yield from _other_options(layer, None, device, Socket(uid, ""), c.sample)


def _of_quirks(
    layer: Layer, signal: SignalFacts, device: Device, socket: Socket, quirks: Sequence[Limits]
) -> Iterator[Move]:
    conditions = [q.when for q in quirks if q.when is not None]
    keys, conditions = _behind(device, conditions)
    for key in sorted(keys):
        yield from _other_options(layer, signal, device, socket, key)
    for condition in conditions:
        for part in condition.walk():
            shown = layer.rig.selected_input(layer.name, device.uid)
            if part.input is not None and part.input != shown:
                op: SelectInput = {"op": "select_input", "layer": layer.name, "device": device.uid, "value": part.input}
                port = device.profile.port(part.input)
                yield Move("input", (op,), f"{device.label}: show {port.label if port else part.input}", "", 1)
    yield from _updates(layer, device, quirks, keys)


def _behind(device: Device, conditions: list[Condition]) -> tuple[set[str], list[Condition]]:
    """Settings that conditions look at, with those that grey out or force them, to any depth."""
    keys = set().union(*(c.settings() for c in conditions)) if conditions else set()
    seen: set[str] = set()
    while keys - seen:
        key = min(keys - seen)
        seen.add(key)
        for quirk in device.profile.setting_quirks:
            if quirk.setting == key:
                conditions = [*conditions, quirk.when]
                keys |= quirk.when.settings()
    return keys, conditions


def _other_options(
    layer: Layer, signal: SignalFacts | None, device: Device, socket: Socket, key: str
) -> Iterator[Move]:
    setting = device.profile.setting(key)
    if setting is None or (setting.ports and socket.port not in setting.ports):
        return
    scope = layer.scope(device, setting, socket.port, signal)
    now = layer.rig.setting_value(layer.name, device.uid, scope, setting)
    if any((x.scope, x.key) == (scope, key) for x in kept_values(layer.rig, device.uid)):
        return  # the client's own choice is not turned against him
    port = device.profile.port(socket.port)
    place = f"{device.label}, {port.label}" if setting.ports and port else device.label
    for option in setting.options:
        if option.id != now:
            op = to_set((device.uid, scope, key), option.id, layer.name)
            note = "The picture drops: re-plug both ends to re-sync." if setting.resync else ""
            yield Move("setting", (op,), f"{place}: {setting.label} → {option.label}", note, setting.minutes)


def _updates(layer: Layer, device: Device, quirks: Sequence[Limits], keys: set[str]) -> Iterator[Move]:
    """Firmware that ends a quirk, or the quirk that greys out a setting behind it."""
    ranges = [q.firmware for q in quirks] + [q.firmware for q in device.profile.setting_quirks if q.setting in keys]
    ends = {
        r.below for r in ranges if r is not None and r.below and r.holds(device.firmware_in(layer.name)) is not False
    }
    newest = version_key(device.profile.newest_firmware) if device.profile.newest_firmware else None
    for version in sorted(ends):
        key = version_key(version)
        if newest is not None and key is not None and key > newest:
            continue  # nobody has seen it yet
        op: SetDevice = {"op": "set_device", "device": device.uid, "firmware_plan": version}
        note = "Settings come back by themselves after an update: look at them again."
        yield Move("firmware", (op,), f"Update {device.label} to firmware {version}", note, _FIRMWARE_MINUTES)
