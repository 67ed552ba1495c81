"""Facts that visits leave behind: a box was brought to another version, how its settings stood then, what the client
set by his own hand.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, TypeVar

from pydantic import Field, ValidationError

from wavilex.core import refused
from wavilex.core.errors import ChangeError
from wavilex.core.fields import Ident, Model, Version, version_key
from wavilex.core.gear.setting import Setting
from wavilex.core.rig.edit_cells import check_scope
from wavilex.core.rig.edit_common import find_device, need
from wavilex.core.rig.model import (
    AFTER_UPDATE_FACT,
    CONFIRMED_FACT,
    KEPT_FACT,
    UPDATED_FACT,
    Device,
    Rig,
    SettingKey,
    SettingValue,
)
from wavilex.core.rig.ops import Change, SetFact, to_set

_M = TypeVar("_M", bound=Model)
VISIT_FACTS = (UPDATED_FACT, AFTER_UPDATE_FACT, KEPT_FACT, CONFIRMED_FACT)
_Scope = Annotated[str, Field(max_length=120)]
_Value = Annotated[str, Field(min_length=1, max_length=40)]
_Day = Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]


class Updated(Model):
    """A box went from one version to another; was: "" where nobody had read it."""

    was: Annotated[str, Field(max_length=60)] = ""
    now: Version


class AfterUpdate(Model):
    """How a setting stood after an update to a version: cells it was seen to have stayed in, cells it came back in (to
    which value), cells where a read-out makes one doubt it, and cells not looked at that are taken to stand as it.
    """

    setting: Ident
    version: Version
    day: _Day = ""
    stayed: tuple[_Scope, ...] = ()
    came_back: dict[_Scope, _Value] = {}
    doubted: tuple[_Scope, ...] = ()
    presumed: tuple[_Scope, ...] = ()


class ConfirmedFault(Model):
    """A fault that was found to be it, at such a box: in words, when and on which version."""

    words: Annotated[str, Field(min_length=1, max_length=200)]
    day: _Day = ""
    firmware: Annotated[str, Field(max_length=60)] = ""


class Kept(Model):
    """A value that the client set by his own hand in a cell, and why."""

    value: _Value
    because: Annotated[str, Field(min_length=1, max_length=200)]
    by: Annotated[str, Field(max_length=60)] = ""
    day: _Day = ""


class KeptCells(Model):
    """A setting's values by the client's hand, by cell."""

    cells: Annotated[dict[_Scope, Kept], Field(min_length=1)]


@dataclass(frozen=True, slots=True)
class KeptValue:
    """One value that stays as the client has it."""

    device: str
    scope: str
    key: str
    kept: Kept


def after_path(version: str, setting: str) -> str:
    """Where it is kept how a setting stood after an update."""
    return f"{AFTER_UPDATE_FACT}.{version.replace('.', '-')}.{setting}"


def check_visit_fact(device: Device, path: str, value: Any) -> None:
    """Raises ChangeError where a visit's fact does not say what one says, or not of this box."""
    kind, _, rest = path.partition(".")
    if kind == UPDATED_FACT:
        need(not rest, f"an update is kept as {UPDATED_FACT}, not {path!r}")
        if value is not None:
            _read(Updated, value, path)
        return
    if kind == CONFIRMED_FACT:
        need(0 < len(rest) <= 40, f"a confirmed fault is kept as {CONFIRMED_FACT}.<name>, not {path!r}")
        if value is not None:
            _read(ConfirmedFault, value, path)
        return
    setting = device.profile.setting(rest.rpartition(".")[2])
    need(setting is not None, f"{device.label} has no setting {rest.rpartition('.')[2]!r}")
    assert setting is not None
    if kind == KEPT_FACT:
        need(rest == setting.id, f"what the client keeps is kept as {KEPT_FACT}.<setting>, not {path!r}")
        if value is not None:
            for scope, kept in _read(KeptCells, value, path).cells.items():
                _check_value(device, setting, scope, kept.value)
        return
    if value is None:
        return
    seen = _read(AfterUpdate, value, path)
    need(path == after_path(seen.version, seen.setting), f"it belongs at {after_path(seen.version, seen.setting)}")
    need(seen.setting == setting.id, f"{path} is of {setting.id}")
    for scope in (*seen.stayed, *seen.doubted, *seen.presumed):
        check_scope(device, setting, scope)
    for scope, option in seen.came_back.items():
        _check_value(device, setting, scope, option)


