"""The place of a profile's fault in words: `socket HDMI 2, TMDS ceiling` instead of `ports.1.video.tmds_mhz`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

_PARTS = {"ports": "socket", "settings": "setting", "quirks": "rule", "claims": "claimed lag"}
_FIELDS = {
    "condition": "in which mode", "lag_ms": "milliseconds", "because": "why",
    "label": "name", "options": "options", "default": "what it leaves the factory at",
    "number": "its numbers", "where": "where it is", "kept_by": "what it is kept by", "tmds_mhz": "TMDS ceiling",
    "frl": "FRL", "modes": "modes", "modes_420": "modes in 4:2:0", "encodings": "depths", "hdr": "HDR",
    "vrr": "variable refresh", "dsc": "compression", "hdcp": "copy protection", "maker": "maker", "model": "model",
    "panel": "panel", "summary": "the line about it", "lag_bound_ms": "lag it is judged against",
    "peak_cd_m2": "brightest HDR white", "average_cd_m2": "light of a whole frame",
    "zones": "dimming zones", "panel_bits": "bits of its panel", "hdr_pages": "HDR set-up pages",
    "newest_firmware": "newest firmware", "home_hz": "rate of its home screen",
    "prefers": "modes it prefers", "picture_modes": "picture presets", "converts": "what it makes of a picture",
    "outputs": "what it sends", "fits": "how it fills", "shown_as": "how it shows", "draws": "how it draws",
    "limits": "what it carries less of", "when": "when", "to": "to", "reads": "what it then reads",
    "adds_ms": "milliseconds", "keeps_percent": "percent", "place": "where it is shown", "says": "what it shows",
    "sends": "what it sends", "takes": "what it takes", "cautions": "what to mind", "sound": "sound",
    "most_sound_delay_ms": "most delay of sound", "claims": "claims", "ports": "sockets", "settings": "settings",
    "quirks": "rules", "id": "short name", "step": "step", "neutral": "neutral point", "from": "from", "unit": "unit",
}  # fmt: skip


def place_words(data: Any, where: str) -> str:
    """Where a fault is, as its author knows it. data: the profile as plain data; where: the fault's path."""
    parts = where.split(".")
    said: list[str] = []
    if len(parts) > 1 and parts[0] in _PARTS and parts[1].isdigit():
        said.append(_named(data, parts[0], int(parts[1])))
        parts = parts[2:]
    words = [_FIELDS[p] for p in parts if p in _FIELDS]
    said += words[-1:]
    return ", ".join(said)


def _named(data: Any, part: str, n: int) -> str:
    """`socket HDMI 2`; by number where it has no name."""
    rows = data.get(part) if isinstance(data, Mapping) else None
    row = rows[n] if isinstance(rows, list) and n < len(rows) else None
    label = row.get("label") if isinstance(row, Mapping) else None
    return f"{_PARTS[part]} {label or n + 1}"
