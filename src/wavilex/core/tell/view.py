"""The whole job as the interface shows it: boxes with sockets and settings, leads, runs, what waits where."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.advise.table import mode_choices
from wavilex.core.chain.analogue import Met, fed_signal, meetings, output_mode, rate_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import LinkResult, RunResult
from wavilex.core.chain.shape import shape_words
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.stand import Standing
from wavilex.core.gear.state import PortState
from wavilex.core.gear.words import cell_words, standing_data
from wavilex.core.link.check import fullest, worst
from wavilex.core.link.words import short_over
from wavilex.core.rig.edit_brief import title_data, want_data
from wavilex.core.rig.edit_wiring import cable_data
from wavilex.core.rig.hanging import HANGING, hanging
from wavilex.core.rig.model import SURVEY_KEYS, Device, Lead, Rig, SettingValue, Socket
from wavilex.core.rig.ops import INPUT_KEY
from wavilex.core.scan.signals import socket_rates
from wavilex.core.tell.drawing import columns
from wavilex.core.tell.leads import distances, lead_text
from wavilex.core.tell.rail import count_of, rail_notes
from wavilex.core.tell.report import run_data
from wavilex.core.tell.shapes import (
    DeviceOut,
    JobView,
    LeadOut,
    PortOut,
    RunOut,
    SettingOut,
    ShownOut,
    StageOut,
)
from wavilex.core.tell.sockets import short_rate, socket_ceiling


def job_view(layer: Layer, readings: int = 0) -> JobView:
    """Everything the sheets need in one answer, for a layer. `readings`: lag readings taken so far."""
    rig = layer.rig
    results = {r.uid: run_result(layer, r) for r in rig.runs.values()}
    around = Around.of(rig)
    runs = [run_row(layer, result, around) for result in results.values()]
    on = _on_leads(layer, results.values())
    at = columns(layer)
    return {
        "title": rig.title,
        "layer": layer.name,
        "summary": _summary(rig),
        "rooms": sorted({d.room for d in rig.devices.values() if d.room}),
        "devices": [_device_row(layer, d, results, at[d.uid], around) for d in rig.devices.values()],
        "leads": [_lead(layer, lead, on.get(lead.uid, [])) for lead in rig.leads.values()],
        "runs": runs,
        "titles": [title_data(t) for t in rig.titles.values()],
        "survey": {key: rig.survey.get(key, "") for key in SURVEY_KEYS},
        "style": dict(rig.style),
        "distances": distances(layer),
        "rail": rail_notes(layer, results, readings),
    }


ROW_BYTES = 22_000  # a run’s row, measured on the demo job
BOX_BYTES = 12_000  # a box’s


@dataclass(frozen=True, slots=True)
class Around:
    """What rows of a rig are remembered by. settings: each box's own; leads: of each box joined to others; together:
    which boxes leads join; ends: where all leads go.
    """

    settings: Mapping[str, Mapping[tuple[str, str, str], SettingValue]]
    leads: Mapping[str, tuple[Lead, ...]]
    together: Mapping[str, frozenset[str]]
    ends: tuple[object, ...]

    @staticmethod
    def of(rig: Rig) -> Around:
        settings: dict[str, dict[tuple[str, str, str], SettingValue]] = {}
        for place, value in rig.settings.items():
            settings.setdefault(place[0], {})[place] = value
        leads: dict[str, list[Lead]] = {}
        for lead in rig.leads.values():
            for box in {end.device for end in (*lead.found, *lead.plan) if end is not None}:
                leads.setdefault(box, []).append(lead)
        ends = tuple((uid, x.found, x.plan) for uid, x in rig.leads.items())
        return Around(settings, {box: tuple(x) for box, x in leads.items()}, joined(rig.leads), ends)


def run_row(layer: Layer, result: RunResult, around: Around) -> RunOut:
    """A run as the sheets show it, remembered while its result, boxes and facts stay the same objects, the settings and
    leads of all boxes joined to its own the same, and all leads where they are.
    """
    rig, memory, key = layer.rig, layer.states.memory, ("row", id(result))
    depends = (result, rig.devices, rig.facts)
    ends = {result.run.source, result.run.sink}
    near = sorted(ends.union(*(around.together.get(end, ()) for end in ends)))
    same = ([around.settings.get(b) for b in near], [around.leads.get(b) for b in near], around.ends)
    entry: tuple[tuple[object, ...], object, RunOut] | None = memory.get(key)
    if entry is None or any(a is not b for a, b in zip(entry[0], depends, strict=True)) or entry[1] != same:
        entry = memory.put(key, (depends, same, _run(layer, result)), ROW_BYTES)
    return entry[2]


def _device_row(
    layer: Layer, device: Device, results: Mapping[str, RunResult], column: int, around: Around
) -> DeviceOut:
    """A box as the sheets show it, remembered while all it is told from stays the same."""
    memory, key = layer.states.memory, ("box", id(device), layer.name)
    line = _line(layer, device, results)
    leads = tuple(x.uid if x else "" for p in device.profile.ports for x in (layer.lead_at(Socket(device.uid, p.id)),))
    same = (column, line, leads, layer.plays(device.uid), layer.around(device), around.settings.get(device.uid))
    entry: tuple[Device, object, DeviceOut] | None = memory.get(key)
    if entry is None or entry[0] is not device or entry[1] != same:
        entry = memory.put(key, (device, same, _device(layer, device, line, column)), BOX_BYTES)
    return entry[2]


def joined(leads: Mapping[str, Lead]) -> dict[str, frozenset[str]]:
    """For each box every box that leads of any kind join it to, found or planned, itself included."""
    of: dict[str, set[str]] = {}
    for lead in leads.values():
        boxes = {end.device for end in (*lead.found, *lead.plan) if end is not None}
        whole = boxes.union(*(of.get(b, ()) for b in boxes))
        for box in whole:
            of[box] = whole
    return {box: frozenset(whole) for box, whole in of.items()}


def _run(layer: Layer, result: RunResult) -> RunOut:
    want = result.run.want
    return {
        **run_data(layer, result),
        "want": want_data(want),
        "style": dict(result.run.style),
        "modes": [{"mode": m, "name": n} for m, n in mode_choices(layer, result.run)],
        "stages": _stages(layer, result),
    }  # fmt: skip


def _stages(layer: Layer, result: RunResult) -> list[StageOut]:
    """The boxes of a run from source to glass, each with a line on how it stands in it."""
    rig, run = layer.rig, result.run
    blocked = {
        r.socket.device for i in result.items if i.blocking for r in i.reasons if r.socket and r.verdict == "blocked"
    }
    if not result.path:
        return [_stage(rig, uid, line, True) for uid, line in ((run.source, "not joined"), (run.sink, "not reached"))]
    first = f"wants {result.asked.name}" if result.asked else ""
    out = [_stage(rig, run.source, first, run.source in blocked)]
    fed, shape = fed_signal(layer, result.path), shape_words(layer, result)
    for hop in result.path:
        port = rig.devices[hop.inp.device].profile.port(hop.inp.port)
        words = [port.label] if port else []
        words += [f"{s.label.lower()} {s.option_label(v)}" for s, v in _port_settings(layer, hop.inp) if v]
        mode = output_mode(layer, rig.devices[hop.inp.device], fed)
        words += [f"sends {mode.name}"] if mode else []
        words += [shape] if hop == result.path[-1] and shape else []
        out.append(_stage(rig, hop.inp.device, " · ".join(words), hop.inp.device in blocked))
    return out


def _stage(rig: Rig, uid: str, line: str, blocked: bool) -> StageOut:
    return {"device": uid, "label": rig.devices[uid].label, "line": line, "blocked": blocked}


def _port_settings(layer: Layer, socket: Socket) -> list[tuple[Setting, str | None]]:
    profile = layer.rig.devices[socket.device].profile
    return [
        (s, layer.rig.setting_value(layer.name, socket.device, socket.port, s))
        for s in profile.settings
        if socket.port in s.ports and not s.in_cells
    ]


def _device(layer: Layer, device: Device, line: str, column: int) -> DeviceOut:
    profile = device.profile
    standing = layer.standing(device)
    return {
        "uid": device.uid, "label": device.label, "room": device.room, "firmware": device.firmware,
        "firmware_plan": device.firmware_plan, "mark": device.mark, "newest_firmware": profile.newest_firmware,
        "profile": profile.id, "name": profile.name, "role": profile.role, "kind": profile.kind,
        "summary": profile.summary, "column": column, "line": line,
        "picture_modes": list(profile.pictures), "lag_bound_ms": profile.lag_bound_ms,
        "plays": layer.plays(device.uid),
        "selected_input": layer.rig.selected_input(layer.name, device.uid),
        "shows": _shows(layer, device),
        "ports": [_port(layer, Socket(device.uid, p.id)) for p in profile.ports],
        "settings": [
            _setting(layer, device, scope, s, standing[scope, s.id])
            for s in profile.settings if not s.in_cells for scope in (s.ports or ("",))
        ],
        "in_cells": sum(s.in_cells for s in profile.settings),
    }  # fmt: skip


def _shows(layer: Layer, device: Device) -> list[ShownOut]:
    inputs = device.profile.inputs()
    if len(inputs) < 2 or device.profile.routing == "splitter":
        return []
    outs = device.profile.outputs() if device.profile.routing == "matrix" else ()
    places = [(p.id, p.label) for p in outs] or [("", "")]
    return [
        {
            "output": out, "label": label, "inputs": [{"id": p.id, "label": p.label} for p in inputs],
            "found": layer.rig.selected_input("found", device.uid, out),
            "plan": layer.rig.settings.get((device.uid, out, INPUT_KEY), SettingValue()).plan,
        }
        for out, label in places
    ]  # fmt: skip


def _line(layer: Layer, device: Device, results: Mapping[str, RunResult]) -> str:
    profile = device.profile
    if profile.role == "source":
        wants = [r.run.want.mode.name for r in results.values() if r.run.source == device.uid]
        return " · ".join([profile.kind, *(f"wants {w}" for w in wants)])
    if profile.role == "repeater":
        return f"{profile.kind} · {len(profile.inputs())} in"
    vrr = profile.video.vrr
    words: list[str] = [profile.kind]
    if profile.panel:
        words.append(profile.panel.replace("x", "×"))
    if isinstance(vrr, tuple):
        words.append(f"VRR {vrr[0]}–{vrr[1]}")
    return " · ".join(words)


def _port(layer: Layer, socket: Socket) -> PortOut:
    state = layer.state(socket)
    lead = layer.lead_at(socket)
    return {
        "id": socket.port, "label": state.port.label, "note": state.port.note, "direction": state.port.direction,
        "kind": state.port.kind, "digital": state.port.digital, "plug": state.port.plug.replace("_", "-"),
        "rate": _rate(state),
        "rate_text": _carries(state),
        "lead": lead.uid if lead else None,
    }  # fmt: skip


def _rate(state: PortState) -> str:
    port = state.port
    if port.kind == "analogue":
        return socket_rates(port.sends, port.takes)[0]
    return short_rate(state) if port.digital else ""


def _carries(state: PortState) -> str:
    port = state.port
    if port.digital:
        return socket_ceiling(state)
    by = f" by {port.plug.replace('_', '-')}"
    if port.kind == "analogue":
        return socket_rates(port.sends, port.takes)[1] + by
    return {"audio": "sound", "power": "5 V"}[port.kind] + by


def _setting(layer: Layer, device: Device, scope: str, setting: Setting, now: Standing) -> SettingOut:
    kept = layer.rig.settings.get((device.uid, scope, setting.id), SettingValue())
    value = layer.rig.setting_value(layer.name, device.uid, scope, setting)
    return {
        "key": setting.id, "label": setting.label, "scope": scope, "scope_label": cell_words(device.profile, scope),
        "value": value, "found": kept.found, "plan": kept.plan,
        "assumed": kept.plan is None and kept.found is None, "default": setting.default,
        "options": [{"id": o.id, "label": o.label} for o in setting.options],
        "where": setting.where, "resync": setting.resync, "really": now.value,
        **standing_data(device.profile, now),
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Use:
    """A run on a lead: judged by rate, or met as an analogue signal; neither where nobody judges it."""

    run: str
    link: LinkResult | None = None
    met: Met | None = None


def _on_leads(layer: Layer, results: Iterable[RunResult]) -> dict[str, list[_Use]]:
    """Every lead's runs, in their order."""
    found: dict[str, list[_Use]] = {}
    for r in results:
        links = {x.hop.lead: x for x in r.links}
        met = {m.hop.lead: m for m in meetings(layer, r.path, sent=r.asked_timing)} if len(links) < len(r.path) else {}
        for hop in r.path:
            use = _Use(r.run.uid, links.get(hop.lead), met.get(hop.lead))
            found.setdefault(hop.lead, []).append(use)
    return found


