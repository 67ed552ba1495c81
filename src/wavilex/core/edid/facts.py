"""What an EDID teaches about an input: values for the fields of its profile."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from wavilex.core.edid.answers import Mode, answer
from wavilex.core.edid.model import Edid
from wavilex.core.errors import TimingError
from wavilex.core.link.dsc import SLICE_CODES
from wavilex.core.link.rates import FRL_RATES, NO_SCRAMBLING_HZ
from wavilex.core.video.cvt import KINDS, cvt_timing
from wavilex.core.video.timing import Timing


def facts_of(e: Edid) -> dict[str, Any]:
    """Values for a port's fields (those of a profile's `video`), by field name; only what this EDID can say.

    Read at a DisplayPort socket it says nothing of TMDS, nor of lanes: those a socket tells otherwise. Of
    dynamic HDR only that it is there, not that it is not.
    """
    a = answer(e)
    modes = list(a.modes)
    fastest = max((m.timing.nominal_hz for m in modes if not m.timing.interlaced), default=60)
    high = (a.vrr.max_hz or fastest) if a.vrr else 0
    window = [a.vrr.min_hz, high] if a.vrr and high > a.vrr.min_hz else None
    out: dict[str, Any] = {"modes": [address_of(m.timing) for m in modes]}
    if a.socket not in ("HDMI", "DisplayPort"):
        return out | ({"vrr": window, "vrr_kinds": list(a.vrr_kinds)} if window else {})
    kinds = [kind for kind, eotf in (("static", "pq"), ("hlg", "hlg")) if eotf in a.hdr_eotf]
    if a.socket == "DisplayPort":  # lanes, their rate and compression are told by the socket, not by its EDID
        deep = {"encodings": {e_: sorted(_depths(modes, e_)) for e_ in ("rgb", "444", "422") if _depths(modes, e_)}}
        return out | deep | {"hdr": list(kinds), "vrr": window or False, "low_latency": False}
    return {
        **({"tmds_mhz": a.tmds_hz // 1_000_000} if a.tmds_hz else {}),
        "frl": a.frl.code if a.frl else "none",
        **out,
        "modes_420": [m.timing.code for m in modes if "420" in m.encodings],
        "encodings": {e_: sorted(_depths(modes, e_)) for e_ in ("rgb", "444", "422", "420") if _depths(modes, e_)},
        "hdr": [*kinds, *(["dynamic"] if a.dynamic_hdr else [])],
        "vrr": window or False,
        **({"vrr_kinds": list(a.vrr_kinds)} if a.vrr_kinds else {}),
        "low_latency": a.allm,
        "dsc": _compression(e),
        **({"scdc": False} if a.tmds_hz and a.tmds_hz > NO_SCRAMBLING_HZ and not _has_scdc(e) else {}),
    }


def doubtful(e: Edid) -> frozenset[str]:
    """Fields that are taught as a guess: the EDID contradicts itself (the larger figure is taken), or it states a range
    without saying that the screen varies in it.
    """
    a = answer(e)
    return frozenset(
        name for name, so in (("tmds_mhz", a.exceeded), ("vrr", a.vrr is not None and a.vrr.kind == "limits")) if so
    )


def _has_scdc(e: Edid) -> bool:
    return e.cta is not None and e.cta.forum is not None and e.cta.forum.scdc


def _compression(e: Edid) -> dict[str, Any] | bool:
    """What the input decodes, in a profile's form; False when it decodes nothing."""
    f = e.cta.forum if e.cta else None
    slices, slice_mhz = SLICE_CODES.get(f.dsc_slice_code if f else 0, (0, 0))
    if f is None or not f.dsc or not slices or not 0 < f.dsc_frl_code <= len(FRL_RATES):
        return False
    return {
        "frl": FRL_RATES[f.dsc_frl_code - 1].code, "slices": slices, "slice_mhz": slice_mhz,
        "chunk_kib": f.dsc_chunk_kib, "all_bpp": f.dsc_all_bpp, "bits": [8, *f.dsc_bits],
    }  # fmt: skip


def _depths(modes: list[Mode], encoding: str) -> set[int]:
    return {b for m in modes for e, depths in m.bits if e == encoding for b in depths}


def address_of(t: Timing) -> str:
    """How a timing is addressed: its code, the CVT that gives it (clocks to 10 kHz), else a modeline."""
    if t.code:
        return t.code
    for kind in KINDS:
        try:
            guess = cvt_timing(t.h_active, t.frame_height, Fraction(t.nominal_hz), kind)
        except TimingError:
            continue
        same = (guess.h_total, guess.v_total, guess.h_front, guess.v_front) == (
            t.h_total,
            t.v_total,
            t.h_front,
            t.v_front,
        )
        if same and abs(guess.pixel_clock_hz - t.pixel_clock_hz) <= 10_000:
            return guess.code
    return f"modeline:{t.modeline}"
