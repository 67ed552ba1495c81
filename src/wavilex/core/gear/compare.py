"""Two profiles of one device held beside each other: what differs, part by part, in words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from wavilex.core.gear.profile import Profile, profile_data
from wavilex.core.gear.shapes import DiffersOut

_LISTED = ("ports", "settings", "quirks")  # lists of things with an id of their own
_NAMES = {
    "ports": "socket", "settings": "setting", "quirks": "rule", "tmds_mhz": "TMDS ceiling, MHz", "frl": "FRL",
    "modes": "modes", "modes_420": "modes in 4:2:0", "encodings": "depths by encoding", "hdr": "HDR",
    "vrr": "variable refresh", "low_latency": "automatic low latency", "dsc": "compression",
    "hdcp": "copy protection", "average_cd_m2": "light of a whole frame, cd/m²",
    "peak_cd_m2": "brightest white, cd/m²", "zones": "dimming zones", "panel_bits": "bits of its panel",
    "hdr_pages": "HDR set-up pages", "newest_firmware": "newest firmware",
    "lag_bound_ms": "bound for lag, ms", "plays": "plays sound", "picture_modes": "picture presets",
    "kept_by": "kept by", "number": "numbers",
}  # fmt: skip
_MOST_SIGNS = 120


def differences(before: Profile, after: Profile) -> list[DiffersOut]:
    """Every part in which one profile says otherwise than the other; "" for what one of them does not say."""
    return list(_between("", profile_data(before), profile_data(after)))


def _between(place: str, one: Any, other: Any) -> Iterator[DiffersOut]:
    if one == other:
        return
    if isinstance(one, dict) and isinstance(other, dict):
        for key in dict.fromkeys((*one, *other)):
            if place == "" and key in _LISTED:
                yield from _lists(key, one.get(key, []), other.get(key, []))
            else:
                inner = place if key == "video" else _joined(place, _NAMES.get(key, key.replace("_", " ")))
                yield from _between(inner, one.get(key), other.get(key))
        return
    if isinstance(one, list) and isinstance(other, list):
        one, other = [x for x in one if x not in other], [x for x in other if x not in one]  # the rest is alike
    yield {"part": place or "video", "before": _words(one), "after": _words(other)}


def _lists(key: str, one: list[Any], other: list[Any]) -> Iterator[DiffersOut]:
    """Things of a list by their own id: gone, new, or otherwise."""
    first, then = ({row["id"]: row for row in rows} for rows in (one, other))
    for name in dict.fromkeys((*first, *then)):
        a, b = first.get(name), then.get(name)
        said = (a or b or {}).get("label") or (a or b or {}).get("because") or name
        part = f"{_NAMES[key]} {said}"
        if a is None or b is None:
            yield {"part": part, "before": "" if a is None else "there", "after": "" if b is None else "there"}
        else:
            yield from _between(part, a, b)


def _joined(place: str, word: str) -> str:
    return f"{place}: {word}" if place else word


def _words(value: Any) -> str:
    """A value for people, cut where it is long."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list | tuple):
        text = ", ".join(_words(v) for v in value) or "none"
    elif isinstance(value, dict):
        text = "; ".join(f"{k} {_words(v)}" for k, v in value.items()) or "nothing"
    else:
        text = str(value)
    return text if len(text) <= _MOST_SIGNS else f"{text[: _MOST_SIGNS - 1]}…"
