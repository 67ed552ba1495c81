"""The analogue part of a run: which signal goes down it, and how each input treats it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from wavilex.core.chain.paths import Hop, Layer, Path
from wavilex.core.chain.rig import Device
from wavilex.core.gear.analogue import Takes
from wavilex.core.lag.signals import timing_of
from wavilex.core.retro.scan import COLOURS, SYNCS, AnalogueVideo, analogue, from_timing, through_plug, treatment

WORDS = {
    "correct": "takes it as it is",
    "as_interlaced": "takes it for interlaced: later, and combed",
    "black": "stays black with it",
    "rolling": "shows it rolling",
    "refused": "takes no such scan rate",
    "no_sync": "finds no sync: it reads none of this kind",
    "grey": "shows it without colour: it does not know this colour system",
}
GOOD = ("correct", "as_interlaced")


@dataclass(frozen=True, slots=True)
class Met:
    """A signal meeting an input over an analogue lead. treats None: nobody knows; signal None: not known either."""

    hop: Hop
    signal: AnalogueVideo | None
    treats: str | None
    takes: tuple[Takes, ...] = ()

    @property
    def verdict(self) -> str:
        """The link's verdict: fits, tight where it is mistaken for interlaced, blocked, or unknown."""
        if self.treats is None:
            return "unknown"
        return {"correct": "fits", "as_interlaced": "tight"}.get(self.treats, "blocked")

    @property
    def wants(self) -> str:
        """What the input reads instead, where it finds no sync or shows no colour; empty otherwise."""
        if self.treats == "no_sync":
            return _listed(SYNCS[s] for t in self.takes for s in t.syncs or ())
        if self.treats == "grey":
            return _listed(COLOURS[c] for t in self.takes for c in t.colours or ())
        return ""

    @property
    def brings(self) -> str:
        """What the signal brings in that place; empty otherwise."""
        if self.signal is None:
            return ""
        return {"no_sync": SYNCS[self.signal.sync], "grey": COLOURS.get(self.signal.colour or "", "")}.get(
            self.treats or "", ""
        )


def rate_of(met: Met) -> str:
    """The scan rate on a link: `15.73 kHz, 60.05 Hz`; `analogue` where nobody knows."""
    signal = met.signal
    if signal is None:
        return "analogue"
    return f"{float(signal.line_hz) / 1000:.2f} kHz, {float(signal.vertical_hz):.2f} Hz"


def meetings(layer: Layer, path: Path, nth: int = 0) -> list[Met]:
    """Every analogue link of a path, in order. A box between hands an analogue signal on, sync and colour by its plug.

    nth: which of the signals a machine sends; one that sends fewer sends its last.
    """
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
            signal = analogue(port.sends[min(nth, len(port.sends) - 1)])
        if signal is not None and port is not None:
            signal = through_plug(signal, port.plug)
        treats = treatment(signal, inp.takes) if signal is not None and inp is not None else None
        out.append(Met(hop, signal, treats, (inp.takes or ()) if inp is not None else ()))
    return out


def _listed(words: Iterable[str]) -> str:
    return " or ".join(dict.fromkeys(words))


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


def segments(layer: Layer, path: Path) -> list[Path]:
    """A run's digital links, parted where a scaler sends a mode of its own on; what the source sends ends there."""
    parts: list[list[Hop]] = [[]]
    for hop in path:
        if parts[-1] and output_mode(layer, layer.rig.devices[hop.out.device]) is not None:
            parts.append([])
        parts[-1].append(hop)
    return [tuple(p) for p in parts]
