"""The Light sheet of a screen told: what the room asks, cell by cell what to set, and what was read. Plain data."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from wavilex.core.advise.daylight import day_preset
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import REST, Spot, read_scope
from wavilex.core.gear.words import cell_words
from wavilex.core.light.aim import aimed
from wavilex.core.light.codes import Levels
from wavilex.core.light.curve import Z95, Curve
from wavilex.core.light.near_black import controls, judged
from wavilex.core.light.readings import (
    Cell,
    error_of,
    light_cd_m2,
    light_curve,
    main_window,
    notes_of,
    number_of,
    panel_light,
    patches,
    scope_at,
    stale,
    windows_read,
)
from wavilex.core.light.room import TIMES, room_light, target
from wavilex.core.light.shapes import (
    DimmingOut,
    LightAnswerOut,
    LightCellOut,
    LightCurveOut,
    LightPoint,
    LightReadingOut,
    NearBlackOut,
    ScreenLightOut,
    TargetOut,
    TrackOut,
    WhiteOut,
)
from wavilex.core.light.track import tracked
from wavilex.core.light.transfer import bt1886_light, pq_light
from wavilex.core.light.white import daylight, white_of
from wavilex.core.light.windows import dimming
from wavilex.core.modes.cells import spots
from wavilex.core.rig.light_notes import ALL_SIGNAL, LightNote
from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.ops import to_set
from wavilex.core.tell.light_hdr import hdr_runs
from wavilex.core.tell.light_panel import care_data, choices_data, overdrive_data

_LOCUS = (4000, 4500, 5000, 5500, 6000, 6504, 7000, 8000, 9300, 11_000, 14_000, 20_000)
_METHODS = {"meter": "by meter", "typed": "typed", "eye": "by eye: a guess"}


def light_data(layer: Layer, uid: str) -> ScreenLightOut:
    """Everything of a screen's light, for the plan's cells with what was noted as found."""
    rig, device = layer.rig, layer.rig.devices[uid]
    noted = room_light(rig, device)
    cells = [_cell(layer, device, spot, runs, times) for spot, runs, times in cells_of(layer, uid)]
    hdr = hdr_runs(layer, uid)
    return {
        "device": uid, "label": device.label,
        "screens": [{"uid": d.uid, "label": d.label, "room": d.room} for d in screens_of(rig)],
        "day": noted.day, "night": noted.night, "seat_mm": noted.seat_mm, "glare": noted.glare,
        "targets": [target_data(rig, device, t) for t in TIMES], "cells": cells, "hdr": hdr,
        "care": care_data(rig, device), "overdrive": overdrive_data(layer, device),
        "choices": choices_data(layer, device), "first": _first(cells, device),
        "warmths": [{"id": o.id, "label": o.label} for s in device.profile.settings if s.effect == "warmth"
                    for o in s.options],
        "locus": [{"x": x, "y": y, "kelvin": k} for k in _LOCUS for x, y in (daylight(k),)],
    }  # fmt: skip


def screens_of(rig: Rig) -> list[Device]:
    """Screens of the job, those that a run reaches first."""
    reached = {r.sink for r in rig.runs.values()}
    screens = [d for d in rig.devices.values() if d.profile.role == "screen"]
    return sorted(screens, key=lambda d: d.uid not in reached)


def target_data(rig: Rig, device: Device, time: str) -> TargetOut:
    t = target(rig, device, "day" if time == "day" else "night")
    return {
        "time": t.time,
        "light": t.light,
        "low": t.low,
        "high": t.high,
        "aim": t.aim,
        "why": t.why,
        "guess": t.guess,
    }


def cells_of(layer: Layer, uid: str) -> list[tuple[Spot, list[str], tuple[str, ...]]]:
    """A screen's cells with light to set: where, the runs that meet it, and by what light of the room it is watched.

    Those the runs need, films by day in theirs, then those that only have readings.
    """
    rig, device = layer.rig, layer.rig.devices[uid]
    found: dict[str, tuple[Spot, list[str], tuple[str, ...]]] = {}
    days = {}
    for spot, run in spots(layer, uid):
        day = day_preset(layer, run_result(layer, rig.runs[run])) if spot.range == REST else ""
        times = ("night",) if day else TIMES
        if day:
            days[run] = replace(spot, mode=day)
        at = found.setdefault(scope_at(device, spot), (spot, [], times))
        if run not in at[1]:
            at[1].append(run)
    for run, spot in days.items():
        found.setdefault(scope_at(device, spot), (spot, [run], ("day",)))
    for note in rig.light.values():
        if note.device == uid and note.kind in ("patch", "near_black") and note.scope not in found:
            found[note.scope] = (read_scope(note.scope), [], TIMES)
    return list(found.values())


def _cell(layer: Layer, device: Device, spot: Spot, runs: list[str], times: tuple[str, ...]) -> LightCellOut:
    rig, scope = layer.rig, scope_at(device, spot)
    cell, setting, hdr = Cell(device.uid, scope), panel_light(device), spot.range not in ("", REST)
    window = main_window(rig, cell)
    curve = light_curve(rig, cell, window)
    number = setting.number if setting else None
    own = spot.kept(setting.dimensions) if setting else ""
    kept = rig.settings.get((device.uid, own, setting.id)) if setting else None
    lit = [_reading(rig, n, window) for n in notes_of(rig, device.uid, "patch", scope)]
    whites = _whites(rig, device, cell)
    return {
        "scope": scope, "name": cell_words(device.profile, scope) or device.label, "hdr": hdr, "times": list(times),
        "runs": [rig.runs[r].label for r in runs], "setting": setting.id if setting else "",
        "setting_label": setting.label if setting else "", "low": float(number.from_) if number else None,
        "high": float(number.to) if number else None, "step": float(number.step) if number else None,
        "found": kept.found if kept else None, "plan": kept.plan if kept else None, "window": window,
        "curve": _curve_data(rig, cell, window, curve) if curve else None,
        "answers": [] if hdr else list(_answers(rig, device, cell, own, times, curve)),
        "readings": lit, "preset": spot.mode, "whites": whites, "white_said": _white_said(whites),
        "dimming": _dimming(rig, cell), "near_black": _near_black(layer, device, spot, runs),
        "track": _track(rig, cell, hdr),
    }  # fmt: skip


def _reading(rig: Rig, n: LightNote, window: int) -> LightReadingOut:
    old = stale(rig, n)
    x, y = n.figure("x_e5"), n.figure("y_e5")
    return {
        "uid": n.uid, "value": n.value, "window": n.must("window_percent"), "signal_percent": n.must("signal_e4") / 100,
        "light": light_cd_m2(n), "error_percent": n.must("error_e4") / 100, "x": x / 1e5 if x else None,
        "y": y / 1e5 if y else None, "method": _METHODS[n.method], "by": n.by, "at": n.at,
        "stale": "; ".join(f"{c.what}: was {c.was}, is {c.now}" for c in old),
        "counts": not old and n.method != "eye" and bool(n.value) and n.figure("window_percent") == window
        and n.figure("signal_e4") == ALL_SIGNAL,
    }  # fmt: skip


def _curve_data(rig: Rig, cell: Cell, window: int, curve: Curve) -> LightCurveOut:
    points = []
    for n in patches(rig, cell, window=window):
        at, light, off = number_of(n), light_cd_m2(n), Z95 * error_of(n)
        if at is not None:
            points.append(_point(at, light, max(light - off, 0.0), light + off))
    return {"line": [_point(*p) for p in curve.drawn()], "points": points}


def _point(at: float, light: float, low: float, high: float) -> LightPoint:
    return {"at": at, "light": light, "low": low, "high": high}


def _answers(
    rig: Rig, device: Device, cell: Cell, own: str, times: tuple[str, ...], curve: Curve | None
) -> Iterator[LightAnswerOut]:
    setting = panel_light(device)
    for time in times:
        a = aimed(rig, cell, "day" if time == "day" else "night", curve)
        if a is None or setting is None:
            return
        key = (device.uid, own, setting.id)
        kept = rig.settings.get(key)
        stands = kept is not None and a.value is not None and a.value in (kept.plan or kept.found,)
        yield {
            "time": time, "value": a.value, "light": a.found.light if a.found else None,
            "low": a.found.light_low if a.found else None, "high": a.found.light_high if a.found else None,
            "said": a.said, "next_value": a.next_value, "planned": stands,
            "ops": [to_set(key, a.value)] if a.value is not None and not stands else [],
        }  # fmt: skip


def _whites(rig: Rig, device: Device, cell: Cell) -> list[WhiteOut]:
    """Measured whites of the cell, the last of each colour temperature; nothing else they rest on may have changed."""
    warmth = next((s for s in device.profile.settings if s.effect == "warmth"), None)
    out: dict[str, WhiteOut] = {}
    for n in notes_of(rig, device.uid, "patch", cell.scope):
        x, y = n.figure("x_e5"), n.figure("y_e5")
        if x is None or y is None or n.must("signal_e4") < ALL_SIGNAL // 2:
            continue
        if any(warmth is None or not c.path.endswith(f"/{warmth.id}") for c in stale(rig, n)):
            continue
        w = white_of(x / 1e5, y / 1e5)
        ends = f"/{warmth.id}" if warmth else "/none"
        set_to = next((v for path, v in n.grounds if path.endswith(ends)), "")
        label = warmth.option_label(set_to) if warmth and set_to else ""
        out[label] = {
            "x": w.x, "y": w.y, "kelvin": round(w.kelvin) if w.kelvin else None, "duv": w.duv, "delta_e": w.delta_e,
            "lean": w.lean, "warmth": label, "window": n.must("window_percent"), "at": n.at,
        }  # fmt: skip
    return list(out.values())


def _white_said(whites: list[WhiteOut]) -> str:
    if not whites:
        return "No white was measured here; the warm end is usually nearest D65 (common practice)"
    best = min(whites, key=lambda w: w["delta_e"])
    kelvin = f"{best['kelvin']} K" if best["kelvin"] else "no temperature"
    at = f"Colour temperature {best['warmth']}" if best["warmth"] else "As it stood"
    said = f"{at}: {kelvin}, ΔE {best['delta_e']:.1f} to D65, {best['lean']}"
    if len(whites) > 1:
        others = ", ".join(f"{w['warmth'] or 'as it stood'} ΔE {w['delta_e']:.1f}" for w in whites if w is not best)
        said += f"; nearest of those measured ({others})"
    elif best["delta_e"] > 3:
        said += "; measure the others too"
    return said


def _dimming(rig: Rig, cell: Cell) -> DimmingOut | None:
    """Of the brightest panel light that was read at several windows: readings at several values never mix."""
    read = windows_read(rig, cell)
    by_value: dict[str, dict[int, list[float]]] = {}
    for window, notes in read.items():
        for n in notes:
            by_value.setdefault(n.value, {}).setdefault(window, []).append(light_cd_m2(n))
    if not by_value:
        return None
    value = max(by_value, key=lambda v: (len(by_value[v]), max(max(x) for x in by_value[v].values())))
    found = dimming([(w, sum(x) / len(x)) for w, x in by_value[value].items()])
    if found is None:
        return None
    return {
        "windows": [{"window": w, "light": x, "words": ""} for w, x in found.windows],
        "held": [{"window": w, "light": x, "words": words} for w, words, x in found.held],
        "keeps_percent": found.keeps_percent,
        "missing": list(found.missing),
    }  # fmt: skip


def _near_black(layer: Layer, device: Device, spot: Spot, runs: list[str]) -> NearBlackOut:
    last = next(iter(reversed(list(notes_of(layer.rig, device.uid, "near_black", scope_at(device, spot))))), None)
    if last is None:
        said = "Nobody looked yet: which step is the first seen?"
        return {"first_step": None, "said": said, "at": "", "controls": []}
    step, levels = last.must("first_step"), _levels(layer, device, spot, runs)
    hdr = spot.range not in ("", REST)
    todo = controls(device, step, hdr=hdr, levels_differ=levels[0] != levels[1] if levels else None)
    return {
        "first_step": step, "said": judged(step, levels), "at": last.at,
        "controls": [{"setting": c.setting, "do": c.do, "elsewhere": c.elsewhere} for c in todo],
    }  # fmt: skip


def _levels(layer: Layer, screen: Device, spot: Spot, runs: list[str]) -> tuple[Levels, Levels] | None:
    """What source and screen mean by levels, as found; None where one of them was not read, or is left to itself."""
    for run in runs:
        path = run_result(layer, layer.rig.runs[run]).path
        source = layer.rig.devices[layer.rig.runs[run].source]
        at = Spot(path[0].out.port if path else "", spot.resolution, spot.rate, spot.range)
        ends = (_level(layer.rig, source, at), _level(layer.rig, screen, spot))
        if ends[0] is not None and ends[1] is not None:
            return ends[0], ends[1]
    return None


def _level(rig: Rig, device: Device, spot: Spot) -> Levels | None:
    setting = next((s for s in device.profile.settings if s.effect == "quantisation"), None)
    if setting is None:
        return None
    value = rig.setting_value("found", device.uid, spot.kept(setting.dimensions), setting)
    return "limited" if value == "limited" else "full" if value == "full" else None


def _track(rig: Rig, cell: Cell, hdr: bool) -> TrackOut | None:
    """Readings at several levels of signal, of the window most are of, against PQ or BT.1886 of their own white."""
    notes = patches(rig, cell, signal_e4=None)
    by_window: dict[int, dict[int, float]] = {}
    for n in notes:
        by_window.setdefault(n.must("window_percent"), {})[n.must("signal_e4")] = light_cd_m2(n)
    read = max(by_window.values(), key=len, default={})
    white = read.get(ALL_SIGNAL)
    if len(read) < 3 or (not hdr and not white):
        return None
    meant = pq_light if hdr else (lambda s: bt1886_light(s, white or 1.0))
    found = tracked([(s / ALL_SIGNAL, light) for s, light in read.items()], meant)
    if found is None:
        return None
    document = "PQ (ST 2084)" if hdr else f"BT.1886 of {white:.0f} cd/m²"
    parts = [f"follows {document} at {100 * found.wide:.0f} %" if found.wide else f"leaves {document} from the start"]
    if found.rolls_from is not None:
        parts.append(f"rolls off from {100 * found.rolls_from:.0f} % of signal ({meant(found.rolls_from):.0f} cd/m²)")
    if found.clips_at is not None:
        parts.append(f"clips at {100 * found.clips_at:.0f} % ({meant(found.clips_at):.0f} cd/m² asked)")
    return {
        "points": [{"signal": 100 * s, "light": light, "meant": doc} for s, light, doc in found.points],
        "said": "; ".join(parts),
        "clips_at": found.clips_at, "rolls_from": found.rolls_from,
    }  # fmt: skip


def _first(cells: list[LightCellOut], device: Device) -> str:
    """The one thing to do next."""
    if not cells:
        return f"No run reaches {device.label} yet: wire one, and its cells stand here"
    if not cells[0]["setting"]:
        return f"read white: the profile of {device.label} names no setting for its light"
    for c in cells:
        for a in c["answers"]:
            if a["next_value"] is not None:
                return f"{c['name']}: set {c['setting_label']} to {a['next_value']} and read white"
            if a["ops"]:
                return f"{c['name']}: plan {c['setting_label']} {a['value']}"
    for c in cells:
        if c["hdr"] and not any(r["counts"] for r in c["readings"]):
            return f"{c['name']}: read the peak, a white patch of 10 % or less"
    if any(a["value"] is None for c in cells for a in c["answers"]):
        return "nothing to read: some cells cannot have the light asked, as they say"
    return "nothing to read: every cell of standard range has its value planned, by readings"
