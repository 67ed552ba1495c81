"""The sockets that changes are about: where plugs go, where a setting is kept, what is to be shown."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.gear.cells import read_scope
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import LAYERS, Rig, Socket
from wavilex.core.rig.ops import Change
from wavilex.core.rig.shapes import LitOut


def lit(rig: Rig, ops: Sequence[Change]) -> list[LitOut]:
    """Sockets in the order of the changes; those of boxes that the changes themselves add are left out."""
    found: dict[tuple[str, str], None] = {}
    for op in ops:
        if op["op"] == "set_setting":
            port = read_scope(op.get("scope", "")).input
            found |= {(op["device"], port): None} if port else {}
        elif op["op"] == "select_input" and op["value"]:
            found[op["device"], op["value"]] = None
    found |= {(s.device, s.port): None for s in _plugged(rig, ops)}
    return [{"device": d, "port": p} for d, p in found if d in rig.devices]


def _plugged(rig: Rig, ops: Sequence[Change]) -> list[Socket]:
    """Where ends of leads are after the changes and were not before."""
    if all(op["op"] in ("set_setting", "select_input") for op in ops):
        return []
    after, _ = apply(rig, list(ops))
    out: list[Socket] = []
    for lead in after.leads.values():
        before = rig.leads.get(lead.uid)
        for layer in LAYERS:
            ends = lead.ends(layer)
            was = before.ends(layer) if before is not None else (None, None)
            out += [s for s, old in zip(ends, was, strict=True) if s is not None and s != old]
    return out
