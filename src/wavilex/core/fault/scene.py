"""The scene of a fault: a run as it was found, with an assumption wherever nobody noted how something stands.

Prove tells what nobody can know as such. To find a fault one has to assume: every box shows this run, and a setting
that nobody noted stands where the plan has it, else where it serves the run best, else as it comes from its maker. That
it stands otherwise is a fault like others, and a likely one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, Path, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import WavilexError
from wavilex.core.fault.complaints import felt
from wavilex.core.fault.telling import telling
from wavilex.core.gear.setting import Setting
from wavilex.core.prove.arrival import arrival
from wavilex.core.prove.line import YES
from wavilex.core.prove.lists import reading, source_list
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Run, SettingKey, Socket
from wavilex.core.rig.ops import Change, SelectInput, to_set

_MOST_ASSUMED, _MOST_ROUNDS = 40, 3
_AT_LEAST = 1e-6


@dataclass(frozen=True)
class Knob:
    """A setting at the cell a run is in. noted: as it was found; None: nobody noted it, and `value` is assumed."""

    device: Device
    socket: Socket
    scope: str
    setting: Setting
    noted: str | None
    value: str | None

    @property
    def place(self) -> SettingKey:
        return self.device.uid, self.scope, self.setting.id


@dataclass(frozen=True)
class Scene:
    """layer: as found with the assumptions in it. noted: the rig without them."""

    layer: Layer
    noted: Rig
    run: Run
    result: RunResult
    knobs: tuple[Knob, ...]
    shown: tuple[tuple[str, str, str], ...]  # box, output, the input that shows this run there

    @property
    def path(self) -> Path:
        return self.result.path

    @property
    def boxes(self) -> list[str]:
        """The boxes of the path, source first."""
        return list(dict.fromkeys(s.device for h in self.path for s in (h.out, h.inp)))


def scene_of(found: Layer, run: Run, go_on: Callable[[], bool] = lambda: True) -> Scene:
    """The scene of a run: found is the layer as the boxes were found."""
    result = run_result(found, run)
    shown = tuple(_called_up(found, result.path))
    calls: list[Change] = []
    for device, output, port in shown:
        call: SelectInput = {"op": "select_input", "layer": "found", "device": device, "value": port}
        calls.append({**call, "output": output} if output else call)
    layer = Layer(apply(found.rig, calls)[0], "found", found.states)
    knobs = {k.place: k for k in _knobs(layer, run, result.path)}
    layer = _filled(layer, [k for k in knobs.values() if k.noted is None][:_MOST_ASSUMED], run, go_on)
    told = tuple(replace(k, value=_value(layer.rig, k)) for k in knobs.values())
    return Scene(layer, found.rig, run, run_result(layer, run), told, shown)


def _value(rig: Rig, knob: Knob) -> str | None:
    return rig.setting_value("found", knob.device.uid, knob.scope, knob.setting)


def _called_up(found: Layer, path: Path) -> Iterator[tuple[str, str, str]]:
    onward = [*(h.out.port for h in path[1:]), ""]
    for hop, out in zip(path, onward, strict=False):
        profile = found.rig.devices[hop.inp.device].profile
        if len(profile.inputs()) > 1 and profile.routing != "splitter":
            yield hop.inp.device, out if profile.routing == "matrix" else "", hop.inp.port


def _knobs(layer: Layer, run: Run, path: Path) -> Iterator[Knob]:
    """The settings on which anything hangs that can be read or felt, in walking order."""
    facts, seen = facts_of_want(run.want), set[SettingKey]()
    for socket in dict.fromkeys(s for h in path for s in (h.out, h.inp)):
        device = layer.rig.devices[socket.device]
        for setting in telling(device.profile):
            if setting.number is not None or (setting.ports and socket.port not in setting.ports):
                continue
            scope = layer.scope(device, setting, socket.port, facts)
            if (device.uid, scope, setting.id) not in seen:
                seen.add((device.uid, scope, setting.id))
                value = layer.rig.setting_value("found", device.uid, scope, setting)
                yield Knob(device, socket, scope, setting, value, value)


def _filled(layer: Layer, unread: Sequence[Knob], run: Run, go_on: Callable[[], bool]) -> Layer:
    """Settings nobody noted: as planned, else as they come; then each where it serves best, until nothing moves."""
    planned = {k.place for k in unread if (v := layer.rig.settings.get(k.place)) is not None and v.plan is not None}
    for knob in unread:
        value = layer.rig.settings[knob.place].plan if knob.place in planned else knob.setting.default
        layer = _with(layer, knob, value or knob.setting.default) or layer
    for _ in range(_MOST_ROUNDS):
        before = layer
        for knob in unread:
            if knob.place not in planned and go_on():
                layer = _best(layer, knob, run)
        if layer is before:
            break
    return layer


def _with(layer: Layer, knob: Knob, value: str) -> Layer | None:
    try:
        return Layer(apply(layer.rig, [to_set(knob.place, value, "found")])[0], "found", layer.states)
    except WavilexError:
        return None


def _best(layer: Layer, knob: Knob, run: Run) -> Layer:
    """A setting where it serves best; as it is among equals."""
    now, best = _worth(layer, run), layer
    for option in knob.setting.options:
        there = _with(layer, knob, option.id) if option.id != _value(layer.rig, knob) else None
        if there is not None and (worth := _worth(there, run)) > now + _AT_LEAST:
            now, best = worth, there
    return best


def _worth(layer: Layer, run: Run) -> float:
    """How well a run is served: what its source lists, and how little there is to complain of."""
    result = run_result(layer, run)
    if not result.path:
        return 0.0
    read = reading(layer, result)
    listed = sum(x.says == YES for x in source_list(layer, result, read)) if read is not None else 0
    return listed / 50 - sum(x.likely for x in felt(layer, result, arrival(layer, result)).values())
