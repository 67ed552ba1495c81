"""Every reason there is, told: each code has its sentence, and says where, what and how much."""

from __future__ import annotations

from typing import Any, get_args

import pytest

from tests.rigs import s03
from wavilex.core.chain.reasons import Code, Reason, render
from wavilex.core.gear.state import Origin
from wavilex.core.link.cable import Cable
from wavilex.core.link.check import Capacity, End, LinkVerdict, cable_capacity, check_link
from wavilex.core.link.rates import NO_FRL, frl_rate
from wavilex.core.rig.model import Socket
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

RIG = s03()
TV = Socket("tv", "hdmi2")


def link(timing: str, encoding: str, bits: int, frl: str | None, audio: str = "2ch") -> LinkVerdict:
    need = demand(DigitalVideo(parse_timing(timing), encoding, bits, audio))
    return check_link(need, Capacity(600_000_000, frl_rate(frl) if frl else None, "link", "link"))


def over(cable: Cable) -> LinkVerdict:
    """2160p60 in 8 bits at 594 MHz, no FRL."""
    end = End(600_000_000, NO_FRL)
    return check_link(demand(DigitalVideo(parse_timing("vic:97"), "rgb", 8)), cable_capacity(end, cable, end))


DATA: dict[str, dict[str, Any]] = {
    "no_vrr_kind": {"kind": "hdmi", "asked": "vendor"},
    "unknown_feature": {"what": "HDR"},
    "link_rate": {"limit": "18 Gb/s", "signal": "2160p120", "end": "in"},
    "not_connected": {"source": "Base", "sink": "TV"},
    "source_mode": {"mode": "2160p60"},
    "source_prefers": {"chosen": "2160p60", "mode": "1440p120"},
    "hdr_not_at_mode": {"mode": "1440p120"},
    "no_protection": {"version": "1.4", "everything": True, "least": "2.2"},
    "comes_and_goes": {"seen": "2026-03"},
    "panel_rate": {"hz": 120, "fastest": "2160p60"},
    "mode_not_taken": {"mode": "1440p120"},
    "no_encoding": {"asked": "4:4:4 at 10 bits", "end": "in"},
    "lead_unread": {"signal": "2160p120", "taken": "Ultra High Speed"},
    "compressed": {"signal": "2160p240", "bpp": "12"},
    "compression_unknown": {"signal": "2160p240"},
    "proved_so_far": {"proved": "18 Gb/s", "signal": "2160p120"},
    "no_audio_room": {"signal": "2160p144"},
    "no_blanking_room": {"signal": "2160p144"},
    "below_minimum_clock": {"signal": "480p60"},
    "capacity_unknown": {"signal": "2160p60"},
    "lead_long": {},
    "lead_too_long": {},
    "no_compression": {"signal": "2160p240", "end": ""},
    "lead_turned": {"signal": "x"},
    "lead_unfed": {"signal": "x"},
    "analogue_link": {"signal": "240p"},
    "scan_refused": {"signal": "240p60", "treats": "rolling"},
    "scan_no_sync": {"signal": "240p", "wants": "sync on green", "brings": "sync apart"},
    "scan_grey": {"signal": "240p", "wants": "one system", "brings": "another"},
    "multiple": {"multiple": "5× whole lines", "why": "it does not list it", "answer": "doubtful"},
    "scan_mistaken": {"signal": "240p60"},
    "scaled_down": {"mode": "2160p60", "panel": "1920×1080"},
    "scaled_up": {"mode": "720p60", "panel": "1920×1080"},
    "home_same": {"home": 60, "hz": 60},
    "home_rate": {"home": 60, "hz": 120},
    "film_hdr": {"modes": "2160p60"},
    "read_out": {"place": "its banner", "says": "4K 60"},
    "false_read_out": {"place": "its banner", "says": "4K 120", "because": "it shows what was asked"},
    "no_address": {"box": "Stick", "fault": "is too deep"},
    "nearly_full": {"signal": "2160p120", "share": 98.0},
    "no_common_link": {"sends": "PC, DP 1", "has": "DisplayPort", "takes": "TMDS"},
    "dvi_format": {"signal": "1080p60 RGB 10-bit"},
    "too_many_displays": {"most": 2, "count": 3},
    "not_together": {"other": "USB-C"},
    "card_full": {"most": 2160, "asked": 2400},
    "streams_full": {"lead": "A4", "taken": 44, "most": 63, "slots": 22, "signal": "1440p60"},
}
LEAD = {
    "no_lanes",
    "lead_unread",
    "proved_so_far",
    "lead_turned",
    "lead_unfed",
    "lead_long",
    "lead_too_long",
    "analogue_link",
}
LINK = {
    "lead_long": over(Cable("ultra", 6000, "passive")),
    "lead_too_long": over(Cable("ultra", 12_000, "passive")),
    "no_audio_room": link("cvt:3840x2160@144:rb2", "420", 12, "4x12", "8ch"),
    "below_minimum_clock": link("cvt:640x480@60:rb2", "rgb", 8, None),
}

