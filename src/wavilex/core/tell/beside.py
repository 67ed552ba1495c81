"""A run beside another: as found, another run, or the same with one setting changed; differences first."""

from __future__ import annotations

from wavilex.core.advise.table import carry_table, nearest
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, Path, States, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.gear.conditions import SignalFacts
from wavilex.core.link.check import fullest
from wavilex.core.link.ends import ceilings
from wavilex.core.link.rates import ceiling_text
from wavilex.core.link.sides import cell_differences, with_common_figures
from wavilex.core.link.sums import link_sums
from wavilex.core.link.words import cable_text
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import LAYERS, Rig, Run, Socket
from wavilex.core.rig.ops import LayerName, to_set
from wavilex.core.tell.report import table_data
from wavilex.core.tell.shapes import ComparedRuns
from wavilex.core.tell.ways import ITEM_NAMES

_LAYER_NAMES = {"found": "as found", "plan": "as planned"}


def comparisons(layer: Layer, run: Run) -> list[dict[str, str]]:
    """What a run may be held against: `layer:found`, `run:<uid>`, `setting:<device>:<scope>:<key>:<option>`."""
    rig = layer.rig
    other = next(name for name in LAYERS if name != layer.name)
    choices = [{"id": f"layer:{other}", "name": f"the same run {_LAYER_NAMES[other]}"}]
    for path in layer.paths(run)[:1]:
        choices += _settings(layer, path, facts_of_want(run.want))
    choices += [{"id": f"run:{r.uid}", "name": r.label} for r in rig.runs.values() if r.uid != run.uid]
    return choices


def _settings(layer: Layer, path: Path, signal: SignalFacts) -> list[dict[str, str]]:
    """Every other option of the settings stored for the path's sockets, or for its boxes as a whole."""
    out = []
    seen: set[tuple[str, str, str]] = set()
    for socket in (s for hop in path for s in (hop.out, hop.inp)):
        device = layer.rig.devices[socket.device]
        for setting in device.profile.settings:
            scope = layer.scope(device, setting, socket.port, signal)
            key = (device.uid, scope, setting.id)
            if key in seen or (setting.ports and socket.port not in setting.ports):
                continue
            seen.add(key)
            now = layer.rig.setting_value(layer.name, device.uid, scope, setting)
            place = layer.rig.socket_name(socket) if setting.ports else device.label
            start = f"setting:{device.uid}:{scope}:{setting.id}"
            others = [o for o in setting.options if o.id != now]
            out += [{"id": f"{start}:{o.id}", "name": f"{place}: {setting.label} {o.label}"} for o in others]
    return out


def other_side(layer: Layer, run: Run, to: str) -> tuple[Layer, Run]:
    """The layer and run an id of `comparisons` names. Raises ChangeError when it names none."""
    kind, _, rest = to.partition(":")
    rig = layer.rig
    named: LayerName | None = next((name for name in LAYERS if (kind, rest) == ("layer", name)), None)
    if named is not None:
        return Layer(rig, named, layer.states), run
    if kind == "run" and rest in rig.runs:
        return layer, rig.runs[rest]
    words = rest.split(":")
    if kind == "setting" and len(words) == 4:
        device, scope, key, option = words
        after, _ = apply(rig, [to_set((device, scope, key), option, layer.name)])
        return Layer(after, layer.name, layer.states), after.runs[run.uid]
    raise ChangeError(f"{to[:60]!r} is nothing this run can be held against", where="to")


def compare_runs(rig: Rig, layer_name: LayerName, run: Run, to: str, states: States | None = None) -> ComparedRuns:
    """Both sides' words, and the cells of their carry tables that differ. Raises ChangeError."""
    here = Layer(rig, layer_name, states)
    there, other = other_side(here, run, to)
    names = {c["id"]: c["name"] for c in comparisons(here, run)}
    tables = [table_data(carry_table(view, r)) for view, r in ((here, run), (there, other))]
    columns = {(c["encoding"], c["bits"]): c for t in tables for c in t["columns"]}
    return {
        "a": f"{run.label}, {_LAYER_NAMES[layer_name]}",
        "b": names.get(to, to),
        "rows": with_common_figures(
            _words(here, run), _fullest(here, run), _words(there, other), _fullest(there, other)
        ),
        "cells": cell_differences(tables[0]["rows"], tables[1]["rows"], list(columns.values())),
    }


_GOES_AS = {"frl": "FRL", "tmds": "TMDS", "dp": "DisplayPort", "none": "nothing"}


def _words(layer: Layer, run: Run) -> dict[str, str]:
    result = run_result(layer, run)
    rate, detail = nearest(layer, run)
    words = {
        "verdict": result.verdict,
        "signal": result.asked.name if result.asked else "none",
        "sends, at most rate": rate.signal.name if rate else "nothing",
        "sends, at most detail": detail.signal.name if detail else "nothing",
    }
    words |= {ITEM_NAMES[i.key]: i.verdict for i in result.items}
    for number, link in enumerate(result.links, 1):
        cap, v = link.capacity, link.wanted
        words |= {
            f"link {number}, to": layer.rig.socket_name(link.hop.inp),
            f"link {number}, lead": cable_text(layer.rig.leads[link.hop.lead].cable),
            f"link {number}, carries": ceiling_text(*ceilings(cap)),
            f"link {number}, goes as": _GOES_AS[v.transport],
            f"link {number}, used": "not known" if v.used_percent is None else f"{v.used_percent:.1f} %",
        }
    return words | _stored(layer, result)


def _stored(layer: Layer, result: RunResult) -> dict[str, str]:
    """The settings the path meets, as set."""
    words: dict[str, str] = {}
    for hop in result.path:
        for socket in (hop.out, hop.inp):
            words |= _socket_settings(layer, socket, facts_of_want(result.run.want))
    return words


def _socket_settings(layer: Layer, socket: Socket, signal: SignalFacts) -> dict[str, str]:
    device = layer.rig.devices[socket.device]
    words: dict[str, str] = {}
    for setting in device.profile.settings:
        if setting.ports and socket.port not in setting.ports:
            continue
        value = layer.value(device, setting, socket.port, signal)
        words[f"{device.label}: {setting.label}"] = setting.option_label(value) if value else "not known"
    return words


def _fullest(layer: Layer, run: Run) -> dict[str, str]:
    """The sums of the fullest link."""
    most = fullest(x.wanted for x in run_result(layer, run).links)
    return {q.name: q.text() for q in link_sums(most)} if most else {}
