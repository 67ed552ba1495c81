"""What an EDID means: modes with what is really allowed, rates, windows, HDR, sound. The interface asks only this."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

from wavilex.core.edid.displayid_timings import HDMI_CODES
from wavilex.core.edid.model import Cta, Edid, Range
from wavilex.core.link.rates import FRL_RATES, NO_FRL, TMDS_MAX_MHZ, TMDS_MIN_HZ, FrlRate
from wavilex.core.video.cta import cta_timing
from wavilex.core.video.cta_table import CTA_ROWS
from wavilex.core.video.timing import Timing

_FRL_BY_CODE = (NO_FRL, *FRL_RATES)
_CLOCK_SLACK = Fraction(1005, 1000)  # a clock may be off by half a percent (CTA-861; value from memory)
SocketKind = Literal["HDMI", "DisplayPort", "DVI", "MDDI", "analogue", "not said"]
_SOCKETS: dict[int, SocketKind] = {1: "DVI", 2: "HDMI", 3: "HDMI", 4: "MDDI", 5: "DisplayPort"}
_FORUM_NEWEST = 6


@dataclass(frozen=True, slots=True)
class Mode:
    """A mode with the depths allowed in each encoding (empty: the encoding is not allowed for it)."""

    timing: Timing
    bits: tuple[tuple[str, tuple[int, ...]], ...]
    native: bool

    @property
    def encodings(self) -> tuple[str, ...]:
        return tuple(e for e, depths in self.bits if depths)


@dataclass(frozen=True)
class Answers:
    """The answers. frl is None without FRL; above code 6 it is the highest step known (`newer_frl`).

    tmds_hz: None where the EDID says nothing of it; exceeded: its own timings need more than it claims, and tmds_hz is
    what they need. socket: the kind of socket it was read at, as far as it says.
    """

    name: str
    native: str | None
    modes: tuple[Mode, ...]
    tmds_hz: int | None
    frl: FrlRate | None
    newer_frl: bool
    vrr: Range | None
    vrr_kinds: tuple[str, ...]
    allm: bool
    hdr_eotf: tuple[str, ...]
    max_cd_m2: float | None
    average_cd_m2: float | None
    min_cd_m2: float | None
    physical_address: str | None
    exceeded: bool
    socket: SocketKind
    dynamic_hdr: bool


def answer(e: Edid) -> Answers:
    """The answer layer. Contradictions are settled here, once: the newer block wins over the older."""
    cta = e.cta
    forum = cta.forum if cta else None
    hdmi = cta.hdmi if cta else None
    claimed_mhz = (forum.tmds_mhz if forum else None) or (hdmi.tmds_mhz if hdmi else None)
    code = forum.frl_code if forum else 0
    modes = _modes(e)
    tmds_hz, exceeded = _believed(claimed_mhz, bool(code), modes)
    native = _native(e, modes)
    name = e.base.name or f"{e.base.maker} {e.base.product:04X}"
    return Answers(
        name=name,
        native=native.mode if native else None,
        modes=modes,
        tmds_hz=tmds_hz,
        frl=_FRL_BY_CODE[min(code, _FORUM_NEWEST)] if code else None,
        newer_frl=code > _FORUM_NEWEST,
        vrr=_window(e),
        vrr_kinds=_window_kinds(e),
        allm=bool(forum and forum.allm),
        hdr_eotf=cta.hdr.eotf if cta and cta.hdr else (),
        max_cd_m2=cta.hdr.max_cd_m2 if cta and cta.hdr else None,
        average_cd_m2=cta.hdr.frame_average_cd_m2 if cta and cta.hdr else None,
        min_cd_m2=cta.hdr.min_cd_m2 if cta and cta.hdr else None,
        physical_address=".".join(map(str, hdmi.physical_address)) if hdmi else None,
        exceeded=exceeded,
        socket=_socket(e),
        dynamic_hdr=bool(cta and cta.dynamic_hdr),
    )


def _believed(claimed_mhz: int | None, frl: bool, modes: tuple[Mode, ...]) -> tuple[int | None, bool]:
    """The TMDS ceiling in Hz, and whether the timings listed for RGB at 8 bits need more than is claimed."""
    if claimed_mhz is None:
        return None, False
    # a block that says less or more says nonsense, which is a finding of its own
    claimed_mhz = min(max(claimed_mhz, TMDS_MIN_HZ // 1_000_000), TMDS_MAX_MHZ)
    whole = (m for m in modes if "rgb" in m.encodings and "420" not in m.encodings)  # 4:2:0 needs half the clock
    needed = max((m.timing.pixel_clock_hz for m in whole), default=0)
    if frl or needed <= claimed_mhz * 1_000_000 * _CLOCK_SLACK:
        return claimed_mhz * 1_000_000, False
    step = 5_000_000  # a block counts in these
    return min(-(-needed // step) * step, TMDS_MAX_MHZ * 1_000_000), claimed_mhz < TMDS_MAX_MHZ


def _socket(e: Edid) -> SocketKind:
    """HDMI by its blocks; else as the base block's byte 20 says (E-EDID 1.4)."""
    if e.cta is not None and (e.cta.hdmi is not None or e.cta.forum is not None):
        return "HDMI"
    if not e.base.digital:
        return "analogue"
    return _SOCKETS.get(e.base.interface, "not said")


