"""Steps that set things in menus, that look at what nobody has seen yet, and that look again at what comes back."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from wavilex.core.advise.settings_plan import returning, settings_plan
from wavilex.core.chain.paths import Layer
from wavilex.core.gear.profile import Setting
from wavilex.core.gear.quirks import Excludes, Forces, Requires
from wavilex.core.gear.words import condition_words, frees_words
from wavilex.core.rig.model import Device, Rig, SettingValue, Socket
from wavilex.core.rig.ops import to_set
from wavilex.core.runsheet.step import POWER_ON, Step
from wavilex.core.ticks import key_of

_LIMITING = ("tmds_mhz", "frl", "modes", "encodings", "hdr", "vrr", "dsc")
_RESYNC_WAIT_S = 15


def _phase(device: Device, setting: Setting) -> str:
    """Formats of ports first, then what sources send, then everything else."""
    opens = any(
        setting.id in q.when.settings() and any(getattr(q.limits, f) is not None for f in _LIMITING)
        for q in device.profile.limits
        if q.when is not None
    )
    if device.profile.role == "source":
        return "source"
    return "ports" if opens else "screen"


def setting_steps(layer: Layer, before: str) -> list[Step]:
    rig = layer.rig
    steps: list[Step] = []
    key_at: dict[tuple[str, str, str], str] = {}
    changed: list[tuple[Device, str, Setting, SettingValue]] = []
    for (uid, scope, key), value in rig.settings.items():
        setting = rig.devices[uid].profile.setting(key)
        if setting is not None and value.plan is not None and value.plan != value.found:
            changed.append((rig.devices[uid], scope, setting, value))
            key_at[uid, scope, key] = key_of("set", uid, scope, key, value.plan)
    for device, scope, setting, value in changed:
        needs = [before] if before else []
        for quirk in device.profile.setting_quirks:  # what a setting hangs on is set before it
            if quirk.setting == setting.id and not isinstance(quirk, Forces):
                others = [(device.uid, s, k) for k in quirk.when.settings() for s in (scope, "")]
                needs += [key_at[o] for o in others if o in key_at and o != (device.uid, scope, setting.id)]
        steps += _setting_steps(layer, device, scope, setting, value, _acyclic(steps, needs))
    return steps


def _acyclic(steps: list[Step], needs: list[str]) -> tuple[str, ...]:
    """Settings that hang on each other both ways are done as listed: only what is listed already is waited for."""
    listed = {s.key for s in steps}
    return tuple(dict.fromkeys(n for n in needs if n in listed or n == POWER_ON))


def _setting_steps(
    layer: Layer, device: Device, scope: str, setting: Setting, value: SettingValue, needs: tuple[str, ...]
) -> Iterator[Step]:
    port = device.profile.port(scope) if scope else None
    place = f"{device.label}, {port.label}" if port else device.label
    plan = value.plan or ""
    phase = _phase(device, setting)
    key = key_of("set", device.uid, scope, setting.id, plan)
    found = f"was {setting.option_label(value.found)}" if value.found else "nobody noted what it was"
    yield Step(
        key,
        phase,
        f"{place}: {setting.label} → {setting.option_label(plan)}",
        device.room,
        f"{found}; {setting.where}" if setting.where else found,
        "A picture, before you say keep" if phase == "source" else f"It stays at {setting.option_label(plan)}",
        _if_not(layer, device, scope, setting, plan),
        setting.minutes,
        keep=phase == "source",
        needs=needs,
        ops=(to_set((device.uid, scope, setting.id), plan, "found"),),
    )
    if setting.resync and phase == "ports":
        yield Step(
            key_of("resync", device.uid, scope, plan),
            phase,
            f"Re-sync at {place}: pull and plug both ends, or power-cycle",
            device.room,
            "the picture drops when a port’s format changes",
            "The picture is back",
            "Swap the lead for a known good one before you blame the port",
            1,
            _RESYNC_WAIT_S,
            needs=(key,),
        )


def _if_not(layer: Layer, device: Device, scope: str, setting: Setting, plan: str) -> str:
    """What to do where a setting cannot be made: what bars it as found, where that is known; else what may."""
    stands = Layer(layer.rig, "found", layer.states).standing(device)[scope, setting.id]
    known = stands.greyed or next((q for option, q in stands.barred if option == plan), None)
    if known is not None:
        return f"Greyed out as found: {known.because}; {frees_words(device.profile, known)}"
    rules = [
        q for q in device.profile.setting_quirks
        if q.setting == setting.id and isinstance(q, Requires | Excludes) and (not q.options or plan in q.options)
    ]  # fmt: skip
    if not rules:
        return "Leave the menu and look again; some settings come back by themselves"
    return "Greyed out? " + "; or ".join(f"{q.because}: {frees_words(device.profile, q)}" for q in rules[:3])


def unseen_steps(layer: Layer, before: str) -> Iterator[Step]:
    """Settings that matter and stand as they should, as far as anybody knows: nobody has seen them yet."""
    rig = layer.rig
    by_box: dict[tuple[str, str], list[tuple[Setting, str]]] = {}
    for (uid, scope, name), row in settings_plan(layer).rows.items():
        device = rig.devices[uid]
        setting = device.profile.setting(name)
        value = rig.settings.get((uid, scope, name), SettingValue())
        if setting is None or value.found is not None or value.plan is not None:
            continue
        if rig.setting_value(layer.name, uid, scope, setting) == row.value:
            by_box.setdefault((uid, scope), []).append((setting, row.value))
    for (uid, scope), rows in by_box.items():
        device = rig.devices[uid]
        port = device.profile.port(scope) if scope else None
        place = f"{device.label}, {port.label}" if port else device.label
        words = [f"{s.label} is {s.option_label(v)}" for s, v in rows]
        yield Step(
            key_of("seen", uid, scope, tuple((s.id, v) for s, v in rows)),
            "source" if device.profile.role == "source" else "screen",
            f"{place}: see that {'; '.join(words)}",
            device.room,
            "assumed so far: nobody has looked",
            "All stand as said",
            "Note what it really is on Gear: the plan follows",
            1 + len(rows) // 3,
            needs=(before,) if before else (),
            ops=tuple(
                {"op": "set_setting", "layer": "found", "device": uid, "scope": scope if s.ports else "",
                 "key": s.id, "value": v} for s, v in rows
            ),
        )  # fmt: skip


def recheck_steps(rig: Rig, sockets: Sequence[Socket]) -> Iterator[Step]:
    """What boxes on the way put back by themselves: looked at again once the sheet's settings are made."""
    for uid in dict.fromkeys(s.device for s in sockets):
        device = rig.devices[uid]
        for quirk in returning(device):
            setting = device.profile.setting(quirk.setting)
            if setting is None:
                continue
            yield Step(
                key_of("again", uid, quirk.id, device.firmware_in("plan")),
                "prove",
                f"{device.label}: look at {setting.label} again after a start of game mode",
                device.room,
                f"{quirk.because}; with {condition_words(device.profile, quirk.when)}",
                f"It has not gone back to {setting.option_label(quirk.to)}",
                "Set it again, tell the client that it returns, and look for firmware that ends it",
                2,
            )