TOLD = {
    "no_hdr": "No HDR at TV, HDMI 2.",
    "no_dynamic_hdr": "No dynamic-metadata HDR at TV, HDMI 2.",
    "no_vrr": "No variable refresh at TV, HDMI 2.",
    "no_vrr_kind": (
        "TV, HDMI 2 knows variable refresh only as HDMI VRR, and what comes before it only as a vendor’s adaptive sync."
    ),
    "no_low_latency": "No automatic low latency at TV, HDMI 2: choose its game mode by hand.",
    "unknown_feature": "Nobody knows yet whether TV, HDMI 2 handles HDR.",
    "link_rate": "2160p120 stops at TV, HDMI 2: it takes 18 Gb/s at most.",
    "not_connected": "Base does not reach TV: no lead joins them.",
    "source_mode": "TV, HDMI 2 does not send 2160p60.",
    "source_prefers": "When a title starts, TV sends 2160p60: it prefers that to 1440p120 as long as it may send it.",
    "hdr_not_at_mode": "TV, HDMI 2 sends no HDR at 1440p120.",
    "no_protection": (
        "TV, HDMI 2 has copy protection 1.4, and the source protects everything it sends, games too: it needs 2.2."
    ),
    "comes_and_goes": "TV, HDMI 2: the picture tears. It comes and goes, seen 2026-03.",
    "panel_rate": "TV, HDMI 2 takes no 120 Hz at any resolution; its fastest is 2160p60.",
    "mode_not_taken": "TV, HDMI 2 does not list 1440p120.",
    "no_encoding": "TV, HDMI 2 takes no 4:4:4 at 10 bits.",
    "no_audio_room": (
        "2160p144 would fit, but its blanking leaves no room for 8 channels at up to 192 kHz; without "
        "sound it would pass."
    ),
    "no_blanking_room": "2160p144 has too little blanking for this link.",
    "below_minimum_clock": (
        "480p60 is too slow: 21.384 MHz, and TMDS starts at 25 MHz. With each pixel sent 2 times it "
        "runs at 42.768 MHz and passes, if the source can repeat pixels."
    ),
    "compressed": "2160p240 reaches TV, HDMI 2 compressed, at 12 bits a pixel.",
    "compression_unknown": "2160p240 fits only compressed, and whether TV, HDMI 2 compresses is not known.",
    "lead_unread": "2160p120 fits if lead A1 is Ultra High Speed: its print was not read.",
    "proved_so_far": "Lead A1 was proved to 18 Gb/s; whether it carries 2160p120 nobody has tried.",
    "lead_turned": "Nothing passes lead A1: the lead has a sending end and is plugged the wrong way round.",
    "lead_unfed": "Nothing passes lead A1: the lead’s own supply is off.",
    "capacity_unknown": "What TV, HDMI 2 carries is not known.",
    "no_compression": (
        "2160p240 would pass compressed, and every other box of the way compresses: TV, HDMI 2 passes nothing "
        "compressed."
    ),
    "lead_long": (
        "Lead A1 is 6 m of passive copper; at this rate copper is trusted to about 5 m, 7 m at best. An active or "
        "optical lead settles it, or a proof of this one."
    ),
    "lead_too_long": (
        "Unlikely: lead A1 is 12 m of passive copper; at this rate copper is trusted to about 5 m, 7 m at best. An "
        "active or optical lead settles it, or a proof of this one."
    ),
    "nearly_full": "2160p120 fills more than 98 % of the link.",
    "analogue_link": (
        "Lead A1 brings an analogue picture to TV, HDMI 2: whether its scan rate is taken is not worked "
        "out yet; look, or ask the manual."
    ),
    "scan_refused": (
        "TV, HDMI 2 shows a rolling picture with 240p60: it needs a converter or multiplier that takes "
        "this scan rate before it."
    ),
    "scan_no_sync": (
        "TV, HDMI 2 finds no sync: it reads sync on green, this signal has sync apart. A lead or "
        "adapter that hands the sync over the other way lifts it."
    ),
    "scan_grey": (
        "TV, HDMI 2 shows no colour: it knows one system, this signal is another. RGB or component "
        "carries colour apart; or a converter that knows this system."
    ),
    "multiple": "TV, HDMI 2 is doubtful about 5× whole lines: it does not list it.",
    "scan_mistaken": "TV, HDMI 2 takes 240p60 for interlaced: later, and fine lines comb.",
    "scaled_down": "TV, HDMI 2 scales 2160p60 down to its 1920×1080 panel: less sharp, and later.",
    "scaled_up": "TV, HDMI 2 scales 720p60 up to its 1920×1080 panel.",
    "home_same": "TV, HDMI 2: the home screen runs at 60 Hz, as titles do.",
    "home_rate": (
        "TV, HDMI 2: the home screen runs at 60 Hz, titles at 120. The picture goes black for a moment "
        "when one starts; judge the rate inside a title."
    ),
    "film_hdr": "TV, HDMI 2 sends films in HDR only at 2160p60: that list decides, not the games’.",
    "read_out": "TV, HDMI 2, its banner, should say “4K 60”.",
    "false_read_out": "TV, HDMI 2, its banner, may say “4K 120”: do not trust it, it shows what was asked.",
    "no_address": "Device control: Stick is too deep.",
    "guessed": "This rests on a guess about TV, HDMI 2.",
    "no_common_link": "Nothing passes into TV, HDMI 2: PC, DP 1 sends DisplayPort, and it takes TMDS.",
    "dvi_format": "1080p60 RGB 10-bit stops at TV, HDMI 2: DVI carries RGB at 8 bits alone.",
    "adapter_turned": (
        "Nothing passes TV, HDMI 2: a passive adapter works from a DisplayPort or USB-C socket to HDMI or DVI and "
        "never the other way. From HDMI to DisplayPort it takes an active converter with its own supply."
    ),
    "no_lanes": "No picture passes lead A1: a lead for USB 2 and charging has no lanes for it.",
    "too_many_displays": "TV drives 2 displays at once, and 3 hang on it: which stays dark nobody knows.",
    "not_together": "TV, HDMI 2 and USB-C exclude each other: one of the two stays dark, which nobody knows.",
    "card_full": "TV makes 2160 MHz of pixels for all its displays, and together they ask 2400.",
    "streams_full": (
        "Lead A4 carries several streams: the others take about 44 of its 63 time slots, 1440p60 asks about 22."
    ),
}


