"""Screens by class: televisions, monitors, projectors. Common practice."""

from __future__ import annotations

from typing import Any

from wavilex.core.gear.class_parts import (
    DEEP,
    FORMATS,
    GAME_MODE,
    MODES_4K60,
    MODES_4K120,
    MODES_1080,
    PEAK,
    PRESETS,
    RATES,
    RETURNS,
    RETURNS_AT,
    YES,
    Answers,
    Data,
    Question,
    Template,
    dp_ports,
    dp_questions,
    formats,
    game_mode,
    hdmi_inputs,
    inputs_question,
    known,
    limit,
    peak,
    picked,
    picture,
    sockets,
    switch,
    with_returns,
)

_FAST = sockets("fast", "Which inputs are the fast ones?")
_FAST_RATE = Question(
    "fast_rate", "A fast input carries", (("32", "32 Gb/s"), ("40", "40 Gb/s"), ("48", "48 Gb/s")), usual="40"
)
_VRR = Question("vrr", "Variable refresh", (("yes", "at the fast inputs"), ("no", "none")), usual="yes")
_HDR = Question(
    "hdr", "HDR", (("static", "static"), ("dynamic", "static and dynamic-metadata"), ("none", "none")), usual="static"
)
_HDR_KINDS: dict[str, list[str]] = {"none": [], "static": ["static", "hlg"], "dynamic": ["static", "hlg", "dynamic"]}


def _television(a: Answers, *, lit: str, fast: bool) -> Data:
    ports = with_returns(hdmi_inputs(int(a["inputs"])), a)
    ids = [p["id"] for p in ports]
    tmds, frl = RATES[a["fast_rate"]] if fast else (600, "none")
    vrr: Any = [48, 120] if fast and a["vrr"] == "yes" else False
    for n, port in enumerate(ports, 1):
        if fast and known(a, "fast") and str(n) not in picked(a, "fast"):
            port["video"] = {"frl": "none", "vrr": False, "modes": MODES_4K60}
    steps = picked({"f": a["formats"]}, "f")
    opening = formats(ids, steps, f"{a['fast_rate']} Gb/s" if fast else "18 Gb/s")
    presets = PRESETS if a["game"] == "preset" else tuple(p for p in PRESETS if p != "game")
    video = {
        "tmds_mhz": tmds, "frl": frl, "modes": MODES_4K120 if fast else MODES_4K60, "modes_420": ["vic:97", "vic:96"],
        "encodings": DEEP, "hdr": _HDR_KINDS[a["hdr"]], "vrr": vrr, "low_latency": fast and a["game"] == "auto",
        "dsc": False, "hdcp": "2.3" if fast else "2.2",
    }  # fmt: skip
    if fast and not known(a, "fast"):  # which are the fast ones nobody said: it is not known of any
        video = {k: v for k, v in video.items() if k not in ("frl", "vrr")}
    return {
        "role": "screen", "kind": "television", "panel": "3840x2160", "lag_bound_ms": 40, "ports": ports,
        "video": video, "plays": True, **peak(a),
        "settings": [*opening["settings"], *game_mode(ids, a["game"]), *picture(presets)],
        "quirks": opening["quirks"],
        "cautions": ["large_screen", *(["burn_in"] if lit == "self" else [])],
    }  # fmt: skip


def _old_television(a: Answers) -> Data:
    size, four_k = a["size"], a["size"] == "4k"
    ports = with_returns(hdmi_inputs(int(a["inputs"])), a)
    ids = [p["id"] for p in ports]
    modes = {"4k": MODES_4K60, "1080": MODES_1080, "768": ["vic:4", "vic:19", "vic:16", "vic:31"]}[size]
    analogue = [
        {"id": name, "label": words, "direction": "in", "kind": "analogue", "connector": plug,
         "takes": [{"line_khz": [15.5, 16.0], "hz": [49, 62], "treats": "as_interlaced"}]}
        for name, words, plug in (("scart", "SCART", "scart"), ("cvbs", "composite", "composite"),
                                  ("ypbpr", "component", "component"))
        if name in picked(a, "analogue")
    ]  # fmt: skip
    panel = {"4k": "3840x2160", "1080": "1920x1080", "768": "1366x768"}[size]
    overscan = (
        [switch("overscan", "Overscan", "overscan", "on", "picture shape page")] if a["overscan"] == "yes" else []
    )
    return {
        "role": "screen", "kind": "television", "panel": panel, "lag_bound_ms": 40, "ports": [*ports, *analogue],
        "video": {
            "tmds_mhz": 300 if four_k else 165, "frl": "none", "modes": modes,
            "encodings": {"rgb": [8], "444": [8], "422": [8], **({"420": [8]} if four_k else {})},
            "hdr": [], "vrr": False, "low_latency": False, "dsc": False, "hdcp": "1.4",
        },
        "plays": True,
        "settings": [*game_mode(ids, a["game"]), *overscan, *picture(("standard", "vivid", "film_dark"))],
        "shown_as": {"glass": "16:9", "fits": {"always": "fill"}}, "cautions": ["large_screen"],
    }  # fmt: skip


