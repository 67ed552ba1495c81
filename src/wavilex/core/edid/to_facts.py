"""What an EDID teaches about an input, as facts over its profile; and what no EDID can tell."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from wavilex.core.chain.rig import Rig, Socket
from wavilex.core.edid.answers import Mode, answer
from wavilex.core.edid.model import Edid
from wavilex.core.errors import ChangeError, TimingError
from wavilex.core.gear.ports import Dsc, Port
from wavilex.core.gear.profile import Profile
from wavilex.core.link.dsc import SLICE_CODES
from wavilex.core.link.rates import FRL_RATES, NO_SCRAMBLING_HZ
from wavilex.core.video.cvt import KINDS, cvt_timing
from wavilex.core.video.timing import Timing

CANNOT_TELL = (
    "how long the screen takes to show a picture (measure it)",
    "what its menus call things",
    "which of its settings were on when this was read: another format may say otherwise",
)
_NAMES = {
    "tmds_mhz": "TMDS ceiling, MHz",
    "frl": "FRL",
    "modes": "modes",
    "modes_420": "modes in 4:2:0",
    "encodings": "depths by encoding",
    "hdr": "HDR",
    "vrr": "variable refresh, Hz",
    "vrr_kinds": "kind of variable refresh",
    "low_latency": "automatic low latency",
    "dsc": "compression it decodes",
    "scdc": "control channel for scrambling",
}


def facts_of(e: Edid) -> dict[str, Any]:
    """Values for a port's fields (those of a profile's `video`), by field name."""
    a = answer(e)
    modes = [m for m in a.modes if not m.timing.interlaced]
    fastest = max((m.timing.nominal_hz for m in modes), default=60)
    high = (a.vrr.max_hz or fastest) if a.vrr else 0
    return {
        "tmds_mhz": a.tmds_hz // 1_000_000,
        "frl": a.frl.code if a.frl else "none",
        "modes": [address_of(m.timing) for m in modes],
        "modes_420": [m.timing.code for m in modes if "420" in m.encodings],
        "encodings": {e_: sorted(_depths(modes, e_)) for e_ in ("rgb", "444", "422", "420") if _depths(modes, e_)},
        "hdr": [kind for kind, eotf in (("static", "pq"), ("hlg", "hlg")) if eotf in a.hdr_eotf],
        "vrr": [a.vrr.min_hz, high] if a.vrr and high > a.vrr.min_hz else False,
        **({"vrr_kinds": list(a.vrr_kinds)} if a.vrr_kinds else {}),
        "low_latency": a.allm,
        "dsc": _compression(e),
        **({"scdc": False} if a.tmds_hz > NO_SCRAMBLING_HZ and not _has_scdc(e) else {}),
    }


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


def teach(rig: Rig, device_uid: str, port_id: str, e: Edid) -> dict[str, Any]:
    """What reading this EDID at an input would change: rows to show, ops to apply. Raises ChangeError."""
    device = rig.devices.get(device_uid)
    port = device.profile.port(port_id) if device else None
    if device is None or port is None or port.direction != "in":
        raise ChangeError("an EDID is read at an input of a box of this job")
    rows, ops = [], []
    for name, after in facts_of(e).items():
        before = _now(rig, Socket(device_uid, port_id), port, name)
        if before == after:
            continue
        rows.append({"field": _NAMES[name], "before": _words(before), "after": _words(after)})
        path = f"ports.{port_id}.{name}"
        ops.append(
            {"op": "set_fact", "device": device_uid, "path": path, "value": after, "provenance": "measured_here"}
        )
    return {
        "name": answer(e).name,
        "findings": [f"{f.severity}: {f.where}: {f.text}" for f in e.findings],
        "rows": rows,
        "ops": ops,
        "cannot_tell": list(CANNOT_TELL),
        "says_input": _addressed_input(device.profile, e),
    }


def _addressed_input(profile: Profile, e: Edid) -> str | None:
    """The input its physical address names: n.0.0.0 is a display's n-th (HDMI 1.4b)."""
    address = e.cta.hdmi.physical_address if e.cta and e.cta.hdmi else (0, 0, 0, 0)
    inputs = profile.inputs()
    return inputs[address[0] - 1].id if not any(address[1:]) and 0 < address[0] <= len(inputs) else None


def _now(rig: Rig, socket: Socket, port: Port, name: str) -> Any:
    """The field as the profile or an earlier fact has it, in the form facts are written."""
    fact = rig.facts.get((socket.device, f"ports.{socket.port}.{name}"))
    if fact is not None:
        return _plain(fact.value)
    value = getattr(port.video, name)
    if value is None:
        value = getattr(rig.devices[socket.device].profile.video, name)
    if isinstance(value, Dsc):
        return {**value.model_dump(mode="json"), "frl": value.frl or _now(rig, socket, port, "frl")}
    if name == "encodings" and value is not None:
        return {e: list(value.depths(e)) for e in ("rgb", "444", "422", "420") if value.depths(e)}
    return _plain(value)


def _plain(value: Any) -> Any:
    return [_plain(v) for v in value] if isinstance(value, (list, tuple)) else value


def _words(value: Any) -> str:
    if value is None:
        return "not known"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        return "; ".join(f"{k} {_words(v)}" for k, v in value.items()) or "none"
    if isinstance(value, list):
        return ", ".join(map(str, value)) or "none"
    return str(value)
