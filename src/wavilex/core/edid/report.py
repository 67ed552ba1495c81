"""All of an EDID that matters to a technician, in words, section by section.

Sources: VESA E-EDID 1.4, CTA-861-I (speaker allocation, colorimetry, video capability), HDMI 1.4b and 2.1, CTA-861.3;
values from memory of the documents, tests hold them against the reference program edid-decode.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from typing import Any

from typing_extensions import TypedDict

from wavilex.core.edid.answers import Answers, answer, answers_data
from wavilex.core.edid.model import Audio, Base, Cta, Edid, ForumBlock, HdmiBlock
from wavilex.core.link.dsc import SLICE_CODES
from wavilex.core.link.rates import FRL_RATES, ceiling_text
from wavilex.core.video.timing import Timing

SPEAKERS = (
    "front left and right", "low frequency", "front centre", "back left and right", "back centre",
    "front left and right of centre", "rear left and right of centre", "front left and right wide",
    "top front left and right", "top centre", "top front centre", "left and right surround", "second low frequency",
    "top back centre", "side left and right", "top side left and right", "top back left and right",
    "bottom front centre", "bottom front left and right", "top left and right surround",
)  # fmt: skip
COLORIMETRY = (
    "xvYCC 601", "xvYCC 709", "sYCC 601", "opYCC 601", "opRGB", "BT.2020 constant luminance", "BT.2020 YCC",
    "BT.2020 RGB",
)  # fmt: skip
_LATE_COLORIMETRY = {15: "DCI-P3", 14: "ICtCp"}  # bits of the second byte
AUDIO_NAMES = {
    "lpcm": "PCM", "ac3": "AC-3", "eac3": "E-AC-3", "mpeg1": "MPEG-1", "mp3": "MPEG-1 layer 3", "mpeg2": "MPEG-2",
    "aac": "AAC", "one_bit": "one-bit audio", "dst": "DST", "code 7": "lossy 5.1 (code 7)",
    "code 11": "lossy or lossless (code 11)", "code 12": "lossless bitstream (code 12)",
}  # fmt: skip
_EOTF_NAMES = {"sdr": "standard range", "traditional": "traditional HDR", "pq": "static HDR (PQ)", "hlg": "HLG"}
_QUICK = 2  # latency of so many ms or less is none to speak of
_INCH_CM = Fraction(254, 100)
_VARIABLE = {
    "hdmi": "HDMI VRR",
    "vendor": "a vendor’s adaptive sync",
    "displayid": "VESA adaptive sync",
    "limits": "its range limits, if it varies at all",
}


class ReportRow(TypedDict):
    """note: what it means on site, "" where that is plain."""

    name: str
    value: str
    note: str


class ReportSection(TypedDict):
    title: str
    rows: list[ReportRow]


def edid_report(e: Edid) -> list[ReportSection]:
    """Sections of rows; what an EDID does not say is left out, but where its silence matters."""
    a = answer(e)
    sections: list[tuple[str, Iterable[ReportRow]]] = [
        ("Screen", _screen(e, a)), ("Picture", _picture(e, a)), ("Link", _link(e, a)), ("Motion", _motion(e, a)),
        ("Light and colour", _colour(e)), ("Sound", _sound(e)),
    ]  # fmt: skip
    told = ((title, list(rows)) for title, rows in sections)
    return [{"title": title, "rows": rows} for title, rows in told if rows]


def edid_data(e: Edid) -> dict[str, Any]:
    """The fields of `wavilex edid decode --json`: what it means, and the report in words."""
    return {**answers_data(e), "report": edid_report(e)}


def _row(name: str, value: str, note: str = "") -> ReportRow:
    return {"name": name, "value": value, "note": note}


def timing_words(t: Timing) -> str:
    """`3840×2160 at 60 Hz (vic:97)`, `1920×1080i at 50 Hz`."""
    rate = f"{float(t.refresh):.2f}".rstrip("0").rstrip(".")
    code = f" ({t.code})" if t.code else ""
    return f"{t.h_active}×{t.frame_height}{'i' if t.interlaced else ''} at {rate} Hz{code}"


def _screen(e: Edid, a: Answers) -> Iterator[ReportRow]:
    b = e.base
    yield _row("name", a.name)
    if b.serial_text or b.serial:
        yield _row("serial number", b.serial_text or str(b.serial))
    yield _row("made", _made(b))
    if b.width_cm and b.height_cm:
        across = round((b.width_cm**2 + b.height_cm**2) ** 0.5 / float(_INCH_CM))
        yield _row("size", f"{b.width_cm} × {b.height_cm} cm, about {across} inches across")
    yield _row("read at a socket", a.socket)
    if a.physical_address:
        yield _row("device-control address", a.physical_address)
    if e.tiles is not None:
        t = e.tiles
        yield _row("tiles", f"{t.across} × {t.down}, each {t.width}×{t.height}", "one of several sockets it needs")


_MODEL_YEAR = 255  # of the week: no week, the year of the model
_WEEKS = 54


def _made(b: Base) -> str:
    if b.week == _MODEL_YEAR:
        return f"model year {b.year}"
    return f"week {b.week} of {b.year}" if 0 < b.week <= _WEEKS else str(b.year)


def _picture(e: Edid, a: Answers) -> Iterator[ReportRow]:
    b = e.base
    if b.detailed:
        first = "its native picture" if b.native_first else "what a PC sends first"
        yield _row("preferred timing", timing_words(b.detailed[0]), first)
    if a.native:
        yield _row("native picture", a.native.replace("x", "×"))
    if b.range_v_hz and b.range_h_khz:
        clock = f", to {b.range_clock_mhz} MHz" if b.range_clock_mhz else ""
        rates = f"{b.range_v_hz[0]} to {b.range_v_hz[1]} Hz, {b.range_h_khz[0]} to {b.range_h_khz[1]} kHz{clock}"
        yield _row("range limits", rates)
    if e.displayid_v_hz:
        yield _row("range limits, DisplayID", f"{e.displayid_v_hz[0]} to {e.displayid_v_hz[1]} Hz")
    if e.cta is not None:
        chroma = [name for name, has in (("4:4:4", e.cta.yuv444), ("4:2:2", e.cta.yuv422)) if has]
        yield _row("takes", ", ".join(["RGB", *chroma]), "" if chroma else "RGB alone")
        if e.cta.underscan:
            yield _row("overscan", "shows PC timings whole")
    weave = sum(m.timing.interlaced for m in a.modes)
    yield _row("timings listed", f"{len(a.modes)}" + (f", {weave} of them interlaced" if weave else ""))


def _link(e: Edid, a: Answers) -> Iterator[ReportRow]:
    hdmi, forum = (e.cta.hdmi, e.cta.forum) if e.cta else (None, None)
    if a.socket != "HDMI":
        return
    tmds = ceiling_text(a.tmds_hz, None) if a.tmds_hz else "not said"
    note = "its own timings need more than it claims: the larger is believed" if a.exceeded else ""
    yield _row("TMDS", tmds, note)
    newer = "newer than 48 Gb/s, " if a.newer_frl else ""
    yield _row("FRL", newer + (ceiling_text(None, a.frl) if a.frl else "none"))
    if hdmi is not None and hdmi.deep_bits:
        also = "" if hdmi.deep_444 else ", RGB alone"
        yield _row("deep colour", f"{', '.join(map(str, hdmi.deep_bits))} bits{also}")
    if forum is not None and forum.bits_420:
        yield _row("deep colour in 4:2:0", f"{', '.join(map(str, forum.bits_420))} bits")
    if forum is not None:
        yield _row("control channel (SCDC)", "yes" if forum.scdc else "no", "" if forum.scdc else "340 MHz at most")
        yield _row("compression it decodes", _compression(forum))
    if hdmi is not None:
        yield from _latencies(hdmi)


def _compression(forum: ForumBlock) -> str:
    slices, mhz = SLICE_CODES.get(forum.dsc_slice_code, (0, 0))
    if not forum.dsc or not slices:
        return "none"
    frl = FRL_RATES[forum.dsc_frl_code - 1] if 0 < forum.dsc_frl_code <= len(FRL_RATES) else None
    rate = f", to {ceiling_text(None, frl)}" if frl else ""
    most = f", {1024 * (1 + forum.dsc_chunk_kib)} bytes a line" if forum.dsc_chunk_kib else ""
    return f"{slices} slices of {mhz} MHz, {', '.join(map(str, (8, *forum.dsc_bits)))} bits{rate}{most}"


def _latencies(hdmi: HdmiBlock) -> Iterator[ReportRow]:
    """What the screen claims of itself, its sound's delay set by it."""
    for name, ms in (
        ("claimed picture latency", hdmi.video_latency_ms), ("claimed sound latency", hdmi.audio_latency_ms),
        ("of an interlaced picture", hdmi.interlaced_video_latency_ms),
        ("of its sound", hdmi.interlaced_audio_latency_ms),
    ):  # fmt: skip
        if ms is not None:
            yield _row(name, f"{ms} ms", "a claim: measure it" if ms > _QUICK else "a claim, seldom true: measure it")


