"""The starter library, profile by profile: nothing it lists is beyond what its own sockets carry."""

from __future__ import annotations

import re
from fractions import Fraction
from importlib.resources import files
from typing import Any

import pytest
import yaml

from wavilex.core.link.dsc import DscSink, DscUse, dsc_use
from wavilex.core.link.frl import frl_use
from wavilex.core.link.rates import frl_rate
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.signal import DigitalVideo, demand

_SHARE = {
    "rgb": Fraction(1),
    "444": Fraction(1),
    "422": Fraction(1),
    "420": Fraction(1, 2),
}  # of the pixel clock, 8-bit
TEXTS = {f.name: f.read_text(encoding="utf-8") for f in files("wavilex.library").iterdir() if f.name.endswith(".yaml")}
BOXES: dict[str, dict[str, Any]] = {name: yaml.safe_load(text) for name, text in TEXTS.items()}


def declared(box: dict[str, Any], port: dict[str, Any]) -> dict[str, Any]:
    """What a socket declares: its own words before the box's. Read from the file, not by the program's rules."""
    return {**box.get("video", {}), **port.get("video", {})}


def sockets() -> list[tuple[str, str, dict[str, Any]]]:
    found = []
    for name, box in BOXES.items():
        for port in box["ports"]:
            video = declared(box, port)
            if port.get("kind", "hdmi") == "hdmi" and isinstance(video.get("modes"), list) and "tmds_mhz" in video:
                found.append((f"{name} {port['id']}", port["direction"], video))
    return found


def carried(mode: str, encoding: str, bits: int, video: dict[str, Any]) -> bool:
    """By TMDS, by FRL or compressed, at the box's own figures, with the best lead."""
    timing = listed_timing(mode)
    factor = _SHARE[encoding] * (1 if encoding == "422" else Fraction(bits, 8))
    if timing.pixel_clock_hz * factor <= video["tmds_mhz"] * 1_000_000:
        return True
    if video.get("frl", "none") == "none":
        return False
    need, rate = demand(DigitalVideo(timing, encoding, bits, "none")), frl_rate(video["frl"])
    if frl_use(need, rate).blocked_by is None:
        return True
    return bool(video.get("dsc")) and isinstance(dsc_use(need, rate, DscSink(7, all_bpp=True)), DscUse)


@pytest.mark.parametrize(("video", "direction"), [pytest.param(v, d, id=n) for n, d, v in sockets()])
def test_every_listed_mode_is_carried_in_some_declared_encoding(video: dict[str, Any], direction: str) -> None:
    listed_420 = {listed_timing(m).mode for m in video.get("modes_420") or ()}
    depths = {str(e): min(bits) for e, bits in video.get("encodings", {"rgb": [8]}).items() if bits}
    for mode in video["modes"]:
        allowed = [e for e in depths if e != "420" or direction == "out" or listed_timing(mode).mode in listed_420]
        assert any(carried(mode, e, depths[e], video) for e in allowed), f"{mode} at {video['tmds_mhz']} MHz"


@pytest.mark.parametrize("video", [pytest.param(v, id=n) for n, d, v in sockets() if v.get("modes_420")])
def test_what_is_listed_in_420_is_listed_at_all_and_carried(video: dict[str, Any]) -> None:
    modes = {listed_timing(m).mode for m in video["modes"]}
    for mode in video["modes_420"]:
        assert listed_timing(mode).mode in modes
        assert carried(mode, "420", 8, video)


def test_a_television_with_slow_inputs_lists_other_modes_there() -> None:
    """The check above would pass over lists that are not there."""
    by_id = {name: [(p["id"], declared(box, p)) for p in box["ports"]] for name, box in BOXES.items()}
    slow = {i for i, v in by_id["ostavar-75g.yaml"] if "vic:118" not in v["modes"]}
    assert {"hdmi1", "hdmi2"} <= slow
    assert not slow & {"hdmi3", "hdmi4"}


@pytest.mark.parametrize("name", BOXES)
def test_a_rate_in_words_is_its_rate_in_figures(name: str) -> None:
    """TMDS: ten bits a character on three lanes, so 300 MHz is 9.0 Gb/s, 340 MHz 10.2, 600 MHz 18 (HDMI 1.4b, 2.0)."""
    box = BOXES[name]
    for quirk in box.get("quirks", ()):
        limits = quirk.get("limits", {})
        said = re.search(r"([\d.]+) Gb/s", quirk.get("because", ""))
        if said and limits.get("frl") == "none" and "tmds_mhz" in limits:
            assert float(said[1]) == pytest.approx(limits["tmds_mhz"] * 0.03, abs=0.05)
    videos = [declared(box, p) for p in box["ports"] if p.get("kind", "hdmi") == "hdmi"]
    rates = {round(v["tmds_mhz"] * 0.03, 1) for v in videos if "tmds_mhz" in v}
    rates |= {float(frl_rate(v["frl"]).total_gbps) for v in videos if v.get("frl", "none") != "none"}
    for said_gbps in re.findall(r"([\d.]+) Gb/s", box.get("summary", "")):
        assert float(said_gbps) in rates
