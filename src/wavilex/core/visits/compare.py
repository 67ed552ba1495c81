"""Two states of a job, or of two jobs, held against each other: what differs, in words."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping

from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import render
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.words import cell_words
from wavilex.core.light.readings import light_cd_m2, notes_of
from wavilex.core.light.words import cd
from wavilex.core.rig.light_notes import ALL_SIGNAL
from wavilex.core.rig.model import Device, Ends, Rig, Run, SettingValue
from wavilex.core.rig.ops import INPUT_KEY, LayerName
from wavilex.core.rig.visit_facts import kept_values
from wavilex.core.visits.shapes import DiffKind, StateDiff, StatesCompared
from wavilex.core.visits.state import LagCell, State

_NONE = "not there"
_WORDS = {"hdr": "HDR", "vrr": "variable refresh", "low_lag": "automatic low latency", "audio": "its sound"}
Row = tuple[DiffKind, str, str, str, str]


def compare(a: State, b: State, names: tuple[str, str], layer: LayerName = "found") -> StatesCompared:
    """What stands otherwise in b than in a: verdicts first, then what may have brought them about.

    Boxes, leads and runs are the same where their uid is, else where their name is: two jobs can be compared too.
    """
    both = _Both(a, b, layer)
    rows = list(both.rows())
    differing: list[StateDiff] = [
        {"kind": kind, "what": what, "was": was, "now": now, "says": says}
        for kind, what, was, now, says in rows if was != now
    ]  # fmt: skip
    return {
        "a": names[0], "b": names[1], "layer": layer, "rows": differing,
        "same": dict(Counter(kind for kind, _, was, now, _ in rows if was == now)),
    }  # fmt: skip


def paired(a: Mapping[str, str], b: Mapping[str, str]) -> list[tuple[str | None, str | None]]:
    """Uids of two states that are one thing: by uid, then by name; each once. a, b: uid to name."""
    taken = {uid: uid for uid in a if uid in b}
    free = [uid for uid in b if uid not in taken]
    for uid, name in a.items():
        if uid not in taken:
            match = next((x for x in free if b[x] == name), None)
            if match is not None:
                taken[uid] = match
                free.remove(match)
    return [*((uid, taken.get(uid)) for uid in a), *((None, uid) for uid in b if uid not in taken.values())]


class _Both:
    """Two states, with what in one is what in the other."""

    def __init__(self, a: State, b: State, layer: LayerName) -> None:
        self.a, self.b, self.layer = a, b, layer
        self.boxes = paired(*({u: d.label for u, d in s.rig.devices.items()} for s in (a, b)))
        self.back = {y: x for x, y in self.boxes if x is not None and y is not None}  # b's uid to a's

    def rows(self) -> Iterator[Row]:
        yield from self._verdicts()
        yield from self._boxes()
        yield from self._firmware()
        yield from self._wiring()
        yield from self._settings()
        yield from self._kept()
        yield from self._lag()
        yield from self._light()

    def _verdicts(self) -> Iterator[Row]:
        runs = paired(*({u: r.label for u, r in s.rig.runs.items()} for s in (self.a, self.b)))
        views = [Layer(s.rig, self.layer) for s in (self.a, self.b)]
        for x, y in runs:
            one, other = _run(self.a.rig, x), _run(self.b.rig, y)
            label = (other or one).label  # type: ignore[union-attr]
            was, _ = _verdict(views[0], one)
            now, why = _verdict(views[1], other)
            yield "verdict", label, was, now, why

    def _boxes(self) -> Iterator[Row]:
        for x, y in self.boxes:
            one, other = (r.devices.get(u or "") for r, u in ((self.a.rig, x), (self.b.rig, y)))
            label = (other or one).label  # type: ignore[union-attr]
            yield "box", label, _box(one), _box(other), ""

    def _firmware(self) -> Iterator[Row]:
        for x, y in self.boxes:
            if x is not None and y is not None:
                one, other = self.a.rig.devices[x], self.b.rig.devices[y]
                was, now = (d.firmware_in(self.layer) or "not read" for d in (one, other))
                yield "firmware", other.label, was, now, ""

    def _wiring(self) -> Iterator[Row]:
        leads = paired(*({u: x.label for u, x in s.rig.leads.items()} for s in (self.a, self.b)))
        for x, y in leads:
            one, other = self.a.rig.leads.get(x or ""), self.b.rig.leads.get(y or "")
            label = (other or one).label  # type: ignore[union-attr]
            was = _ends(self.a.rig, one.ends(self.layer)) if one else _NONE
            now = _ends(self.b.rig, other.ends(self.layer)) if other else _NONE
            yield "wiring", f"lead {label}", was, now, ""

    def _settings(self) -> Iterator[Row]:
        old = {place: v for place, v in self.a.rig.settings.items() if place[2] != INPUT_KEY}
        new = {
            (self.back.get(u, u), scope, key): v
            for (u, scope, key), v in self.b.rig.settings.items() if key != INPUT_KEY
        }  # fmt: skip
        for place in dict.fromkeys((*old, *new)):
            uid, scope, key = place
            there = next((y for x, y in self.boxes if x == uid), uid)
            device = self.b.rig.devices.get(there or "") or self.a.rig.devices[uid]
            setting = device.profile.setting(key)
            if setting is None:
                continue
            cell = cell_words(device.profile, scope)
            what = f"{device.label}{f', {cell}' if cell else ''}: {setting.label}"
            was, now = (self._value(v.get(place), setting) for v in (old, new))
            yield "setting", what, was, now, ""

    def _value(self, value: SettingValue | None, setting: Setting) -> str:
        stands = None if value is None else value.found if self.layer == "found" else value.plan or value.found
        if stands is None:
            return "not seen" if self.layer == "found" else "not planned"
        return setting.option_label(stands)

    def _kept(self) -> Iterator[Row]:
        old = {(k.device, k.scope, k.key): k.kept.because for k in kept_values(self.a.rig)}
        new = {(self.back.get(k.device, k.device), k.scope, k.key): k.kept.because for k in kept_values(self.b.rig)}
        for place in dict.fromkeys((*old, *new)):
            there = next((y for x, y in self.boxes if x == place[0]), None)
            device = self.b.rig.devices.get(there or "") or self.a.rig.devices[place[0]]
            setting = device.profile.setting(place[2])
            what = f"{device.label}: {setting.label if setting else place[2]}, by the client’s hand"
            yield "kept", what, old.get(place, "not kept"), new.get(place, "not kept"), ""

    def _lag(self) -> Iterator[Row]:
        labels = {u: d.label for u, d in self.a.rig.devices.items()}
        new = {(self.back.get(c.device, c.device), c.what): c for c in self.b.lag}
        old = {(c.device, c.what): c for c in self.a.lag}
        here = {self.back.get(u, u): d.label for u, d in self.b.rig.devices.items()}
        for place in dict.fromkeys((*old, *new)):
            one, other = old.get(place), new.get(place)
            name = here.get(place[0]) or labels.get(place[0], place[0])
            yield "lag", f"{name}: {place[1]}", _lag(one), _lag(other), _apart(one, other)

    def _light(self) -> Iterator[Row]:
        for x, y in self.boxes:
            one, other = _white(self.a.rig, x), _white(self.b.rig, y)
            device = self.b.rig.devices.get(y or "") or self.a.rig.devices[x or ""]
            for scope, value in dict.fromkeys((*one, *other)):
                cell = cell_words(device.profile, scope)
                at = f", at {value}" if value else ""
                was, now = (s.get((scope, value), "not measured") for s in (one, other))
                yield "light", f"{device.label}{f', {cell}' if cell else ''}: white{at}", was, now, ""


def _run(rig: Rig, uid: str | None) -> Run | None:
    return rig.runs.get(uid) if uid else None


def _verdict(view: Layer, run: Run | None) -> tuple[str, str]:
    """A run's verdict with what it carries, and why."""
    if run is None:
        return _NONE, ""
    result = run_result(view, run)
    if not result.path:
        return "not joined", ""
    asked = result.asked.name if result.asked else run.want.mode.name
    missed = [_WORDS.get(i.key, i.key) for i in result.items if i.verdict in ("blocked", "unknown") and not i.blocking]
    less = f"; without {', '.join(missed)}" if missed else ""
    why = render(result.limiting, view.rig) if result.limiting else ""
    return f"{result.verdict}: {asked}{less}", why


