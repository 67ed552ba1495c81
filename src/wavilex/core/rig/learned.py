"""What a job has learned of a box beyond its profile: facts, proved rates, firmware, lag, what came back; by lines.

Each line can be taken to the workshop's shelf by itself; a box taken from there brings its facts along.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.fields import PROVENANCE_NAMES, version_key
from wavilex.core.gear.hdr_pages import HdrPage
from wavilex.core.gear.pack import FactRow
from wavilex.core.gear.profile import Profile, profile_data, profile_from_data
from wavilex.core.gear.words import cell_words
from wavilex.core.link.rates import NO_FRL, frl_rate, parse_over
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_facts import LagSeen, SettingLag
from wavilex.core.rig.model import (
    AFTER_UPDATE_FACT,
    CAME_BACK_FACT,
    CONFIRMED_FACT,
    KEPT_FACT,
    LAG_FACT,
    PEAK_FACT,
    PLAYS_FACT,
    SETTING_LAG_FACT,
    SOUND_LAG_FACT,
    TRIED_FACT,
    UPDATED_FACT,
    Device,
    Rig,
)
from wavilex.core.rig.ops import AddDevice, Change, SetFact
from wavilex.core.rig.room_light import PAGE_FACT, ROOM_FACT
from wavilex.core.rig.shapes import LearnedOut
from wavilex.core.rig.teach import FIELD_NAMES
from wavilex.core.rig.visit_facts import AfterUpdate, ConfirmedFault
from wavilex.core.video.named import shown

_FIRMWARE = "newest_firmware"


@dataclass(frozen=True, slots=True)
class Line:
    """One thing learned: a fact to keep with the box, or (path `newest_firmware`) a figure of its profile."""

    path: str
    value: Any
    provenance: str
    words: str
    before: str = ""


@dataclass(frozen=True, slots=True)
class Seen:
    """Something seen at a box that is not kept as a fact of its job: a lag measured, a setting that came back."""

    path: str
    value: Any


def learned(rig: Rig, device: Device, known: Sequence[FactRow] = (), seen: Sequence[Seen] = ()) -> list[Line]:
    """Everything the job knows of a box that its shelf entry does not. known: the facts that stand there already;
    seen: what its lag sessions and its run sheet say of the box.
    """
    there = {row.path: row for row in known}
    out: list[Line] = []
    facts = rig.device_facts(device.uid)
    own = {path: (fact.value, fact.provenance) for path, fact in facts.items() if not _of_this_job(path)}
    for path, (value, provenance) in (own | {x.path: (x.value, "measured_here") for x in seen}).items():
        old = there.get(path)
        if old is None or old.value != value:
            words = fact_words(device.profile, path, value)
            out.append(Line(path, value, provenance, words, _before(device, old)))
    told = {x.path for x in out} | set(there)
    out += [x for x in _proved(rig, device) if x.path not in told]
    newest, here = device.profile.newest_firmware, device.firmware
    key = version_key(here) if here else None
    if key is not None and (newest is None or key > (version_key(newest) or ())):
        words = f"firmware {here} was read here; the newest known was {newest or 'not known'}"
        out.append(Line(_FIRMWARE, here, "measured_here", words, newest or ""))
    return out


def _of_this_job(path: str) -> bool:
    """Is it about this room, this client or this unit's own updates, and no quality of its kind?"""
    return path in (ROOM_FACT, UPDATED_FACT) or path.startswith(f"{KEPT_FACT}.")


def _before(device: Device, old: FactRow | None) -> str:
    return fact_words(device.profile, old.path, old.value) if old is not None else ""


def _proved(rig: Rig, device: Device) -> Iterator[Line]:
    """A lead that was proved between two sockets proves both of them for that rate."""
    for lead in rig.leads.values():
        rate = parse_over(lead.cable.proved)[1] if lead.cable.proved else NO_FRL
        for socket in lead.found if rate.total_gbps else ():
            port = device.profile.port(socket.port) if socket is not None and socket.device == device.uid else None
            if port is None:
                continue
            own = port.video.frl if port.video.frl is not None else device.profile.video.frl
            if own is None or frl_rate(own) < rate:
                code = rate.code
                words = f"{port.label}: {rate.total_gbps} Gb/s was proved there, by lead {lead.label}"
                yield Line(f"ports.{port.id}.frl", code, "measured_here", words, f"{own}" if own else "")


def fact_words(profile: Profile, path: str, value: Any) -> str:
    """A fact as people say it."""
    said = {True: "yes", False: "no"}.get(value, value) if isinstance(value, bool) else value
    if path == PLAYS_FACT:
        return f"plays sound itself: {said}"
    if path == SOUND_LAG_FACT:
        return f"plays sound {value} ms late"
    if path == PEAK_FACT:
        return f"brightest white {value} cd/m²"
    kind, _, rest = path.partition(".")
    if kind == PAGE_FACT:
        page = HdrPage.model_validate(value)
        unit = "" if page.scale == "pq" else " cd/m²"
        return (
            f"HDR page {page.label}: from {page.first:g}{unit}, {page.step:g}{unit} a click"
            if page.known
            else (f"HDR page {page.label}")
        )
    if kind == LAG_FACT:
        return lag_words(LagSeen.model_validate(value))
    if kind == SETTING_LAG_FACT:
        return setting_lag_words(profile, SettingLag.model_validate(value))
    if kind == CAME_BACK_FACT:
        return came_back_words(profile, path, value)
    if kind == CONFIRMED_FACT:
        fault = ConfirmedFault.model_validate(value)
        on = f", on firmware {fault.firmware}" if fault.firmware else ""
        return f"a fault that was confirmed: {fault.words}{on}{f', {fault.day}' if fault.day else ''}"
    if kind == AFTER_UPDATE_FACT:
        return after_update_words(profile, AfterUpdate.model_validate(value))
    name, _, what = rest.partition(".")
    port = profile.port(name)
    label = port.label if port else name
    if kind == TRIED_FACT:
        times, _, sampling = what.partition("x_")
        return f"{label}: {times} times the lines{' by its dots' if sampling == 'matched' else ''}: " + (
            "a picture" if value else "no picture"
        )
    text = ", ".join(map(str, value)) if isinstance(value, list | tuple) else f"{said}"
    return f"{label}: {FIELD_NAMES.get(what, what)} {text}"


