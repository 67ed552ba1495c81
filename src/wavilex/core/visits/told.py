"""A box after an update, told: what is known, what rests on the old version, what to look at first. Plain data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType

from wavilex.core.chain.paths import States
from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import cell_words
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import INPUT_KEY
from wavilex.core.rig.visit_facts import AfterUpdate, kept_values, updated
from wavilex.core.visits.held import Held
from wavilex.core.visits.knowledge import known_of, resting, school_of, update_advice
from wavilex.core.visits.recheck import Recheck, Step, recheck
from wavilex.core.visits.shapes import AtRisk, BackOption, KeptOut, LookOut, RecheckOut, UpdatesOut

_NONE: Mapping[str, Sequence[AfterUpdate]] = MappingProxyType({})
LagBy = Mapping[str, Mapping[str, int]]  # readings that count, by device and firmware


def recheck_data(
    rig: Rig, uid: str, version: str, lag: Mapping[str, int], states: States | None = None,
    elsewhere: Sequence[AfterUpdate] = (),
) -> RecheckOut:  # fmt: skip
    """A box at a version it was brought to, or may be. elsewhere: what the shelf knows of others of its kind.

    Raises ChangeError for no such box.
    """
    found = recheck(rig, uid, version, states, elsewhere)
    device, seen = found.device, updated(rig, uid)
    installed = device.firmware == version
    was = seen.was if seen is not None and seen.now == version else "" if installed else device.firmware
    at = rig.settings.items()
    unseen = sum(v.found is None and v.plan is not None for (d, _, k), v in at if d == uid and k != INPUT_KEY)
    unseen -= sum(h.outcome == "presumed" for h in found.values)
    return {
        "device": uid, "label": device.label, "was": was, "version": version, "installed": installed,
        "known": known_of(rig, device, was, version, elsewhere), "resting": resting(rig, device, lag, version),
        "values": [_value(rig, found, h) for h in found.values], "steps": [_look(s) for s in found.steps],
        "full": found.full, "minutes": -(-sum(s.look.seconds for s in found.steps) // 60), "unseen": unseen,
        "done": installed and not found.steps,
    }  # fmt: skip


def _value(rig: Rig, found: Recheck, h: Held) -> AtRisk:
    odds, s = found.odds[h.setting.id], h.setting
    now = rig.settings[found.device.uid, h.scope, s.id].found
    return {
        "scope": h.scope, "setting": s.id, "label": s.label, "cell": cell_words(found.device.profile, h.scope),
        "where": s.where, "stood": s.option_label(h.value), "back": s.option_label(h.back), "stood_value": h.value,
        "back_value": h.back, "percent": odds.percent, "why": odds.why, "source": PROVENANCE_NAMES[odds.source],
        "outcome": h.outcome, "now": s.option_label(now) if now else "", "options": _options(s, h.value),
    }  # fmt: skip


def _options(setting: Setting, stood: str) -> list[BackOption]:
    """What it may have come back to; of a number, its default and whatever is typed."""
    ids = [o.id for o in setting.options] or [setting.default]
    return [{"id": o, "label": setting.option_label(o)} for o in ids if o != stood]


def _look(step: Step) -> LookOut:
    look = step.look
    return {
        "key": look.key, "kind": look.kind, "title": look.title, "cell": look.cell, "seconds": look.seconds,
        "values": sorted("|".join(p) for p in look.places), "covered_percent": step.covered_percent,
        "lines": [{"label": label, "says": says} for label, says in look.lines],
    }  # fmt: skip


def updates_data(
    rig: Rig,
    lag: LagBy,
    states: States | None = None,
    shelf: Mapping[str, Sequence[AfterUpdate]] = MappingProxyType({}),
) -> UpdatesOut:
    """All boxes of a job: what to bring them to, and those that were updated and are still to be looked over."""
    school, words = school_of(rig)
    boxes = []
    for uid in rig.devices:
        seen = updated(rig, uid)
        if seen is not None:
            boxes.append(recheck_data(rig, uid, seen.now, lag.get(uid, {}), states, shelf.get(uid, ())))
    return {
        "school": school, "school_words": words, "advice": update_advice(rig), "boxes": boxes, "kept": kept_data(rig),
    }  # fmt: skip


def kept_data(rig: Rig) -> list[KeptOut]:
    """Every value that a client keeps by his own hand."""
    out: list[KeptOut] = []
    for k in kept_values(rig):
        device = rig.devices[k.device]
        setting = device.profile.setting(k.key)
        out.append({
            "device": k.device, "label": device.label, "scope": k.scope, "cell": cell_words(device.profile, k.scope),
            "setting": k.key, "name": setting.label if setting else k.key,
            "value": setting.option_label(k.kept.value) if setting else k.kept.value, "because": k.kept.because,
            "by": k.kept.by, "day": k.kept.day,
        })  # fmt: skip
    return out
