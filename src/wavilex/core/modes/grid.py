"""A box as a grid of what it keeps: a row a setting, a column a cell that the job's runs meet; differences first.

Copying from cell to cell, or to a sister unit, gives the changes it takes and what is left out, each with why.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.cells import DIMENSIONS, Spot, StoredBy, read_scope, said_by
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.vocabulary import COPIES
from wavilex.core.gear.words import cell_words, standing_data, value_words
from wavilex.core.modes.cells import spots
from wavilex.core.modes.shapes import CopiedOut, GridBox, GridCell, GridColumn, GridRow
from wavilex.core.rig.edit_cells import BY_WORDS
from wavilex.core.rig.model import Device, Rig, SettingKey, SettingValue
from wavilex.core.rig.ops import INPUT_KEY, Change, to_set
from wavilex.core.rig.visit_facts import kept_values, kept_words


@dataclass(frozen=True, slots=True)
class Column:
    """A cell told apart by all that any of the box's settings is kept by, and the runs that meet it."""

    spot: Spot
    scope: str
    runs: tuple[str, ...]


def columns_of(layer: Layer, device: Device) -> list[Column]:
    """The cells of a box: those that runs meet, in their order, then those that somebody noted a value for."""
    by = _kept_by(device)
    found: dict[str, tuple[Spot, list[str]]] = {}
    for spot, run in spots(layer, device.uid):
        runs = found.setdefault(spot.kept(by), (spot, []))[1]
        if run not in runs:
            runs.append(run)
    met = list(found)
    for uid, scope, key in layer.rig.settings:
        if uid == device.uid and key != INPUT_KEY and not any(_within(scope, other) for other in met):
            found.setdefault(scope, (read_scope(scope), []))
    return [Column(spot, scope, tuple(runs)) for scope, (spot, runs) in found.items()]


def _kept_by(device: Device) -> tuple[StoredBy, ...]:
    kinds = {d for s in device.profile.settings for d in s.dimensions}
    return tuple(d for d in DIMENSIONS if d in kinds)


def _within(scope: str, column: str) -> bool:
    """Does a column say all that a scope does, alike?"""
    one, other = read_scope(scope), read_scope(column)
    return all(one.value(d) == other.value(d) for d in said_by(scope))


def grid_data(layer: Layer) -> list[GridBox]:
    """Every box with settings that a run meets or somebody noted, as a grid."""
    boxes = []
    for device in layer.rig.devices.values():
        columns = columns_of(layer, device)
        if device.profile.settings and columns:
            boxes.append(_box(layer, device, columns))
    return boxes


def _box(layer: Layer, device: Device, columns: Sequence[Column]) -> GridBox:
    by = _kept_by(device)
    rows = [_row(layer, device, s, columns) for s in device.profile.settings]
    shown: list[GridColumn] = [
        {
            "scope": c.scope, "at": [_value_words(device, c.spot, d) for d in by],
            "words": cell_words(device.profile, c.scope) or "the whole box",
            "runs": [layer.rig.runs[r].label for r in c.runs],
        }
        for c in columns
    ]  # fmt: skip
    return {
        "device": device.uid, "label": device.label, "room": device.room, "profile": device.profile.name,
        "kept_by": [BY_WORDS[d] for d in by], "columns": shown,
        "rows": sorted((r for r in rows if any(r["cells"])), key=lambda r: r["alike"]),
        "sisters": [
            {"id": d.uid, "name": d.label} for d in layer.rig.devices.values()
            if d.uid != device.uid and d.profile.id == device.profile.id
        ],
    }  # fmt: skip


def _value_words(device: Device, spot: Spot, dimension: StoredBy) -> str:
    value = spot.value(dimension)
    return value_words(device.profile, dimension, value) if value else ""


