"""What a socket carries by its kind alone, where its profile does not say: DisplayPort, USB-C and DVI know no FRL.

Source: VESA DisplayPort 1.4a, DVI 1.0; value from memory.
"""

from __future__ import annotations

from typing import Any

from wavilex.core.gear.origin import Origin
from wavilex.core.gear.ports import Encodings, Port
from wavilex.core.gear.profile import Profile
from wavilex.core.link.dp_rates import DVI_LINK_HZ

_DVI_RGB = Encodings.model_validate({"rgb": [8]})
_OWN = {"dp": "DisplayPort", "usbc": "USB-C", "dvi": "DVI"}
_NOT_HDMI: dict[str, Any] = {"frl": "none", "low_latency": False, "scdc": None}
_BY_KIND: dict[str, dict[str, Any]] = {
    "hdmi": {"dp": "none"},
    "dp": {**_NOT_HDMI, "tmds_mhz": None, "vrr_kinds": ("dp",)},
    "usbc": {**_NOT_HDMI, "tmds_mhz": None, "vrr_kinds": ("dp",)},
    "dvi": {
        **_NOT_HDMI, "dp": "none", "tmds_mhz": DVI_LINK_HZ // 1_000_000, "encodings": _DVI_RGB, "hdr": (), "vrr": False,
        "dsc": False, "modes_420": (), "vrr_kinds": None,
    },
}  # fmt: skip


def family(port: Port) -> str:
    """`dp` for DisplayPort and USB-C, else `hdmi`: what variable refresh and sound mean by a socket."""
    return "dp" if port.kind in ("dp", "usbc") else "hdmi"


def never_stated(kind: str) -> tuple[str, ...]:
    """Figures that a socket of this kind has none of, or that its kind alone settles: nobody is asked for them."""
    return tuple(key for key, value in _BY_KIND.get(kind, {}).items() if value is not None)


def usual_of(profile: Profile, port: Port, key: str) -> tuple[Any, Origin]:
    """A field nobody stated of a socket: as its kind has it, else what the profile says of all sockets.

    A DisplayPort input takes no TMDS; whether an output sends it through a passive adapter is not known.
    """
    by_kind = _BY_KIND.get(port.kind, {"dp": "none"})
    if profile.adapts == "passive" and family(port) == "dp":
        by_kind = {**by_kind, "dp": "none"}  # it hands TMDS through, and knows nothing else
    if key not in by_kind:
        return getattr(profile.video, key), Origin("port", port.source)
    value = by_kind[key]
    if key == "tmds_mhz" and family(port) == "dp" and port.direction == "in" and profile.adapts != "passive":
        value = 0
    because = f"{_OWN[port.kind]} has none of it" if port.kind in _OWN else "HDMI"
    return value, Origin("rule" if value in (False, (), "none") else "port", "document", because=because)
