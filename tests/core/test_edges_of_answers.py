"""Answers at their edges: bytes by the documents' tables, rates by worked examples, choices of ours by what they do."""

from __future__ import annotations

import random
from dataclasses import replace
from fractions import Fraction

import pytest

from tests.rigs import device, lead, rig, run, s08, s20, setting
from wavilex.core.advise.connect_sound import rank_places
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.multiples import _figures
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import spare_percent
from wavilex.core.edid.base import read_base
from wavilex.core.edid.build import SinkSpec, _hdmi, build, forum_bytes
from wavilex.core.edid.decode import decode
from wavilex.core.edid.detailed import read_detailed, write_detailed, write_type10
from wavilex.core.edid.model import Audio, Finding, ForumBlock, HdmiBlock
from wavilex.core.errors import ChangeError
from wavilex.core.gear.classes import from_template
from wavilex.core.gear.conversion import Conversion
from wavilex.core.lag.budget import _between, lip_sync
from wavilex.core.lag.difference import MOST_MORE, equivalence
from wavilex.core.lag.methods import LagError, camera
from wavilex.core.lag.recognise import interlaced, low_progressive
from wavilex.core.lag.summary import judge, summarise
from wavilex.core.link.cable import GRADES
from wavilex.core.link.dsc import DscSink, dsc_use
from wavilex.core.link.rates import frl_rate
from wavilex.core.modes.cells import spots
from wavilex.core.modes.refresh import accepted, shown
from wavilex.core.modes.run_refresh import window_of
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Socket
from wavilex.core.scan.multiples import multiple
from wavilex.core.scan.signals import analogue
from wavilex.core.scan.typed import typed
from wavilex.core.video.codes import parse_timing
from wavilex.core.video.signal import DigitalVideo, demand

RATE_48 = frl_rate("4x12")

# --- EDID, bit by bit ---------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("said", "at", "bits"),
    [
        ({"tmds_mhz": 600}, 1, 120), ({"scdc": True}, 2, 0x80), ({"read_request": True}, 2, 0x40),
        ({"scramble_low": True}, 2, 0x08), ({"frl_code": 5}, 3, 0x50), ({"bits_420": (10,)}, 3, 1),
        ({"bits_420": (12,)}, 3, 2), ({"bits_420": (16,)}, 3, 4), ({"fva": True}, 4, 0x04), ({"allm": True}, 4, 0x02),
        ({"qms": True}, 4, 0x40), ({"vrr_min_hz": 48}, 5, 48), ({"vrr_min_hz": 40, "vrr_max_hz": 300}, 5, 0x40 | 40),
        ({"vrr_max_hz": 300}, 6, 300 - 256), ({"dsc": True}, 7, 0x80), ({"dsc_native_420": True}, 7, 0x40),
        ({"dsc_all_bpp": True}, 7, 0x08), ({"dsc_bits": (10, 12)}, 7, 3), ({"dsc_bits": (16,)}, 7, 4),
        ({"dsc_frl_code": 6}, 8, 0x60), ({"dsc_slice_code": 5}, 8, 5), ({"dsc_chunk_kib": 12}, 9, 12),
    ],
)  # fmt: skip
def test_the_forum_block_field_by_field(said: dict[str, object], at: int, bits: int) -> None:
    """HDMI 2.1 table 10-6: byte 0 the version, each field in its place (value from memory)."""
    d = forum_bytes(ForumBlock(**{"tmds_mhz": None, **said}))  # type: ignore[arg-type]
    assert d[0] == 1
    assert d[at] == bits
    others = {n: b for n, b in enumerate(d) if b and n not in (0, at)}
    assert set(others) <= {5, 6}  # a window's upper end stands in two bytes


