"""Light on the hand-over: what was measured, cell by cell, and what was counted on the sources."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.gear.cells import read_scope
from wavilex.core.gear.words import cell_words
from wavilex.core.light.counting import counts_of, pages_of
from wavilex.core.light.readings import light_cd_m2, notes_of, panel_light, stale
from wavilex.core.light.white import white_of
from wavilex.core.light.words import cd
from wavilex.core.rig.light_notes import ALL_SIGNAL, LightNote
from wavilex.core.rig.model import Device, Rig
from wavilex.core.tell.hand_shapes import HandLight

_HOW = {"meter": "by meter", "typed": "typed from a meter", "eye": "by eye: a guess"}


def hand_light(rig: Rig) -> list[HandLight]:
    """A row a screen and cell with readings, the last ones that hold; then a row a source that was counted."""
    out: list[HandLight] = []
    for device in rig.devices.values():
        scopes = dict.fromkeys(n.scope for n in notes_of(rig, device.uid, "patch"))
        for scope in scopes:
            notes = [n for n in notes_of(rig, device.uid, "patch", scope) if not stale(rig, n)]
            lines = list(_lines(rig, device, scope, notes))
            gone = sum(1 for n in notes_of(rig, device.uid, "patch", scope)) - len(notes)
            if gone:
                lines.append(f"{gone} older readings no longer count: something they rest on was changed since")
            out.append({"device": device.label, "cell": cell_words(device.profile, scope), "lines": lines})
        counted = list(_counted(rig, device))
        if counted:
            out.append({"device": device.label, "cell": "HDR set-up pages", "lines": counted})
    return out


def _lines(rig: Rig, device: Device, scope: str, notes: list[LightNote]) -> Iterator[str]:
    """White at the value that stands there, its colour, and light by window."""
    setting = panel_light(device)
    full = [n for n in notes if n.must("signal_e4") == ALL_SIGNAL]
    if not full:
        return
    own = (device.uid, read_scope(scope).kept(setting.dimensions), setting.id) if setting else None
    kept = rig.settings.get(own) if own else None
    stands = kept.found if kept else None
    last = ([n for n in full if n.value == stands] or full)[-1]
    value = f"{setting.label} {last.value}, " if setting and last.value else ""
    known = "" if last.value == stands or not value else "; nobody noted that it was left at that"
    yield (
        f"{value}white {cd(light_cd_m2(last))} cd/m², window {last.must('window_percent')} %, {_HOW[last.method]}, "
        f"{last.at[:10]}{f', {last.by}' if last.by else ''}{known}"
    )
    colour = next((n for n in reversed(full) if n.figure("x_e5")), None)
    if colour is not None:
        w = white_of(colour.must("x_e5") / 1e5, colour.must("y_e5") / 1e5)
        kelvin = f"{w.kelvin:.0f} K, " if w.kelvin else ""
        yield f"colour of white {kelvin}ΔE {w.delta_e:.1f} to D65, {w.lean}: this unit’s own"
    windows = {n.must("window_percent"): light_cd_m2(n) for n in full if n.value == last.value}
    if len(windows) > 1:
        yield "light by size: " + ", ".join(f"{w} % {cd(x)}" for w, x in sorted(windows.items())) + " cd/m²"


def _counted(rig: Rig, source: Device) -> Iterator[str]:
    for page in pages_of(rig, source):
        notes = counts_of(rig, source, page)
        if notes:
            n = notes[-1]
            old = stale(rig, n)
            after = f"; counted before {old[0].what} was changed: count again" if old else ""
            yield f"{page.label}: {n.must('count')} clicks, {n.at[:10]}{f', {n.by}' if n.by else ''}{after}"
