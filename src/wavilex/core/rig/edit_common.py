"""What every change handler shares: looking things up, checking words, refusing plainly."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.rig import model as rig_m
from wavilex.core.rig.model import Device, Lead, Rig, Socket

Change = Mapping[str, Any]
Applied = tuple[Rig, list[dict[str, Any]]]


def need(condition: object, message: str) -> None:
    if not condition:
        raise ChangeError(message)


def find_device(rig: Rig, uid: str) -> Device:
    need(uid in rig.devices, f"there is no device {uid!r} in this job")
    return rig.devices[uid]


def find_lead(rig: Rig, uid: str) -> Lead:
    need(uid in rig.leads, f"there is no lead {uid!r} in this job")
    return rig.leads[uid]


def layer_of(change: Change) -> str:
    layer = str(change.get("layer", "plan"))
    need(layer in rig_m.LAYERS, f"layer is found or plan, not {layer!r}")
    return layer


def text_of(change: Change, key: str, most: int = 80) -> str:
    value = change[key]
    need(isinstance(value, str) and len(value) <= most, f"{key} must be a text of at most {most} characters")
    return str(value)


def with_item(mapping: Mapping[Any, Any], key: Any, value: Any) -> dict[Any, Any]:
    out = dict(mapping)
    if value is None:
        out.pop(key, None)
    else:
        out[key] = value
    return out


def new_uid(rig_part: Mapping[str, Any], row: Any, what: str) -> str:
    uid = row["uid"]
    need(isinstance(uid, str) and 0 < len(uid) <= 40 and "/" not in uid, f"a {what} needs a uid without /")
    need(uid not in rig_part, f"there is a {what} {uid!r} already")
    return str(uid)


def plain(socket: Socket | None) -> dict[str, str] | None:
    return None if socket is None else {"device": socket.device, "port": socket.port}
