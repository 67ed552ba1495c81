"""Every multiple and sampling a run's multiplier offers, against each screen of the job."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.advise.shapes import MultipleAnswer, MultipleFigures, MultipleOut, MultipleScreen, MultipleSet
from wavilex.core.chain.analogue import at_rate
from wavilex.core.chain.multiple_set import asked_of, ceiling_of, set_sampling, set_times, tried_path
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.conversion import Conversion
from wavilex.core.rig.model import Device, Socket
from wavilex.core.rig.ops import Change, SetSetting, to_set
from wavilex.core.scan.multiples import ANSWERS, Answer, Multiple, multiple, offered, times_of
from wavilex.core.scan.shape import line_scale
from wavilex.core.scan.signals import AnalogueVideo


@dataclass(frozen=True, slots=True)
class _Taker:
    """A screen's input with what it says to each multiple, in their order."""

    screen: Device
    socket: Socket
    answers: list[Answer]

    @property
    def rank(self) -> int:
        return sum(ANSWERS.index(a.answer) for a in self.answers)


def multiples_data(
    layer: Layer, result: RunResult, signal: AnalogueVideo, device: Device, c: Conversion
) -> tuple[list[MultipleOut], list[MultipleScreen]]:
    """What comes out at each multiple, and the screens: the run's own first, the others at their best input."""
    makes = [
        multiple(signal, times, s) for times in offered(c.multiples, signal) for s in c.sampling or ("whole_line",)
    ]
    own, most_hz = result.path[-1].inp, ceiling_of(layer, device)
    takers = [_taker(layer, own, makes, most_hz)]
    for screen in layer.rig.devices.values():
        if screen.profile.role != "screen" or screen.uid == own.device:
            continue
        sockets = [Socket(screen.uid, p.id) for p in screen.profile.inputs() if p.kind == "hdmi"]
        if sockets:
            takers.append(min((_taker(layer, s, makes, most_hz) for s in sockets), key=lambda t: t.rank))
    return [{**_figures(signal, m), **_as_set(m, layer, signal, result.run.uid, device, c)} for m in makes], [
        {
            "words": _words(makes, t.answers), "screen": t.screen.label,
            "input": layer.rig.socket_name(t.socket), "here": t.socket == own,
            "answers": [_answer(signal, m, a, t) for m, a in zip(makes, t.answers, strict=True)],
        }
        for t in takers
    ]  # fmt: skip


def _taker(layer: Layer, socket: Socket, makes: list[Multiple], most_hz: int | None) -> _Taker:
    return _Taker(layer.rig.devices[socket.device], socket, [asked_of(layer, socket, m, most_hz) for m in makes])


def _as_set(m: Multiple, layer: Layer, signal: AnalogueVideo, run: str, box: Device, c: Conversion) -> MultipleSet:
    """Is the multiplier set to it now, and what would plan it, the run's wanted mode with it."""
    right = m.times == set_times(layer, box, signal), m.sampling == set_sampling(layer, box, c)
    sent = {o: at_rate(c.sent(o), signal) for o in c.outputs}
    option, mode = next(
        ((o, mode) for o, mode in sent.items() if mode and times_of(*mode.size, signal) == m.times), (None, "")
    )
    ops: list[Change] = []
    if not right[0] and option is not None and c.output is not None:
        ops = [_choose(box, c.output, option), {"op": "set_want", "run": run, "key": "mode", "value": mode}]
    if not right[1] and c.sample is not None and (right[0] or ops):
        ops.append(_choose(box, c.sample, m.sampling))
    return {"set": all(right), "ops": ops}


def _choose(box: Device, setting: str, value: str) -> SetSetting:
    return to_set((box.uid, "", setting), value)


def _words(makes: list[Multiple], answers: list[Answer]) -> str:
    """`sure 2×, 3×; doubtful 4×`: each multiple by the better of its samplings, the surest first."""
    best: dict[int, int] = {}
    for m, a in zip(makes, answers, strict=True):
        best[m.times] = min(best.get(m.times, len(ANSWERS)), ANSWERS.index(a.answer))
    parts = [(word, [f"{t}×" for t, b in best.items() if ANSWERS[b] == word]) for word in ANSWERS]
    return "; ".join(f"{word} {', '.join(times)}" for word, times in parts if times)


def _figures(signal: AnalogueVideo, m: Multiple) -> MultipleFigures:
    return {
        "times": m.times, "sampling": m.sampling, "active": f"{m.active[0]}×{m.active[1]}",
        "line_khz": round(float(m.line_hz) / 1000, 3), "lines": float(m.lines),
        "vertical_hz": round(float(m.vertical_hz), 3), "pixel_clock_mhz": round(float(m.pixel_clock_hz) / 1e6, 3),
        "tmds_gbps": round(float(m.pixel_clock_hz) * 30 / 1e9, 3),
        "way": _way(signal, m), "nearest": m.nearest.code, "nearest_name": m.nearest.mode.name,
        "off_percent": round(float(m.off_percent), 2),
    }  # fmt: skip


def _way(signal: AnalogueVideo, m: Multiple) -> str:
    """How two fields become frames, where there are two."""
    if not signal.interlaced:
        return ""
    totals = "" if m.lines.denominator == 1 else f", {int(m.lines)} and {int(m.lines) + 1} lines by turns"
    return f"bobbed: every field a frame{totals}; woven it would wait for the other field"


def _answer(signal: AnalogueVideo, m: Multiple, a: Answer, t: _Taker) -> MultipleAnswer:
    panel = t.screen.profile.panel_size
    scale = line_scale(signal.field_lines, panel[1], (m.times, m.active[1])) if panel else None
    return {
        "answer": a.answer, "why": a.why, "tried": a.tried, "scale": scale.words if scale else "",
        "even": scale.even if scale else None,
        "fact": {"device": t.socket.device, "path": tried_path(t.socket.port, m.times, m.sampling)},
    }  # fmt: skip