def _row(layer: Layer, device: Device, setting: Setting, columns: Sequence[Column]) -> GridRow:
    cells = [_cell(layer, device, setting, c) for c in columns]
    values = {(c["value"], c["found"]) for c in cells if c is not None}
    number, words = setting.number, [BY_WORDS[d] for d in setting.dimensions]
    return {
        "key": setting.id, "label": setting.label, "where": setting.where,
        "kept_by": f"per {', '.join(words)}" if words else "once for the box",
        "options": [{"id": o.id, "label": o.label} for o in setting.options],
        "number": {
            "from_": float(number.from_), "to": float(number.to), "step": float(number.step), "unit": number.unit,
            "neutral": float(number.neutral) if number.neutral is not None else None, "words": number.words,
        } if number is not None else None,
        "default": setting.option_label(setting.default), "copies": COPIES[setting.copies],
        "alike": len(values) < 2, "cells": cells,
    }  # fmt: skip


def _cell(layer: Layer, device: Device, setting: Setting, column: Column) -> GridCell | None:
    """What is kept there; None where the setting is not kept at that input, or the column does not say where."""
    by = setting.dimensions
    if (setting.ports and column.spot.input not in setting.ports) or any(not column.spot.value(d) for d in by):
        return None
    scope = column.spot.kept(by)
    kept = layer.rig.settings.get((device.uid, scope, setting.id), SettingValue())
    value = kept.plan or kept.found
    spot = column.spot if device.profile.in_cells else None
    stands = standing_data(
        device.profile, layer.standing(device, spot=spot)[column.spot.input if setting.ports else "", setting.id]
    )
    return {
        "scope": scope, "found": kept.found, "plan": kept.plan, "value": value,
        "words": setting.option_label(value) if value is not None else "",
        "found_words": setting.option_label(kept.found) if kept.found is not None else "not seen",
        "change": kept.plan is not None and kept.plan != kept.found,
        "standing": stands["standing"], "because": stands["because"], "frees": stands["frees"],
    }  # fmt: skip


def copy_cell(layer: Layer, device: str, start: str, to_device: str, end: str, taste: bool = False) -> CopiedOut:
    """The changes that give one cell's values to another, of the same box or a sister unit's, and what stays behind.

    start, end: columns of the grid. taste: what is a matter of taste is agreed. Raises ChangeError.
    """
    rig = layer.rig
    for uid in (device, to_device):
        if uid not in rig.devices:
            raise ChangeError(f"there is no device {uid!r} in this job", where="device")
    here, there = rig.devices[device], rig.devices[to_device]
    if here.profile.id != there.profile.id:
        raise ChangeError(f"{there.label} is no sister of {here.label}: their menus differ", where="to_device")
    try:
        one, other = read_scope(start), read_scope(end)
    except ValueError as error:
        raise ChangeError(str(error), where="start") from None
    ops: list[Change] = []
    left: list[str] = []
    copied: list[str] = []
    for setting in here.profile.settings:
        by = setting.dimensions
        if any(not s.value(d) for s in (one, other) for d in by):
            continue
        scope, to = one.kept(by), other.kept(by)
        value = _kept(rig, (device, scope, setting.id))
        if value is None or (device, scope) == (to_device, to):
            continue
        by_hand = next((k.kept for k in kept_values(rig, to_device) if (k.scope, k.key) == (to, setting.id)), None)
        because = (
            (kept_words(by_hand) if by_hand else "")
            or _stays(setting, device != to_device, taste)
            or _no_such_socket(there, setting, other)
        )
        if because:
            left.append(f"{setting.label}: {because}")
        elif _kept(rig, (to_device, to, setting.id)) != value:
            ops.append(to_set((to_device, to, setting.id), value))
            copied.append(f"{setting.label} {setting.option_label(value)}")
    return {"ops": ops, "copied": copied, "left": left}


def _kept(rig: Rig, place: SettingKey) -> str | None:
    """What is planned there, else was found; None where neither."""
    kept = rig.settings.get(place, SettingValue())
    return kept.plan or kept.found


def _no_such_socket(device: Device, setting: Setting, spot: Spot) -> str:
    return f"{device.label} does not keep it there" if setting.ports and spot.input not in setting.ports else ""


def _stays(setting: Setting, to_sister: bool, taste: bool) -> str:
    """Why a value is not given on; "" where it may be."""
    if not to_sister:
        return ""
    if setting.copies == "unit":
        return "belongs to this one unit: measure the other by itself"
    if setting.copies == "room":
        return "belongs to this room’s light: set the other in its own"
    return "a matter of taste: agree on it first" if setting.copies == "taste" and not taste else ""
