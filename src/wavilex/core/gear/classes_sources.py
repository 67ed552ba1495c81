"""Sources by class: consoles of each generation, PCs, players, boxes. Common practice."""

from __future__ import annotations

from wavilex.core.gear.class_parts import (
    RATES,
    YES,
    Answers,
    Data,
    Question,
    Template,
    dp_ports,
    dp_questions,
    limit,
    picked,
    quantisation,
    switch,
)

_WHERE = "video output page"
_WORDS = ("not allowed", "allowed")
_SIZES = {"4k": "3840x2160", "qhd": "2560x1440", "hd": "1920x1080"}
_NAMES = {
    "uhd": "4K",
    "hdr": "HDR",
    "rate": "120 Hz",
    "vrr": "variable refresh",
    "422": "4:2:2",
    "deep": "more than 8 bits",
}


def _out(a: Answers) -> list[Data]:
    return [{"id": "hdmi", "label": "HDMI out", "direction": "out", "source": "common_practice"}]


def _modes(sizes: list[str], fast: list[str]) -> list[str]:
    """Modes by size, the fast ones first."""
    return [*(f"{_SIZES[s]}@120" for s in fast), *(f"{_SIZES[s]}@60" for s in sizes)]


def _permissions(names: list[str], modes: list[str]) -> Data:
    """What a source's menu has to allow. From the factory 4K and HDR are; 120 Hz, variable refresh, 4:2:2 are not."""
    slow = [m for m in modes if not m.endswith("@120")]
    rows: dict[str, tuple[Data, Data, str]] = {
        "uhd": (switch("uhd", "4K output", "uhd_output", "on", _WHERE, _WORDS),
                {"modes": [m for m in modes if not m.startswith("3840")]}, "it sends no 4K until that is allowed"),
        "hdr": (switch("hdr", "HDR output", "hdr", "on", _WHERE), {"hdr": []}, "it sends no HDR while that is off"),
        "rate": (switch("high_rate", "120 Hz output", "high_rate", "off", _WHERE, _WORDS), {"modes": slow},
                 "it sends 60 Hz at most until 120 Hz is allowed"),
        "vrr": (switch("vrr", "Variable refresh", "variable_refresh", "off", _WHERE), {"vrr": False},
                "it varies nothing while that is off"),
        "422": (switch("subsampling", "4:2:2", "", "off", _WHERE, _WORDS),
                {"encodings": {"rgb": [8, 10], "420": [8, 10]}}, "it sends no 4:2:2 until that is allowed"),
        "deep": (switch("deep", "More than 8 bits", "", "on", _WHERE, _WORDS),
                 {"encodings": {"rgb": [8], "444": [8], "422": [8], "420": [8]}},
                 "it sends 8 bits until more is allowed"),
    }  # fmt: skip
    chosen = [rows[n] for n in rows if n in names]
    return {
        "settings": [*(setting for setting, _, _ in chosen), quantisation(_WHERE)],
        "quirks": [
            limit(f"{s['id']}-off", {"setting": s["id"], "is": "off"}, limits, because) for s, limits, because in chosen
        ],
    }  # fmt: skip


def _console(a: Answers, *, sizes: list[str], fast: list[str], rate: str, vrr: bool, hdr: bool = True) -> Data:
    sizes = [s for s in sizes if s != "qhd" or a.get("qhd") == "yes"]
    fast = [s for s in fast if s in sizes]
    modes = _modes(sizes, fast)
    tmds, frl = RATES[rate]
    return {
        "role": "source", "kind": "console", "ports": _out(a),
        "video": {
            "tmds_mhz": tmds, "frl": frl, "modes": modes,
            "encodings": {"rgb": [8, 10] if hdr else [8], "422": [10, 12], "420": [8, 10]} if hdr else {"rgb": [8]},
            "hdr": ["static"] if hdr else [], "vrr": vrr, "low_latency": vrr, "dsc": False,
            "hdcp": "2.3" if vrr else "2.2" if hdr else "1.4",
        },
        "sound": ["pcm2", "pcm8", "bitstream"], "home_hz": 60,
        **_permissions(picked(a, "permissions"), modes),
    }  # fmt: skip


