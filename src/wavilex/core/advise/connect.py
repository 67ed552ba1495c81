"""Where a socket's lead could go: every input, ranked, with the reason for its rank and the changes it takes."""

from __future__ import annotations

from dataclasses import dataclass, replace

from wavilex.core.advise.default_want import default_want
from wavilex.core.advise.relaxed import could
from wavilex.core.advise.table import nearest_of
from wavilex.core.chain.analogue import meetings, rate_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Hop, Layer, States
from wavilex.core.chain.reasons import render
from wavilex.core.chain.results import RunResult
from wavilex.core.errors import ChangeError
from wavilex.core.link.check import VERDICTS, Verdict
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_brief import want_data
from wavilex.core.rig.model import Device, Rig, Run, Socket, Want
from wavilex.core.rig.ops import AddRun, Change, LayerName, RunData, SetRun
from wavilex.core.rig.plugging import plug_ops


@dataclass(frozen=True, slots=True)
class Option:
    """An input to choose: how well it serves, why, what it holds now, and the ops that plug it."""

    socket: Socket
    verdict: Verdict
    why: str
    holds: str | None
    ops: tuple[Change, ...]
    spare_percent: float | None
    off_run: bool = False
    other_room: bool = False
    carries_hz: int = 0  # pixels a second of the most it would carry, where it does not carry what is wanted
    opens: bool = False  # it does not carry what is wanted as it is, but may once it is set for it


_PLAIN = Want()


def rank_inputs(rig: Rig, out: Socket, layer: LayerName = "plan") -> list[Option]:
    """Every input a lead from `out` could go to, best first. Raises ChangeError for no such output."""
    device = rig.devices.get(out.device)
    port = device.profile.port(out.port) if device else None
    if device is None or port is None or port.direction != "out":
        raise ChangeError(f"there is no output {out.device}/{out.port} in this job")
    states = States()
    options = []
    for box in rig.devices.values():
        for inp in box.profile.inputs():
            if box.uid != device.uid and port.joins(inp):
                option = _option(rig, layer, out, Socket(box.uid, inp.id), states)
                if option is not None:
                    elsewhere = bool(device.room and box.room and device.room != box.room)
                    why = f"{option.why}; in {box.room}" if elsewhere else option.why
                    options.append(replace(option, why=why, other_room=elsewhere))
    options.sort(key=_rank)
    return options


def _rank(o: Option) -> tuple[bool, bool, int, bool, int, bool, float, Socket]:
    """The run's own inputs first, then the same room, by verdict, by what it carries; free before taken, most spare."""
    spare = -1000.0 if o.spare_percent is None else o.spare_percent
    stops = VERDICTS.index(o.verdict)
    return o.off_run, o.other_room, stops, not o.opens, -o.carries_hz, o.holds is not None, -spare, o.socket


def _option(rig: Rig, layer: LayerName, out: Socket, inp: Socket, states: States) -> Option | None:
    ops = plug_ops(rig, layer, out, inp)
    other = rig.lead_at(layer, inp)
    own = other is not None and out in other.ends(layer)
    holds = other.label if other is not None and not own else None
    try:
        after, _ = apply(rig, ops)
    except ChangeError:
        return None  # a loop: not an input this output can go to
    view = Layer(after, layer, states)
    runs = [r for r in after.runs.values() if _uses(view, r, out)]
    if not runs:
        runs = _implied_runs(view, out)
        ops = [*ops, *map(_add_run, runs)]
    if not runs:
        runs, more = _second_runs(view, out)
        ops = [*ops, *more]
    if not runs and not any(_uses(Layer(rig, layer, states), r, out) for r in rig.runs.values()):
        runs = _display_runs(view, out)  # of an output that serves no run yet
        ops = [*ops, *map(_add_run, runs)]
    if not runs:
        return Option(inp, "unknown", _elsewhere(view, out), holds, tuple(ops), None, off_run=True)
    results = [run_result(view, r) for r in runs]
    worst = max(results, key=lambda r: VERDICTS.index(r.verdict))
    used = max((x.wanted.used_percent or 0 for x in worst.links), default=0)
    spare = 100 - used if worst.good else None
    opens = not worst.good and could(after, worst.run, out, inp, states)
    why = _why(view, worst, used) + (" It may carry all that is wanted once it is set for it." if opens else "")
    return Option(inp, worst.verdict, why, holds, tuple(ops), spare, carries_hz=_carries(view, worst), opens=opens)


def _carries(view: Layer, result: RunResult) -> int:
    """Pixels a second of the most an input would carry of a run that it does not carry as wanted."""
    if result.good:
        return 0
    found = [b.signal.timing for b in nearest_of(view, result) if b is not None]
    return max((t.h_active * t.v_active * t.nominal_hz for t in found), default=0)


def _uses(view: Layer, run: Run, out: Socket) -> bool:
    paths = view.paths(run)
    return bool(paths) and any(hop.out == out for hop in paths[0])


