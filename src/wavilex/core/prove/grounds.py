"""What an observation rests on, which of several counts, and whether the plan goes on from what was seen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from wavilex.core import bounds
from wavilex.core.chain.paths import Layer, Path, facts_of_want
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.grounds import ends_text
from wavilex.core.rig.model import Device, Observation, Rig, Run


def grounds_of(layer: Layer, run: Run, path: Path) -> dict[str, str]:
    """What anything seen on a run now rests on: the leads of its path, and of each box firmware and settings there."""
    rig, found = layer.rig, {f"lead/{h.lead}": ends_text(layer.rig.leads[h.lead].found) for h in path}
    for device in _boxes(rig, path):
        if device.firmware:
            found[f"firmware/{device.uid}"] = device.firmware
    for device, scope, setting in _settings(layer, run, path):
        value = rig.setting_value("found", device.uid, scope, setting)
        if value is not None:
            found[f"setting/{device.uid}/{scope}/{setting.id}"] = value
    return dict(list(found.items())[: bounds.GROUNDS])


def goes_on(layer: Layer, run: Run, path: Path) -> bool:
    """Is anything on a run's way planned otherwise than found? What was seen is then not what is planned. layer: the
    plan.
    """
    rig = layer.rig
    if any(rig.leads[h.lead].found != rig.leads[h.lead].plan for h in path):
        return True
    if any(d.firmware_plan not in ("", d.firmware) for d in _boxes(rig, path)):
        return True
    values = (rig.settings.get((d.uid, scope, s.id)) for d, scope, s in _settings(layer, run, path))
    return any(v is not None and v.plan is not None and v.plan != v.found for v in values)


def _boxes(rig: Rig, path: Path) -> list[Device]:
    return [rig.devices[uid] for uid in dict.fromkeys(s.device for h in path for s in (h.out, h.inp))]


def _settings(layer: Layer, run: Run, path: Path) -> Iterator[tuple[Device, str, Setting]]:
    """The settings a run meets at the sockets of its way, each with where it is kept."""
    facts = facts_of_want(run.want)
    for socket in dict.fromkeys(s for h in path for s in (h.out, h.inp)):
        device = layer.rig.devices[socket.device]
        for setting in device.profile.settings:
            if not setting.ports or socket.port in setting.ports:
                yield device, layer.scope(device, setting, socket.port, facts), setting


def latest(observations: Mapping[str, Observation], run: str) -> dict[str, Observation]:
    """What counts of a run, by line: the last seen there."""
    return {o.line: o for o in observations.values() if o.run == run}


def earlier(observations: Mapping[str, Observation], seen: Observation) -> Iterator[Observation]:
    """What was seen at the same line before, the latest first."""
    before = [o for o in observations.values() if (o.run, o.line) == (seen.run, seen.line) and o.uid != seen.uid]
    return reversed(before)
