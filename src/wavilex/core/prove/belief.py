"""What was seen changes what is believed: a title that held proves the rate of every lead it came by.

Not where the picture may have come compressed: it then needs less than its mode says.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import SignalError
from wavilex.core.link.cable import Cable, check_proofs, speed
from wavilex.core.link.check import Capacity
from wavilex.core.link.dp import dp_slowest, dp_use
from wavilex.core.link.dp_rates import LANE_RATES, DpRate
from wavilex.core.link.frl import frl_fits
from wavilex.core.link.rates import FRL_RATES, TMDS_MAX_MHZ, TMDS_MIN_HZ
from wavilex.core.prove.arrival import Arrival
from wavilex.core.prove.lists import reading, signals_of_any
from wavilex.core.rig.ops import Change
from wavilex.core.video.signal import DigitalVideo, demand

_UP_TO_48 = FRL_RATES[:6]


def rate_needed(signal: DigitalVideo, lanes: int = 0) -> str | None:
    """The least link rate that carries a signal uncompressed: `tmds:594`, `frl:4x10`; None beyond 48 Gb/s.

    lanes: of a DisplayPort link, 0 for HDMI: then `dp:4xhbr2`, None where no rate of so many lanes does.
    """
    need = demand(signal)
    if lanes:
        slowest = dp_slowest(need, DpRate(lanes, LANE_RATES[-1]))
        return f"dp:{slowest.code}" if dp_use(need, slowest).blocked_by is None else None
    mhz = max(ceil(need.tmds_rate_hz / 1_000_000), TMDS_MIN_HZ // 1_000_000)
    if mhz <= TMDS_MAX_MHZ:
        return f"tmds:{mhz}"
    rate = frl_fits(need, _UP_TO_48)
    return f"frl:{rate.code}" if rate is not None else None


def lanes_of(cap: Capacity) -> int:
    """How many DisplayPort lanes a link has; 0: it sends otherwise, or nobody knows."""
    return cap.dp.lanes if cap.dp is not None else 0


def compression_excluded(result: RunResult) -> bool:
    """Is it known that no link of the run carries its picture compressed?"""
    return all(x.capacity.dsc is None for x in result.links)


def proofs_of(layer: Layer, result: RunResult, arrived: Arrival) -> Iterator[Change]:
    """What a title that held proves of the leads it came by, where that is more than was proved before.

    Who watched a title saw its mode, not how it was encoded: it proves the rate of the leanest that all boxes share.
    """
    rig, read = layer.rig, reading(layer, result)
    if arrived.signal is None or read is None or not compression_excluded(result):
        return
    leanest = min(signals_of_any(read, arrived.signal.timing.mode), key=_need, default=arrived.signal)
    for x in result.links:
        resent = arrived.resent
        signal = resent if resent is not None and x.signal == resent else leanest
        over = rate_needed(signal, lanes_of(x.capacity))
        cable = rig.leads[x.hop.lead].cable
        if over is not None and more(over, cable):
            yield {"op": "replace_lead", "lead": x.hop.lead, "proved": over}


def _need(signal: DigitalVideo) -> tuple[int, int]:
    return demand(signal).tb_active, int(demand(signal).tmds_rate_hz)


def more(over: str, cable: Cable) -> bool:
    """Is a rate above what a lead was proved to carry, and not against what was seen failing?"""
    if cable.proved and speed(cable.proved) >= speed(over):
        return False
    try:
        check_proofs(over, cable.failed)
    except SignalError:
        return False
    return True
