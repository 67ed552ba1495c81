"""What has changed since something was seen or measured: wiring, settings, firmware, as found.

A thing nobody knew then and that was noted later is no change. Which input a box shows is none either: it is called up
for each run.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wavilex.core.gear.words import cell_words
from wavilex.core.rig.model import Ends, Rig

Grounds = Sequence[tuple[str, str]]  # what it rests on, by path, as it stood


@dataclass(frozen=True, slots=True)
class Changed:
    """One thing an observation rests on that stands otherwise now. path: as its grounds name it."""

    path: str
    what: str
    was: str
    now: str


def ends_text(ends: Ends) -> str:
    return " to ".join(f"{s.device}:{s.port}" if s else "loose" for s in ends)


def changed_since(rig: Rig, grounds: Grounds) -> list[Changed]:
    """What stands otherwise than when it was seen, in the order it was noted; none: it still holds."""
    return [c for path, was in grounds if (c := _changed(rig, path, was)) is not None]


def _changed(rig: Rig, path: str, was: str) -> Changed | None:
    kind, _, rest = path.partition("/")
    if kind == "lead":
        lead = rig.leads.get(rest)
        now = ends_text(lead.found) if lead else ""
        if now == was:
            return None
        return Changed(path, f"lead {lead.label if lead else 'that was there'}", _named(rig, was), _named(rig, now))
    device = rig.devices.get(rest.partition("/")[0])
    if device is None:
        return Changed(path, "a box that was there", "there", "gone")
    if kind == "firmware":
        if device.firmware in ("", was):
            return None
        return Changed(path, f"firmware of {device.label}", was, device.firmware)
    _uid, scope, key = rest.split("/", 2)
    setting = device.profile.setting(key)
    value = rig.setting_value("found", device.uid, scope, setting) if setting else None
    if setting is None or value is None or value == was:
        return None
    cell = cell_words(device.profile, scope)
    what = f"{setting.label} of {device.label}{f', {cell}' if cell else ''}"
    return Changed(path, what, setting.option_label(was), setting.option_label(value))


def _named(rig: Rig, ends: str) -> str:
    """Ends of a lead by the names of their boxes."""
    if not ends:
        return "gone"
    return " to ".join(_socket(rig, end) for end in ends.split(" to "))


def _socket(rig: Rig, end: str) -> str:
    uid, _, port = end.partition(":")
    device = rig.devices.get(uid)
    socket = device.profile.port(port) if device else None
    return f"{device.label} · {socket.label}" if device and socket else end


def rests_on(path: str) -> tuple[str, ...]:
    """Paths of changes (rig/touched) that may have changed a ground, to ask the history since when."""
    kind, _, rest = path.partition("/")
    if kind == "lead":
        return (f"leads/{rest}",)
    if kind == "firmware":
        return (f"devices/{rest}",)
    uid, scope, key = rest.split("/", 2)
    return (f"settings/found/{uid}/{scope}/{key}", f"devices/{uid}/profile")
