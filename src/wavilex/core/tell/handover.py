"""The hand-over: wiring, chosen signals and why, settings to make, selections, cautions. Plain data."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.advise.table import nearest_of
from wavilex.core.cautions import CAUTIONS
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult, spare_percent
from wavilex.core.chain.sound import sound_of
from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import cell_words
from wavilex.core.link.cable import NOT_READ
from wavilex.core.link.words import source_of
from wavilex.core.modes.cells import spots
from wavilex.core.rig.hanging import HANGING, hanging
from wavilex.core.rig.model import Device, Lead, Rig, Socket
from wavilex.core.rig.ops import INPUT_KEY
from wavilex.core.runsheet.sheet import Event, standing
from wavilex.core.tell.client_page import client_page
from wavilex.core.tell.codes import Codes, codes_of
from wavilex.core.tell.hand_light import hand_light
from wavilex.core.tell.hand_shapes import HandLead, HandoverTold, HandRun, HandSetting, PanelOut, PanelSocket
from wavilex.core.tell.leads import lead_text
from wavilex.core.tell.report import best_data
from wavilex.core.tell.seen import hand_seen
from wavilex.core.tell.sound import sound_data

_WHY_UNKNOWN = {"unknown": "certification not known", NOT_READ: "its print was not read"}
_ALWAYS = ("flashing", "power_off", "volume", "trip")


def handover(rig: Rig, events: Sequence[Event] = ()) -> HandoverTold:
    """The printable page's content for the plan. events: what was ticked on the run sheet."""
    layer = Layer(rig, "plan")
    results = [run_result(layer, r) for r in rig.runs.values()]
    now = Layer(rig, "found", layer.states)
    codes = codes_of(rig)
    marks = [c for d in rig.devices.values() for c in d.profile.cautions]
    return {
        "title": rig.title,
        "client": client_page(layer, results, codes, standing(rig, events)),
        "panels": _panels(rig, codes),
        "wiring": [_lead_row(rig, uid, codes) for uid in rig.leads],
        "runs": [_run_row(layer, r) for r in results],
        "settings": _settings(layer, results),
        "selections": _selections(rig, results),
        "updates": [
            {"device": d.label, "found": d.firmware or "not read", "plan": d.firmware_plan}
            for d in rig.devices.values()
            if d.firmware_plan and d.firmware_plan != d.firmware
        ],
        "firmware": [
            {"device": d.label, "version": d.firmware or "not read"}
            for d in rig.devices.values()
            if d.firmware or d.profile.newest_firmware
        ],
        "seen": [hand_seen(now, run_result(now, r)) for r in rig.runs.values()],
        "light": hand_light(rig),
        "cautions": [CAUTIONS[c] for c in dict.fromkeys((*_ALWAYS, *marks))],
        "survey": dict(rig.survey),
        "open": _open_points(layer, results),
    }


def _name(rig: Rig, socket: Socket | None) -> str:
    return rig.socket_name(socket) if socket else "loose"


def _panels(rig: Rig, codes: Codes) -> list[PanelOut]:
    """The back of every box with a socket in use, as planned."""
    at: dict[Socket, tuple[str, Socket | None]] = {}
    for lead in rig.leads.values():
        a, b = lead.plan
        at |= {end: (lead.uid, other) for end, other in ((a, b), (b, a)) if end is not None}
    out: list[PanelOut] = []
    for device in rig.devices.values():
        sockets: list[PanelSocket] = []
        for port in device.profile.ports:
            lead_uid, other = at.get(Socket(device.uid, port.id), ("", None))
            sockets.append({
                "label": port.label, "direction": port.direction, "code": codes.leads.get(lead_uid, ""),
                "lead": rig.leads[lead_uid].label if lead_uid else "", "to": _name(rig, other) if lead_uid else "",
            })  # fmt: skip
        if any(s["lead"] for s in sockets):
            out.append(
                {"device": device.label, "code": codes.boxes[device.uid], "room": device.room, "sockets": sockets}
            )
    return out


def _lead_row(rig: Rig, uid: str, codes: Codes) -> HandLead:
    lead = rig.leads[uid]
    return {
        "label": lead.label,
        "code": codes.leads[uid],
        "start": _name(rig, lead.plan[0]),
        "end": _name(rig, lead.plan[1]),
        "grade": lead_text(lead),
        "length_m": f"{lead.cable.length_mm / 1000:g}" if lead.cable.length_mm else "not measured",
        "change": _change(rig, lead),
    }


def _change(rig: Rig, lead: Lead) -> str:
    stands = hanging(rig, lead)
    if stands in ("as_found", "new", "unnoted"):
        return HANGING[stands]
    return f"was {_name(rig, lead.found[0])} to {_name(rig, lead.found[1])}"


