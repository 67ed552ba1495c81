"""What is known of a version of a box, and what rests on the one before it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from wavilex.core.fields import PROVENANCE_NAMES, version_key
from wavilex.core.rig.edit_facts import SettingLag
from wavilex.core.rig.learned import after_update_words
from wavilex.core.rig.light_notes import LightNote
from wavilex.core.rig.model import SETTING_LAG_FACT, Device, Observation, Rig
from wavilex.core.rig.style import QUESTIONS, followed
from wavilex.core.rig.visit_facts import AfterUpdate, after_updates, newer
from wavilex.core.visits.held import put_back_at_once
from wavilex.core.visits.shapes import RestingOut, UpdateAdvice, VersionNote


def known_of(
    rig: Rig, device: Device, was: str, version: str, elsewhere: Sequence[AfterUpdate] = ()
) -> list[VersionNote]:
    """What profile and shelf say of a version: what begins and ends with it, what it puts back, what was learned."""
    told = {n["words"]: n for n in _known(rig, device, was, version, elsewhere)}
    return list(told.values())


def _known(rig: Rig, device: Device, was: str, version: str, elsewhere: Sequence[AfterUpdate]) -> Iterator[VersionNote]:
    profile = device.profile
    for rule, keys, acts in put_back_at_once(device, version):
        named = [s.label for s in profile.settings if s.id in keys]
        what = "all settings" if len(named) == len(profile.settings) else ", ".join(named)
        may = "may put back" if acts is None or rule.comes_and_goes else "puts back"
        yield {"words": f"It {may} {what}: {rule.because}", "source": PROVENANCE_NAMES[rule.source]}
    for quirk in profile.quirks:
        if quirk.firmware is None or quirk.kind == "update":
            continue
        before, after = quirk.firmware.holds(was) if was else None, quirk.firmware.holds(version)
        if before is not after and None not in (before, after):
            word = "Begins" if after else "Ends"
            yield {"words": f"{word} with it: {quirk.because}", "source": PROVENANCE_NAMES[quirk.source]}
    here, there = PROVENANCE_NAMES["measured_here"], PROVENANCE_NAMES["measured_elsewhere"]
    seen = [(a, here) for a in after_updates(rig, device.uid, here=True)]
    seen += [(a, there) for a in (*after_updates(rig, device.uid, here=False), *elsewhere)]
    for a, source in seen:
        if a.came_back or (a.version == version and a.stayed):
            yield {"words": after_update_words(profile, a), "source": source}
    newest = profile.newest_firmware
    if newest is not None and (key := version_key(version)) is not None:
        known = version_key(newest) or ()
        word = "the newest known" if key == known else f"older than the newest known, {newest}" if key < known else (
            f"newer than any known so far; the newest known was {newest}")  # fmt: skip
        yield {"words": f"It is {word}.", "source": "profile"}


def resting(rig: Rig, device: Device, lag: Mapping[str, int], version: str) -> list[RestingOut]:
    """What was seen or measured of a box on another version than this. lag: readings that count, by the firmware they
    were taken on.
    """
    out: list[RestingOut] = []
    seen = [o for o in rig.observations.values() if _on_another(o, device.uid, version)]
    if seen:
        out.append({"kind": "seen", "words": f"read-outs seen{_on(seen)}", "count": len(seen), "sheet": "prove"})
    light = [n for n in rig.light.values() if n.device == device.uid and n.kind in ("patch", "near_black", "ghost")
             and n.firmware not in ("", version)]  # fmt: skip
    if light:
        out.append({"kind": "light", "words": f"light measured{_on(light)}", "count": len(light), "sheet": "light"})
    for firmware, count in lag.items():
        if firmware not in ("", version):
            words = f"lag readings, on {firmware}"
            out.append({"kind": "lag", "words": words, "count": count, "sheet": "lag"})
    costs = [f for path, f in rig.device_facts(device.uid).items() if path.startswith(f"{SETTING_LAG_FACT}.")]
    old = [c for c in (SettingLag.model_validate(f.value) for f in costs) if c.firmware not in ("", version)]
    if old:
        words = f"costs of settings in time, on {', '.join(dict.fromkeys(c.firmware for c in old))}"
        out.append({"kind": "cost", "words": words, "count": len(old), "sheet": "lag"})
    return out


def _on_another(seen: Observation, device: str, version: str) -> bool:
    """Does it rest on a version of the box other than this?"""
    grounds = dict(seen.grounds)
    stood = grounds.get(f"firmware/{device}") or (seen.firmware if seen.device == device else "")
    return stood not in ("", version)


def _on(notes: list[Observation] | list[LightNote]) -> str:
    versions = list(dict.fromkeys(n.firmware for n in notes if n.firmware))
    return f", on {', '.join(versions)}" if versions else ""


def update_advice(rig: Rig) -> list[UpdateAdvice]:
    """What to do about each box's version: bring it to the newest known, or read it first."""
    out: list[UpdateAdvice] = []
    for d in rig.devices.values():
        newest = d.profile.newest_firmware or ""
        if newest and (not d.firmware or newer(d)):
            words = (
                f"{newest} is the newest known: update first, then look again" if d.firmware
                else f"nobody has read its version; the newest known is {newest}"
            )  # fmt: skip
            out.append({
                "device": d.uid, "label": d.label, "firmware": d.firmware, "newest": newest, "words": words,
            })  # fmt: skip
    return out


def school_of(rig: Rig) -> tuple[str, str]:
    """Whether boxes update themselves: the school followed, and in words."""
    school = followed(rig.style)["updates"].school
    return school, QUESTIONS["updates"].schools[school]
