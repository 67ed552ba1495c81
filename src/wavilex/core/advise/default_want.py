"""The want of a new run: the most that its two ends share, whatever stands between them now.

The screen's own size before any other, then rate; HDR, variable refresh and low latency where both ends have them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from wavilex.core.advise.lesser import shared_modes
from wavilex.core.advise.relaxed import barred
from wavilex.core.advise.table import shared_timings
from wavilex.core.chain.paths import Layer, States
from wavilex.core.chain.read import read_run
from wavilex.core.gear.state import ANY
from wavilex.core.rig.model import Device, Rig, Run, Want
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.mode import Mode, parse_mode

_NOT_KNOWN = parse_mode("1920x1080@60")  # of ends that list nothing: nearly every screen shows it
_BYTES = 400
_PLAYED = ("console", "computer", "handheld")  # kinds of source that a title is played on


def default_want(rig: Rig, run: Run, states: States | None = None) -> Want:
    """What a run between two boxes should want until somebody says otherwise."""
    states = states or States()
    if not _digital(rig.devices[run.source]) or not _digital(rig.devices[run.sink]):
        return Want(mode=_converted(Layer(rig, "plan", states), run) or _shown(rig.devices[run.sink]))
    key = ("default want", rig.devices[run.source].profile_digest, rig.devices[run.sink].profile_digest,
           *(repr(rig.device_facts(uid)) for uid in (run.source, run.sink)))  # fmt: skip
    kept: Want | None = states.memory.get(key)
    if kept is None:
        kept = _default_want(rig, run, states)
        states.memory.put(key, kept, _BYTES)
    return kept


def _default_want(rig: Rig, run: Run, states: States) -> Want:
    source, sink = rig.devices[run.source], rig.devices[run.sink]
    mode = next(
        (m for m in _modes(rig, run) if barred(rig, run, Want(mode=m), states, alone=True) is None), _shown(sink)
    )
    want = Want(mode=mode)
    for more, must in _additions(source):
        fuller = replace(want, **more)  # type: ignore[arg-type]
        if barred(rig, run, fuller, states, must, alone=True) is None:
            want = fuller
    return want


def _converted(layer: Layer, run: Run) -> Mode | None:
    """What a box on the way makes of an old machine's picture, where one is joined already."""
    read = read_run(layer, run)
    shared = shared_timings(read[0]) if read is not None else []
    return shared[0].mode if shared else None


def _additions(source: Device) -> Iterator[tuple[dict[str, object], tuple[str, ...]]]:
    yield {"hdr": "static", "bits": 10}, ()
    if source.profile.kind in _PLAYED:
        yield {"vrr": True}, ()
        yield {"low_lag": True}, ("low_lag",)
    if source.profile.kind == "player":
        yield {"protected": True}, ()


def _digital(device: Device) -> bool:
    ports = (*device.profile.inputs(), *device.profile.outputs())
    return any(p.digital for p in ports)


def _modes(rig: Rig, run: Run) -> list[Mode]:
    """Modes both ends list, the screen's own size first, then the largest that is no larger, the fastest first."""
    panel = rig.devices[run.sink].profile.panel_size
    top = replace(run, want=Want(mode=Mode(10**5, 10**5, 1000)))
    modes = [m for m in shared_modes(rig, top) if m != top.want.mode and not m.interlaced]
    modes = modes or _listed(rig.devices[run.sink])
    most = panel[0] * panel[1] if panel else 0

    def rank(m: Mode) -> tuple[bool, bool, int, int]:
        area = m.width * m.height
        return m.size != panel, bool(most) and area > most, -area, -m.hz

    return sorted(modes, key=rank)


def _listed(device: Device) -> list[Mode]:
    """Progressive modes any input of a screen lists."""
    lists = [p.video.modes if p.video.modes is not None else device.profile.video.modes for p in device.profile.ports]
    found = {listed_timing(m).mode for x in lists if x is not None and x != ANY for m in x}
    return [m for m in found if not m.interlaced]


def _shown(sink: Device) -> Mode:
    """What a screen surely shows of a machine whose picture is its own: 1080p60, or the largest below that it lists."""
    fits = [m for m in _listed(sink) if m.hz <= _NOT_KNOWN.hz and m.width * m.height <= 1920 * 1080]
    return max(fits, key=lambda m: (m.width * m.height, m.hz), default=_NOT_KNOWN)
