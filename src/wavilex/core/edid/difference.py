"""Two EDIDs side by side: what the answers differ in."""

from __future__ import annotations

from typing import Any

from wavilex.core.edid.answers import answers_data
from wavilex.core.edid.model import Edid

_SCALARS = ("name", "native", "max_tmds_character_rate_hz", "max_frl", "vrr", "allm", "hdr", "physical_address")


def edid_difference(a: Edid, b: Edid) -> dict[str, Any]:
    """Fields that differ as [a, b]; modes only one has; modes whose depths differ; sound only one has."""
    one, two = answers_data(a), answers_data(b)
    modes = [{_mode_key(m): m for m in side["modes"]} for side in (one, two)]
    shared = modes[0].keys() & modes[1].keys()
    return {
        "fields": {k: [one[k], two[k]] for k in _SCALARS if one[k] != two[k]},
        "modes_only_a": sorted(modes[0].keys() - modes[1].keys()),
        "modes_only_b": sorted(modes[1].keys() - modes[0].keys()),
        "depths": {
            k: [modes[0][k]["bits"], modes[1][k]["bits"]]
            for k in sorted(shared)
            if modes[0][k]["bits"] != modes[1][k]["bits"]
        },
        "audio_only_a": [x for x in one["audio"] if x not in two["audio"]],
        "audio_only_b": [x for x in two["audio"] if x not in one["audio"]],
    }


def _mode_key(m: dict[str, Any]) -> str:
    scan = "i" if m["interlaced"] else ""
    height = m["v_active"] * (2 if m["interlaced"] else 1)
    return f"{m['h_active']}x{height}{scan} {m['refresh_hz']} Hz{' ' + m['code'] if m['code'] else ''}"
