"""The demo's museum corner: twelve sources of forty years, the boxes between, three screens. Made up."""

from __future__ import annotations

from typing import Any

ROOM = "Museum corner"
DEVICES = (
    ("museum-console", "Museum console", "brindlo-base"),
    ("museum-stick", "Museum stick", "tindrel-stick"),
    ("museum-clone", "Clone console", "brindlo-clone"),
    ("museum-k0", "Old console", "kelpine-k0"),
    ("museum-dock", "Hand-held dock", "tindrel-h7"),
    ("museum-k2", "Small console", "kelpine-k2"),
    ("museum-disc", "Disc player", "yarrowby-d4"),
    ("museum-pc", "Archive PC", "tindrel-r3"),
    ("museum-h8", "Home computer", "brindlo-h8"),
    ("museum-c16", "16-bit console", "brindlo-c16"),
    ("museum-c32", "480i console", "brindlo-c32"),
    ("museum-pc4", "VGA computer", "tindrel-pc4"),
    ("museum-conv", "Converter", "brindlo-v2"),
    ("museum-plug", "Digital plug", "brindlo-p1"),
    ("museum-lines", "Line multiplier", "yarrowby-lm5"),
    ("museum-swa", "Switch A", "brindlo-s8"),
    ("museum-swb", "Switch B", "brindlo-s4"),
    ("museum-receiver", "Museum receiver", "ostavar-av610"),
    ("museum-screen", "Museum screen", "yarrowby-50w"),
    ("museum-tv", "Old television", "ostavar-43p"),
    ("museum-tube", "Tube monitor", "brindlo-t17"),
    ("museum-speakers", "Speaker pair", "ostavar-sp"),
)
# label, from, to, certification (HDMI) or kind, length in mm
LEADS = (
    ("C1", "museum-console/hdmi", "museum-screen/hdmi2", "high_speed", 3000),
    ("C2", "museum-stick/hdmi", "museum-screen/hdmi1", "high_speed", 1500),
    ("C3", "museum-clone/hdmi", "museum-swa/in1", "high_speed", 1500),
    ("C4", "museum-k0/hdmi", "museum-swa/in2", "high_speed", 1500),
    ("C5", "museum-dock/hdmi", "museum-swb/in1", "premium", 1500),
    ("C6", "museum-k2/hdmi", "museum-swb/in2", "premium", 1500),
    ("C7", "museum-disc/hdmi", "museum-receiver/in1", "premium", 1000),
    ("C8", "museum-pc/hdmi", "museum-receiver/in3", "high_speed", 3000),
    ("C9", "museum-conv/out", "museum-swa/in3", "high_speed", 1000),
    ("C10", "museum-plug/out", "museum-swa/in4", "high_speed", 1000),
    ("C11", "museum-swa/out", "museum-receiver/in4", "high_speed", 2000),
    ("C12", "museum-swb/out", "museum-tv/hdmi1", "high_speed", 5000),
    ("C13", "museum-receiver/out", "museum-screen/hdmi3", "high_speed", 5000),
    ("V1", "museum-h8/scart", "museum-conv/scart", "analogue", 1500),
    ("C14", "museum-lines/out", "museum-tv/hdmi2", "high_speed", 2000),
    ("V2", "museum-c16/scart", "museum-lines/scart", "analogue", 2000),
    ("V3", "museum-c32/svideo", "museum-plug/svideo", "analogue", 500),
    ("S1", "museum-c32/phono", "museum-plug/sound", "audio", 500),
    ("S2", "museum-pc4/jack", "museum-speakers/jack", "audio", 1500),
    ("V4", "museum-pc4/vga", "museum-tube/vga", "analogue", 1800),
)
FOUND = (("museum-conv", "", "output", "fhd"), ("museum-lines", "", "multiple", "x3"))
_HD = {"mode": "1920x1080@60"}
RUNS: tuple[tuple[str, str, str, str, dict[str, Any]], ...] = (
    ("museum", "Museum console", "museum-console", "museum-screen",
     {"mode": "1920x1080@60", "hdr": "static", "bits": 10, "weight": 2}),
    ("stick", "Museum stick", "museum-stick", "museum-screen", _HD),
    ("clone", "Clone console", "museum-clone", "museum-screen", _HD),
    ("k0", "Old console", "museum-k0", "museum-screen", _HD),
    ("dock", "Hand-held dock", "museum-dock", "museum-tv", _HD),
    ("k2", "Small console", "museum-k2", "museum-tv", _HD),
    ("disc", "Disc player", "museum-disc", "museum-screen",
     {"mode": "3840x2160@24", "hdr": "static", "protected": True}),
    ("archive", "Archive PC", "museum-pc", "museum-screen", _HD),
    ("h8", "Home computer", "museum-h8", "museum-screen", _HD),
    ("c16", "16-bit console", "museum-c16", "museum-tv", {"mode": "1280x720@60"}),
    ("c32", "480i console", "museum-c32", "museum-screen", {"mode": "1280x720@60"}),
    ("pc4", "VGA computer", "museum-pc4", "museum-tube", {"mode": "640x480@60"}),
)  # fmt: skip