def _check_value(device: Device, setting: Setting, scope: str, value: str) -> None:
    check_scope(device, setting, scope)
    need(setting.read(value) == value, f"{setting.label} on {device.label} is {setting.choice_words}, not {value!r}")


def _read(model: type[_M], value: Any, path: str) -> _M:
    try:
        return model.model_validate(value)
    except ValidationError as error:
        raise ChangeError(f"{path} {refused.words(error.errors(include_url=False)[0])}") from None


def updated(rig: Rig, device: str) -> Updated | None:
    """The last update of a box, while it still runs that version."""
    fact = rig.facts.get((device, UPDATED_FACT))
    seen = Updated.model_validate(fact.value) if fact is not None else None
    return seen if seen is not None and rig.devices[device].firmware == seen.now else None


def after_updates(rig: Rig, device: str, *, here: bool) -> Iterator[AfterUpdate]:
    """How its settings stood after updates, in the order it was noted: of this box, or of others of its kind, as the
    shelf had it.
    """
    for path, fact in rig.device_facts(device).items():
        if path.startswith(f"{AFTER_UPDATE_FACT}.") and (fact.provenance == "measured_here") is here:
            yield AfterUpdate.model_validate(fact.value)


def kept_values(rig: Rig, device: str | None = None) -> Iterator[KeptValue]:
    """What clients keep by their own hand, of a box or of all; not what somebody planned otherwise since."""
    for (uid, path), fact in rig.facts.items():
        if not path.startswith(f"{KEPT_FACT}.") or device not in (None, uid):
            continue
        for scope, kept in KeptCells.model_validate(fact.value).cells.items():
            key = path.partition(".")[2]
            stands = rig.settings.get((uid, scope, key), SettingValue())
            if (stands.plan or stands.found) == kept.value:
                yield KeptValue(uid, scope, key, kept)


def kept_words(kept: Kept) -> str:
    """`the client keeps it so: “too dark by day” (2026-05-03)`."""
    return f"the client keeps it so: “{kept.because}”" + (f" ({kept.day})" if kept.day else "")


def newer(device: Device) -> str:
    """The newest version known of a box, where it runs an older one; "" where it does not, or nobody knows."""
    newest = device.profile.newest_firmware
    if newest is None or not device.firmware:
        return ""
    here, there = version_key(device.firmware), version_key(newest)
    return newest if here is not None and there is not None and here < there else ""


def update_noted(device: Device, version: str) -> SetFact | None:
    """The change that notes that a box went to another version; None where it did not, or nobody can tell."""
    if device.firmware in ("", version) or version_key(version) is None:
        return None
    value = Updated(was=device.firmware, now=version).model_dump(mode="json")
    return {"op": "set_fact", "device": device.uid, "path": UPDATED_FACT, "value": value}


def keep_ops(rig: Rig, place: SettingKey, value: str, because: str, by: str, day: str) -> list[Change]:
    """The changes that note a value as the client's own: found so and planned so. because "": it is his no longer.

    Raises ChangeError where the box has no such setting, or the setting no such value.
    """
    uid, scope, key = place
    device = find_device(rig, uid)
    setting = device.profile.setting(key)
    need(setting is not None, f"{device.label} has no setting {key!r}")
    path = f"{KEPT_FACT}.{key}"
    old = rig.facts.get((uid, path))
    cells = dict(KeptCells.model_validate(old.value).cells) if old is not None else {}
    if because:
        cells[scope] = Kept(value=value or "?", because=because, by=by, day=day)
    else:
        need(cells.pop(scope, None) is not None, "nobody keeps that by hand")
    data = KeptCells(cells=cells).model_dump(mode="json", exclude_defaults=True) if cells else None
    noted: SetFact = {"op": "set_fact", "device": uid, "path": path, "value": data}
    if not because:
        return [noted]
    return [to_set(place, value, "found"), to_set(place, value), noted]