def _motion(e: Edid, a: Answers) -> Iterator[ReportRow]:
    forum = e.cta.forum if e.cta else None
    if a.vrr is not None:
        top = f"to {a.vrr.max_hz} Hz" if a.vrr.max_hz else "to its fastest mode’s rate"
        yield _row("variable refresh", f"{a.vrr.min_hz} Hz {top}, by {_VARIABLE[a.vrr.kind]}")
    else:
        yield _row("variable refresh", "none said", "a setting of the screen may hide it")
    for name, has in (
        ("automatic low latency", a.allm), ("quick media switching", bool(forum and forum.qms)),
        ("fast vertical active", bool(forum and forum.fva)),
    ):  # fmt: skip
        yield _row(name, "yes" if has else "none said")


def _colour(e: Edid) -> Iterator[ReportRow]:
    cta = e.cta
    if cta is None:
        return
    if cta.hdr is not None:
        kinds = [_EOTF_NAMES[x] for x in cta.hdr.eotf]
        yield _row("HDR", ", ".join([*kinds, *(["dynamic metadata"] if cta.dynamic_hdr else [])]) or "none")
        for name, value in (
            ("brightest", cta.hdr.max_cd_m2), ("brightest on average of a frame", cta.hdr.frame_average_cd_m2),
            ("darkest", cta.hdr.min_cd_m2),
        ):  # fmt: skip
            if value is not None:
                yield _row(name, f"{value:.4g} cd/m²", "what it asks of pictures, a claim")
    else:
        yield _row("HDR", "dynamic metadata" if cta.dynamic_hdr else "none said", "the input’s format may hide it")
    if cta.colorimetry is not None:
        yield _row("colorimetry", ", ".join(colorimetry_words(cta.colorimetry)) or "BT.709 alone")
    yield from _quantisation(cta)


