"""Facts learned on site: what each kind of fact may say, and putting it on a box."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, get_args

from pydantic import Field, ValidationError

from wavilex.core import refused
from wavilex.core.bounds import CONDITION_LETTERS, MOST_LAG_US
from wavilex.core.errors import ChangeError
from wavilex.core.fields import Ident, Model, Provenance
from wavilex.core.gear.hdr_pages import HdrPage
from wavilex.core.gear.ports import Video
from wavilex.core.gear.profile import MOST_PEAK_CD_M2
from wavilex.core.gear.state import FactValue
from wavilex.core.rig.edit_cells import check_scope
from wavilex.core.rig.edit_common import Applied, find_device, need, with_item
from wavilex.core.rig.model import (
    CAME_BACK_FACT,
    LAG_FACT,
    PEAK_FACT,
    PLAYS_FACT,
    SETTING_LAG_FACT,
    SOUND_LAG_FACT,
    TRIED_FACT,
    Device,
    Rig,
)
from wavilex.core.rig.ops import Change, SetFact
from wavilex.core.rig.room_light import PAGE_FACT, ROOM_FACT, RoomLight
from wavilex.core.rig.visit_facts import VISIT_FACTS, check_visit_fact

MOST_SOUND_LAG_MS = 5000
_PROVENANCE = get_args(Provenance)


_Span = Annotated[int, Field(ge=-MOST_LAG_US, le=MOST_LAG_US)]


class LagSeen(Model):
    """A lag measured at a box: of which screen mode, input and signal ("" not noted), in µs, of so many readings.

    against, cost_us: the cell it was held against, and how much longer this one is, where it is proved to differ.
    """

    condition: Annotated[str, Field(max_length=CONDITION_LETTERS)]
    input: Annotated[str, Field(max_length=200)] = ""
    signal: Annotated[str, Field(max_length=200)] = ""
    lag_us: Annotated[int, Field(ge=0, le=MOST_LAG_US)]
    readings: Annotated[int, Field(ge=1)]
    against: Annotated[str, Field(max_length=400)] = ""
    cost_us: _Span | None = None


class SettingLag(Model):
    """What a value of a setting costs in time against another value of it, all else alike, in µs with its interval at
    95 %; input and signal it was measured with, "" not noted. changed: False: proved to be no practical change.
    firmware: of the box then, "" not known; day: ISO 8601.
    """

    setting: Ident
    option: Ident
    against: Ident
    input: Annotated[str, Field(max_length=200)] = ""
    signal: Annotated[str, Field(max_length=200)] = ""
    cost_us: _Span
    low_us: _Span
    high_us: _Span
    readings: Annotated[int, Field(ge=1)]
    changed: bool
    firmware: Annotated[str, Field(max_length=60)] = ""
    day: Annotated[str, Field(max_length=10, pattern=r"^\d{4}-\d{2}-\d{2}$")]


def set_fact(rig: Rig, change: SetFact) -> Applied:
    """Something learned here about a port's field; value None forgets it."""
    device, path, value = find_device(rig, change["device"]), change["path"], change["value"]
    parts = path.split(".")
    if path == PLAYS_FACT:
        need(value is None or isinstance(value, bool), "a box plays sound itself, true or false")
        return _put_fact(rig, device, path, value, change)
    if parts[0] == TRIED_FACT:
        known = len(parts) == 3 and device.profile.port(parts[1]) and len(parts[2]) <= 20
        need(known, f"what was tried is kept as {TRIED_FACT}.<port>.<multiple>, not {path!r}")
        need(value is None or isinstance(value, bool), "a multiple gave a picture, true or false")
        return _put_fact(rig, device, path, value, change)
    if path == SOUND_LAG_FACT:
        whole = isinstance(value, int) and not isinstance(value, bool) and 0 <= value <= MOST_SOUND_LAG_MS
        need(value is None or whole, f"sound comes 0 to {MOST_SOUND_LAG_MS} ms late, in whole ms")
        return _put_fact(rig, device, path, value, change)
    if path == PEAK_FACT:
        whole = isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= MOST_PEAK_CD_M2
        need(value is None or whole, f"a screen's brightest white is 1 to {MOST_PEAK_CD_M2} cd/m², a whole number")
        need(device.profile.role == "screen", "only a screen has a brightest white")
        return _put_fact(rig, device, path, value, change)
    if parts[0] == LAG_FACT:
        need(len(parts) == 2 and 0 < len(parts[1]) <= 40, f"a lag is kept as {LAG_FACT}.<name>, not {path!r}")
        if value is not None:
            _valid(LagSeen, value, path)
        return _put_fact(rig, device, path, value, change)
    if parts[0] == SETTING_LAG_FACT:
        need(len(parts) == 2 and 0 < len(parts[1]) <= 40, f"a cost is kept as {SETTING_LAG_FACT}.<name>, not {path!r}")
        if value is not None:
            _valid(SettingLag, value, path)
            _check_setting_lag(device, SettingLag.model_validate(value))
        return _put_fact(rig, device, path, value, change)
    if path == ROOM_FACT:
        need(device.profile.role == "screen", "the light of a room is noted of a screen in it")
        if value is not None:
            _valid(RoomLight, value, path)
        return _put_fact(rig, device, path, value, change)
    if parts[0] == PAGE_FACT:
        need(len(parts) == 2 and device.profile.role == "source", f"a page of a source is kept as {PAGE_FACT}.<page>")
        if value is not None:
            _valid(HdrPage, value, path)
        return _put_fact(rig, device, path, value, change)
    if parts[0] == CAME_BACK_FACT:
        _check_came_back(device, path, value)
        return _put_fact(rig, device, path, value, change)
    if parts[0] in VISIT_FACTS:
        check_visit_fact(device, path, value)
        return _put_fact(rig, device, path, value, change)
    need(
        len(parts) == 3 and parts[0] == "ports" and device.profile.port(parts[1]) and parts[2] in Video.model_fields,
        f"a fact's path is ports.<port>.<one of {', '.join(Video.model_fields)}>, not {path!r}",
    )
    if value is not None:
        _valid(Video, {parts[2]: value}, path)
    return _put_fact(rig, device, path, value, change)