@pytest.mark.parametrize(
    ("block", "flags", "present"),
    [
        (HdmiBlock((1, 0, 0, 0), (10,)), 0x10, None), (HdmiBlock((1, 0, 0, 0), (12, 16)), 0x60, None),
        (HdmiBlock((1, 0, 0, 0), deep_444=True), 0x08, None), (HdmiBlock((1, 0, 0, 0), ai=True), 0x80, None),
        (HdmiBlock((1, 0, 0, 0), game_content=True), 0, 0x08), (HdmiBlock((1, 0, 0, 0), hdmi_vics=(1, 2)), 0, 0x20),
    ],
)  # fmt: skip
def test_the_older_block_as_written(block: HdmiBlock, flags: int, present: int | None) -> None:
    """HDMI 1.4b table 8-16: 03-0C-00, address, deep colour, TMDS/5, then what is present."""
    d = _hdmi(block)
    assert (d[:3], d[3:5], d[5], d[6]) == (b"\x03\x0c\x00", b"\x10\x00", flags, 0)
    assert (d[7] if len(d) > 7 else None) == present


@pytest.mark.parametrize("sound", [True, False])
@pytest.mark.parametrize("yuv444", [True, False])
@pytest.mark.parametrize("yuv422", [True, False])
def test_the_extension_says_sound_and_sampling_in_byte_3(sound: bool, yuv444: bool, yuv422: bool) -> None:
    """CTA-861: basic audio 0x40, YCbCr 4:4:4 0x20, 4:2:2 0x10, one native timing."""
    audio = (Audio("lpcm", 2, (48_000,), (16,)),) if sound else ()
    e = build(SinkSpec("Test", (parse_timing("vic:16"),), yuv444=yuv444, yuv422=yuv422, audio=audio))
    assert e[128 + 3] & 0x70 == 0x40 * sound | 0x20 * yuv444 | 0x10 * yuv422
    assert (e[21], e[22]) == (60, 34)  # centimetres of a usual screen


def test_the_usual_stereo_sound() -> None:
    """CTA-861 short audio descriptor: LPCM, 2 channels, 32, 44.1 and 48 kHz, 16, 20 and 24 bit."""
    assert bytes([0x09, 0x07, 0x07]) in build(SinkSpec("Test", (parse_timing("vic:16"),)))


def test_a_detailed_timing_is_written_with_its_high_bits() -> None:
    """E-EDID 1.4, 3.10.2, worked out by hand: 2748 of 291 blank, 1300 of 300 blank, each with high bits set."""
    t = parse_timing("modeline:250 2748 2848 2948 3039 1300 1340 1360 1600 +hsync -vsync")
    d = write_detailed(t, 600, 340)
    assert list(d[:12]) == [0xA8, 0x61, 0xBC, 0x23, 0xA1, 0x14, 0x2C, 0x51, 100, 100, 0x84, 0x09]
    assert (list(d[12:15]), d[17]) == ([600 - 512, 340 - 256, 0x21], 0x1A)
    read = read_detailed(d)
    assert read is not None
    assert read.modeline.split('"')[2] == t.modeline.split('"')[2]


def test_a_formula_timing_in_six_bytes() -> None:
    """DisplayID 2.0, 4.5 (value from memory): which CVT, width − 1, height − 1, rate − 1, little end first."""
    assert write_type10(parse_timing("cvt:2560x1440@144:rb2")) == bytes([2, 0xFF, 0x09, 0x9F, 0x05, 143])
    assert write_type10(parse_timing("cvt:2560x1440@256:rb2")) == bytes([2, 0xFF, 0x09, 0x9F, 0x05, 255])
    assert write_type10(parse_timing("cvt:640x480@257:rb2")) is None
    assert write_type10(parse_timing("vic:16")) is None


ESTABLISHED = {
    35: {5: (640, 480, 60), 3: (640, 480, 73), 2: (640, 480, 75), 1: (800, 600, 56), 0: (800, 600, 60)},
    36: {7: (800, 600, 72), 6: (800, 600, 75), 4: (1024, 768, 87), 3: (1024, 768, 60), 2: (1024, 768, 70),
         1: (1024, 768, 75), 0: (1280, 1024, 75)},
}  # fmt: skip