def _computer(a: Answers, kind: str) -> Data:
    tmds, frl = RATES[a["rate"]]
    count = int(a["outputs"])
    ports = [
        {"id": f"hdmi{n}" if count > 1 else "hdmi", "label": f"HDMI {n}" if count > 1 else "HDMI out",
         "direction": "out", "source": "common_practice"} for n in range(1, count + 1)
    ]  # fmt: skip
    ports += dp_ports(a, "out")
    extra = {"jack": ("headset jack", "jack"), "usb": ("USB sound", "usb"), "optical": ("optical out", "optical")}
    ports += [
        {"id": k, "label": extra[k][0], "direction": "out", "kind": "audio", "connector": extra[k][1]}
        for k in picked(a, "sound")
    ]  # fmt: skip
    depth = {
        "id": "depth", "label": "Depth in the driver", "default": "8", "where": "the driver's display page",
        "options": [{"id": "8", "label": "8 bits"}, {"id": "10", "label": "10 bits"}],
    }  # fmt: skip
    vrr = switch("vrr", "Variable refresh", "variable_refresh", "off", "the driver's display page")
    eight = {e: [8] for e in ("rgb", "444", "422", "420")}
    return {
        "role": "source", "kind": kind, "ports": ports,
        "video": {
            "tmds_mhz": tmds, "frl": frl, "modes": "any",
            "encodings": {"rgb": [8, 10], "444": [8, 10], "422": [8, 10, 12], "420": [8, 10]}, "hdr": ["static"],
            "vrr": True, "low_latency": False, "dsc": a["dsc"] == "yes", "hdcp": "2.2",
        },
        "sound": ["pcm2", "pcm8", "bitstream"], "settings": [depth, vrr, quantisation("the driver's display page")],
        "quirks": [
            limit("driver-depth", {"setting": "depth", "is": "8"}, {"encodings": eight},
                  "depth stays at 8 bits until it is changed in the driver"),
            limit("vrr-off", {"setting": "vrr", "is": "off"}, {"vrr": False}, "it varies nothing while that is off"),
        ],
    }  # fmt: skip


def _player(a: Answers, sound: list[Data]) -> Data:
    """Films: 4K or 1080p, protected, no games."""
    four_k = a["size"] == "4k"
    sizes = ["4k", "hd"] if four_k else ["hd"]
    modes = [f"{_SIZES[s]}@{hz}" for s in sizes for hz in (60, 50, 24)]
    dynamic = ["dynamic"] if a.get("dynamic") == "yes" else []
    return {
        "role": "source", "kind": "player", "ports": [*_out(a), *sound],
        "video": {
            "tmds_mhz": 600 if four_k else 225, "frl": "none", "modes": modes,
            "encodings": {"rgb": [8], "444": [8], "422": [8, 10, 12], "420": [8, 10]},
            "hdr": ["static", *dynamic] if four_k else [], "vrr": False, "low_latency": False, "dsc": False,
            "hdcp": "2.2" if four_k else "1.4", "encrypts": True,
        },
        "sound": ["bitstream", "pcm8", "lossy5", "pcm2"],
        **_permissions(picked(a, "permissions"), modes),
    }  # fmt: skip


def _handheld(a: Answers) -> Data:
    most = a["most"]
    sizes = ["4k", "hd"] if most == "4k60" else ["hd"]
    modes = [*(["1920x1080@120"] if most == "4k60" else []), *(f"{_SIZES[s]}@60" for s in sizes), "1280x720@60"]
    return {
        "role": "source", "kind": "handheld", "ports": _out(a),
        "video": {
            "tmds_mhz": 600 if most == "4k60" else 165, "frl": "none", "modes": modes,
            "encodings": {"rgb": [8, 10], "422": [8, 10, 12]} if most == "4k60" else {"rgb": [8], "422": [8]},
            "hdr": ["static"] if most == "4k60" else [], "vrr": False, "low_latency": most == "4k60", "dsc": False,
            "hdcp": "2.2" if most == "4k60" else "1.4",
        },
        "sound": ["pcm2", "pcm8"],
    }  # fmt: skip


def _clone(a: Answers) -> Data:
    return {
        "role": "source", "kind": "console", "ports": _out(a),
        "video": {
            "tmds_mhz": 165, "frl": "none", "modes": ["1920x1080@60", "1280x720@60"][0 if a["most"] == "1080" else 1 :],
            "encodings": {"rgb": [8]}, "hdr": [], "vrr": False, "low_latency": False, "dsc": False, "hdcp": "none",
        },
        "draws": {"glass": "16:9", "fits": {"always": "fill" if a["shape"] == "fill" else "keep"}}, "sound": ["pcm2"],
    }  # fmt: skip


def _asked(*names: str, usual: str) -> Question:
    """Which permissions its menu has; each must be allowed before it is sent."""
    answers = tuple((n, _NAMES[n]) for n in names)
    return Question("permissions", "What does its menu have to allow?", answers, kind="many", usual=usual)


