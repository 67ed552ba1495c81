"""What every change handler shares: looking things up, checking words, refusing plainly."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from wavilex.core import bounds
from wavilex.core.errors import ChangeError
from wavilex.core.fields import UID_PATTERN
from wavilex.core.rig.model import Device, Lead, Rig, Socket
from wavilex.core.rig.ops import Change, LayerName, MoveLead, SelectInput, SetSetting, SocketData, SwapLeads

Applied = tuple[Rig, list[Change]]


def need(condition: object, message: str) -> None:
    if not condition:
        raise ChangeError(message)


_UID = re.compile(UID_PATTERN)


def find_device(rig: Rig, uid: str) -> Device:
    need(uid in rig.devices, f"there is no device {uid!r} in this job")
    return rig.devices[uid]


def find_lead(rig: Rig, uid: str) -> Lead:
    need(uid in rig.leads, f"there is no lead {uid!r} in this job")
    return rig.leads[uid]


def layer_of(change: SetSetting | SelectInput | MoveLead | SwapLeads) -> LayerName:
    return change.get("layer", "plan")


def text_of(value: str, name: str, most: int = 80) -> str:
    """A text as given. Raises ChangeError where it is too long."""
    need(len(value) <= most, f"{name} must be a text of at most {most} characters")
    return value


def check_grounds(grounds: Mapping[str, str], what: str) -> None:
    """What something seen or measured rests on, by path. Raises ChangeError where there is too much of it."""
    need(len(grounds) <= bounds.GROUNDS, f"{what} rests on at most {bounds.GROUNDS} things")
    for path, value in grounds.items():
        text_of(path, "grounds", bounds.OBSERVED_LETTERS)
        text_of(value, "grounds", bounds.OBSERVED_LETTERS)


def with_item(mapping: Mapping[Any, Any], key: Any, value: Any) -> dict[Any, Any]:
    out = dict(mapping)
    if value is None:
        out.pop(key, None)
    else:
        out[key] = value
    return out


def new_uid(rig_part: Mapping[str, Any], uid: str, what: str) -> str:
    """A uid for something new. Raises ChangeError where it is taken or malformed."""
    need(_UID.fullmatch(uid) is not None, f"a {what} needs a uid of 1 to 40 signs without / and without space")
    need(uid not in rig_part, f"there is a {what} {uid!r} already")
    return uid


def plain(socket: Socket | None) -> SocketData | None:
    return None if socket is None else {"device": socket.device, "port": socket.port}