def _native(e: Edid, modes: tuple[Mode, ...]) -> Timing | None:
    """The panel's own picture: the preferred timing where a bit says so, or the CTA block counts it among the native
    ones; else what is marked native, unless the preferred one is larger.
    """
    preferred = e.base.detailed[0] if e.base.detailed else None
    if preferred is not None and (e.base.native_first or (e.cta is not None and e.cta.native_detailed)):
        return preferred
    named = [*([preferred] if preferred else []), *(m.timing for m in modes if m.native)]
    marked = max(named[1:] if preferred else named, key=_area, default=None)
    return preferred if marked is None or (preferred and _area(preferred) > _area(marked)) else marked


def _area(t: Timing) -> int:
    return t.h_active * t.frame_height


def _window(e: Edid) -> Range | None:
    """The HDMI window first, then the vendor's, then DisplayID's; at a DisplayPort socket, then, that of the range
    limits.

    An unstated upper end is the fastest mode's. Whether such a screen varies at all its EDID does not say.
    """
    forum = e.cta.forum if e.cta else None
    if forum and forum.vrr_min_hz:
        return Range("hdmi", forum.vrr_min_hz, forum.vrr_max_hz)
    said = (e.cta.vendor_vrr if e.cta else None) or e.displayid_range
    limits = e.displayid_v_hz or (e.base.range_v_hz if e.base.continuous else None)
    if said is None and _socket(e) == "DisplayPort" and limits is not None:
        return Range("limits", *limits) if 0 < limits[0] < limits[1] else None
    return said


def _window_kinds(e: Edid) -> tuple[str, ...]:
    """Whose variable refresh an EDID offers: HDMI's, and any vendor's or VESA's adaptive sync."""
    if _socket(e) == "DisplayPort":
        return ("dp",) if _window(e) is not None else ()
    hdmi = bool(e.cta and e.cta.forum and e.cta.forum.vrr_min_hz)
    vendor = bool((e.cta and e.cta.vendor_vrr) or e.displayid_range)
    return (*(("hdmi",) if hdmi else ()), *(("vendor",) if vendor else ()))


def _modes(e: Edid) -> tuple[Mode, ...]:
    cta = e.cta
    both, only = _codes_420(cta)
    listed: dict[tuple[int, ...], tuple[Timing, bool]] = {}

    def add(timing: Timing, native: bool = False) -> None:
        key = _key(timing)
        if key not in listed:
            listed[key] = (timing, native)
        elif native or (timing.code and not listed[key][0].code):
            listed[key] = (timing if timing.code else listed[key][0], native or listed[key][1])

    for vic, native in cta.vics if cta else ():
        if vic in CTA_ROWS:
            add(cta_timing(vic), native)
    for vic in sorted(only):
        if vic in CTA_ROWS:
            add(cta_timing(vic))
    if cta and cta.hdmi:
        for number in cta.hdmi.hdmi_vics:
            add(cta_timing(HDMI_CODES[number]))
    in_cta = (*cta.detailed, *cta.formats) if cta else ()
    for timing in (*e.base.detailed, *in_cta, *e.displayid_timings, *e.base.listed):
        add(timing)
    return tuple(Mode(t, _depths(e, t, both, only), native) for t, native in listed.values())


