"""What a source reads of a run, as far as its own signal goes: stations and what their links carry for it."""

from __future__ import annotations

from wavilex.core.chain.analogue import as_fed, segments
from wavilex.core.chain.offer import path_capacities
from wavilex.core.chain.paths import Layer, Station
from wavilex.core.chain.streams import shared, taken_on
from wavilex.core.gear.conditions import SignalFacts
from wavilex.core.link.check import Capacity
from wavilex.core.rig.model import Run
from wavilex.core.video.timing import Timing


def read_run(layer: Layer, run: Run, signal: SignalFacts | None = None) -> tuple[list[Station], list[Capacity]] | None:
    """The stations and link capacities as far as the source's own signal goes; None when not joined or not digital.

    signal: the one in question, for boxes whose limits depend on it.
    """
    paths = layer.paths(run)
    path = segments(layer, layer.digital(paths[0]))[0] if paths else ()
    if not path:
        return None
    stations = as_fed(layer, paths[0], layer.stations(path, signal))
    capacities = path_capacities(layer, stations, path)
    return stations, shared(capacities, taken_on(layer, run, paths[0]))


def read_for(
    layer: Layer, run: Run, timing: Timing, read: tuple[list[Station], list[Capacity]]
) -> tuple[list[Station], list[Capacity]]:
    """What was read of a run, again for one timing where a box on the way asks for the signal."""
    devices = layer.rig.devices
    if not any(devices[s.socket.device].profile.asks_signal for s in read[0]):
        return read
    facts = SignalFacts(timing.mode, run.want.hdr, run.want.vrr)
    return read_run(layer, run, facts) or read
