"""Typical set-ups to start a job from: the boxes by their classes, and how they hang together.

The sockets are chosen as when plugging one by one: every free input is ranked, and the best is taken. Common practice.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.shapes import SetupOut
from wavilex.core.errors import ChangeError
from wavilex.core.gear.classes import TEMPLATES, from_template
from wavilex.core.gear.profile import profile_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Socket
from wavilex.core.rig.ops import AddDevice, Change

_TITLES = {t.id: t.title for t in TEMPLATES}


@dataclass(frozen=True, slots=True)
class Part:
    """One box of a set-up: its name there, and the classes it may be of, the usual one first."""

    id: str
    label: str
    classes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Setup:
    """joins: from which box to which, in order."""

    id: str
    title: str
    parts: tuple[Part, ...]
    joins: tuple[tuple[str, str], ...]


_CONSOLE = Part("source", "Console", ("console", "console-small", "console-4k60", "console-1080", "handheld"))
_TV = Part("screen", "Television", ("tv-4k120", "tv-self-lit", "tv-4k60", "tv-old"))
_RECEIVER = Part("receiver", "Receiver", ("receiver",))
_OLD = Part("source", "Old machine", ("home-computer", "old-console"))
SETUPS: tuple[Setup, ...] = (
    Setup("console-tv", "a console and a television", (_CONSOLE, _TV), (("source", "screen"),)),
    Setup("console-receiver", "through a receiver", (_CONSOLE, _RECEIVER, _TV),
          (("source", "receiver"), ("receiver", "screen"))),
    Setup("console-bar", "with a bar on the return channel",
          (_CONSOLE, _TV, Part("bar", "Sound bar", ("soundbar",))), (("source", "screen"), ("bar", "screen"))),
    Setup("pc-monitor", "a PC and a monitor",
          (Part("source", "PC", ("pc", "laptop")), Part("screen", "Monitor", ("monitor",))), (("source", "screen"),)),
    Setup("old-machine", "an old machine through a converter",
          (_OLD, Part("between", "Converter", ("converter", "multiplier")),
           Part("screen", "Screen", ("monitor", "tv-4k60", "tv-old"))), (("source", "between"), ("between", "screen"))),
)  # fmt: skip


def setups_data() -> list[SetupOut]:
    """The set-ups as plain data: their boxes with the classes they may be of."""
    return [
        {
            "id": s.id, "title": s.title,
            "parts": [
                {"id": p.id, "label": p.label, "classes": [{"id": c, "name": _TITLES[c]} for c in p.classes]}
                for p in s.parts
            ],
        }
        for s in SETUPS
    ]  # fmt: skip


def setup_ops(
    rig: Rig, setup_id: str, classes: Mapping[str, str], answers: Mapping[str, Mapping[str, str]], room: str = ""
) -> list[Change]:
    """The changes that put a set-up into a job. classes, answers: by the set-up's boxes; left out: the usual ones.

    Raises ChangeError for no such set-up or class, ProfileError for a wrong answer.
    """
    setup = next((s for s in SETUPS if s.id == setup_id), None)
    if setup is None:
        raise ChangeError(f"there is no set-up {setup_id!r}; one of {', '.join(s.id for s in SETUPS)}", where="setup")
    ops: list[Change] = []
    uids: dict[str, str] = {}
    now = rig
    for part in setup.parts:
        kind = classes.get(part.id) or part.classes[0]
        if kind not in part.classes:
            raise ChangeError(f"{part.label} is one of {', '.join(part.classes)}, not {kind!r}", where=part.id)
        profile = from_template(kind, answers.get(part.id, {}), "", "")
        label = _free(part.label, [d.label for d in now.devices.values()])
        uids[part.id] = _free(part.id, list(now.devices), "-")
        box: AddDevice = {"op": "add_device", "device": {"uid": uids[part.id], "label": label, "room": room,
                                                         "profile": profile_data(profile)}}  # fmt: skip
        ops.append(box)
        now = apply(now, [box])[0]
    for start, end in setup.joins:
        more = _join(now, now.devices[uids[start]], uids[end])
        ops += more
        now = apply(now, more)[0]
    return ops


def _join(rig: Rig, start: Device, end: str) -> Sequence[Change]:
    """The best way from a box's first output that fits to a free socket of another; none where nothing fits."""
    returning = [p for p in start.profile.ports if p.direction == "out" and p.returns is not None]
    for port in [*start.profile.outputs(), *(p for p in returning if p not in start.profile.outputs())]:
        socket = Socket(start.uid, port.id)
        if rig.lead_at("plan", socket) is not None:
            continue
        free = [o for o in rank_places(rig, socket) if o.socket.device == end and o.holds is None]
        if free:
            return free[0].ops
    return ()


def _free(name: str, taken: list[str], joint: str = " ") -> str:
    """A name nothing has yet: `Console`, `Console 2`, …"""
    return next(n for n in (name, *(f"{name}{joint}{k}" for k in range(2, 99))) if n not in taken)
