"""A screen nobody has profiled, as a profile made from its EDID: one input, and what no EDID can tell left unknown."""

from __future__ import annotations

import re
from typing import Any

from wavilex.core.edid.answers import answer
from wavilex.core.edid.facts import facts_of
from wavilex.core.edid.model import Edid
from wavilex.core.gear.profile import MOST_PEAK_CD_M2, Profile, profile_from_data
from wavilex.core.link.dp_rates import DVI_LINK_HZ

_NAMELESS = "screen"
_HDMI: dict[str, Any] = {"id": "hdmi1", "label": "HDMI read here"}
_SOCKETS: dict[str, dict[str, Any]] = {
    "DisplayPort": {"id": "dp1", "label": "DisplayPort read here", "kind": "dp"},
    "DVI": {"id": "dvi1", "label": "DVI read here", "kind": "dvi"},
}
_MONITOR_CM = 75  # widths people call a monitor end about here: common practice


def profile_of(e: Edid) -> Profile:
    """A screen's profile with the one input the EDID was read at. Raises ProfileError.

    Lag, menus, other inputs and which settings were on are not in an EDID: the profile does not have them.
    """
    said = answer(e)
    name = (said.name or _NAMELESS)[:40]
    modes = [m.timing for m in said.modes if not m.timing.interlaced]
    widest = max(modes, key=lambda t: t.h_active * t.v_active, default=None)
    data: dict[str, Any] = {
        "wavilex_profile": 1,
        "id": re.sub(r"[^a-z0-9]+", "-", f"{e.base.maker}-{name}".lower()).strip("-")[:40] or _NAMELESS,
        "maker": e.base.maker or "unknown",
        "model": name,
        "role": "screen",
        "kind": "monitor" if 0 < e.base.width_cm < _MONITOR_CM else "television",
        "summary": "from its EDID; one input known, lag and menus not",
        "ports": [{**_SOCKETS.get(said.socket, _HDMI), "direction": "in", "source": "measured_here",
                   "video": facts_of(e)}],
    }  # fmt: skip
    if said.socket == "DVI":
        data["ports"][0]["links"] = 2 if any(t.pixel_clock_hz > DVI_LINK_HZ for t in modes) else 1
    if said.max_cd_m2 is not None:
        data["peak_cd_m2"] = min(max(round(said.max_cd_m2), 1), MOST_PEAK_CD_M2)
    if said.average_cd_m2 is not None and "peak_cd_m2" in data:
        data["average_cd_m2"] = min(max(round(said.average_cd_m2), 1), data["peak_cd_m2"])
    if widest is not None:
        data["panel"] = f"{widest.h_active}x{widest.v_active}"
    return profile_from_data(data)