def told(code: Code) -> str:
    origin = Origin("quirk", "makers_claim", because="the picture tears") if code == "comes_and_goes" else None
    lead = "A1" if code in LEAD else None
    return render(
        Reason(code, "link", "blocked", TV, lead=lead, data=DATA.get(code, {}), link=LINK.get(code), origin=origin), RIG
    )


def test_every_code_is_told() -> None:
    assert set(TOLD) == set(get_args(Code))


@pytest.mark.parametrize("code", get_args(Code))
def test_it_says_where_what_and_how_much(code: Code) -> None:
    assert told(code) == TOLD[code]


def test_a_lead_is_named_where_it_is_the_lead() -> None:
    limit = {"limit": "18 Gb/s", "signal": "2160p120", "grade": "High Speed"}
    assert render(Reason("link_rate", "link", "blocked", lead="A1", data=limit), RIG) == (
        "2160p120 stops at lead A1: High Speed, it carries 18 Gb/s at most."
    )
    unknown = Reason("capacity_unknown", "link", "unknown", lead="A1", data={"signal": "2160p60"})
    assert render(unknown, RIG) == "Lead A1 has no known certification, so nobody can promise 2160p60."


def test_what_settled_a_figure_is_said_with_it() -> None:
    at_basic = Origin("quirk", "document", settings=(("hdmi1", "format", "basic"),))
    assert render(Reason("no_hdr", "hdr", "blocked", TV, origin=at_basic), RIG) == (
        "No HDR at TV, HDMI 2 as set (Input format at basic)."
    )
    unseen = Origin("quirk", "document", settings=(("hdmi1", "format", None),))
    assert "Input format at nobody knows what" in render(Reason("no_hdr", "hdr", "blocked", TV, origin=unseen), RIG)
    old = Origin("quirk", "document", firmware="2.0")
    assert "as it is (firmware before 2.0)" in render(Reason("no_vrr", "vrr", "blocked", TV, origin=old), RIG)
    rule = Origin("rule", "document", because="no control channel")
    assert "as it is: no control channel" in render(Reason("no_vrr", "vrr", "blocked", TV, origin=rule), RIG)
    beside = Reason("no_hdr", "hdr", "blocked", TV, data={"beside": True})
    assert render(beside, RIG).endswith("(its screen reads the same offer).")