def _monitor(a: Answers) -> Data:
    size, hz = a["panel"], int(a["rate"])
    four_k = size == "3840x2160"
    own = {60: "vic:97", 120: "vic:118"}.get(hz, "") if four_k else ""
    own = own or f"cvt:{size}@{hz}:{'rb2' if hz > 120 else 'rb1'}"
    modes = list(dict.fromkeys([own, *(["vic:97"] if four_k else []), f"cvt:{size}@60:rb1", *MODES_1080]))
    tmds, frl = RATES[a["link"]]
    hdr = a["hdr"] == "yes"
    ports = hdmi_inputs(int(a["inputs"]))
    jack = {"id": "jack", "label": "headset jack", "direction": "out", "kind": "audio", "connector": "jack"}
    sync = switch("sync", "Variable refresh", "variable_refresh", "off", "gaming page")
    varies = hz > 60
    return {
        "role": "screen", "kind": "monitor", "panel": size, "lag_bound_ms": 10,
        "ports": [*ports, *dp_ports(a, "in"), *([jack] if a["sound"] == "jack" else [])],
        "video": {
            "tmds_mhz": tmds, "frl": frl, "modes": modes,
            "encodings": {e: [8, 10] for e in ("rgb", "444", "422", *(("420",) if four_k else ()))},
            **({"modes_420": ["vic:97"]} if four_k else {}),
            "hdr": ["static"] if hdr else [], "vrr": [48, hz] if varies else False, "low_latency": False,
            "dsc": a["dsc"] == "yes" and {"slices": 8, "slice_mhz": 400, "bits": [8, 10]}, "hdcp": "2.2",
        },
        "plays": a["sound"] == "speakers", **(peak(a) if hdr else {}),
        "settings": [*([sync] if varies else []), *picture(("standard", "game", "film_dark", "computer"))],
        "quirks": [
            limit("sync-off", {"setting": "sync", "is": "off"}, {"vrr": False},
                  "it offers no window while its variable refresh is off")
        ] if varies else [],
    }  # fmt: skip


def _projector(a: Answers) -> Data:
    made = _television({**a, "game": a["game"], "returns": "none", "fast": "", "fast_rate": "18", "vrr": "no"},
                       lit="lamp", fast=False)  # fmt: skip
    four_k = a["size"] == "4k"
    if not four_k:
        made["panel"] = "1920x1080"
        depths = {"rgb": [8, 10], "444": [8, 10], "422": [8, 10, 12]}
        made["video"] |= {"tmds_mhz": 225, "modes": ["vic:63", *MODES_1080], "encodings": depths, "hdr": [],
                          "hdcp": "1.4"}  # fmt: skip
        made["video"].pop("modes_420")
        opening = [s for s in made["settings"] if s["id"] == "format"]
        made["settings"] = [s for s in made["settings"] if s not in opening]
        made["quirks"] = []
    return made | {"kind": "projector", "plays": a["speaker"] == "yes"}


_TV = (inputs_question("4"), RETURNS, RETURNS_AT, FORMATS, GAME_MODE, _HDR, PEAK)
_TV_FAST = (inputs_question("4"), _FAST, _FAST_RATE, _VRR, RETURNS, RETURNS_AT, FORMATS, GAME_MODE, _HDR, PEAK)
TEMPLATES = (
    Template("tv-self-lit", "self-lit 4K120 television", "screens", "screen", _TV_FAST,
             lambda a: _television(a, lit="self", fast=True)),
    Template("tv-4k120", "back-lit 4K120 television", "screens", "screen", _TV_FAST,
             lambda a: _television(a, lit="back", fast=True)),
    Template("tv-4k60", "4K60 television", "screens", "screen", _TV, lambda a: _television(a, lit="back", fast=False)),
    Template("tv-old", "older television", "screens", "screen", (
        Question("size", "Its panel", (("4k", "4K, first ones"), ("1080", "1080p"), ("768", "1366×768")), usual="1080"),
        inputs_question("2"),
        Question("analogue", "Analogue inputs", (("scart", "SCART"), ("cvbs", "composite"), ("ypbpr", "component")),
                 kind="many", usual="scart,cvbs"),
        RETURNS, RETURNS_AT, Question("overscan", "Does it overscan by itself?", YES, usual="yes"),
        Question("game", GAME_MODE.ask, (*GAME_MODE.answers[:1], *GAME_MODE.answers[3:]), usual="none"),
    ), _old_television),
    Template("monitor", "monitor", "screens", "screen", (
        Question("panel", "Its panel", (("1920x1080", "1080p"), ("2560x1440", "1440p"), ("3440x1440", "3440×1440"),
                                        ("3840x2160", "4K")), usual="2560x1440"),
        Question("rate", "Its highest rate by HDMI",
                 tuple((str(n), f"{n} Hz") for n in (60, 75, 100, 120, 144, 165, 240)), usual="144"),
        Question("link", "Its inputs carry",
                 (("10", "10.2 Gb/s"), ("18", "18 Gb/s"), ("24", "24 Gb/s"), ("40", "40 Gb/s"), ("48", "48 Gb/s")),
                 usual="18"),
        inputs_question("2"), *dp_questions("inputs", "1", "0"), Question("hdr", "HDR", YES, usual="no"),
        Question("peak", PEAK.ask, kind="number", optional=True, when=("hdr", ("yes",))),
        Question("dsc", "Does it take compressed pictures?", YES, usual="no"),
        Question("sound", "Sound", (("none", "none"), ("jack", "a headset jack"), ("speakers", "speakers")),
                 usual="jack"),
    ), _monitor),
    Template("projector", "projector", "screens", "screen", (
        Question("size", "Its picture", (("4k", "4K60"), ("1080", "1080p")), usual="1080"), inputs_question("2"),
        Question("formats", FORMATS.ask, FORMATS.answers[:2], usual="none", when=("size", ("4k",))),
        Question("hdr", _HDR.ask, _HDR.answers, usual="none", when=("size", ("4k",))), GAME_MODE,
        Question("speaker", "A speaker in it?", YES, usual="yes"),
    ), lambda a: _projector({"formats": "none", "hdr": "none", **a})),
)  # fmt: skip
