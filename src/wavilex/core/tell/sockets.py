"""What a socket carries, as people say it."""

from __future__ import annotations

from wavilex.core.gear.state import PortState
from wavilex.core.link.rates import TMDS_BITS_PER_CHARACTER, ceiling_text


def socket_ceiling(state: PortState) -> str:
    """`40 Gb/s (4 × 10)`, `25.92 Gb/s (4 lanes, HBR3)`; of a DisplayPort output also what an adapter gets."""
    if state.port.kind in ("dp", "usbc"):
        if state.dp is None:
            return "a rate nobody knows"
        through = f"TMDS to {state.tmds_hz // 1_000_000} MHz" if state.tmds_hz else ""
        if not state.dp.lanes:
            return through or "no picture"
        return state.dp.words + (f"; by a passive adapter {through}" if through else "")
    return ceiling_text(state.tmds_hz, state.frl, state.dp, state.port.links or 0)


def short_rate(state: PortState) -> str:
    """A socket's ceiling in Gb/s as a short figure: `40`, `18`, `10.2`, `25.9`, `?`."""
    if state.frl is not None and state.frl.total_gbps:
        return str(state.frl.total_gbps)
    if state.dp is not None and state.dp.lanes:
        return _figure(float(state.dp.data_bps) / 1e9)
    if state.tmds_hz is None:
        return "?"
    return _figure(state.tmds_hz * (state.port.links or 1) * TMDS_BITS_PER_CHARACTER / 1e9)


def _figure(gbps: float) -> str:
    return f"{gbps:.0f}" if abs(gbps - round(gbps)) < 0.05 else f"{gbps:.1f}"
