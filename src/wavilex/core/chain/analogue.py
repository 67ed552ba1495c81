"""The analogue part of a run: which signal goes down it, and how each input treats it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from wavilex.core.chain.paths import Hop, Layer, Path, Station
from wavilex.core.gear.origin import Origin
from wavilex.core.link.check import Verdict
from wavilex.core.rig.model import Device
from wavilex.core.scan.described import Takes
from wavilex.core.scan.signals import (
    COLOURS,
    GOOD,
    SYNCS,
    AnalogueVideo,
    Handling,
    analogue,
    from_timing,
    through_plug,
    treatment,
)
from wavilex.core.video.codes import names_mode
from wavilex.core.video.mode import Mode
from wavilex.core.video.named import timing_of
from wavilex.core.video.timing import Timing


@dataclass(frozen=True, slots=True)
class Met:
    """A signal meeting an input over an analogue lead. treats None: nobody knows; signal None: not known either."""

    hop: Hop
    signal: AnalogueVideo | None
    treats: Handling | None
    takes: tuple[Takes, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """The link's verdict: fits, tight where it is mistaken for interlaced, blocked, or unknown."""
        if self.treats is None:
            return "unknown"
        if self.treats in GOOD:
            return "fits" if self.treats == "correct" else "tight"
        return "blocked"

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


def meetings(layer: Layer, path: Path, nth: int = 0, sent: Timing | None = None) -> list[Met]:
    """Every analogue link of a path, in order. A box between hands an analogue signal on, sync and colour by its plug.

    nth: which of the signals a machine sends; one that sends fewer sends its last. sent: the timing of the path's last
    digital links, which an adapter turns into its signal; left out: that which a scaler's mode usually has.
    """
    out: list[Met] = []
    signal: AnalogueVideo | None = None
    mode: Mode | None = None  # the digital mode an adapter would turn into an analogue signal
    for hop in path:
        box = layer.rig.devices[hop.out.device]
        mode = output_mode(layer, box) or mode
        if layer.rig.leads[hop.lead].kind != "analogue":
            signal = None
            continue
        device = box.profile
        if signal is None and (sent is not None or mode is not None):
            signal = from_timing(sent or timing_of(str(mode)))
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


def output_mode(layer: Layer, device: Device, signal: AnalogueVideo | None = None) -> Mode | None:
    """The mode a converter sends as it is set, the only one it has, or None where it has no say in it.

    signal: what it is fed; a box that keeps its rate then sends the mode nearest to that.
    """
    c = device.profile.converts
    if c is None:
        return None
    option: str | None = next(iter(c.outputs), None)
    if c.output is not None:
        setting = device.profile.setting(c.output)
        option = layer.value(device, setting, "") if setting else None
    modes = c.sent(option or "")
    if signal is None or c.rate != "kept":
        return next(iter(modes), None)
    return at_rate(modes, signal)


def at_rate(modes: Sequence[Mode], signal: AnalogueVideo) -> Mode | None:
    """Of the modes a box that keeps the rate may send, the one nearest to a signal's; None without any."""
    return min(modes, key=lambda m: abs(m.hz - signal.vertical_hz), default=None)


def first_signal(layer: Layer, path: Path, sent: Timing | None = None) -> AnalogueVideo | None:
    """The first analogue signal of a path that is known; None where there is none. sent: as of `meetings`."""
    return next((m.signal for m in meetings(layer, path, sent=sent) if m.signal is not None), None)


def fed_signal(layer: Layer, path: Path) -> AnalogueVideo | None:
    """The analogue signal that the first digital link of a path is made of; None where the source is digital."""
    met = None
    for m in meetings(layer, path):
        if m.signal is None:
            break
        met = m
    first = next((h for h in path if layer.rig.leads[h.lead].digital), None)
    return met.signal if met is not None and first is not None and met.hop.inp.device == first.out.device else None


def as_fed(layer: Layer, path: Path, stations: list[Station]) -> list[Station]:
    """The stations of a path's digital links; the first sends but one mode where it keeps an old machine's rate."""
    device = layer.rig.devices[stations[0].socket.device]
    c, state = device.profile.converts, stations[0].state
    signal = fed_signal(layer, path) if c is not None and c.rate == "kept" else None
    mode = output_mode(layer, device, signal)
    if signal is None or mode is None or not isinstance(state.modes, tuple) or state.modes == (mode,):
        return stations
    because = f"it keeps the machine’s {float(signal.vertical_hz):.2f} Hz"
    origins = {**state.origins, "modes": Origin("rule", "makers_claim", because=because)}
    kept = tuple(m for m in state.modes if names_mode(m, mode))
    return [replace(stations[0], state=replace(state, modes=kept, origins=origins)), *stations[1:]]


def segments(layer: Layer, path: Path) -> list[Path]:
    """A run's digital links, parted where a scaler sends a mode of its own on; what the source sends ends there."""
    parts: list[list[Hop]] = [[]]
    for hop in path:
        if parts[-1] and output_mode(layer, layer.rig.devices[hop.out.device]) is not None:
            parts.append([])
        parts[-1].append(hop)
    return [tuple(p) for p in parts]
