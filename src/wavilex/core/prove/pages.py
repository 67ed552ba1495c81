"""What the other places show of a signal: a computer's page, signals in and out, notices, banners, counters."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.chain.analogue import meetings, output_mode
from wavilex.core.chain.paths import Hop, Layer, facts_of_want
from wavilex.core.chain.results import RunResult, arriving_facts
from wavilex.core.gear.profile import HomeRate
from wavilex.core.prove.arrival import Arrival
from wavilex.core.prove.line import HELD, NO, YES, Line, holds
from wavilex.core.prove.lists import Reading, hardware_modes, known_of, mode_listed
from wavilex.core.rig.model import Device
from wavilex.core.scan.signals import AnalogueVideo
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode
from wavilex.core.video.signal import DigitalVideo, encoding_name

NO_PICTURE, MOVES = "no picture", "moves"


def _figure(key: str, label: str, says: str | None, arrived: Arrival, sure: bool = True) -> Line:
    told = says is not None
    return Line(key, label, says, "" if told and arrived.sure else arrived.why, sure=told and arrived.sure and sure)


def _seen(key: str, label: str, says: str | None, arrived: Arrival) -> Line:
    """A figure of what arrives at a box: none where nothing gets there."""
    return _figure(key, label, NO_PICTURE if arrived.stopped else says, arrived)


def _yes_no(key: str, label: str, value: bool | None, arrived: Arrival) -> Line:
    return _figure(key, label, None if value is None else YES if value else NO, arrived)


def colour_text(signal: DigitalVideo) -> str:
    """`4:4:4, 10-bit`."""
    return f"{encoding_name(signal.encoding)}, {signal.bits}-bit"


def computer_page(read: Reading, arrived: Arrival) -> tuple[Line, ...]:
    """A computer's display page: what it sends now, and what else it offers at that size."""
    signal, device = arrived.signal, read.layer.rig.devices[read.result.run.source]
    mode = signal.timing.mode if signal else None
    lines = [
        _figure("mode", "resolution", mode.size_name if mode else None, arrived),
        _figure("rate", "rate", f"{mode.hz} Hz" if mode else None, arrived),
        _figure("bits", "depth", f"{signal.bits}-bit" if signal else None, arrived),
        _figure("colour", "colour format", encoding_name(signal.encoding) if signal else None, arrived),
    ]
    lines += _link_lines(read, arrived)
    fastest = _fastest(read, device, mode.size if mode else read.result.run.want.mode.size)
    lines.append(Line("fastest", "highest rate offered at that size", fastest, sure=fastest is not None))
    for key, label, field, member in (
        ("hdr", "HDR can be switched on", "hdr", "static"),
        ("vrr", "variable refresh can be switched on", "vrr", None),
    ):
        known, at, why = known_of(read, field, member)
        words = f"{read.layer.rig.socket_name(at)}: {why}" if at is not None else ""
        lines.append(
            Line(key, label, None if known is None else YES if known else NO, words, "", known is not None, at)
        )
    return tuple(lines)


_CONNECTIONS = {"dp": "DisplayPort", "usbc": "DisplayPort, by USB-C", "dvi": "DVI"}


def _link_lines(read: Reading, arrived: Arrival) -> list[Line]:
    """How it is connected, and over DisplayPort what the link trained to: the most that both ends and the lead have."""
    kind = read.own.state.port.kind
    link = read.result.links[0] if read.result.links else None
    if kind not in _CONNECTIONS or link is None:
        return []
    far = read.stations[1].state.port
    through = link.wanted.transport == "tmds" and kind in ("dp", "usbc")
    words = f"{'DVI' if far.kind == 'dvi' else 'HDMI'}, by an adapter" if through else _CONNECTIONS[kind]
    lines = [_figure("connection", "connection", words, arrived)]
    rate = link.capacity.dp
    if link.wanted.dp is not None and rate is not None:
        lanes = f"{rate.lanes} lane{'s' if rate.lanes > 1 else ''}, {float(rate.lane_gbps):g} Gb/s each"
        sure = not link.capacity.unknown and link.capacity.beyond is None
        lines.append(_figure("link", "link, where the page says it", lanes, arrived, sure))
        if link.wanted.fits:
            lines.append(_yes_no("compressed", "compressed", link.wanted.dsc is not None, arrived))
    return lines


def _fastest(read: Reading, device: Device, size: tuple[int, int]) -> str | None:
    """The highest rate listed at a size; None where some faster one is not known."""
    modes = [m for m in hardware_modes(device, read.own.socket.port) if m.size == size]
    if not modes:
        seen = read.seen.modes
        modes = [t for t in _listed(seen) if t.size == size] if isinstance(seen, tuple) else []
    for mode in sorted(modes, key=lambda m: -m.hz):
        listed, _at, _why = mode_listed(read, mode)
        if listed is not False:
            return f"{mode.hz} Hz" if listed else None
    return None