def lag_words(seen: LagSeen) -> str:
    """`lag 14.2 ms in game mode at HDMI 1 with 2160p60, median of 24 readings; 62.1 ms less than film`."""
    at = f" at {seen.input}" if seen.input else ""
    signal = f" with {shown(seen.signal)}" if seen.signal else ""
    count = "1 reading" if seen.readings == 1 else f"{seen.readings} readings"
    out = f"lag {seen.lag_us / 1000:.1f} ms in {seen.condition}{at}{signal}, of {count}"
    if seen.cost_us is None:
        return out
    return f"{out}; {abs(seen.cost_us) / 1000:.1f} ms {'less' if seen.cost_us < 0 else 'more'} than {seen.against}"


def setting_lag_words(profile: Profile, seen: SettingLag) -> str:
    """`Interpolation on costs 38.2 ms (37.1 to 39.0) against off, of 12 readings, on firmware 2.6`."""
    setting = profile.setting(seen.setting)
    name, on, off = (
        (setting.label, *map(setting.option_label, (seen.option, seen.against)))
        if setting else (seen.setting, seen.option, seen.against)
    )  # fmt: skip
    amount = " to ".join(signed_ms(x) for x in (seen.low_us, seen.high_us))
    what = (
        f"costs {signed_ms(seen.cost_us)} ms ({amount})" if seen.changed else f"makes no practical change ({amount} ms)"
    )
    at = (f" with {shown(seen.signal)}" if seen.signal else "") + (f" at {seen.input}" if seen.input else "")
    running = f", on firmware {seen.firmware}" if seen.firmware else ""
    return f"{name} {on} {what} against {off}{at}, of {seen.readings} readings{running}, {seen.day}"


def signed_ms(us: int) -> str:
    """`38.2`, `−0.4`: µs as ms."""
    return f"{us / 1000:.1f}".replace("-", "−")


def came_back_words(profile: Profile, path: str, scope: str) -> str:
    """`120 Hz output: put to allowed, and it reverted`: whether by the box or because its path did not carry it, nobody
    has proved.
    """
    _, name, option = path.split(".", 2)
    setting = profile.setting(name)
    cell = cell_words(profile, scope)
    label = f"{setting.label if setting else name}{f', {cell}' if cell else ''}"
    value = setting.option_label(option) if setting else option
    return f"{label}: put to {value}, and it reverted, by the box itself or by its path"


def after_update_words(profile: Profile, seen: AfterUpdate) -> str:
    """`Colour temperature came back to cool with firmware 3.4`; or that it stayed, in so many cells looked at."""
    setting = profile.setting(seen.setting)
    label = setting.label if setting else seen.setting
    day = f", {seen.day}" if seen.day else ""
    if seen.came_back:
        values = dict.fromkeys(setting.option_label(v) if setting else v for v in seen.came_back.values())
        return f"{label} came back to {' and '.join(values)} with firmware {seen.version}{day}"
    if not seen.stayed:
        return f"{label} was in doubt after the update to {seen.version}{day}"
    count = "" if len(seen.stayed) == 1 else f", in {len(seen.stayed)} cells looked at"
    return f"{label} stayed through the update to {seen.version}{day}{count}"


def learned_data(lines: Sequence[Line]) -> list[LearnedOut]:
    """The lines as plain data."""
    return [{"path": x.path, "words": x.words, "before": x.before, "source": _source(x)} for x in lines]


def _source(line: Line) -> str:
    return (
        "seen here"
        if line.path.startswith((f"{CAME_BACK_FACT}.", f"{CONFIRMED_FACT}."))
        else PROVENANCE_NAMES[line.provenance]
    )


def with_learned(
    profile: Profile, facts: Sequence[FactRow], lines: Sequence[Line], at: str, firmware: str
) -> tuple[Profile, list[FactRow]]:
    """A shelf entry with some lines taken over: the profile, and its facts, each with when and on which firmware."""
    kept = {row.path: row for row in facts}
    data = profile_data(profile)
    for line in lines:
        if line.path == _FIRMWARE:
            data = {**data, _FIRMWARE: line.value}
        else:
            kept[line.path] = FactRow(
                path=line.path,
                value=line.value,
                provenance=line.provenance,
                at=at,
                firmware=firmware,
            )
    return profile_from_data(data), list(kept.values())


def fact_fault(profile: Profile, fact: FactRow) -> str:
    """Why a fact does not fit a box; "" where it does."""
    added: AddDevice = {"op": "add_device", "device": {"uid": "box", "profile": profile_data(profile)}}
    try:
        apply(Rig(), [added, *fact_ops("box", [fact])])
    except ChangeError as error:
        return error.message
    return ""


def fact_ops(device: str, facts: Sequence[FactRow]) -> list[Change]:
    """The changes that give a box what its shelf entry has learned."""
    ops: list[Change] = []
    for row in facts:
        op: SetFact = {
            "op": "set_fact", "device": device, "path": row.path, "value": row.value, "provenance": row.provenance,
        }  # fmt: skip
        ops.append(op)
    return ops