def without_strays(rig: Rig, uid: str) -> tuple[Rig, list[Change]]:
    """A rig whose box has another profile now, without facts that this has no place for: of a setting or a socket that
    is gone. With the changes that bring them back, once the profile has its place again.
    """
    back: list[Change] = []
    for path, fact in rig.device_facts(uid).items():
        again: SetFact = {
            "op": "set_fact", "device": uid, "path": path, "value": fact.value, "provenance": fact.provenance,
        }  # fmt: skip
        try:
            set_fact(rig, again)
        except ChangeError:
            rig = replace(rig, facts=with_item(rig.facts, (uid, path), None))
            back.append(again)
    return rig, back


def _valid(model: type[Model], value: Any, path: str) -> None:
    try:
        model.model_validate(value)
    except ValidationError as error:
        raise ChangeError(f"{path} {refused.words(error.errors(include_url=False)[0])}") from None


def _check_came_back(device: Device, path: str, value: Any) -> None:
    """`came_back.<setting>.<value>`: what was set reverted; the value of the fact is the cell."""
    parts = path.split(".", 2)
    setting = device.profile.setting(parts[1]) if len(parts) == 3 else None
    need(
        setting is not None and setting.read(parts[2]) is not None,
        f"what came back is kept as {CAME_BACK_FACT}.<setting>.<value>, not {path!r}",
    )
    assert setting is not None
    need(value is None or isinstance(value, str), "what came back says in which cell")
    if value is not None:
        check_scope(device, setting, value)


def _check_setting_lag(device: Device, cost: SettingLag) -> None:
    setting = device.profile.setting(cost.setting)
    need(
        setting is not None and setting.read(cost.option) is not None and setting.read(cost.against) is not None,
        f"{device.label} has no setting {cost.setting} with {cost.option} and {cost.against}",
    )
    need(cost.low_us <= cost.cost_us <= cost.high_us, "a cost lies within its interval")


def _put_fact(rig: Rig, device: Device, path: str, value: Any, change: SetFact) -> Applied:
    provenance = change.get("provenance", "measured_here")
    need(provenance in _PROVENANCE, f"provenance is one of {', '.join(_PROVENANCE)}")
    old = rig.facts.get((device.uid, path))
    back: SetFact = {"op": "set_fact", "device": device.uid, "path": path, "value": old.value if old else None}
    if old:
        back["provenance"] = old.provenance
    new = None if value is None else FactValue(value, provenance)
    return replace(rig, facts=with_item(rig.facts, (device.uid, path), new)), [back]
