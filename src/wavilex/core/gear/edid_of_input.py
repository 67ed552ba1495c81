"""The EDID a source will read at a screen's input, from its profile in its present settings."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from wavilex.core.edid.build import STEREO, SinkSpec
from wavilex.core.edid.model import EdidError, ForumBlock, HdmiBlock
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.state import ANY, PortState, SettingOf, resolve
from wavilex.core.link.dsc import DscSink
from wavilex.core.link.rates import FRL_RATES, NO_FRL
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.timing import Timing

_HDR_EOTF = {"static": "pq", "hlg": "hlg", "dynamic": "pq"}
_OLD_CEILING_MHZ = 340


def factory_settings(profile: Profile, chosen: Mapping[str, str] | None = None) -> SettingOf:
    """Settings as they leave the factory, with some chosen otherwise (by setting id)."""
    wanted = chosen or {}
    defaults = {s.id: s.default for s in profile.settings}
    return lambda _scope, key: wanted.get(key, defaults.get(key))


def spec_of_input(profile: Profile, port_id: str, setting_of: SettingOf) -> SinkSpec:
    """What the input would say. Raises EdidError when the profile does not know enough to say it."""
    port = profile.port(port_id)
    inputs = [p for p in profile.inputs() if p.digital]
    if port is None or port not in inputs:
        names = ", ".join(p.id for p in inputs)
        raise EdidError(f"{profile.name} has no input {port_id!r}; one of {names}", where="--input")
    state = resolve(profile, {}, setting_of)[port_id]
    if state.modes is None or state.modes == ANY or (state.tmds_hz is None and state.dp is None) or not state.encodings:
        raise EdidError(f"the profile of {profile.name} does not say the modes, rate and depths of {port_id}")
    if port.kind != "hdmi":
        return _plain_spec(profile, state)
    assert state.tmds_hz is not None
    number = [p for p in inputs if p.kind == "hdmi"].index(port) + 1
    rgb = state.encodings["rgb"]
    deep = tuple(b for b in rgb if b > 8)
    yuv444 = bool(state.encodings["444"])
    listed_420 = state.modes if state.modes_420 == ANY else state.modes_420 or ()
    vics_420 = [listed_timing(m).code for m in listed_420]
    known = [t for t in map(listed_timing, state.modes) if _carried(state, t, t.code in vics_420)]
    if not known:
        raise EdidError(f"the profile of {profile.name} lists no mode that {port_id} carries as set")
    return SinkSpec(
        name=profile.model[:13],
        timings=tuple(known),
        vics_420=tuple(int(c[4:]) for c in vics_420 if c.startswith("vic:")) if state.encodings["420"] else (),
        yuv444=yuv444,
        yuv422=bool(state.encodings["422"]),
        hdmi=HdmiBlock(
            (min(number, 15), 0, 0, 0), deep, bool(deep) and yuv444,
            tmds_mhz=min(state.tmds_hz // 1_000_000, _OLD_CEILING_MHZ) // 5 * 5,
        ),
        forum=_forum(state),
        eotf=tuple(dict.fromkeys(["sdr", *(_HDR_EOTF[h] for h in state.hdr)])) if state.hdr else (),
    )  # fmt: skip


def _plain_spec(profile: Profile, state: PortState) -> SinkSpec:
    """Of a DisplayPort, USB-C or DVI socket: no word of HDMI, depth in the base block, a window by DisplayID.

    What its lanes carry an EDID does not say: a source learns that from the socket itself.
    """
    encodings = state.encodings or {}
    dvi = state.port.kind == "dvi"
    ceiling = (state.tmds_hz or 0) * (state.port.links or 1)
    timings = [t for t in map(listed_timing, state.modes or ()) if not dvi or t.pixel_clock_hz <= ceiling]
    if not timings:
        raise EdidError(f"the profile of {profile.name} lists no mode that {state.port.id} carries as set")
    return SinkSpec(
        name=profile.model[:13],
        timings=tuple(timings),
        yuv444=bool(encodings.get("444")),
        yuv422=bool(encodings.get("422")),
        eotf=tuple(dict.fromkeys(["sdr", *(_HDR_EOTF[h] for h in state.hdr)])) if state.hdr else (),
        audio=() if dvi else (STEREO,),
        socket="dvi" if dvi else "dp",
        bits=max(encodings.get("rgb", (8,)), default=8),
        window=state.vrr if isinstance(state.vrr, tuple) else None,
    )


def _carried(state: PortState, t: Timing, in_420: bool) -> bool:
    """Does the input carry a timing at all as set: by FRL, by TMDS, in 4:2:0 at half the clock? What it cannot is left
    out: an EDID does not contradict itself.
    """
    if state.frl not in (None, NO_FRL):
        return True
    return t.pixel_clock_hz <= (state.tmds_hz or 0) * (2 if in_420 else 1)


def _forum(state: PortState) -> ForumBlock | None:
    """The newer block when the input has anything to say in it."""
    mhz = (state.tmds_hz or 0) // 1_000_000
    newer = mhz > _OLD_CEILING_MHZ
    frl = state.frl if state.frl is not None else NO_FRL
    code = ((NO_FRL, *FRL_RATES).index(frl)) if frl in (NO_FRL, *FRL_RATES) else 0
    hdmi = state.vrr_kinds is None or "hdmi" in state.vrr_kinds
    window = state.vrr if isinstance(state.vrr, tuple) and hdmi else None
    bits_420 = tuple(b for b in (state.encodings or {}).get("420", ()) if b > 8) if state.modes_420 else ()
    if not (newer or window or state.low_latency or bits_420):
        return None
    return ForumBlock(
        tmds_mhz=mhz // 5 * 5 if newer else None,
        scdc=newer,
        read_request=False,
        frl_code=min(code, 6),
        bits_420=bits_420,
        allm=bool(state.low_latency),
        vrr_min_hz=min(window[0], 48) if window else None,
        vrr_max_hz=window[1] if window and window[1] >= 100 else None,
        **_compression(state, code),
    )


def _compression(state: PortState, frl_code: int) -> dict[str, Any]:
    """The block's compression fields, none when the input decodes nothing."""
    if not isinstance(state.dsc, DscSink) or not frl_code:
        return {}
    own = (NO_FRL, *FRL_RATES).index(state.dsc.frl) if state.dsc.frl else frl_code
    return {
        "dsc": True, "dsc_all_bpp": state.dsc.all_bpp, "dsc_bits": tuple(b for b in state.dsc.bits if b > 8),
        "dsc_frl_code": min(own, frl_code, 6), "dsc_slice_code": state.dsc.slice_code,
        "dsc_chunk_kib": state.dsc.chunk_kib,
    }  # fmt: skip