def _listed(codes: tuple[str, ...]) -> list[Mode]:
    return [m for m in (listed_timing(c).mode for c in codes) if not m.interlaced]


def in_and_out(layer: Layer, into: DigitalVideo | None, out: DigitalVideo | None, arrived: Arrival) -> Iterator[Line]:
    """A receiver's page: the signal in, the signal out."""
    for key, label, signal in (("in", "in", into), ("out", "out", out)):
        yield _seen(f"{key}.mode", f"{label}: signal", signal.timing.mode.name if signal else None, arrived)
        yield _figure(f"{key}.colour", f"{label}: colour", colour_text(signal) if signal else None, arrived)
    yield _yes_no("hdr", "HDR passes", arrived.hdr, arrived)


def notice(layer: Layer, result: RunResult, device: Device, arrived: Arrival) -> tuple[Line, ...]:
    """A converter's notice when it finds a signal: the line system it reads, and the mode it makes of it."""
    signal = next((m.signal for m in meetings(layer, result.path) if m.hop.inp.device == device.uid), None)
    if signal is None:
        return ()
    mode = output_mode(layer, device, signal)
    return (
        Line("system", "line system", system_text(signal)),
        Line("out", "output", mode.name if mode else None, sure=mode is not None),
    )


def system_text(signal: AnalogueVideo) -> str:
    """`576i50`, `240p60`, as a notice says a signal: the lines its system carries, its scan, its rate."""
    scan = "i" if signal.interlaced else "p"
    return f"{signal.frame_lines}{scan}{round(signal.vertical_hz)}"


def banner(
    layer: Layer, result: RunResult, signal: DigitalVideo | None, hop: Hop, arrived: Arrival
) -> tuple[Line, ...]:
    """A screen's banner: which input, what arrives there, how it is treated."""
    device = layer.rig.devices[hop.inp.device]
    port = device.profile.port(hop.inp.port)
    shown = layer.rig.selected_input(layer.name, device.uid)
    many = len(device.profile.inputs()) > 1
    lines = []
    if many:
        label = port.label if port else hop.inp.port
        lines.append(Line("input", "input", label, "" if shown == hop.inp.port else "once it is called up"))
    lines.append(_seen("mode", "signal", signal.timing.mode.name if signal else None, arrived))
    if result.run.want.hdr != "off" or arrived.hdr:
        lines.append(_yes_no("hdr", "HDR", arrived.hdr, arrived))
    game = next((s for s in device.profile.settings if s.effect == "game_mode"), None)
    if game is not None:
        facts = arriving_facts(result)
        standing = layer.standing(device, facts).get((hop.inp.port if game.ports else "", game.id))
        value = standing.value if standing is not None else None
        lines.append(Line("game", game.label, game.option_label(value) if value else None, sure=value is not None))
    return tuple(lines)


def counter(layer: Layer, result: RunResult, signal: DigitalVideo | None, arrived: Arrival) -> tuple[Line, ...]:
    """A screen's rate counter; it moves while the rate follows the title."""
    state = result.stations[-1].state if result.stations else None
    window = state.vrr if state is not None and isinstance(state.vrr, tuple) else None
    if arrived.vrr and window is not None and signal is not None:
        text = f"{MOVES}, {window[0]} to {min(window[1], signal.timing.nominal_hz)} Hz"
        return (_figure("rate", "rate, while a title runs", text, arrived),)
    return (_seen("rate", "rate", f"{signal.timing.nominal_hz} Hz" if signal else None, arrived),)


def home(layer: Layer, result: RunResult, device: Device) -> tuple[Line, ...]:
    """The rate a source's home screen runs at, where it is known to have one of its own."""
    rate = device.profile.home_hz
    if isinstance(rate, HomeRate):
        setting = device.profile.setting(rate.setting)
        value = (
            layer.value(device, setting, result.path[0].out.port, facts_of_want(result.run.want)) if setting else None
        )
        hz = rate.hz.get(value or "")
        return (Line("rate", "rate on the home screen", f"{hz} Hz" if hz else None, sure=hz is not None),)
    return (Line("rate", "rate on the home screen", f"{rate} Hz"),) if rate is not None else ()


def running(signal: DigitalVideo | None, arrived: Arrival) -> tuple[Line, ...]:
    """A title that really runs so: what no list and no banner proves."""
    name = signal.timing.mode.name if signal else "the mode"
    says = YES if signal is not None else None
    return (_figure(HELD, f"{holds(name)} for five minutes: no black, no flashes, no drop-outs", says, arrived),)