def _lead(layer: Layer, lead: Lead, on: Sequence[_Use]) -> LeadOut:
    a, b = lead.ends(layer.name)
    judged = [use.link.wanted for use in on if use.link is not None]
    most = fullest(judged)
    tag = ""
    if most is not None and most.used_percent is not None:
        tag = f"{most.used_percent:.0f} % of {short_over(most)}"
    verdict = worst([v.verdict for v in judged]) if judged else None
    short = f"{most.used_percent:.0f} %" if most is not None and most.used_percent is not None else lead.label
    met = next((use.met for use in on if use.met is not None), None)
    if met is not None:
        tag, verdict = rate_of(met), met.verdict
        short = tag.partition(",")[0] if met.signal is not None else lead.label
    return {
        "uid": lead.uid, "label": lead.label, "mark": lead.mark, "kind": lead.kind, "digital": lead.digital,
        **cable_data(lead.cable),
        "grade_name": lead_text(lead),
        "a": {"device": a.device, "port": a.port} if a else None,
        "b": {"device": b.device, "port": b.port} if b else None,
        "moved": lead.found != lead.plan,
        "hanging": HANGING[hanging(layer.rig, lead)],
        "verdict": verdict,
        "used_percent": most.used_percent if most else None,
        "tag": tag, "short": short,
        "runs": [use.run for use in on],
    }  # fmt: skip


def _summary(rig: Rig) -> str:
    """The board in a sentence: how many boxes of each part, and what its figures are in."""
    roles = Counter(d.profile.role for d in rig.devices.values())
    words = [
        count_of(roles["source"], "source"), f"{count_of(roles['repeater'], 'box', 'boxes')} in between",
        count_of(roles["screen"], "screen"),
    ]  # fmt: skip
    words += [count_of(roles["sound"], "sound box", "sound boxes")] if roles["sound"] else []
    old = any(p.kind == "analogue" for d in rig.devices.values() for p in d.profile.ports)
    return f"{', '.join(words)}; sockets in Gb/s{', analogue ones in kHz' if old else ''}."