_QHD = Question("qhd", "Does it send 1440p?", YES, usual="yes")
_SIZE = Question("size", "It sends", (("4k", "4K60"), ("1080", "1080p")), usual="4k")
_DYNAMIC = Question("dynamic", "Dynamic-metadata HDR?", YES, usual="no", when=("size", ("4k",)))
_PLAYER_ASKED = _asked("uhd", "hdr", "deep", usual="uhd,hdr")
_PC = (
    Question("outputs", "How many HDMI outputs?", (("1", "one"), ("2", "two")), usual="1"),
    Question("rate", "They carry", (("18", "18 Gb/s"), ("40", "40 Gb/s"), ("48", "48 Gb/s")), usual="48"),
    Question("dsc", "Does it send compressed pictures?", YES, usual="yes"),
    Question("sound", "Other sound sockets", (("jack", "headset jack"), ("usb", "USB"), ("optical", "optical")),
             kind="many", usual="jack,usb"),
)  # fmt: skip
_OPTICAL = [{"id": "optical", "label": "optical out", "direction": "out", "kind": "audio", "connector": "optical"}]
TEMPLATES = (
    Template("console", "newest console, 4K120", "sources", "source", (
        Question("rate", "Its output carries", (("32", "32 Gb/s"), ("40", "40 Gb/s"), ("48", "48 Gb/s")), usual="40"),
        _QHD, _asked("uhd", "hdr", "rate", "vrr", "422", "deep", usual="uhd,hdr,rate,vrr"),
    ), lambda a: _console(a, sizes=["4k", "qhd", "hd"], fast=["4k", "qhd", "hd"], rate=a["rate"], vrr=True)),
    Template("console-small", "newer console, 1440p120", "sources", "source", (
        _QHD, _asked("uhd", "hdr", "rate", "vrr", "422", "deep", usual="uhd,hdr,rate,vrr"),
    ), lambda a: _console(a, sizes=["4k", "qhd", "hd"], fast=["qhd", "hd"], rate="18", vrr=True)),
    Template("console-4k60", "console of before, 4K60", "sources", "source", (
        _QHD, _asked("uhd", "hdr", "422", "deep", usual="uhd,hdr"),
    ), lambda a: _console(a, sizes=["4k", "qhd", "hd"], fast=[], rate="18", vrr=False)),
    Template("console-1080", "older console, 1080p", "sources", "source", (
        Question("hdr", "Does it send HDR?", YES, usual="no"),
    ), lambda a: _console(a, sizes=["hd"], fast=[], rate="10", vrr=False, hdr=a["hdr"] == "yes")),
    Template("handheld", "hand-held in its dock", "sources", "source", (
        Question("most", "The dock sends", (("4k60", "4K60 with HDR"), ("1080", "1080p60")), usual="1080"),
    ), _handheld),
    Template("clone", "HDMI-only clone of old consoles", "sources", "source", (
        Question("most", "It sends", (("1080", "1080p"), ("720", "720p")), usual="720"),
        Question("shape", "Its picture", (("fill", "stretched to 16:9"), ("keep", "4:3 with borders")), usual="fill"),
    ), _clone),
    Template("pc", "gaming PC", "sources", "source", (*_PC, *dp_questions("outputs", "3", "0")),
             lambda a: _computer(a, "computer")),
    Template("laptop", "laptop", "sources", "source", (
        Question("outputs", _PC[0].ask, (("1", "one"),), usual="1"),
        Question("rate", "It carries", (("10", "10.2 Gb/s"), *_PC[1].answers), usual="18"), *_PC[2:],
        *dp_questions("outputs", "0", "1"),
    ), lambda a: _computer(a, "computer")),
    Template("stick", "streaming stick", "sources", "source", (_SIZE, _DYNAMIC, _PLAYER_ASKED),
             lambda a: _player(a, [])),
    Template("disc", "disc player", "sources", "source", (
        _SIZE, _DYNAMIC, Question("optical", "An optical output?", YES, usual="no"), _PLAYER_ASKED,
    ), lambda a: _player(a, _OPTICAL if a["optical"] == "yes" else [])),
    Template("set-top", "set-top box", "sources", "source", (
        _SIZE, Question("optical", "An optical output?", YES, usual="yes"), _PLAYER_ASKED,
    ), lambda a: _player(a, _OPTICAL if a["optical"] == "yes" else [])),
)  # fmt: skip
