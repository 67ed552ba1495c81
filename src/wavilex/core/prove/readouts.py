"""Every place of a run where something can be read, in walking order, with what will stand there.

Which boxes have which place is common practice; a profile's own read-outs (`shows`) stand beside them.
"""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.notes import as_said, shown_by
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.results import RunResult
from wavilex.core.prove.arrival import Arrival, arrival
from wavilex.core.prove.line import PLACES, TRUST_WORDS, Card, Kind, Line, Trust
from wavilex.core.prove.lists import reading, source_list
from wavilex.core.prove.pages import banner, computer_page, counter, home, in_and_out, notice, running
from wavilex.core.prove.probe import probe_lines
from wavilex.core.rig.model import Device, Run, Socket
from wavilex.core.video.signal import DigitalVideo

_COMPUTERS = ("computer",)
_WITH_PAGE = ("receiver", "matrix")


def readouts(layer: Layer, run: Run, result: RunResult | None = None, *, probed: bool = False) -> list[Card]:
    """The cards of a run as a layer stands, from source to glass; none where it is not joined.

    probed: with the page that the source opened itself, where it did.
    """
    result = result or run_result(layer, run)
    if not result.path:
        return []
    arrived = arrival(layer, result)
    cards = [c for c in _cards(layer, result, arrived) if c.lines]
    if probed and result.stations:
        source = layer.rig.devices[run.source]
        cards.append(_card(source, result.path[0].out, "probe", "measures", probe_lines(arrived)))
    return cards


def _cards(layer: Layer, result: RunResult, arrived: Arrival) -> Iterator[Card]:
    devices, path = layer.rig.devices, result.path
    source, first = devices[result.run.source], path[0].out
    read = reading(layer, result)
    if read is not None:
        if source.profile.kind in _COMPUTERS:
            yield _card(source, first, "page", "reads", computer_page(read, arrived))
        else:
            yield _card(source, first, "list", "promises", source_list(layer, result, read))
            yield _card(source, first, "home", "renders", home(layer, result, source))
    yield from _own(layer, result, source, first, arrived.signal)
    signals = _signals(result, arrived)
    for n, hop in enumerate(path[:-1]):
        box, onward = devices[hop.inp.device], path[n + 1].lead
        into, out = signals.get(hop.lead), signals.get(onward)
        if layer.rig.leads[hop.lead].kind == "analogue" and box.profile.converts is not None:
            yield _card(box, hop.inp, "notice", "reads", notice(layer, result, box, arrived))
        elif box.profile.kind in _WITH_PAGE and layer.rig.leads[hop.lead].digital:
            yield _card(box, hop.inp, "in_out", "reads", tuple(in_and_out(layer, into, out, arrived)))
        yield from _own(layer, result, box, hop.inp, into)
    last = path[-1]
    screen, at_glass = devices[last.inp.device], signals.get(last.lead)
    own = list(_own(layer, result, screen, last.inp, at_glass))
    if layer.rig.leads[last.lead].digital:
        yield _card(screen, last.inp, "banner", "reads", banner(layer, result, at_glass, last, arrived))
        yield _card(screen, last.inp, "counter", "reads", counter(layer, result, at_glass, arrived))
    yield from own
    if result.stations:
        yield _card(screen, last.inp, "title", "proves", running(at_glass, arrived))


def _card(device: Device, socket: Socket, kind: Kind, trust: Trust, lines: tuple[Line, ...]) -> Card:
    return Card(device.uid, socket.port, kind, PLACES[kind], trust, TRUST_WORDS[trust], "common_practice", lines)


def _signals(result: RunResult, arrived: Arrival) -> dict[str, DigitalVideo]:
    """The signal on each digital lead of the path, as it really runs."""
    if arrived.signal is None:
        return {}
    resent = arrived.resent
    return {x.hop.lead: resent if resent is not None and x.signal == resent else arrived.signal for x in result.links}


def _own(
    layer: Layer, result: RunResult, device: Device, socket: Socket, signal: DigitalVideo | None
) -> Iterator[Card]:
    """The read-outs a box's own profile tells of."""
    for quirk in shown_by(layer, device, socket, facts_of_want(result.run.want)):
        if signal is not None:
            words: str | None = as_said(quirk.says, signal.timing.mode, signal.bits)
        else:
            words = None if "{" in quirk.says else quirk.says
        trust: Trust = "reads" if quirk.trust else "lies"
        if quirk.counts != "signal":
            trust = "renders" if quirk.counts == "rendered" else "promises"
        line = Line(quirk.id, quirk.place, words, sure=words is not None)
        because = f"written by the {quirk.writer}; {quirk.because}" if quirk.writer != "box" else quirk.because
        yield Card(device.uid, socket.port, "label", quirk.place, trust, because, quirk.source, (line,))