def colorimetry_words(bits: int) -> list[str]:
    """Names of the colour spaces a colorimetry block lists; bits: its two bytes, the first lowest."""
    late = [name for bit, name in _LATE_COLORIMETRY.items() if bits >> bit & 1]
    return [name for bit, name in enumerate(COLORIMETRY) if bits >> bit & 1] + late


def _quantisation(cta: Cta) -> Iterator[ReportRow]:
    """Which end decides between limited and full levels; a mismatch crushes or greys black."""
    said = cta.video_capability
    rgb, ycc = bool(said and said & 0x40), bool(said and said & 0x80)
    if rgb:
        yield _row("RGB levels", "limited or full, as the source says", "leave both ends at automatic")
    else:
        yield _row(
            "RGB levels", "not selectable", "limited for television timings, full for PC ones: a source that sends "
            "otherwise crushes or greys black",
        )  # fmt: skip
    if ycc:
        yield _row("YCC levels", "limited or full, as the source says")


def _sound(e: Edid) -> Iterator[ReportRow]:
    cta = e.cta
    if cta is None:
        return
    for x in cta.audio:
        yield _row(AUDIO_NAMES.get(x.format, x.format), audio_words(x))
    if not cta.audio:
        yield _row("formats", "2-channel PCM alone" if cta.basic_audio else "none")
    if cta.speakers is not None:
        yield _row("speakers", ", ".join(speaker_words(cta.speakers)) or "none said")


def audio_words(x: Audio) -> str:
    """`8 channels, to 192 kHz, 16, 20 or 24 bits`."""
    words = [f"{x.channels} channel{'s' if x.channels > 1 else ''}"]
    if x.rates_hz:
        words.append(f"to {max(x.rates_hz) / 1000:g} kHz")
    if x.format == "lpcm" and x.detail:
        words.append(f"{' or '.join(map(str, x.detail))} bits")
    return ", ".join(words)


def speaker_words(bits: int) -> list[str]:
    """Names of the speakers a speaker allocation block lists; bits: its three bytes, the first lowest."""
    return [name for bit, name in enumerate(SPEAKERS) if bits >> bit & 1]
