"""What an observation rests on, and which of several counts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from wavilex.core import bounds
from wavilex.core.chain.paths import Layer, Path, facts_of_want
from wavilex.core.rig.grounds import ends_text
from wavilex.core.rig.model import Observation, Run


def grounds_of(layer: Layer, run: Run, path: Path) -> dict[str, str]:
    """What anything seen on a run now rests on: the leads of its path, and of each box firmware and settings there."""
    rig, found = layer.rig, {f"lead/{h.lead}": ends_text(layer.rig.leads[h.lead].found) for h in path}
    facts = facts_of_want(run.want)
    sockets = dict.fromkeys(s for h in path for s in (h.out, h.inp))
    for socket in sockets:
        device = rig.devices[socket.device]
        if device.firmware:
            found[f"firmware/{device.uid}"] = device.firmware
        for setting in device.profile.settings:
            scope = layer.scope(device, setting, socket.port, facts)
            if setting.ports and socket.port not in setting.ports:
                continue
            value = rig.setting_value("found", device.uid, scope, setting)
            if value is not None:
                found[f"setting/{device.uid}/{scope}/{setting.id}"] = value
    return dict(list(found.items())[: bounds.GROUNDS])


def latest(observations: Mapping[str, Observation], run: str) -> dict[str, Observation]:
    """What counts of a run, by line: the last seen there."""
    return {o.line: o for o in observations.values() if o.run == run}


def earlier(observations: Mapping[str, Observation], seen: Observation) -> Iterator[Observation]:
    """What was seen at the same line before, the latest first."""
    before = [o for o in observations.values() if (o.run, o.line) == (seen.run, seen.line) and o.uid != seen.uid]
    return reversed(before)
