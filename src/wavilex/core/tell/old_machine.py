"""What an old machine's run looks like: scan rates, rate change, shape stage by stage, multiples, order, notice."""

from __future__ import annotations

from fractions import Fraction

from wavilex.core.advise.multiples import multiples_data
from wavilex.core.cautions import CAUTIONS
from wavilex.core.chain.analogue import Met, meetings, output_mode
from wavilex.core.chain.offer import timing_for
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.chain.shape import shape_data, stages_of
from wavilex.core.gear.conversion import Conversion
from wavilex.core.gear.state import ANY
from wavilex.core.modes.run_refresh import window_of
from wavilex.core.rig.model import Device
from wavilex.core.scan.multiples import times_of
from wavilex.core.scan.shape import line_scale
from wavilex.core.scan.signals import COLOURS, GOOD, NAMES, SYNCS, TREATMENTS, AnalogueVideo, rate_change
from wavilex.core.tell.shapes import AlsoSent, RateKept, RetroOut, ScanLink, ScanOut
from wavilex.core.video.mode import Mode
from wavilex.core.video.named import timing_of

# best first (common practice): RGB and component alike, then S-video, then composite
_QUALITY = ("vga", "scart", "component", "s_video", "composite")
_CLEANEST = ("vga", "scart", "component")
_PLUGS = {
    "vga": "VGA",
    "scart": "RGB by SCART",
    "component": "component",
    "s_video": "S-video",
    "composite": "composite",
}


def retro_data(layer: Layer, result: RunResult) -> RetroOut | None:
    """Everything about the run's analogue part and its picture's shape; None where it has neither."""
    if not result.path:
        return None
    met = meetings(layer, result.path, sent=result.asked_timing)
    source = layer.rig.devices[result.run.source]
    if not met and source.profile.draws is None:
        return None
    signal = met[0].signal if met else None
    found = _converting(layer, result)
    multiples, screens = (
        multiples_data(layer, result, signal, *found) if signal and found and found[1].multiples else ([], [])
    )
    return {
        "run": result.run.uid, "signal": _signal(signal, _first_plug(layer, met)),
        "links": [_link(layer, m) for m in met], "also": _also(layer, result, met),
        "quality": _quality(layer, result, source), "rate": _rate(layer, result, signal),
        "shape": shape_data(stages_of(layer, result), signal), "multiples": multiples, "screens": screens,
        "scale": _scale(layer, result, signal), "notice": _notice(layer, result, signal),
        "order": [layer.rig.devices[h.inp.device].label for h in reversed(result.path)] + [source.label],
        "cautions": _cautions(layer, result, source),
    }  # fmt: skip


def _first_plug(layer: Layer, met: list[Met]) -> str:
    port = layer.rig.devices[met[0].hop.out.device].profile.port(met[0].hop.out.port) if met else None
    return port.plug if port is not None else ""


def _signal(signal: AnalogueVideo | None, plug: str) -> ScanOut | None:
    if signal is None:
        return None
    aspect = signal.pixel_aspect
    colour = "colour on wires of its own" if plug in _CLEANEST else "colour system not known"
    return {
        "name": signal.name, "system": NAMES[signal.system], "line_khz": round(float(signal.line_hz) / 1000, 3),
        "vertical_hz": round(float(signal.vertical_hz), 3), "lines": float(signal.lines),
        "dot_clock_mhz": round(float(signal.dot_clock_hz) / 1e6, 4), "dots": float(signal.dots),
        "active": f"{signal.active[0]}×{signal.active[1]}", "interlaced": signal.interlaced,
        "pixel_aspect": f"{aspect.numerator}:{aspect.denominator}" if aspect is not None else None,
        "sync": SYNCS[signal.sync], "colour": COLOURS.get(signal.colour or "", colour),
    }  # fmt: skip


def _link(layer: Layer, met: Met) -> ScanLink:
    words = TREATMENTS[met.treats] if met.treats else "whether it takes this is not known"
    if met.wants:
        words += f" ({met.brings}; it reads {met.wants})"
    return {
        "where": layer.rig.socket_name(met.hop.inp), "treats": met.treats or "unknown", "good": met.treats in GOOD,
        "words": words,
    }  # fmt: skip


def _also(layer: Layer, result: RunResult, usual: list[Met]) -> list[AlsoSent]:
    """The other signals the machine sends, and how each input treats them."""
    if not usual:
        return []
    hop = usual[0].hop
    port = layer.rig.devices[hop.out.device].profile.port(hop.out.port)
    more = len(port.sends) if port is not None else 0
    out: list[AlsoSent] = []
    for n in range(1, more):
        met = meetings(layer, result.path, n, result.asked_timing)
        if met[0].signal is not None:
            out.append({"name": met[0].signal.name, "links": [_link(layer, m) for m in met]})
    return out


