"""A box of a job given the newer version of its profile: what that takes, and what is noted that it no longer knows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wavilex.core.errors import ChangeError
from wavilex.core.gear.compare import differences
from wavilex.core.gear.pack import FactRow
from wavilex.core.gear.profile import profile_from_data
from wavilex.core.gear.words import cell_words
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_cells import fits
from wavilex.core.rig.edit_common import find_device
from wavilex.core.rig.learned import fact_ops
from wavilex.core.rig.model import LAYERS, Rig
from wavilex.core.rig.ops import INPUT_KEY, Change, SetProfile, to_set
from wavilex.core.rig.shapes import RenewOut


def renew(rig: Rig, uid: str, data: dict[str, Any], facts: Sequence[FactRow] = ()) -> RenewOut:
    """The changes that give a box another version of its profile; values that it does not know are let go, and named.

    What was learned on site stays; facts: what the version brings along and nobody has learned here.
    Raises ChangeError where a lead, a run or a fact stands in the way; ProfileError where the profile is none.
    """
    device = find_device(rig, uid)
    profile = profile_from_data(data)
    ops: list[Change] = []
    lost = []
    for (owner, scope, key), value in rig.settings.items():
        if owner != uid or key == INPUT_KEY or fits(device, profile, scope, key, (value.found, value.plan)):
            continue
        ops += [to_set((uid, scope, key), None, layer) for layer in LAYERS if getattr(value, layer) is not None]
        setting = device.profile.setting(key)
        cell = cell_words(device.profile, scope)
        said = setting.option_label(value.plan or value.found or "") if setting else ""
        lost.append(f"{setting.label if setting else key}{f', {cell}' if cell else ''}: {said}")
    change: SetProfile = {"op": "set_profile", "device": uid, "profile": data}
    ops.append(change)
    known = rig.device_facts(uid)
    apply(rig, ops)
    ops += _fitting(rig, ops, fact_ops(uid, [f for f in facts if f.path not in known]))
    return {"ops": ops, "differs": differences(device.profile, profile), "lost": lost}


def _fitting(rig: Rig, ops: Sequence[Change], facts: Sequence[Change]) -> list[Change]:
    """The facts that this version still has a place for: a socket or a setting may be gone."""
    out: list[Change] = []
    for op in facts:
        try:
            apply(rig, [*ops, op])
        except ChangeError:
            continue
        out.append(op)
    return out
