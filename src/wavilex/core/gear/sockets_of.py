"""Sockets of settings that are kept by the input, filled in where a profile leaves them to be understood."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any


def with_sockets(data: Mapping[str, Any]) -> dict[str, Any]:
    """A profile's data, every setting kept by the input naming its sockets: all inputs, where it names none.

    A `remembers` rule that names settings is what these settings are kept by. What is not as it should be is left for
    the reading of the profile to refuse.
    """
    settings, ports, quirks = (_rows(data, name) for name in ("settings", "ports", "quirks"))
    if settings is None or ports is None:
        return dict(data)
    inputs = [
        p.get("id") for p in ports if p.get("direction") == "in" and p.get("kind", "hdmi") in ("hdmi", "analogue")
    ]
    named: dict[Any, list[Any]] = {}
    for quirk in quirks or []:
        if quirk.get("kind") == "remembers" and isinstance(quirk.get("settings"), list | tuple):
            for setting in quirk["settings"]:
                named.setdefault(setting, []).extend(_list(quirk.get("by")))
    return {**data, "settings": [_kept(s, named.get(s.get("id"), []), inputs) for s in settings]}


def _kept(row: dict[str, Any], more: list[Any], inputs: list[Any]) -> dict[str, Any]:
    own = _list(row.get("kept_by"))
    by = [*own, *(b for b in dict.fromkeys(more) if b not in own)]
    if by != own:
        row = {**row, "kept_by": by}
    if "input" in by and not row.get("ports"):
        row = {**row, "ports": inputs}
    return row


def _rows(data: Mapping[str, Any], name: str) -> list[dict[str, Any]] | None:
    rows = data.get(name)
    good = isinstance(rows, list | tuple) and all(isinstance(r, dict) for r in rows)
    return list(rows) if good and rows is not None else None


def _list(value: Any) -> list[Any]:
    return list(value) if isinstance(value, list | tuple) else []