def _quality(layer: Layer, result: RunResult, source: Device) -> str:
    """What limits the picture's cleanness, and a better way out of the source."""
    plugs = []
    for hop in result.path:
        port = layer.rig.devices[hop.out.device].profile.port(hop.out.port)
        if port is not None and port.kind == "analogue":
            plugs.append(port.plug)
    if not plugs:
        return ""
    worst = max(plugs, key=_QUALITY.index)
    if worst in _CLEANEST:
        return f"{_PLUGS[worst]} all the way: as clean as it comes"
    own = {p.plug for p in source.profile.outputs() if p.kind == "analogue"}
    better = [p for p in _QUALITY if p in own and _QUALITY.index(p) < _QUALITY.index(worst)]
    text = f"{_PLUGS[worst]} limits how clean it is"
    return f"{text}; {source.label} also sends {_PLUGS[better[0]]}, which is better" if better else text


def _converting(layer: Layer, result: RunResult) -> tuple[Device, Conversion] | None:
    for hop in result.path:
        device = layer.rig.devices[hop.inp.device]
        if device.profile.converts is not None:
            return device, device.profile.converts
    return None


def _rate(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> RateKept | None:
    """Is the machine's own rate kept, or turned into another."""
    found = _converting(layer, result)
    if signal is None or found is None:
        return None
    device, c = found
    mode = output_mode(layer, device, signal)
    if c.rate == "kept" or mode is None:
        words = f"{device.label} keeps the machine’s {float(signal.vertical_hz):.2f} Hz"
        return {
            "kept": True, "from_hz": round(float(signal.vertical_hz), 3), "to_hz": round(float(signal.vertical_hz), 3),
            "per_minute": 0.0,
            "words": words + _taken(layer, result, mode),
        }  # fmt: skip
    to = timing_of(mode)
    to_hz = to.refresh if to is not None else Fraction(mode.hz)
    change = rate_change(signal.vertical_hz, to_hz, window_of(layer, result))
    return {
        "kept": False, "from_hz": round(float(change.from_hz), 3), "to_hz": round(float(change.to_hz), 3),
        "per_minute": round(float(change.per_minute), 2),
        "words": f"{device.label} turns {float(change.from_hz):.2f} Hz into {float(change.to_hz):.2f}: {change.words}"
        + _taken(layer, result, mode),
    }  # fmt: skip


def _taken(layer: Layer, result: RunResult, mode: Mode | None) -> str:
    """Does the screen list what the converter sends: `; MONITOR takes 1080p60`."""
    sink = result.path[-1].inp
    if mode is None or not layer.rig.leads[result.path[-1].lead].digital:
        return ""
    label, modes = layer.rig.devices[sink.device].label, layer.state(sink).modes
    if modes is None or modes == ANY:
        return ""
    does = "takes" if timing_for(modes, mode) is not None else "does not list"
    return f"; {label} {does} {mode.name}"


def _scale(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> str:
    """How the run's panel shows the machine's lines, as the chain is set."""
    panel = layer.rig.devices[result.run.sink].profile.panel_size
    if signal is None or panel is None:
        return ""
    high = panel[1]
    found = _converting(layer, result)
    mode = output_mode(layer, found[0], signal) if found else None
    if found is None or mode is None:
        return line_scale(signal.frame_lines, high).words
    raster = mode.height
    times = times_of(*mode.size, signal) if found[1].multiples else None
    if times is None:
        return line_scale(signal.active[1], high, (Fraction(raster, signal.frame_lines), raster)).words
    return line_scale(signal.field_lines, high, (times, raster)).words


def _notice(layer: Layer, result: RunResult, signal: AnalogueVideo | None) -> str:
    """What a converter should write on the picture when it works."""
    found = _converting(layer, result)
    if signal is None or found is None or not found[1].notice:
        return ""
    device, c = found
    mode = output_mode(layer, device, signal)
    output = mode.name if mode else "its multiple"
    return c.notice.replace("{system}", NAMES[signal.system]).replace("{output}", output)


def _cautions(layer: Layer, result: RunResult, source: Device) -> list[str]:
    """Level, sync and supply of the source's plug, and what the boxes on the way ask for. Common practice."""
    scans = [s for p in source.profile.outputs() for s in p.sends]
    out = []
    if any(s.level == "ttl" for s in scans):
        out.append("its sync is at TTL level: it needs a circuit that brings it to 75 ohm, never plug it straight in")
    boxes = [source, *(layer.rig.devices[h.inp.device] for h in result.path)]
    marks = {c for box in boxes for c in box.profile.cautions}
    return out + [CAUTIONS[c] for c in ("old_supply", "tube", "own_power", "burn_in") if c in marks]