def _run_row(layer: Layer, result: RunResult) -> HandRun:
    rig = layer.rig
    reason = result.limiting
    chosen, why, detail = (result.asked.name if result.asked else "nothing"), "", None
    if result.good:
        chosen += f", sent on as {result.resent.name}" if result.resent else ""
        spare = spare_percent(result)
        sources = sorted({source_of(x.wanted) for x in result.links})
        why = f"Uses {100 - spare:.1f} % of its fullest link ({'; '.join(sources)})" if spare is not None else ""
        if reason is not None:
            why += f". {render(reason, rig)}" if why else render(reason, rig)
    else:
        _rate, detail = nearest_of(layer, result)
        best = best_data(detail)
        chosen = f"until lifted: {best['name']}" if best else "nothing yet"
        why = render(reason, rig) if reason else ""
    has_hdr = result.good or (detail is not None and detail.hdr)
    extras = [
        i.key
        for i in result.items
        if i.key in ("hdr", "vrr", "low_lag") and i.verdict == "fits" and (i.key != "hdr" or has_hdr)
    ]
    return {
        "label": result.run.label,
        "path": " → ".join([rig.devices[result.run.source].label, *(rig.socket_name(h.inp) for h in result.path)]),
        "verdict": result.verdict,
        "signal": chosen,
        "with_": [{"hdr": "HDR", "vrr": "variable refresh", "low_lag": "automatic low latency"}[e] for e in extras],
        "why": why,
        "sound": sound_data(layer, sound_of(layer, result))["headline"] if result.path else "",
    }


def _settings(layer: Layer, results: list[RunResult]) -> list[HandSetting]:
    """Settings that the runs pass or that are planned otherwise than found."""
    rig = layer.rig
    passed = {h.inp for r in results for h in r.path} | {h.out for r in results for h in r.path}
    boxes = {s.device for s in passed}
    places = [
        (device, setting, scope)
        for device in rig.devices.values() for setting in device.profile.settings
        for scope in _scopes(layer, device, setting)
    ]  # fmt: skip
    rows: list[HandSetting] = []
    for device, setting, scope in places:
        kept = rig.settings.get((device.uid, scope, setting.id))
        found, plan = (kept.found, kept.plan) if kept else (None, None)
        port = read_scope(scope).input
        used = Socket(device.uid, port) in passed if port else device.uid in boxes
        if used or (plan is not None and plan != found):
            rows.append(_hand_setting(device, setting, scope, found, plan))
    return rows


def _scopes(layer: Layer, device: Device, setting: Setting) -> Sequence[str]:
    """The cells of a setting that runs meet, and those that somebody noted a value for."""
    if not setting.in_cells:
        return setting.ports or ("",)
    met = [spot.kept(setting.dimensions) for spot, _ in spots(layer, device.uid)]
    noted = [scope for uid, scope, key in layer.rig.settings if (uid, key) == (device.uid, setting.id)]
    return list(dict.fromkeys((*met, *noted)))


def _hand_setting(device: Device, setting: Setting, scope: str, found: str | None, plan: str | None) -> HandSetting:
    value = plan or found  # what a box stands at from its factory nobody has seen, and nobody has planned
    return {
        "device": device.label, "socket": cell_words(device.profile, scope), "setting": setting.label,
        "where": setting.where, "found": setting.option_label(found) if found else "not seen",
        "plan": setting.option_label(value) if value else "", "make": value is not None and value != found,
        "factory": setting.option_label(setting.default) if value is None else "",
        "note": "picture drops, re-plug to re-sync" if setting.resync and value not in (None, found) else "",
    }  # fmt: skip


def _selections(rig: Rig, results: list[RunResult]) -> list[str]:
    """Which input each box must show for each run."""
    out = []
    for r in results:
        if r.path:
            chosen = [rig.socket_name(h.inp) for h in r.path]
            out.append(f"{r.run.label}: select {', then '.join(chosen)}")
    return out


def _open_points(layer: Layer, results: list[RunResult]) -> list[str]:
    """What is not settled: said on the page, so that nobody takes a draft for a result."""
    rig = layer.rig
    points = [f"{r.run.label}: {render(r.limiting, rig)}" for r in results if not r.good and r.limiting]
    for r in results:
        for i in r.items:
            if not i.blocking and i.reasons:  # said once a run, of the screen where it can be done by hand
                at_screen = [x for x in i.reasons if x.socket is not None and x.socket.device == r.run.sink]
                points.append(f"{r.run.label}: {render((at_screen or i.reasons)[0], rig)}")
    unknown = [(x.uid, x.label) for x in rig.leads.values() if x.digital and not x.cable.known]
    points += [f"Lead {label}: {_WHY_UNKNOWN[rig.leads[uid].cable.grade]}." for uid, label in unknown]
    unseen = [
        (rig.devices[d].label, key) for (d, _s, key), v in rig.settings.items() if v.found is None and key != INPUT_KEY
    ]
    if unseen:
        one = "1 planned value was" if len(unseen) == 1 else f"{len(unseen)} planned values were"
        points.append(f"{one} never seen on the boxes themselves: nobody noted what stands there.")
    return points
