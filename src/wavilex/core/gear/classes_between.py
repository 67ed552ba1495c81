"""Boxes between by class: receivers, switches, splitters, matrices, converters, scalers, multipliers, adapters."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.gear.class_parts import (
    FLAT,
    MODES_1080,
    RATES,
    YES,
    Answers,
    Data,
    Question,
    Template,
    formats,
    hdmi_inputs,
    inputs_question,
    known,
    picked,
    sockets,
)

_OUT = {"id": "out", "label": "HDMI out", "direction": "out", "source": "common_practice"}
_TAKES_15: Data = {"line_khz": [15.5, 16.0], "hz": [49, 62]}
_TAKES_31: Data = {"line_khz": [31, 32], "hz": [49, 72]}
_PLUGS = {"scart": "SCART", "svideo": "S-video", "cvbs": "composite", "ypbpr": "component", "vga": "VGA"}
_CONNECTORS = {"scart": "scart", "svideo": "s_video", "cvbs": "composite", "ypbpr": "component", "vga": "vga"}
_OLD = {"tmds_mhz": 165, "frl": "none", "encodings": {"rgb": [8]}, "hdr": [], "vrr": False, "low_latency": False,
        "dsc": False, "hdcp": "none"}  # fmt: skip


def _passing(rate: str, vrr: bool) -> Data:
    """What a box that passes pictures on lets through at a rate."""
    tmds, frl = RATES[rate]
    deep = rate not in ("hd", "10")
    video: Data = {
        "tmds_mhz": tmds, "frl": frl, "hdr": ["static", "hlg"] if deep else [], "vrr": vrr, "low_latency": deep,
        "hdcp": "2.3" if frl != "none" else "2.2" if deep else "1.4",
    }  # fmt: skip
    if rate == "hd":
        video |= {"modes": MODES_1080, "encodings": FLAT, "dsc": False}
    elif rate == "10":
        video |= {"dsc": False}
    return video


def _receiver(a: Answers) -> Data:
    ports = hdmi_inputs(int(a["inputs"]))
    ids = [p["id"] for p in ports]
    rate = a["rate"]
    video = _passing(rate, a.get("vrr") == "yes") | {"dsc": a.get("dsc") == "yes"}
    if rate in ("40", "48") and a.get("some") == "yes":
        if not known(a, "fast"):
            video = {k: v for k, v in video.items() if k != "frl"}  # which are fast nobody said
        for n, port in enumerate(ports, 1):
            if known(a, "fast") and str(n) not in picked(a, "fast"):
                port["video"] = {"frl": "none", "vrr": False}
    out = {**_OUT, "label": "To screen"} | ({"returns": a["returns"]} if a["returns"] != "none" else {})
    steps = [] if rate in ("hd", "10") or a["formats"] == "none" else a["formats"].split(",")
    return {
        "role": "repeater", "kind": "receiver", "ports": [*ports, out], "video": video, "plays": True,
        **formats(ids, steps, f"{rate} Gb/s"),
    }  # fmt: skip


def _switch(a: Answers) -> Data:
    return {
        "role": "repeater", "kind": "switch", "ports": [*hdmi_inputs(int(a["inputs"])), _OUT],
        "video": _passing(a["rate"], a["vrr"] == "yes") | {"dsc": a["rate"] in ("40", "48")}, "plays": False,
        "cautions": ["own_power"],
    }  # fmt: skip


def _outputs(count: int) -> list[Data]:
    return [{**_OUT, "id": f"out{n}", "label": f"out {n}"} for n in range(1, count + 1)]


def _splitter(a: Answers) -> Data:
    return {
        "role": "repeater", "kind": "splitter", "ports": [*hdmi_inputs(1), *_outputs(int(a["outputs"]))],
        "video": _passing(a["rate"], a["rate"] in ("40", "48")), "routing": "splitter", "edid": a["offers"],
        "plays": False, "cautions": ["own_power"],
    }  # fmt: skip


def _matrix(a: Answers) -> Data:
    return {
        "role": "repeater", "kind": "matrix", "ports": [*hdmi_inputs(int(a["inputs"])), *_outputs(int(a["outputs"]))],
        "video": _passing(a["rate"], a["rate"] in ("40", "48")), "routing": "matrix", "edid": a["offers"],
        "plays": False, "cautions": ["own_power"],
    }  # fmt: skip


def _analogue(a: Answers, takes: Sequence[Data]) -> list[Data]:
    colours = {"colours": ["ntsc", "pal"]}
    return [
        {"id": p, "label": f"{_PLUGS[p]} in", "direction": "in", "kind": "analogue", "connector": _CONNECTORS[p],
         "takes": [{**t, **(colours if p in ("svideo", "cvbs") else {})} for t in takes]}
        for p in picked(a, "plugs")
    ]  # fmt: skip


def _setting(key: str, label: str, options: dict[str, str], default: str) -> Data:
    rows = [{"id": k, "label": v} for k, v in options.items()]
    return {"id": key, "label": label, "options": rows, "default": default, "where": "key on the case, or its own menu"}


def _converter(a: Answers) -> Data:
    outputs = {"hd": "1280x720@60", "fhd": "1920x1080@60"}
    words = {"hd": "720p", "fhd": "1080p"}
    chosen = picked(a, "sends")
    kept = a["rate"] == "kept"
    sent = {k: [outputs[k], outputs[k].replace("@60", "@50")] if kept else outputs[k] for k in chosen}
    modes = [m for v in sent.values() for m in (v if isinstance(v, list) else [v])]
    takes = [_TAKES_15] if a["takes"] == "15" else [_TAKES_15, _TAKES_31] if a["takes"] == "both" else [_TAKES_31]
    if a["takes"] == "interlaced":
        takes = [{**_TAKES_15, "treats": "as_interlaced"}]
    two = len(chosen) > 1
    return {
        "role": "repeater", "kind": "converter",
        "ports": [*_analogue(a, takes), {**_OUT, "video": {"modes": modes}}], "video": _OLD, "plays": False,
        "settings": [_setting("output", "Output", {k: words[k] for k in chosen}, chosen[0])] if two else [],
        "converts": {
            "rate": a["rate"], "outputs": sent, **({"output": "output"} if two else {}),
            "fits": {"always": "keep" if a["shape"] == "keep" else "fill"},
        },
        "cautions": ["own_power"],
    }  # fmt: skip


def _multiplier(a: Answers) -> Data:
    outputs = {
        "2": ["720x480@60", "720x576@50"], "3": ["1280x720@60", "1280x720@50"], "4": ["1280x960@60", "1280x960@50"],
        "5": ["1920x1080@60", "1920x1080@50"],
    }  # fmt: skip
    times = picked(a, "times")
    matched = a["matched"] == "yes"
    options = {f"x{n}": f"{n}×" for n in times}
    settings = [_setting("multiple", "Multiple", options, f"x{times[0]}")] if len(times) > 1 else []
    if matched:
        kinds = {"whole_line": "whole lines", "matched": "matched to the dots"}
        settings.append(_setting("sampling", "Sampling", kinds, "whole_line"))
    return {
        "role": "repeater", "kind": "multiplier",
        "ports": [*_analogue(a, [_TAKES_15]), {**_OUT, "video": {"modes": [m for n in times for m in outputs[n]]}}],
        "video": _OLD, "plays": False, "settings": settings,
        "converts": {
            "rate": "kept", **({"output": "multiple"} if len(times) > 1 else {}),
            "outputs": {f"x{n}" if len(times) > 1 else "only": outputs[n] for n in times}, "fits": {"always": "keep"},
            "multiples": [int(n) for n in times],
            "sampling": ["whole_line", "matched"] if matched else ["whole_line"],
            **({"sample": "sampling"} if matched else {}), "holds_lines": 3,
        },
        "cautions": ["own_power"],
    }  # fmt: skip


def _scaler(a: Answers) -> Data:
    every = {"vga": ("640x480", "640x480@60", "dmt:0x04"), "xga": ("1024x768", "1024x768@60", "dmt:0x10"),
             "sxga": ("1280x1024", "1280x1024@60", "dmt:0x23"), "fhd": ("1080p", "1920x1080@60", "vic:16"),
             "uhd": ("2160p", "3840x2160@60", "vic:97")}  # fmt: skip
    chosen = picked(a, "sends")
    shapes = {"full": "full", "window": "4:3 window"}
    settings = [_setting("output", "Output", {k: every[k][0] for k in chosen}, chosen[0])] if len(chosen) > 1 else []
    settings += [_setting("fit", "Shape", shapes, "full")] if a["window"] == "yes" else []
    tmds = 600 if "uhd" in chosen else 165
    return {
        "role": "repeater", "kind": "converter",
        "ports": [{"id": "in", "label": "HDMI in", "direction": "in", "source": "common_practice"}, _OUT],
        "video": _OLD | {"tmds_mhz": tmds, "modes": list(dict.fromkeys([*(every[k][2] for k in chosen), "vic:16",
                                                                       "vic:4"])), "hdcp": "1.4"},
        "edid": "fixed", "plays": False, "settings": settings,
        "converts": {
            "rate": "kept", "outputs": {k if len(chosen) > 1 else "only": every[k][1] for k in chosen},
            **({"output": "output"} if len(chosen) > 1 else {}), "holds_frames": 1,
            **({"fit": "fit", "fits": {"full": "fill", "window": "window"}} if a["window"] == "yes"
               else {"fits": {"always": "fill"}}),
        },
        "cautions": ["own_power"],
    }  # fmt: skip


def _adapter(a: Answers) -> Data:
    jack = {"id": "jack", "label": "jack out", "direction": "out", "kind": "audio", "connector": "jack"}
    power = {"id": "usb", "label": "5 V in", "direction": "in", "kind": "power", "connector": "usb"}
    return {
        "role": "repeater", "kind": "adapter",
        "ports": [
            {"id": "in", "label": "HDMI plug", "direction": "in", "source": "common_practice"},
            {"id": "vga", "label": "VGA out", "direction": "out", "kind": "analogue", "connector": "vga"},
            *([jack] if a["jack"] == "yes" else []), *([power] if a["power"] == "yes" else []),
        ],
        "video": _OLD | {"modes": ["vic:16", "vic:4", "dmt:0x04", "dmt:0x09", "dmt:0x10", "dmt:0x23"]}, "plays": False,
        **({"cautions": ["own_power"]} if a["power"] == "yes" else {}),
    }  # fmt: skip


def _console_adapter(a: Answers) -> Data:
    """A plug-in digital adapter for one machine: analogue in by its own plug, HDMI out."""
    power = {"id": "usb", "label": "5 V in", "direction": "in", "kind": "power", "connector": "usb"}
    shapes = {"wide": "16:9", "true": "4:3"}
    return {
        "role": "repeater", "kind": "adapter",
        "ports": [*_analogue(a, [_TAKES_15, _TAKES_31]), {**_OUT, "video": {"modes": ["720x480@60", "720x576@50"]}},
                  *([power] if a["power"] == "yes" else [])],
        "video": _OLD, "plays": False,
        "settings": [_setting("shape", "Shape", shapes, "wide")] if a["shape"] == "switch" else [],
        "converts": {
            "rate": "kept", "outputs": {"only": ["720x480@60", "720x576@50"]},
            **({"fit": "shape", "fits": {"wide": "fill", "true": "keep"}} if a["shape"] == "switch"
               else {"fits": {"always": "fill"}}),
        },
        **({"cautions": ["own_power"]} if a["power"] == "yes" else {}),
    }  # fmt: skip


_RATE = Question("rate", "It passes", (("10", "10.2 Gb/s"), ("18", "18 Gb/s"), ("40", "40 Gb/s"), ("48", "48 Gb/s")),
                 usual="18")  # fmt: skip
_FAST_ONES = ("40", "48")
_OFFERS = Question("offers", "What does it tell the sources?",
                   (("merge", "what its screens share"), ("pass", "what screen 1 says"), ("fixed", "its own list")),
                   usual="merge")  # fmt: skip
_PLUGS_ASK = Question("plugs", "Its analogue inputs", tuple(_PLUGS.items()), kind="many", usual="scart")
_MANY = tuple((str(n), str(n)) for n in range(2, 9))
TEMPLATES = (
    Template("receiver", "receiver", "in between", "repeater", (
        inputs_question("4", _MANY),
        Question("rate", "Its inputs pass", (("hd", "1080p"), ("10", "10.2 Gb/s"), ("18", "18 Gb/s"), ("40", "40 Gb/s"),
                                             ("48", "48 Gb/s")), usual="18"),
        Question("some", "Are only some inputs that fast?", YES, usual="yes", when=("rate", _FAST_ONES)),
        sockets("fast", "Which inputs are the fast ones?", ("some", ("yes",))),
        Question("formats", "Does each input have a format setting?",
                 (("none", "no"), ("basic,wide", "basic and wide"), ("basic,wide,widest", "basic, wide, widest")),
                 usual="basic,wide", when=("rate", ("18", *_FAST_ONES))),
        Question("vrr", "Does variable refresh pass?", YES, usual="yes", when=("rate", _FAST_ONES)),
        Question("dsc", "Do compressed pictures pass?", YES, usual="no", when=("rate", _FAST_ONES)),
        Question("returns", "It takes a screen’s sound", (("none", "no"), ("arc", "by ARC"), ("earc", "by eARC")),
                 usual="arc"),
    ), lambda a: _receiver({"formats": "none", **a})),
    Template("switch", "switch", "in between", "repeater", (
        inputs_question("4", _MANY), _RATE, Question("vrr", "Does variable refresh pass?", YES, usual="no"),
    ), _switch),
    Template("splitter", "splitter", "in between", "repeater", (
        Question("outputs", "How many outputs?", _MANY[:3], usual="2"), _RATE, _OFFERS,
    ), _splitter),
    Template("matrix", "matrix", "in between", "repeater", (
        inputs_question("4", _MANY), Question("outputs", "How many outputs?", _MANY[:3], usual="2"), _RATE, _OFFERS,
    ), _matrix),
    Template("converter", "converter, analogue to HDMI", "in between", "repeater", (
        _PLUGS_ASK,
        Question("takes", "15 kHz machines at its inputs",
                 (("15", "shown as they are"), ("interlaced", "taken for interlaced"), ("both", "and 31 kHz, too"),
                  ("31", "not taken, 31 kHz only")), usual="15"),
        Question("sends", "It sends", (("hd", "720p"), ("fhd", "1080p")), kind="many", usual="hd,fhd"),
        Question("rate", "50 Hz comes out", (("converted", "as 60 Hz"), ("kept", "as 50 Hz")), usual="converted"),
        Question("shape", "A 4:3 picture", (("fill", "fills the frame"), ("keep", "keeps its shape")), usual="fill"),
    ), _converter),
    Template("multiplier", "line multiplier", "in between", "repeater", (
        Question("plugs", _PLUGS_ASK.ask, _PLUGS_ASK.answers, kind="many", usual="scart,ypbpr"),
        Question("times", "It multiplies lines by", (("2", "2"), ("3", "3"), ("4", "4"), ("5", "5")), kind="many",
                 usual="2,3,4,5"),
        Question("matched", "Can it sample by the machine’s dots?", YES, usual="yes"),
    ), _multiplier),
    Template("scaler", "scaler, HDMI to HDMI", "in between", "repeater", (
        Question("sends", "It sends", (("vga", "640×480"), ("xga", "1024×768"), ("sxga", "1280×1024"), ("fhd", "1080p"),
                                       ("uhd", "4K60")), kind="many", usual="vga,sxga,fhd"),
        Question("window", "Can it draw 4:3 with borders?", YES, usual="no"),
    ), _scaler),
    Template("adapter", "adapter, HDMI to VGA", "in between", "repeater", (
        Question("jack", "A jack for sound?", YES, usual="yes"), Question("power", "Fed by USB?", YES, usual="no"),
    ), _adapter),
    Template("console-adapter", "plug-in HDMI adapter for one machine", "in between", "repeater", (
        Question("plugs", "It plugs in as", _PLUGS_ASK.answers, kind="many", usual="ypbpr"),
        Question("shape", "Its shape", (("fill", "16:9 always"), ("switch", "a switch, 4:3 or 16:9")), usual="switch"),
        Question("power", "Fed by USB?", YES, usual="yes"),
    ), _console_adapter),
)  # fmt: skip
