"""The panel told: care of self-lit screens, overdrive by rate, and choices with what was seen."""

from __future__ import annotations

from wavilex.core.chain.paths import Layer
from wavilex.core.gear.cells import REST, read_scope
from wavilex.core.light.care import RULE, Load, eases, grade, self_lit
from wavilex.core.light.overdrive import best_for, grades
from wavilex.core.light.readings import light_cd_m2, notes_of, stale
from wavilex.core.light.shapes import CareOut, LightChoiceOut, OverdriveOut
from wavilex.core.rig.light_notes import ALL_SIGNAL, LightNote
from wavilex.core.rig.model import Device, Rig

_CHOICES = {
    "shadow_lift": "dark parts brighter, noise with them",
    "dimming": "deeper black beside light; haloes, and dark dots lost",
    "contrast": "white brighter until it clips",
    "processing": "ramps smoother, detail softer",
    "black_frames": "moving edges clean; light lost and flicker: headaches, and a risk with photosensitive epilepsy",
}
_STRONG = ("none", "faint", "clear", "strong")


def care_data(rig: Rig, device: Device) -> CareOut:
    """What a self-lit screen is asked to carry, and what eases it."""
    played = {n.value: n for n in notes_of(rig, device.uid, "played")}
    light = _light_of(rig, device)
    loads = [
        Load(_title(rig, n), n.must("minutes_week") / 60, n.must("still_percent"), light)
        for n in played.values() if n.must("minutes_week")
    ]  # fmt: skip
    lit = self_lit(device)
    return {
        "self_lit": lit, "rule": RULE, "grade": grade(loads) if lit else "",
        "titles": [_load(x) for x in loads],
        "eases": [{"what": e.what, "costs": e.costs} for e in eases(device, loads)],
        "hours": [{"hours": str(n.must("hours")), "at": n.at, "uid": n.uid}
                  for n in notes_of(rig, device.uid, "hours")],
    }  # fmt: skip


def _load(x: Load) -> dict[str, str]:
    light = f"{x.light:.0f} cd/m², last measured" if x.light else "150 cd/m², a guess"
    return {"title": x.title, "hours": f"{x.hours_week:.3g}", "still": str(x.still_percent), "light": light,
            "load": f"{x.load:.1f}"}  # fmt: skip


def _title(rig: Rig, note: LightNote) -> str:
    title = rig.titles.get(note.value)
    return title.name if title else note.value


def _light_of(rig: Rig, device: Device) -> float | None:
    """White as it was last measured in standard range, whatever stands there now; None where it was not."""
    for n in reversed(list(notes_of(rig, device.uid, "patch"))):
        standard = read_scope(n.scope).range in ("", REST)
        if standard and n.must("signal_e4") == ALL_SIGNAL and n.method != "eye" and not stale(rig, n):
            return light_cd_m2(n)
    return None


def overdrive_data(layer: Layer, device: Device) -> OverdriveOut:
    """What was seen by setting and rate, and what suits the rates the job plays on the screen."""
    rig = layer.rig
    setting = next((s for s in device.profile.settings if s.effect == "overdrive"), None)
    notes = [n for n in notes_of(rig, device.uid, "ghost") if not stale(rig, n)]
    rates = rates_played(rig, device)
    best = best_for(grades(notes), rates)

    def label(value: str) -> str:
        return setting.option_label(value) if setting and value else value or "as it stands"

    options = [{"id": o.id, "label": o.label} for o in setting.options] if setting else []
    if setting is None:
        said = "Its profile knows no overdrive setting: what is seen is noted all the same"
    elif not best:
        said = "Nobody looked yet: the moving edge, at each rate played, with each setting"
    else:
        top = best[0]
        said = f"{setting.label} {label(top.value)} suits {', '.join(f'{r} Hz' for r in rates if r not in top.unseen)}"
        if top.unseen:
            said += f"; not seen at {', '.join(f'{r} Hz' for r in top.unseen)}"
    return {
        "setting": setting.id if setting else None, "label": setting.label if setting else "Overdrive",
        "options": options or [{"id": "", "label": "as it stands"}],
        "rates": rates, "said": said,
        "seen": [{"value": n.value, "label": label(n.value), "hz": n.must("hz"), "trail": n.must("trail"),
                  "seam": n.must("seam"), "uid": n.uid} for n in notes],
        "best": [{"value": s.value, "label": label(s.value), "worst": _STRONG[min(3, round(s.worst))],
                  "unseen": ", ".join(f"{r} Hz" for r in s.unseen)} for s in best],
    }  # fmt: skip


def rates_played(rig: Rig, device: Device) -> list[int]:
    """Rates in Hz a screen really shows: of its runs' wants, and of the titles' modes they carry."""
    wants = [r.want for r in rig.runs.values() if r.sink == device.uid]
    most = max((w.mode.hz for w in wants), default=0)
    titles = {f for t in rig.titles.values() for f in t.render_rates if 48 <= f <= most}
    return sorted(titles | {w.mode.hz for w in wants})


def choices_data(layer: Layer, device: Device) -> list[LightChoiceOut]:
    """Settings of light and shade that are a matter of taste, with what was seen of each value."""
    out: list[LightChoiceOut] = []
    rig = layer.rig
    notes = list(notes_of(rig, device.uid, "choice"))
    for s in device.profile.settings:
        if s.effect not in _CHOICES:
            continue
        values = [v.found for (d, _, key), v in rig.settings.items() if (d, key) == (device.uid, s.id) and v.found]
        dims = next((q for q in device.profile.quirks if q.kind == "dims" and q.when is not None
                     and s.id in q.when.settings()), None)  # fmt: skip
        out.append({
            "setting": s.id, "label": s.label, "value": s.option_label(values[0]) if values else "",
            "options": [{"id": o.id, "label": o.label} for o in s.options], "does": _CHOICES[s.effect or ""],
            "figures": f"keeps {dims.keeps_percent} % of its light" if dims is not None else "",
            "seen": [{"value": s.option_label(n.value.partition("=")[2]), "text": n.text, "at": n.at, "uid": n.uid}
                     for n in notes if n.value.partition("=")[0] == s.id],
        })  # fmt: skip
    return out
