"""Adapters, converters and docks between HDMI, DisplayPort, USB-C, DVI and VGA, by class."""

from __future__ import annotations

from wavilex.core.gear.class_parts import (
    DP_RATES,
    RATES,
    YES,
    Answers,
    Data,
    Question,
    Template,
    choice,
    fast_data,
    picked,
)

_KIND = {"dp": "DisplayPort", "usbc": "USB-C", "hdmi": "HDMI", "dvi": "DVI", "vga": "VGA"}
_PLAIN: Data = {"vrr": False, "low_latency": False, "dsc": False, "hdcp": "1.4"}
_RGB = {"rgb": [8], "444": [8]}


def _port(direction: str, kind: str, video: Data | None = None, **more: object) -> Data:
    label = f"{_KIND[kind]} {'plug' if direction == 'in' else 'socket'}"
    row: Data = {"id": direction, "label": label, "direction": direction, "source": "common_practice", **more}
    if kind == "vga":
        return row | {"kind": "analogue", "connector": "vga"}
    row |= {"kind": kind} if kind != "hdmi" else {}
    row |= {"links": 1} if kind == "dvi" else {}
    return row | ({"video": video} if video else {})


def _passive(a: Answers) -> Data:
    """What hands TMDS through. Between HDMI and DVI it works both ways, from DisplayPort one way alone."""
    mhz = int(a["mhz"])
    start, end = a["way"].split(">")
    tmds: Data = {"tmds_mhz": mhz}
    hdmi: Data = {"tmds_mhz": mhz, "frl": "none"}
    video: dict[str, Data | None] = {"hdmi": hdmi, "dvi": None, "dp": tmds}
    return {
        "role": "repeater", "kind": "adapter", "adapts": "passive",
        "ports": [_port("in", start, video[start]), _port("out", end, video[end])],
        "video": {**_PLAIN, "hdr": [], "encodings": _RGB if mhz > 165 else {"rgb": [8]}}, "plays": False,
    }  # fmt: skip


def _active(a: Answers) -> Data:
    """What turns one way of sending into another. Variable refresh seldom passes (common practice)."""
    start, end = a["from"], a["to"]
    tmds, frl = RATES[a["rate"]]
    hdmi: Data = {"tmds_mhz": tmds, "frl": frl, "dsc": False}
    own: dict[str, Data | None] = {
        "dp": {"dp": f"4x{a['lanes']}"},
        "usbc": {"dp": f"4x{a['lanes']}"},
        "hdmi": hdmi,
        "dvi": None,
        "vga": None,
    }
    into, out = own[start], own[end]
    decodes = start in ("dp", "usbc") and a["dsc"] == "yes"
    if decodes and into is not None:
        into = into | {"dsc": {"slices": 8, "slice_mhz": 400, "bits": [8, 10]}}
    if end in ("dp", "usbc") and out is not None:
        out = out | {"tmds_mhz": 0}
    deep = a["hdr"] == "yes"
    video: Data = {**_PLAIN, "hdcp": "2.2", "hdr": ["static"] if deep else [], "vrr": a["vrr"] == "yes"}
    video |= {"encodings": {e: [8, 10] if deep else [8] for e in ("rgb", "444", "422")}}
    if decodes:
        video.pop("dsc")
        out = (out or {}) | {"dsc": False} if end != "vga" else out
    fed = start == "hdmi" or a["power"] == "yes"
    power = {"id": "usb", "label": "5 V", "direction": "in", "kind": "power", "connector": "usb"}
    return {
        "role": "repeater", "kind": "adapter", "adapts": "active",
        "ports": [_port("in", start, into, **({"decodes": True} if decodes else {})), _port("out", end, out),
                  *([power] if fed else [])],
        "video": video, "plays": False, **({"cautions": ["own_power"]} if fed else {}),
    }  # fmt: skip


def _dock(a: Answers) -> Data:
    """A hub, or a dock: a stream of its own for each output; fast data takes two of USB-C's four lanes."""
    kind = a["host"]
    outs = [_numbered("dp", n, {"dp": "4xhbr2"}) for n in range(1, int(a["dp"]) + 1)]
    outs += [_numbered("hdmi", n, {"tmds_mhz": 600, "frl": "none"}) for n in range(1, int(a["hdmi"]) + 1)]
    data = [choice("data", "USB data", (("fast", "fast"), ("slow", "USB 2")), resync=True)] if kind == "usbc" else []
    return {
        "role": "repeater", "kind": "dock" if kind == "usbc" else "splitter", "adapts": "active", "routing": "streams",
        "ports": [_port("in", kind, {"dp": f"4x{a['lanes']}"}), *outs],
        "video": {**_PLAIN, "hdr": [], "hdcp": "2.2", "encodings": {"rgb": [8, 10], "444": [8, 10]}}, "plays": False,
        "settings": data, "quirks": [fast_data("in", a["lanes"])] if data else [],
        **({"cautions": ["own_power"]} if "fed" in picked(a, "fed") else {}),
    }  # fmt: skip


def _numbered(kind: str, n: int, video: Data) -> Data:
    return {"id": f"{kind}{n}", "label": f"{_KIND[kind]} {n}", "direction": "out", "source": "common_practice",
            **({"kind": kind} if kind != "hdmi" else {}), "video": video}  # fmt: skip


_LANES = Question("lanes", "Its lanes run at", DP_RATES[:4], usual="hbr3")
_COUNT = (("0", "none"), ("1", "one"), ("2", "two"), ("3", "three"))
TEMPLATES = (
    Template("adapter-passive", "passive adapter between sockets", "in between", "repeater", (
        Question("way", "Which way?",
                 (("dp>hdmi", "DisplayPort to HDMI"), ("dp>dvi", "DisplayPort to DVI"), ("hdmi>dvi", "HDMI to DVI"),
                  ("dvi>hdmi", "DVI to HDMI"), ("hdmi>dp", "HDMI to DisplayPort, as found")), usual="dp>hdmi"),
        Question("mhz", "It carries", (("165", "165 MHz (type 1)"), ("300", "300 MHz (type 2)")), usual="165"),
    ), _passive),
    Template("converter-active", "active converter between sockets", "in between", "repeater", (
        Question("from", "It plugs into", (("dp", "DisplayPort"), ("usbc", "USB-C"), ("hdmi", "HDMI")), usual="dp"),
        Question("to", "It ends in", (("hdmi", "HDMI"), ("dp", "DisplayPort"), ("dvi", "DVI"), ("vga", "VGA")),
                 usual="hdmi"),
        Question("rate", "On its HDMI side", (("10", "10.2 Gb/s"), ("18", "18 Gb/s"), ("40", "40 Gb/s"),
                                             ("48", "48 Gb/s")), usual="18"),
        _LANES, Question("hdr", "Does HDR pass?", YES, usual="no"),
        Question("vrr", "Does variable refresh pass?", YES, usual="no"),
        Question("dsc", "Does it end compression?", YES, usual="no"),
        Question("power", "Fed by USB?", YES, usual="no"),
    ), _active),
    Template("dock", "dock or hub, a picture for each output", "in between", "repeater", (
        Question("host", "It hangs on", (("usbc", "USB-C"), ("dp", "DisplayPort")), usual="usbc"),
        _LANES, Question("dp", "DisplayPort outputs", _COUNT[1:], usual="2"),
        Question("hdmi", "HDMI outputs", _COUNT, usual="1"),
        Question("fed", "Its supply", (("fed", "one of its own"),), kind="many", usual="fed"),
    ), _dock),
)  # fmt: skip