def _key(t: Timing) -> tuple[int, ...]:
    """Two descriptions of one timing: same raster and totals, clocks within the 1/1001 pair told apart."""
    return (t.h_active, t.v_active, t.h_total, int(t.v_total * 2), int(t.interlaced), t.pixel_clock_hz // 10_000)


def _codes_420(cta: Cta | None) -> tuple[set[int], set[int]]:
    """Codes allowed in 4:2:0 as well (capability map over the video block's order), and only so."""
    if cta is None:
        return set(), set()
    only = set(cta.vics_420_only)
    if cta.map_420 is None:
        return set(), only
    vics = [v for v, _ in cta.vics]
    if not cta.map_420:  # an empty map: every code of the video block
        return set(vics), only
    return {v for n, v in enumerate(vics) if n // 8 < len(cta.map_420) and cta.map_420[n // 8] >> n % 8 & 1}, only


def _depths(e: Edid, t: Timing, both: set[int], only: set[int]) -> tuple[tuple[str, tuple[int, ...]], ...]:
    """Depths by encoding that the sink declares for a timing, those over its highest link rates left in.

    Whether a link carries them is the link's question; what the sink never declares is left out.
    """
    cta = e.cta
    if _socket(e) in ("DisplayPort", "DVI"):
        return _depths_of_base(e)
    forum, hdmi = (cta.forum, cta.hdmi) if cta else (None, None)
    vic = int(t.code[4:].split("@")[0]) if t.code.startswith("vic:") else 0
    deep = (8, *(hdmi.deep_bits if hdmi else ()))
    d444 = deep if hdmi and hdmi.deep_444 else (8,)
    full = vic not in only
    out = [("rgb", deep if full else ())]
    out.append(("444", d444 if full and cta and cta.yuv444 else ()))
    out.append(("422", (8, 10, 12) if full and cta and cta.yuv422 else ()))
    allowed = vic in both or vic in only or bool(cta and t.code in cta.formats_420)
    out.append(("420", (8, *(forum.bits_420 if forum else ())) if allowed else ()))
    return tuple(out)


def _depths_of_base(e: Edid) -> tuple[tuple[str, tuple[int, ...]], ...]:
    """At a DisplayPort socket depth is the base block's, the encodings what it or the CTA block says; DVI is RGB."""
    if _socket(e) == "DVI":
        return (("rgb", (8,)), ("444", ()), ("422", ()), ("420", ()))
    depths = tuple(b for b in (8, 10, 12, 16) if b <= (e.base.bits or 8))
    yuv444 = e.base.yuv444 or bool(e.cta and e.cta.yuv444)
    yuv422 = e.base.yuv422 or bool(e.cta and e.cta.yuv422)
    capped = tuple(b for b in depths if b <= 12)
    return (("rgb", depths), ("444", depths if yuv444 else ()), ("422", capped if yuv422 else ()), ("420", ()))


def answers_data(e: Edid) -> dict[str, Any]:
    """The fields of `wavilex edid decode --json`."""
    a = answer(e)
    cta = e.cta
    return {
        "ok": e.ok,
        "findings": [{"code": f.code, "where": f.where, "severity": f.severity, "text": f.text} for f in e.findings],
        "name": a.name,
        "native": a.native,
        "modes": [
            {
                **m.timing.as_dict(),
                "code": m.timing.code or None,
                "native": m.native,
                "encodings": list(m.encodings),
                "bits": {encoding: list(depths) for encoding, depths in m.bits if depths},
            }
            for m in a.modes
        ],
        "max_tmds_character_rate_hz": a.tmds_hz,
        "max_frl": a.frl.code if a.frl else None,
        "newer_than_48": a.newer_frl,
        "tmds_contradiction": a.exceeded,
        "socket": a.socket,
        "vrr": {"min_hz": a.vrr.min_hz, "max_hz": a.vrr.max_hz, "kind": a.vrr.kind} if a.vrr else None,
        "allm": a.allm,
        "hdr": {
            "eotf": list(a.hdr_eotf),
            "dynamic": a.dynamic_hdr,
            "max_cd_m2": _round(a.max_cd_m2),
            "min_cd_m2": _round(a.min_cd_m2),
        },
        "audio": [
            {"format": x.format, "channels": x.channels, "rates_hz": list(x.rates_hz), "detail": list(x.detail)}
            for x in (cta.audio if cta else ())
        ],
        "physical_address": a.physical_address,
    }


def _round(value: float | None) -> float | None:
    return None if value is None else round(value, 4)
