"""Old machines by class, and the tubes they were made for. Common practice."""

from __future__ import annotations

from wavilex.core.gear.class_parts import YES, Answers, Data, Question, Template, picked
from wavilex.core.scan.typed import typed

_CONNECTORS = {"scart": "scart", "svideo": "s_video", "cvbs": "composite", "ypbpr": "component", "vga": "vga"}
_PLUGS = {"scart": "SCART (RGB)", "svideo": "S-video", "cvbs": "composite", "ypbpr": "component", "vga": "VGA"}
_CARRIED = ("svideo", "cvbs")  # colour on a carrier


def _scan(text: str, plug: str, colour: str) -> Data:
    """A signal by name, with its sync and colour as a plug carries them."""
    data: Data = typed(text).scan.model_dump(mode="json", exclude_unset=True)
    data["sync"] = {"ypbpr": "on_luma", "svideo": "on_luma", "vga": "two_wires"}.get(plug, "on_picture")
    data.pop("colour", None)
    return data | ({"colour": colour} if plug in _CARRIED else {})


def _machine(a: Answers, kind: str) -> Data:
    """15 kHz: 525 or 625 lines, progressive or interlaced, by every plug it has."""
    system, drawn = a["system"], a["drawn"]
    text = {("525", "p"): "240p", ("525", "i"): "480i", ("625", "p"): "288p", ("625", "i"): "576i"}[system, drawn]
    colour = "ntsc" if system == "525" else "pal"
    ports = [
        {"id": p, "label": f"{_PLUGS[p].split(' ')[0]} out", "direction": "out", "kind": "analogue",
         "connector": _CONNECTORS[p], "sends": [_scan(text, p, colour)]}
        for p in picked(a, "plugs")
    ]  # fmt: skip
    phono = {"id": "phono", "label": "sound out", "direction": "out", "kind": "audio", "connector": "phono"}
    return {"role": "source", "kind": kind, "ports": [*ports, *([phono] if a["phono"] == "yes" else [])],
            "sound": ["pcm2"], "cautions": ["old_supply"]}  # fmt: skip


def _vga_machine(texts: list[str]) -> Data:
    sends = [_scan(t, "vga", "") for t in texts]
    jack = {"id": "jack", "label": "sound out", "direction": "out", "kind": "audio", "connector": "jack"}
    port = {"id": "vga", "label": "VGA out", "direction": "out", "kind": "analogue", "connector": "vga", "sends": sends}
    return {"role": "source", "kind": "computer", "ports": [port, jack], "sound": ["pcm2"], "cautions": ["old_supply"]}


_RATES = {
    "31": ["640x480@60"], "dos": ["25.175 MHz 800 dots 449 lines 640x400", "640x480@60"],
    "24": ["21.0526 MHz 848 dots 440 lines 640x400"], "sxga": ["640x480@60", "800x600@60", "1024x768@60"],
}  # fmt: skip


def _tube_television(a: Answers) -> Data:
    colours = {"both": ["ntsc", "pal"], "pal": ["pal", "pal_525"], "ntsc": ["ntsc"]}[a["colour"]]
    takes: Data = {"line_khz": [15.5, 16.0], "hz": [49, 62]}
    ports = [
        {"id": p, "label": _PLUGS[p].split(" ")[0], "direction": "in", "kind": "analogue", "connector": _CONNECTORS[p],
         "takes": [{**takes, **({"colours": colours} if p in _CARRIED else {})}]}
        for p in picked(a, "plugs")
    ]  # fmt: skip
    glass = "4:3" if a["glass"] == "4:3" else "16:9"
    return {"role": "screen", "kind": "tube", "lag_bound_ms": 40, "ports": ports, "plays": True,
            "shown_as": {"glass": glass, "fits": {"tube": "fill"}}, "cautions": ["tube"]}  # fmt: skip


def _tube_monitor(a: Answers) -> Data:
    takes: Data = {"line_khz": [int(a["low"]), int(a["high"])], "hz": [50, 100]}
    if a["low"] == "15":
        takes = {"line_khz": [15, int(a["high"])], "hz": [49, 100]}
    port = {"id": "vga", "label": "VGA", "direction": "in", "kind": "analogue", "connector": "vga", "takes": [takes]}
    return {"role": "screen", "kind": "tube", "lag_bound_ms": 10, "ports": [port], "plays": False,
            "shown_as": {"glass": "4:3", "fits": {"tube": "fill"}}, "cautions": ["tube"]}  # fmt: skip


_SYSTEM = Question("system", "Its lines", (("525", "525, 60 Hz (NTSC)"), ("625", "625, 50 Hz (PAL)")), usual="625")
_DRAWN = Question("drawn", "Drawn", (("p", "every field alike (240p, 288p)"), ("i", "interlaced")), usual="p")


def _plugs(usual: str) -> Question:
    names = ("scart", "svideo", "cvbs", "ypbpr")
    return Question("plugs", "Its picture sockets", tuple((p, _PLUGS[p]) for p in names), kind="many", usual=usual)


_PHONO = Question("phono", "Sound sockets of its own?", YES, usual="no")
TEMPLATES = (
    Template("old-console", "15 kHz console", "old machines", "source",
             (_SYSTEM, _DRAWN, _plugs("scart,cvbs"), _PHONO), lambda a: _machine(a, "console")),
    Template("home-computer", "home computer", "old machines", "source",
             (_SYSTEM, _DRAWN, _plugs("scart"), _PHONO), lambda a: _machine(a, "computer")),
    Template("old-pc", "24 or 31 kHz machine", "old machines", "source", (
        Question("rates", "It sends", (("31", "31 kHz, 480 lines"), ("dos", "31 kHz, 400 lines at 70 Hz and 480"),
                                       ("24", "24 kHz, 400 lines"), ("sxga", "31 to 48 kHz, up to 768 lines")),
                 usual="31"),
    ), lambda a: _vga_machine(_RATES[a["rates"]])),
    Template("tube-tv", "tube television", "old machines", "screen", (
        _plugs("scart,cvbs"),
        Question("colour", "Colour it knows",
                 (("both", "PAL and NTSC"), ("pal", "PAL and its 60 Hz kind"), ("ntsc", "NTSC")), usual="both"),
        Question("glass", "Its glass", (("4:3", "4:3"), ("16:9", "16:9")), usual="4:3"),
    ), _tube_television),
    Template("tube-monitor", "tube monitor", "old machines", "screen", (
        Question("low", "Its lowest line rate", (("15", "15 kHz"), ("24", "24 kHz"), ("30", "30 kHz")), usual="30"),
        Question("high", "Its highest line rate", (("38", "38 kHz"), ("70", "70 kHz"), ("96", "96 kHz")), usual="70"),
    ), _tube_monitor),
)  # fmt: skip
