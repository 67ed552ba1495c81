"""The analogue part of a run: which signal goes down it, and how each input treats it."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.chain.paths import Hop, Layer, Path
from wavilex.core.chain.rig import Device
from wavilex.core.lag.signals import timing_of
from wavilex.core.retro.scan import AnalogueVideo, analogue, from_timing, treatment

WORDS = {
    "correct": "takes it as it is",
    "as_interlaced": "takes it for interlaced: later, and combed",
    "black": "stays black with it",
    "rolling": "shows it rolling",
    "refused": "takes no such scan rate",
}
GOOD = ("correct", "as_interlaced")


@dataclass(frozen=True, slots=True)
class Met:
    """A signal meeting an input over an analogue lead. treats None: nobody knows; signal None: not known either."""

    hop: Hop
    signal: AnalogueVideo | None
    treats: str | None

    @property
    def verdict(self) -> str:
        """The link's verdict: fits, tight where it is mistaken for interlaced, blocked, or unknown."""
        if self.treats is None:
            return "unknown"
        return {"correct": "fits", "as_interlaced": "tight"}.get(self.treats, "blocked")


def rate_of(met: Met) -> str:
    """The scan rate on a link: `15.73 kHz, 60.05 Hz`; `analogue` where nobody knows."""
    signal = met.signal
    if signal is None:
        return "analogue"
    return f"{float(signal.line_hz) / 1000:.2f} kHz, {float(signal.vertical_hz):.2f} Hz"


def meetings(layer: Layer, path: Path) -> list[Met]:
    """Every analogue link of a path, in order. A box between hands an analogue signal on unchanged."""
    out: list[Met] = []
    signal: AnalogueVideo | None = None
    mode: str | None = None  # the digital mode an adapter would turn into an analogue signal
    for hop in path:
        box = layer.rig.devices[hop.out.device]
        mode = output_mode(layer, box) or mode
        if layer.rig.leads[hop.lead].kind != "analogue":
            signal = None
            continue
        device = box.profile
        if signal is None and mode is not None:
            signal = from_timing(timing_of(mode))
        port, inp = device.port(hop.out.port), layer.rig.devices[hop.inp.device].profile.port(hop.inp.port)
        if port is not None and port.sends:
            signal = analogue(port.sends[0])
        treats = treatment(signal, inp.takes) if signal is not None and inp is not None else None
        out.append(Met(hop, signal, treats))
    return out


def output_mode(layer: Layer, device: Device) -> str | None:
    """The mode a converter sends as it is set, the only one it has, or None where it has no say in it."""
    c = device.profile.converts
    if c is None:
        return None
    if c.output is None:
        return next(iter(c.outputs.values()), None)
    setting = device.profile.setting(c.output)
    value = layer.rig.setting_value(layer.name, device.uid, "", setting) if setting else None
    return c.outputs.get(value or "")