def _box(device: Device | None) -> str:
    return _NONE if device is None else f"{device.profile.name}{f', {device.room}' if device.room else ''}"


def _ends(rig: Rig, ends: Ends) -> str:
    return " to ".join(rig.socket_name(s) if s else "loose" for s in ends)


def _lag(cell: LagCell | None) -> str:
    if cell is None:
        return "not measured"
    span = "" if cell.low_us is None or cell.high_us is None else f" ({_ms(cell.low_us)} to {_ms(cell.high_us)})"
    return f"{_ms(cell.lag_us)} ms{span}, of {cell.readings}"


def _ms(us: int) -> str:
    return f"{us / 1000:.1f}"


def _apart(a: LagCell | None, b: LagCell | None) -> str:
    """How much less or more, where the two intervals do not meet; that they do, where they do."""
    if a is None or b is None or a == b:
        return ""
    if a.low_us is None or a.high_us is None or b.low_us is None or b.high_us is None:
        return "too few readings to tell them apart"
    if a.low_us <= b.high_us and b.low_us <= a.high_us:
        return "their intervals at 95 % meet: not told apart"
    more = b.lag_us - a.lag_us
    return f"{_ms(abs(more))} ms {'more' if more > 0 else 'less'}; their intervals at 95 % do not meet"


def _white(rig: Rig, uid: str | None) -> dict[tuple[str, str], str]:
    """The last white measured in each cell, at each value of the panel light."""
    if uid is None or uid not in rig.devices:
        return {}
    notes = [n for n in notes_of(rig, uid, "patch") if n.must("signal_e4") == ALL_SIGNAL]
    return {(n.scope, n.value): f"{cd(light_cd_m2(n))} cd/m²" for n in notes}


def as_text(told: StatesCompared) -> str:
    """The comparison as lines of text."""
    lines = [f"{told['a']} against {told['b']}, as {told['layer']}", ""]
    rows = [f"{r['what']}: {r['was']} → {r['now']}" + (f" ({r['says']})" if r["says"] else "") for r in told["rows"]]
    lines += rows or ["Nothing differs."]
    alike = sum(told["same"].values())
    return "\n".join([*lines, "", f"{alike} things stand alike."])