def _implied_runs(view: Layer, out: Socket) -> list[Run]:
    """The runs that plugging an output makes: of each source that has none yet and now reaches a screen by it."""
    of = [view.rig.devices[out.device]]
    if of[0].profile.role == "repeater":
        of = list(view.rig.devices.values())
    busy = {r.source for r in view.rig.runs.values()}
    runs = (_implied_run(view, d, out) for d in of if d.profile.role == "source" and d.uid not in busy)
    return [r for r in runs if r is not None]


def _second_runs(view: Layer, out: Socket) -> tuple[list[Run], list[Change]]:
    """A second output of a source to the screen its run ends at: a run of its own, each with its way chosen."""
    for first in (r for r in view.rig.runs.values() if r.source == out.device):
        paths = view.paths(first)
        way = next((p for p in paths if p[0].out == out), None)
        if way is None or any(view.rig.devices[h.inp.device].profile.kind == "receiver" for h in way):
            continue  # a receiver may have it for the sound
        port = view.rig.devices[out.device].profile.port(out.port)
        uid = next(f"{first.uid[:34]}-{n}" for n in range(2, 99) if f"{first.uid[:34]}-{n}" not in view.rig.runs)
        label = f"{view.rig.devices[out.device].label}, {port.label if port else out.port}"[:60]
        second = Run(uid, label, first.source, first.sink, way=tuple(h.lead for h in way))
        second = replace(second, want=default_want(view.rig, second, view.states))
        keeps: SetRun = {"op": "set_run", "run": first.uid, "way": [h.lead for h in paths[0]]}
        return [second], [keeps, _add_run(second)]
    return [], []


def _display_runs(view: Layer, out: Socket) -> list[Run]:
    """The runs of a computer's further displays: to each screen that its own output, or that of a dock, hub or adapter,
    now reaches, and at which none of its runs ends.
    """
    boxes = view.rig.devices
    sender = boxes[out.device].profile
    if sender.kind != "computer" and sender.routing != "streams" and sender.adapts is None:
        return []
    found = []
    for source in boxes.values():
        if source.profile.kind != "computer" or not any(out == h.out for h in _hops_behind(view, source.uid)):
            continue
        ends = {r.sink for r in view.rig.runs.values() if r.source == source.uid}
        for screen in boxes.values():
            if screen.profile.role != "screen" or screen.uid in ends:
                continue
            run = Run(f"run-{source.uid}-{screen.uid}"[:40], screen.label[:60], source.uid, screen.uid)
            if run.uid not in view.rig.runs and _uses(view, run, out):
                found.append(replace(run, want=default_want(view.rig, run, view.states)))
    return found


def _hops_behind(view: Layer, source: str) -> list[Hop]:
    """Every link that a picture of a source travels by."""
    boxes = {source, *(uid for h in view.hops_from(source) for uid in view.reached_from(h.inp.device))}
    return [h for uid in boxes for h in view.hops_from(uid)]


def _implied_run(view: Layer, source: Device, out: Socket) -> Run | None:
    """From a source to the first screen it reaches by an output, wanting the most that both ends share."""
    for screen in view.rig.devices.values():
        run = Run(f"run-{source.uid}"[:40], source.label, source.uid, screen.uid)
        if screen.profile.role == "screen" and run.uid not in view.rig.runs and _uses(view, run, out):
            return replace(run, want=default_want(view.rig, run, view.states))
    return None


def _elsewhere(view: Layer, out: Socket) -> str:
    """Why an input serves no run: it leads to another screen than the run's, or to none."""
    reached = {
        screen.label
        for screen in view.rig.devices.values()
        if screen.profile.role == "screen"
        and any(h.out == out for path in view.paths(Run("", "", out.device, screen.uid)) for h in path)
    }
    ends = [view.rig.devices[r.sink].label for r in view.rig.runs.values() if r.source == out.device]
    if reached and ends:
        return f"leads to {' and '.join(sorted(reached))}; the run ends at {ends[0]}"
    return f"leads to {' and '.join(sorted(reached))}, where no run ends" if reached else "leads to no screen yet"


def _add_run(run: Run) -> AddRun:
    want = {key: value for key, value in want_data(run.want).items() if value != getattr(_PLAIN, key)}
    row: RunData = {"uid": run.uid, "label": run.label, "source": run.source, "sink": run.sink,
                    "want": {"mode": run.want.mode, **want}, "way": list(run.way)}  # type: ignore[typeddict-item]  # fmt: skip
    return {"op": "add_run", "run": row}


def _why(view: Layer, result: RunResult, used: float) -> str:
    if result.good and not result.links and result.limiting is None:
        met = meetings(view, result.path, sent=result.asked_timing)
        return f"takes its scan rate: {rate_of(met[-1])}" if met else "joined"
    if result.good and result.links:
        name = result.asked.name if result.asked else result.run.want.mode.name
        return f"carries all it wants: {name}, {100 - used:.0f} % spare"
    reason = result.limiting
    text = render(reason, view.rig) if reason else ""
    rate, detail = nearest_of(view, result)
    names = list(dict.fromkeys(b.signal.name for b in (rate, detail) if b is not None))
    return text + (f" It would carry {' or '.join(names)}." if names else "")