@pytest.mark.parametrize(("at", "bit"), [(at, bit) for at, bits in ESTABLISHED.items() for bit in bits])
def test_established_timings(at: int, bit: int) -> None:
    """E-EDID 1.4, table 3.18."""
    e = bytearray(build(SinkSpec("Test", (parse_timing("vic:16"),))))
    bare = {(t.h_active, t.frame_height, t.nominal_hz) for t in decode(bytes(e)).base.listed}
    e[at] = 1 << bit
    listed = {(t.h_active, t.frame_height, t.nominal_hz) for t in decode(bytes(e)).base.listed}
    assert listed - bare == {ESTABLISHED[at][bit]} - bare


# --- compression ---------------------------------------------------------------------------------


@pytest.mark.parametrize("kib", [4, 6, 7, 9])
def test_a_sinks_store_bounds_what_is_compressed(kib: int) -> None:
    """HDMI 2.1: DSC_TotalChunkKBytes, 1024 × (1 + value) bytes of all slices together (value from memory)."""
    need = demand(DigitalVideo(parse_timing("vic:118"), "444", 10))
    use = dsc_use(need, RATE_48, DscSink(5, kib, all_bpp=True))
    assert use is not None
    width = -(-3840 // use.slices)
    assert use.chunk_bytes == use.slices * -(-width * use.bits_per_pixel_x16 // 128)
    most = 1024 * (1 + kib)
    more = use.slices * -(-width * (use.bits_per_pixel_x16 + 1) // 128)
    assert use.chunk_bytes <= most
    assert more > most or use.bits_per_pixel_x16 == 3 * 10 * 16 - 1


# --- pictures and titles -------------------------------------------------------------------------


def test_a_multiples_figures() -> None:
    """240p of 60.05 Hz sent five times, 30 bits a dot on the wires (HDMI 1.4b); common practice."""
    signal = analogue(typed("5.3693 MHz 341.25 dots 262 lines 256x224").scan)
    told = _figures(signal, multiple(signal, 5, "whole_line"))
    assert (told["line_khz"], told["lines"]) == (78.671, 1310)  # 5.3693 MHz / 341.25 · 5, 262 · 5
    assert (told["vertical_hz"], told["pixel_clock_mhz"], told["tmds_gbps"]) == (60.054, 173.077, 5.192)


@pytest.mark.parametrize(
    ("fps", "held"),
    [(60, (Fraction(50, 3), Fraction(50, 3))), (30, (Fraction(100, 3), Fraction(100, 3))),
     (24, (Fraction(100, 3), Fraction(50))), (40, (Fraction(50, 3), Fraction(100, 3)))],
)  # fmt: skip
def test_how_long_a_frame_stays_at_a_fixed_60_hz(fps: int, held: tuple[Fraction, Fraction]) -> None:
    """24 on 60 is 3:2, 40 on 60 is 2:1: whole refreshes of 16.7 ms (common practice)."""
    assert shown(Fraction(fps), 60, None, repeats=True).hold_ms == held


@pytest.mark.parametrize(
    ("fps", "state"), [(48, "window"), (60, "window"), (120, "window"), (47, "repeated"), (121, "over")]
)
def test_a_window_holds_both_its_ends(fps: int, state: str) -> None:
    assert shown(Fraction(fps), 120, (48, 120), repeats=True).state == state


# --- lag -----------------------------------------------------------------------------------------


def test_a_camera_is_off_by_a_frame_and_its_own_rate() -> None:
    """20 frames at 240/s are 83.333 ms; at 239/s they would be 83.682."""
    exact, drifting = camera(20, 240), camera(20, 240, 1)
    assert (exact.lag_us, exact.uncertainty_us) == (83_333, 4_167)
    assert (drifting.lag_us, drifting.uncertainty_us) == (83_333, 4_515)


def test_a_delay_that_just_does() -> None:
    """150 ms needed and 150 there: the sound is even, nothing is said to stay early."""
    told = lip_sync(Fraction(200_000), Fraction(50_000), "bar", 150)
    assert (told.verdict, told.delay_ms, "stays" in told.words) == ("set", 150, False)


def test_low_lines_between_the_two_are_undecided() -> None:
    field = Fraction(1_000_000, 60)
    progressive = [11_000 + 40 * n for n in range(-6, 6)]
    woven = [44_000 + 40 * n for n in range(-6, 6)]
    between = [28_000 + 40 * n for n in range(-6, 6)]
    alike = [11_000 + 40 * n for n in range(-6, 6)]
    told = {name: low_progressive(progressive, other, low, field)
            for name, other, low in (("between", woven, between), ("alike", alike, progressive))}  # fmt: skip
    assert told["between"] is not None
    assert told["between"].kind == "undecided"
    assert told["alike"] is not None
    assert told["alike"].kind == "no_telling"


# --- choices of ours, each by an example of what it is for ---------------------------------------


def test_what_is_left_of_the_fullest_link() -> None:
    result = run_result(Layer(s08()), s08().runs["main"])
    used = [x.wanted.used_percent for x in result.links if x.wanted.used_percent is not None]
    spare = spare_percent(result)
    assert spare is not None
    assert used
    assert abs(float(spare) + float(max(used)) - 100) < 1e-9


def test_a_setting_before_a_plug_before_two_plugs_before_a_lead() -> None:
    """What can be done from the sofa comes before what needs a hand behind the screen, and that before a shop."""
    two_ways = rig(
        device("console", "kelpine-k1"), device("tv", "yarrowby-50w"), lead("L1", "console/hdmi", "tv/hdmi1"),
        setting("console", "", "fast_refresh", "on"), setting("tv", "hdmi1", "format", "basic"),
        run("main", "console", "tv", mode="3840x2160@60", hdr="static", bits=10),
    )  # fmt: skip
    ways = find_fixes(two_ways, two_ways.runs["main"]).ways
    kinds = [tuple(m.kind for m in w.moves) for w in ways]
    assert kinds[0] == ("setting",)
    assert [w.cost for w in ways] == sorted(w.cost for w in ways)
    costs = {k[0]: w.cost for k, w in zip(kinds, ways, strict=True) if len(k) == 1}
    for cheap, dear in (("setting", "input"), ("input", "swap"), ("swap", "lead"), ("lead", "reroute")):
        assert cheap not in costs or dear not in costs or costs[cheap] < costs[dear]


@pytest.mark.parametrize(("kind", "rate", "vrr"), [("console", "4x10", True), ("console-4k60", "none", False)])
def test_a_console_of_its_class(kind: str, rate: str, vrr: bool) -> None:
    """Only the class that sends 2160p120 has FRL, VRR and the low-latency signal; common practice."""
    video = from_template(kind, {"qhd": "no"}, "Kelpine", "X").video
    told = video.model_dump(mode="json")
    assert (told["frl"], told["vrr"], told["low_latency"]) == (rate, vrr, vrr)
    assert ("3840x2160@120" in told["modes"], "1920x1080@120" in told["modes"]) == (vrr, vrr)


# --- leads, rates and lag: more edges ------------------------------------------------------------


@pytest.mark.parametrize(
    ("grade", "mhz", "gbps"),
    [("standard", Fraction(7425, 100), 0), ("high_speed", 340, 0), ("premium", 600, 0), ("ultra", 600, 48)],
)
def test_what_a_certification_promises(grade: str, mhz: Fraction | int, gbps: int) -> None:
    """HDMI cable categories: 74.25 MHz, 340 MHz, 18 Gb/s (600 MHz), 48 Gb/s."""
    g = GRADES[grade]
    assert g.tmds_hz == mhz * 10**6
    assert (g.frl.total_gbps if g.frl else 0) == gbps


@pytest.mark.parametrize(
    ("rate", "window", "taken"),
    [
        (Fraction(603, 10), None, True), (Fraction(597, 10), None, True), (Fraction(6031, 100), None, None),
        (Fraction(48), (48, 120), True), (Fraction(4799, 100), (48, 120), None), (Fraction(120), (48, 120), True),
        (Fraction(12001, 100), (48, 120), None),
    ],
)  # fmt: skip
def test_a_rate_beside_the_standard_one(rate: Fraction, window: tuple[int, int] | None, taken: bool | None) -> None:
    """CTA-861: half a percent to each side; a window's own ends belong to it (common practice)."""
    assert accepted(rate, Fraction(60), window) is taken


def test_no_window_where_the_source_varies_nothing() -> None:
    """A window at the screen is none for a source that keeps its rate."""
    for source, there in (("kelpine-k1", True), ("brindlo-base", False)):
        r = rig(device("s", source), device("tv", "yarrowby-65s"), lead("L", "s/hdmi", "tv/hdmi3"),
                setting("tv", "hdmi3", "format", "wide"), run("main", "s", "tv", mode="1920x1080@60"))  # fmt: skip
        layer = Layer(r)
        assert (window_of(layer, run_result(layer, r.runs["main"])) is not None) is there


def test_a_field_held_is_one_field() -> None:
    field = Fraction(1_000_000, 60)
    plain = [11_000 + 40 * n for n in range(-6, 6)]
    for later, words in ((16_700, "it holds 1 field to weave"), (33_400, "it holds 2 fields to weave")):
        told = interlaced(plain, [x + later for x in plain], field)
        assert told is not None
        assert words in told.words


@pytest.mark.parametrize(
    ("readings", "verdict", "words"),
    [
        ([39_000], "undecided", "39.0 ms is under 40 ms, but 1 reading is too few to be sure: take six."),
        ([40_000, 40_000], "undecided", "40.0 ms is under 40 ms, but 2 readings are too few to be sure: take six."),
        ([41_000, 41_000], "undecided", "41.0 ms is over 40 ms, but 2 readings are too few to be sure: take six."),
        ([40_000] * 6, "within", "40.0 ms: 0.0 ms under the 40 ms asked of a television."),
        ([40_001] * 6, "over", "40.0 ms: 0.0 ms over the 40 ms asked of a television."),
    ],
)
def test_a_bound_belongs_to_what_is_within_it(readings: list[int], verdict: str, words: str) -> None:
    summary = summarise(readings)
    assert summary is not None
    told = judge(summary, 40, "television")
    assert (told.verdict, told.sentence) == (verdict, words)


def test_a_box_between_holds_up_to_two_frames_where_nothing_is_known() -> None:
    """Lines held are a low-resolution frame’s 262, frames stand at the rate sent, else up to two; common practice."""
    plain = rig(device("s", "tindrel-s2")).devices["s"]
    parts = {"plain": plain}
    for name, held in (("lines", {"holds_lines": 9}), ("frames", {"holds_frames": 1.5})):
        converts = Conversion.model_validate({"rate": "kept", **held})
        parts[name] = replace(plain, profile=plain.profile.model_copy(update={"converts": converts, "claims": ()}))
    told = {name: _between(box, 50) for name, box in parts.items()}
    assert (told["plain"].low_ms, told["plain"].high_ms, told["plain"].kind) == (0, 40, "unknown")
    assert told["lines"].low_ms == told["lines"].high_ms == Fraction(9 * 20, 262)
    assert told["frames"].low_ms == told["frames"].high_ms == 30


@pytest.mark.parametrize(
    ("rate", "mhz", "frl", "protection", "dsc"),
    [("10", 340, "none", "1.4", False), ("18", 600, "none", "2.2", False), ("48", 600, "4x12", "2.3", True)],
)
def test_a_switch_of_its_class(rate: str, mhz: int, frl: str, protection: str, dsc: bool) -> None:
    """HDMI 1.4b, 2.0 and 2.1 boxes by what they pass; common practice."""
    told = from_template("switch", {"rate": rate}, "Tindrel", "X").video.model_dump(mode="json")
    assert (told["tmds_mhz"], told["frl"], told["hdcp"], told["dsc"]) == (mhz, frl, protection, dsc)
    assert told["hdr"] == ([] if rate == "10" else ["static", "hlg"])


def test_a_fact_of_a_multiple_names_its_socket() -> None:
    r = s20()
    for path in ("tried.hdmi1", "tried.nowhere.5", "tried.hdmi1." + "x" * 21):
        with pytest.raises(ChangeError, match="what was tried"):
            apply(r, [{"op": "set_fact", "device": "tv", "path": path, "value": True}])
    with pytest.raises(ChangeError, match="true or false"):
        apply(r, [{"op": "set_fact", "device": "tv", "path": "tried.hdmi1.5", "value": 1}])


@pytest.mark.parametrize(("every", "bits", "x16"), [(True, 10, 479), (True, 8, 383), (False, 10, 192)])
def test_the_most_bits_compression_leaves(every: bool, bits: int, x16: int) -> None:
    """HDMI 2.1: up to a sixteenth under the plain signal's, 12 where the sink does not take all (from memory)."""
    use = dsc_use(demand(DigitalVideo(parse_timing("vic:97"), "444", bits)), RATE_48, DscSink(5, 0, all_bpp=every))
    assert use is not None
    assert use.bits_per_pixel_x16 == x16


def test_no_camera_stands_still() -> None:
    for frames, rate, off in ((1, 0, 0), (0, 240, 0), (1, 240, 240), (1, 240, -1)):
        with pytest.raises(LagError):
            camera(frames, rate, off)


@pytest.mark.parametrize(("byte", "bits", "interface"), [(0xA5, 8, 5), (0xB2, 10, 2), (0x80, None, 0), (0xEF, 16, 15)])
def test_depth_and_interface_share_a_byte(byte: int, bits: int | None, interface: int) -> None:
    """E-EDID 1.4, table 3.11."""
    e = bytearray(build(SinkSpec("Test", (parse_timing("vic:16"),))))
    e[20] = byte
    base = decode(bytes(e)).base
    assert (base.bits, base.interface) == (bits, interface)


def test_a_cell_for_hdr_only_where_hdr_is_wanted() -> None:
    """A screen that stores by range needs its second set of values only for a run that will show HDR."""
    for hdr, ranges in (("off", {"sdr"}), ("static", {"sdr", "hdr"})):
        r = rig(device("s", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("L", "s/hdmi", "tv/hdmi3"),
                run("main", "s", "tv", mode="3840x2160@60", hdr=hdr))  # fmt: skip
        assert {spot.range for spot, _ in spots(Layer(r), "tv")} == ranges


def test_how_many_readings_are_still_needed() -> None:
    """The width falls with the root of n: half the interval over the room left, squared, times what there is."""
    rnd = random.Random(5)
    a = [round(rnd.gauss(11_000, 900)) for _ in range(12)]
    b = [round(rnd.gauss(11_900, 900)) for _ in range(12)]
    told = equivalence(a, b, 1000)
    assert told is not None
    assert told.decision == "undecided"
    low, high = told.difference.ci_low_us, told.difference.ci_high_us
    assert low is not None
    assert high is not None
    room = abs(1000 - abs(float(low + high) / 2))
    need = 12 * (float(high - low) / 2 / room) ** 2
    assert told.more is None or abs(told.more - (need - 12)) <= 2
    assert (told.more is None) == (need - 12 > MOST_MORE)


def test_only_an_output_has_places_to_go() -> None:
    """An input, or a box that is not there, is refused by name."""
    r = s20()
    with pytest.raises(ChangeError, match="no output"):
        rank_places(r, Socket("tv", "hdmi1"))
    with pytest.raises(ChangeError, match="no output"):
        rank_places(r, Socket("nowhere", "hdmi"))


def test_a_standard_timing_of_width_code_0_is_a_fault() -> None:
    """E-EDID 1.4, 3.9: 00 is reserved; 01 is 256 dots."""
    for first, faults in ((0, 1), (1, 0)):
        e = bytearray(build(SinkSpec("Test", (parse_timing("vic:16"),))))
        e[38:40] = bytes((first, 0x40))
        found: list[Finding] = []
        read_base(bytes(e[:128]), found)
        assert sum(f.code == "standard_timing" for f in found) == faults


def test_no_luminance_is_said_where_none_is_known() -> None:
    """CTA-861.3: code 0 of the most luminance is "not stated"."""
    hdr = decode(build(SinkSpec("Test", (parse_timing("vic:16"),), eotf=("sdr", "pq")))).cta
    assert hdr is not None
    assert hdr.hdr is not None
    assert hdr.hdr.max_cd_m2 is None
