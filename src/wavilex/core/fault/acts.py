"""What can be done about a fault: an act has a name that faults point to, words, what it takes (our own figures)."""

from __future__ import annotations

from collections.abc import Iterable

from wavilex.core.fault.fault import Act, Fault
from wavilex.core.fault.scene import Knob, Scene
from wavilex.core.rig.model import Device, Rig, Socket
from wavilex.core.rig.ops import Change, SelectInput, to_set

OFF_FIRST = "Power off before analogue plugs go in or out."


def set_back(knob: Knob) -> str:
    return f"set/{'/'.join(knob.place)}={knob.value}"


def call_up(uid: str, output: str, port: str) -> str:
    return f"input/{uid}/{output}={port}"


def replug(scene: Scene, hop: int) -> str:
    return f"replug/{scene.path[hop].lead}"


def another_lead(scene: Scene, hop: int) -> str:
    return f"lead/{scene.path[hop].lead}"


def plug_back(lead: str) -> str:
    return f"plug/{lead}"


def power_order() -> str:
    return "power"


def control_off(device: Device) -> str:
    return f"control/{device.uid}"


def wake(device: Device) -> str:
    return f"wake/{device.uid}"


def with_supply(device: Device) -> str:
    return f"supply/{device.uid}"


def update(device: Device) -> str:
    return f"update/{device.uid}"


def title_option() -> str:
    return "title"


def other_title() -> str:
    return "other_title"


def acts_for(scene: Scene, faults: Iterable[Fault]) -> dict[str, Act]:
    """Every act that some fault points to, by its name."""
    wanted = dict.fromkeys(name for f in faults for name, _ in f.cures)
    return {name: _act(scene, name) for name in wanted}


def _act(scene: Scene, name: str) -> Act:
    rig = scene.layer.rig
    verb, _, rest = name.partition("/")
    if verb == "set":
        return _setting(scene, name, rest)
    if verb == "input":
        place, _, port = rest.partition("=")
        uid, _, output = place.partition("/")
        select: SelectInput = {"op": "select_input", "device": uid, "value": port}
        ops: tuple[Change, ...] = ({**select, "output": output} if output else select,)
        return Act(name, f"Call up {rig.socket_name(Socket(uid, port))}", 15, disturbs=True, ops=ops)
    if verb == "own":
        uid, _, own = rest.partition("/")
        known = next(x for x in rig.devices[uid].profile.faults if x.id == own)
        return Act(name, known.cure, 60 * known.minutes + 15, disturbs=True)
    if verb in ("replug", "lead", "plug"):
        return _of_lead(rig, name, verb, rest)
    label = rig.devices[rest].label if rest in rig.devices else ""
    words, seconds, disturbs = {
        "power": ("All off, then on in order: screen, boxes between, source last", 150, True),
        "control": (f"Switch device control of {label} off", 60, False),
        "wake": (f"Wake {label}, or switch it on", 20, False),
        "supply": (f"Give {label} its own supply, not a socket of the screen", 120, True),
        "update": (f"Bring {label} to its newest firmware", 900, True),
        "sync": ("Give it the sync and line standard that it takes", 120, True),
        "sound": (f"Send the sound of {label} where it is to be heard; volume down first", 60, False),
        "title": ("Set the title’s own option for the fast rate", 60, True),
        "other_title": ("Start another title that is known to run fast", 120, True),
    }.get(verb, ("What its profile says of it", 120, True))
    caution = OFF_FIRST if verb == "sync" else ""
    return Act(name, words, seconds, disturbs, caution=caution)


def _setting(scene: Scene, name: str, rest: str) -> Act:
    place, _, value = rest.rpartition("=")
    for knob in scene.knobs:
        if "/".join(knob.place) == place:
            where = f" ({knob.setting.where})" if knob.setting.where else ""
            words = f"Set {knob.setting.label} of {knob.device.place(knob.scope)} to {knob.setting.option_label(value)}"
            seconds = 45 + 20 * knob.setting.resync
            return Act(name, words + where, seconds, knob.setting.resync, (to_set(knob.place, value),))
    return Act(name, "Set it back", 60)


def _of_lead(rig: Rig, name: str, verb: str, uid: str) -> Act:
    lead = rig.leads[uid]
    caution = OFF_FIRST if lead.kind == "analogue" else ""
    if verb == "replug":
        return Act(name, f"Pull lead {lead.label} at both ends, wait, put it back", 60, True, caution=caution)
    if verb == "lead":
        words = f"Put a lead known to be good in the place of {lead.label}"
        return Act(name, words, 150, True, caution=caution)
    a, b = (rig.socket_name(s) if s else "nowhere" for s in lead.found)
    return Act(name, f"Plug lead {lead.label} as noted: {a} to {b}", 60, True, caution=caution)
