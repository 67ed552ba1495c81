"""What the parts of a profile may say, with names for people."""

from __future__ import annotations

from typing import get_args

from wavilex.core.fields import PROVENANCE_NAMES, Provenance
from wavilex.core.gear.cells import StoredBy
from wavilex.core.gear.ports import CONNECTORS, Frl
from wavilex.core.gear.profile import Kind, Role
from wavilex.core.gear.setting import EFFECT_OPTIONS, NUMBER_EFFECTS
from wavilex.core.gear.shapes import GearWords, NamedOut
from wavilex.core.gear.socket_kinds import never_stated
from wavilex.core.gear.state import PROTECTIONS
from wavilex.core.link.cable import DIGITAL
from wavilex.core.link.dp_rates import DP_RATES, NO_DP
from wavilex.core.link.rates import FRL_CODES
from wavilex.core.scan.described import Treatment
from wavilex.core.scan.signals import COLOURS, SYNCS, TREATMENTS

_ROLE_NAMES = {
    "source": "sends pictures",
    "repeater": "stands between",
    "screen": "shows pictures",
    "sound": "plays sound",
}
_PORT_KINDS = {
    "hdmi": "HDMI",
    "dp": "DisplayPort",
    "usbc": "USB-C",
    "dvi": "DVI",
    "analogue": "analogue video",
    "audio": "sound",
    "power": "5 V",
}
_HDR = {"static": "static HDR", "hlg": "HLG", "dynamic": "dynamic-metadata HDR"}
_QUIRKS = {
    "limits": "carries less",
    "requires": "is greyed out unless",
    "excludes": "cannot be chosen while",
    "forces": "is set by the box itself",
    "inert": "does nothing while",
    "resets": "puts other settings back",
    "update": "an update puts settings back",
    "remembers": "is stored apart for each",
    "shows": "says on a read-out",
    "lag": "adds lag",
    "dims": "darkens the picture",
}
_STORED = {
    "input": "input",
    "resolution": "resolution",
    "rate": "rate",
    "range": "dynamic range",
    "mode": "picture preset",
}
_LIMITS = {
    "tmds_mhz": "TMDS ceiling, MHz", "frl": "FRL", "dp": "DisplayPort lanes",
    "modes": "modes", "hdr": "HDR", "vrr": "variable refresh",
    "low_latency": "automatic low latency", "dsc": "compression", "hdcp": "copy protection",
    "encrypts": "protects everything", "vrr_kinds": "kind of variable refresh",
}  # fmt: skip
_EFFECTS = {
    "game_mode": "game mode", "variable_refresh": "variable refresh", "interpolation": "interpolation",
    "black_frames": "black-frame insertion", "input_speed": "input speed", "fast_input": "fast-input boost",
    "hdr": "HDR", "processing": "noise reduction and the like", "tone_mapping": "tone mapping",
    "warmth": "colour temperature", "colour": "colour boost", "dimming": "local dimming",
    "shadow_lift": "shadow lift", "room_light": "room light, energy saving", "overscan": "overscan",
    "device_control": "device control", "sharpening": "sharpening, detail",
    "high_rate": "120 Hz output", "uhd_output": "4K output", "preset": "picture preset",
    "quantisation": "range, full or limited", "mirroring": "mirrored displays", "overdrive": "overdrive, response",
    "panel_light": "panel light", "contrast": "contrast", "black_level": "black level", "saturation": "colour amount",
    "tint": "tint", "sharpness": "sharpness",
}  # fmt: skip
COPIES = {"yes": "yes", "unit": "no: this unit’s own", "room": "no: this room’s", "taste": "as agreed: taste"}
assert set(_EFFECTS) == set(EFFECT_OPTIONS) | set(NUMBER_EFFECTS)
assert set(_STORED) == set(get_args(StoredBy))
assert set(PROVENANCE_NAMES) == set(get_args(Provenance))
assert set(FRL_CODES) == set(get_args(Frl))


def _named(names: dict[str, str]) -> list[NamedOut]:
    return [{"id": key, "name": name} for key, name in names.items()]


def _plain(values: tuple[str, ...]) -> list[NamedOut]:
    return [{"id": v, "name": v} for v in values]


def gear_words() -> GearWords:
    """Every list an editor offers, by name."""
    frl = {code: "none" if code == "none" else code.replace("x", " × ") + " Gb/s" for code in FRL_CODES}
    return {
        "roles": [{"id": r, "name": _ROLE_NAMES[r]} for r in get_args(Role)],
        "kinds": _plain(get_args(Kind)),
        "port_kinds": [
            {"id": k, "name": name, "digital": k in DIGITAL, "without": list(never_stated(k))}
            for k, name in _PORT_KINDS.items()
        ],
        "connectors": {kind: list(plugs) for kind, plugs in CONNECTORS.items()},
        "frl": _named(frl),
        "dp": _named({r.code: r.name for r in (NO_DP, *DP_RATES)}),
        "hdr": _named(_HDR),
        "protection": _plain(PROTECTIONS),
        "returns": _named({"arc": "ARC", "earc": "eARC"}),
        "quirk_kinds": _named(_QUIRKS),
        "stored_by": _named(_STORED),
        "sources": _named(dict(PROVENANCE_NAMES)),
        "limit_fields": _named(_LIMITS),
        "vrr_kinds": _named(
            {"hdmi": "HDMI VRR", "vendor": "a vendor’s adaptive sync", "dp": "adaptive sync by DisplayPort"}
        ),
        "effects": [{"id": k, "name": _EFFECTS[k], "values": list(EFFECT_OPTIONS.get(k, ()))} for k in _EFFECTS],
        "copies": _named(COPIES),
        "syncs": _named(dict(SYNCS)),
        "colours": _named(dict(COLOURS)),
        "treatments": _named({t: TREATMENTS[t] for t in get_args(Treatment)}),
        "fits": _named(
            {
                "fill": "fills the frame",
                "keep": "keeps its shape",
                "window": "4:3 with borders",
                "crop": "cut to fill the frame",
            }
        ),
        "cautions": _named(
            {
                "large_screen": "large screen",
                "burn_in": "burns in",
                "own_power": "needs its own supply",
                "old_supply": "old supply",
                "tube": "tube",
                "flicker": "flickers",
            }
        ),
        "levels": _named({"75_ohm": "75 ohm", "ttl": "TTL"}),
    }
