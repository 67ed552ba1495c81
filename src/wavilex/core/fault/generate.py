"""Every single fault of a run, made from its rig: settings, inputs, boxes, leads, what runs, what lies."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from wavilex.core.fault.acts import (
    call_up,
    control_off,
    other_title,
    power_order,
    replug,
    set_back,
    title_option,
    update,
    wake,
    with_supply,
)
from wavilex.core.fault.fault import Effect, Fault
from wavilex.core.fault.generate_leads import faults_of_leads
from wavilex.core.fault.kinds import Confirmed, FaultKind, odds_of
from wavilex.core.fault.scene import Knob, Scene
from wavilex.core.gear.own_faults import HowOften
from wavilex.core.gear.quirks import Limits
from wavilex.core.prove.line import Card
from wavilex.core.rig.model import Device
from wavilex.core.rig.ops import Change, SelectInput, SetDevice, SetFact, to_set

OLD_VERSION = "0.1"  # older than any
_PERMISSIONS = ("high_rate", "uhd_output", "hdr", "variable_refresh")
_POWERED = ("adapter", "converter", "multiplier", "extractor", "inserter", "splitter")
_LIARS = ("counter", "label")
_SLEEPY = ("repeater", "screen")
_HOW_OFTEN: Mapping[HowOften, float] = {"rarely": 0.4, "now_and_then": 1.0, "often": 3.0}


def faults_of(scene: Scene, cards: list[Card], confirmed: Confirmed) -> list[Fault]:
    """All single faults of a run; none where it is not joined. cards: its read-outs as they should be."""
    if not scene.path:
        return []
    found = [
        *_settings(scene, confirmed), *_inputs(scene, confirmed), *_boxes(scene, confirmed),
        *faults_of_leads(scene, confirmed), *_running(scene, confirmed), *_liars(scene, cards, confirmed),
        *_known_of_models(scene, confirmed),
    ]  # fmt: skip
    return [_located(scene, f) for f in {f.id: f for f in found}.values()]


def _located(scene: Scene, fault: Fault) -> Fault:
    """With what a way past a box, another input of the screen, and a moving pattern would show of it."""
    shows = list(fault.shows)
    for n, hop in enumerate(scene.path[:-1]):
        leads = {hop.lead, scene.path[n + 1].lead}
        if all(scene.layer.rig.leads[x].digital for x in leads):
            at_box = fault.device == hop.inp.device and not fault.lead
            if at_box or fault.lead == scene.path[n + 1].lead:
                shows.append((f"bypass/{hop.inp.device}", "gone"))
    last = scene.path[-1].inp
    inputs = [p for p in scene.layer.rig.devices[last.device].profile.inputs() if p.digital]
    if fault.device == last.device and f"/{last.port}/" in fault.id and len(inputs) > 1:
        shows.append((f"socket/{last.device}", "right"))
    if fault.effect is not None and fault.effect.way == "drops":
        shows.append(("pattern", "drops"))
    return replace(fault, shows=tuple(shows))


def _known_of_models(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    """What the profiles of these boxes say of themselves."""
    for uid in scene.boxes:
        device = scene.layer.rig.devices[uid]
        for own in device.profile.faults:
            if own.firmware is not None and device.firmware and own.firmware.holds(device.firmware) is False:
                continue
            odds = odds_of("own", device.profile.kind, confirmed=confirmed) * _HOW_OFTEN[own.how_often]
            yield Fault(
                f"own/{uid}/{own.id}", "own", uid, device.profile.kind, f"{device.label} {own.what}",
                f"{device.label} had what it is known for", odds, source=own.source,
                effect=Effect("own", brings=tuple((c, 0.8) for c in own.brings)),
                cures=((f"own/{uid}/{own.id}", 0.85),),
            )  # fmt: skip


def _settings(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    for knob in scene.knobs:
        kind = kind_of(knob)
        others = [o for o in knob.setting.options if o.id != knob.value]
        for option in others:
            odds = odds_of(kind, knob.device.profile.kind, unread=knob.noted is None, confirmed=confirmed)
            if knob.noted is None and option.id != knob.setting.default:
                odds /= 4  # it mostly stands as it came
            noted = f"noted {knob.setting.option_label(knob.noted)}" if knob.noted else "nobody noted it"
            place = knob.device.place(knob.scope)
            yield Fault(
                f"{kind}/{'/'.join(knob.place)}={option.id}", kind, knob.device.uid, knob.device.profile.kind,
                f"{knob.setting.label} of {place} stands at {option.label} ({noted})",
                f"{knob.setting.label} of {place} stood at {option.label}", odds / max(1, len(others)) ** 0.5,
                ops=(to_set(knob.place, option.id, "found"),),
                shows=((f"setting/{'/'.join(knob.place)}", option.id),), cures=((set_back(knob), 0.95),),
            )  # fmt: skip
        yield from _old_list(scene, knob, kind, confirmed)


def kind_of(knob: Knob) -> FaultKind:
    """What kind of fault a setting is that stands otherwise."""
    profile, setting = knob.device.profile, knob.setting
    if setting.effect == "game_mode":
        return "game"
    limits = [q for q in profile.quirks if isinstance(q, Limits) and q.when and setting.id in q.when.settings()]
    if any(q.limits.dsc is not None for q in limits):
        return "compression"
    if profile.role == "source" and (setting.effect in _PERMISSIONS or limits):
        return "permission"
    return "format" if limits and setting.ports else "setting"


def _old_list(scene: Scene, knob: Knob, kind: FaultKind, confirmed: Confirmed) -> Iterator[Fault]:
    """The source still believes what that input offered while its format stood otherwise."""
    if kind != "format" or knob.device.uid == scene.run.source:
        return
    first = scene.layer.rig.devices[scene.path[0].out.device]
    for option in knob.setting.options:
        if option.id != knob.value:
            label = f"{knob.setting.label} at {option.label}"
            yield Fault(
                f"old_list/{'/'.join(knob.place)}={option.id}", "old_list", first.uid, first.profile.kind,
                f"{first.label} still believes an old list of {knob.device.label}, from {label}",
                f"{first.label} still believed the old list of {knob.device.label}",
                odds_of("old_list", first.profile.kind, confirmed=confirmed) / max(1, len(knob.setting.options) - 1),
                ops=(to_set(knob.place, option.id, "found"),),
                cures=((power_order(), 0.9), (replug(scene, 0), 0.75)),
            )  # fmt: skip


def _inputs(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    """Another input called up: by hand, or by device control."""
    rig = scene.layer.rig
    for uid, output, port in scene.shown:
        device = rig.devices[uid]
        noted = scene.noted.selected_input("found", uid, output)
        others = [p for p in device.profile.inputs() if p.id != port]
        for other in others:
            kind = device.profile.kind
            odds = odds_of("input", kind, unread=noted is None, confirmed=confirmed) / len(others)
            if noted == other.id:
                odds = max(odds, 0.2)
            select: SelectInput = {"op": "select_input", "layer": "found", "device": uid, "value": other.id}
            ops: tuple[Change, ...] = ({**select, "output": output} if output else select,)
            shows = ((f"input/{uid}/{output}", other.id),)
            yield Fault(
                f"input/{uid}/{output}={other.id}", "input", uid, kind,
                f"{device.label} shows {other.label}, not {_label(device, port)}",
                f"{device.label} showed {other.label}", odds, ops, shows=shows,
                cures=((call_up(uid, output, port), 0.95),),
            )  # fmt: skip
        if others and any(s.effect == "device_control" for s in device.profile.settings):
            yield from _moved(scene, device, output, port, others[0].id, confirmed)


def _label(device: Device, port: str) -> str:
    socket = device.profile.port(port)
    return socket.label if socket is not None else port


def _moved(scene: Scene, device: Device, output: str, port: str, other: str, confirmed: Confirmed) -> Iterator[Fault]:
    select: SelectInput = {"op": "select_input", "layer": "found", "device": device.uid, "value": other}
    yield Fault(
        f"control/{device.uid}/{output}", "control", device.uid, device.profile.kind,
        f"device control moves {device.label} to another input by itself",
        f"device control moved {device.label} to another input",
        odds_of("control", device.profile.kind, confirmed=confirmed),
        ({**select, "output": output} if output else select,),
        Effect("own", brings=(("reverted", 0.7),)), shows=((f"input/{device.uid}/{output}", other),),
        cures=((control_off(device), 0.9), (call_up(device.uid, output, port), 0.3)),
    )  # fmt: skip


def _boxes(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    """What is wrong with a box itself: older firmware, a feature it lacks, asleep, a weak supply."""
    rig = scene.layer.rig
    for hop, uid in enumerate(scene.boxes):
        device, kind = rig.devices[uid], rig.devices[uid].profile.kind
        yield from _firmware(device, confirmed)
        yield from _lacks(scene, device, confirmed)
        if device.profile.role in _SLEEPY:
            yield Fault(
                f"asleep/{uid}", "asleep", uid, kind, f"{device.label} sleeps, or is off", f"{device.label} slept",
                odds_of("asleep", kind, confirmed=confirmed), effect=Effect("dead", hop - 1),
                shows=((f"awake/{uid}", "no"),), cures=((wake(device), 0.95), (power_order(), 0.9)),
            )  # fmt: skip
        if kind in _POWERED:
            yield Fault(
                f"supply/{uid}", "supply", uid, kind, f"the supply of {device.label} is too weak",
                f"{device.label} had too weak a supply", odds_of("supply", kind, confirmed=confirmed),
                effect=Effect("drops", hop), shows=((f"supply/{uid}", "weak"),), cures=((with_supply(device), 0.9),),
            )  # fmt: skip
        if rig.leads[scene.path[0].lead].kind == "analogue" and device.profile.converts is not None:
            yield Fault(
                f"sync/{uid}", "sync", uid, kind,
                f"{device.label} is given another sync or line standard than it takes",
                f"{device.label} met another sync or line standard", odds_of("sync", kind, confirmed=confirmed),
                effect=Effect("no_sync", 0), shows=((f"sync/{uid}", "wrong"),), cures=(("sync", 0.9),),
            )  # fmt: skip


def _firmware(device: Device, confirmed: Confirmed) -> Iterator[Fault]:
    if any(q.firmware is not None for q in device.profile.quirks) and device.firmware != OLD_VERSION:
        old: SetDevice = {"op": "set_device", "device": device.uid, "firmware": OLD_VERSION}
        yield Fault(
            f"firmware/{device.uid}", "firmware", device.uid, device.profile.kind,
            f"firmware of {device.label} is older than {device.firmware or 'believed'}",
            f"the firmware of {device.label} was older",
            odds_of("firmware", device.profile.kind, unread=not device.firmware, confirmed=confirmed), (old,),
            shows=((f"firmware/{device.uid}", "older"),), cures=((update(device), 0.95),),
        )  # fmt: skip


def _lacks(scene: Scene, device: Device, confirmed: Confirmed) -> Iterator[Fault]:
    """A feature that its profile promises and this unit has not."""
    if device.uid == scene.run.source:
        return
    wanted = scene.run.want
    features: list[tuple[str, object, str]] = []
    if wanted.vrr:
        features.append(("vrr", False, "variable refresh"))
    if wanted.hdr != "off":
        features.append(("hdr", (), "HDR"))
    for path, value, name in features:
        ports = dict.fromkeys(s.port for h in scene.path for s in (h.out, h.inp) if s.device == device.uid)
        facts: list[SetFact] = [
            {"op": "set_fact", "device": device.uid, "path": f"ports.{port}.{path}", "value": value,
             "provenance": "measured_here"} for port in ports
        ]  # fmt: skip
        yield Fault(
            f"lacks/{device.uid}/{path}", "lacks", device.uid, device.profile.kind,
            f"{device.label} has no {name}, whatever its profile says", f"{device.label} had no {name}",
            odds_of("lacks", device.profile.kind, confirmed=confirmed), tuple(facts),
        )  # fmt: skip


def _running(scene: Scene, confirmed: Confirmed) -> Iterator[Fault]:
    """The title: its own option, or it is slower than what it is sent in. And where the sound goes."""
    source = scene.layer.rig.devices[scene.run.source]
    kind = source.profile.kind
    if scene.run.want.mode.hz > 60:
        yield Fault(
            "title_option", "title_option", source.uid, kind, "the title’s own option for the fast rate is not set",
            "the title’s own option was not set", odds_of("title_option", kind, confirmed=confirmed),
            effect=Effect("slow_title"), shows=(("title", "off"), ("other_title", "fast")),
            cures=((title_option(), 0.95),),
        )  # fmt: skip
    yield Fault(
        "content", "content", source.uid, kind, "what runs is slower than the signal: a menu, a film, a title at 30",
        "what runs was slower than the signal", odds_of("content", kind, confirmed=confirmed),
        effect=Effect("slow_content", brings=(("lags", 0.4), ("not_offered", 0.35), ("no_vrr", 0.3))),
        shows=(("other_title", "fast"),), cures=((other_title(), 0.8),),
    )  # fmt: skip
    for uid in scene.boxes:
        device = scene.layer.rig.devices[uid]
        if device.profile.role == "screen" or device.profile.kind == "receiver":
            yield Fault(
                f"sound/{uid}", "sound", uid, device.profile.kind,
                f"{device.label} sends the sound elsewhere, or is mute", f"{device.label} sent the sound elsewhere",
                odds_of("sound", device.profile.kind, confirmed=confirmed),
                effect=Effect("no_sound", brings=(("no_sound", 0.9),)), shows=((f"sound/{uid}", "elsewhere"),),
                cures=((f"sound/{uid}", 0.9),),
            )  # fmt: skip


def _liars(scene: Scene, cards: list[Card], confirmed: Confirmed) -> Iterator[Fault]:
    for card in cards:
        if card.kind in _LIARS:
            device = scene.layer.rig.devices[card.device]
            yield Fault(
                f"read_out/{card.key}", "read_out", device.uid, device.profile.kind,
                f"{device.label}, {card.place}: what it says is not what arrives",
                f"{card.place} of {device.label} lied",
                odds_of("read_out", device.profile.kind, confirmed=confirmed), effect=Effect("lies", key=card.key),
            )  # fmt: skip
