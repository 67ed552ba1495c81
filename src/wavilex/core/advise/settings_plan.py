"""The value of every setting that matters on every box of the job's runs: solved, with why, what it does elsewhere,
what comes back by itself, and whether a sister unit may be given the same.

Settings that decide what a link carries are found by the search for fixes, run by run, the weightiest first; the
rest by wishes and house style. What would take a run's want away is not taken.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from wavilex.core.advise.daylight import BY_DAY, BY_NIGHT, day_preset, day_values
from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.levels import Start, measured, start_of
from wavilex.core.advise.shapes import PlannedBox, PlannedOut, SettingsPlanOut
from wavilex.core.advise.situation import STANDARD, boxes_of, gives_hdr_up, kinds_of, schools_of, wished
from wavilex.core.advise.solve import barred_words, places
from wavilex.core.advise.together import Solved, solve_run
from wavilex.core.advise.wishes import Wish
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer, facts_of_want
from wavilex.core.chain.reasons import Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.gear.cells import read_scope, spot_of
from wavilex.core.gear.conditions import holds
from wavilex.core.gear.quirks import Forces
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.stand import Place, Standing, value_at
from wavilex.core.gear.vocabulary import COPIES
from wavilex.core.gear.words import cell_words, condition_words, standing_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Run
from wavilex.core.rig.ops import Change, SetWant, to_set
from wavilex.core.rig.visit_facts import kept_words

_BUDGET = 120  # rigs looked at for one run: only settings are tried
Key = tuple[str, str, str]  # device, scope, setting


@dataclass
class Row:
    """What is planned of one setting. needed: a run's want hangs on it; free: it only could be otherwise.
    worth: the points of the wish it follows, for the order.

    signals: values by kind of signal, where standard range and HDR differ. clashes: who would have it otherwise.
    """

    key: Key
    value: str
    why: str
    source: str = "common practice"
    runs: list[str] = field(default_factory=list)
    needed: bool = False
    free: bool = False
    clashes: list[str] = field(default_factory=list)
    signals: dict[str, str] = field(default_factory=dict)  # kind of signal to value, where they differ
    worth: int = 0
    start: bool = False  # only a value to begin with

    def serves(self, run: Run) -> None:
        """Another run hangs on it as well."""
        if run.label not in self.runs:
            self.runs.append(run.label)

    def settled_for_others(self, run: Run) -> bool:
        """Is it no longer open to what a run would only like?"""
        return not self.free and (self.needed or self.runs != [run.label])


@dataclass(frozen=True)
class SettingsPlan:
    """rows by place, in order of the job's boxes; ops: what makes the plan; after: the rig with them."""

    rows: Mapping[Key, Row]
    ops: tuple[Change, ...]
    after: Rig


class Deciding(NamedTuple):
    """A setting that limits what a run's sockets carry, and what it would take away otherwise."""

    key: Key
    because: str
    source: str


class Proposed(NamedTuple):
    """A value by wish: why, and the points of the wish."""

    value: str
    why: str
    worth: int


def settings_plan(layer: Layer) -> SettingsPlan:
    """Solve the job's settings, starting from its plan."""
    draft = _Draft(layer)
    runs = sorted(layer.rig.runs, key=lambda uid: -layer.rig.runs[uid].want.weight)
    for step in (draft.leave_hdr_off, draft.open, draft.choose_presets, draft.settle, draft.set_numbers, draft.set_day):
        for uid in runs:
            step(uid)
    return SettingsPlan(draft.rows, tuple(draft.ops), draft.rig)


class _Draft:
    """A plan in the making: the rig as far as it is planned, what leads there, and a row for each setting looked at."""

    def __init__(self, layer: Layer) -> None:
        self.name, self._states, self._view = layer.name, layer.states, layer
        self.rows: dict[Key, Row] = {}
        self.ops: list[Change] = []

    @property
    def rig(self) -> Rig:
        return self._view.rig

    def leave_hdr_off(self, uid: str) -> None:
        """On a weak screen, by house style: the want goes without HDR, so that nothing is missed."""
        run = self.rig.runs[uid]
        if run.want.hdr != "off" and gives_hdr_up(self._view, self._result(uid)):
            op: SetWant = {"op": "set_want", "run": uid, "key": "hdr", "value": "off"}
            self._take([op])

    def open(self, uid: str) -> None:
        """Settings that let a run carry its want; and what else on its way decides what it carries."""
        run, result = self.rig.runs[uid], self._result(uid)
        if result.path and not result.good:
            found = find_fixes(self.rig, run, self.name, budget=_BUDGET, states=self._states, kinds=("setting",))
            if found.ways:
                for op in found.ways[0].ops:
                    if op["op"] == "set_setting":  # only settings are searched
                        self._needed(run, result, (op["device"], op.get("scope", ""), op["key"]), op["value"] or "")
                self._take(found.ways[0].ops)
        for key, because, source in _deciding(self._view, self._result(uid)):
            row, value = self.rows.get(key), _value(self._view, key)
            if row is not None:
                row.serves(run)
            elif value is not None:
                self.rows[key] = Row(key, value, because, source, [run.label], free=True)

    def choose_presets(self, uid: str) -> None:
        """The picture preset, before anything that is kept by it."""
        screen = self.rig.devices[self.rig.runs[uid].sink]
        if screen.profile.preset is not None:
            self.settle(uid, screen.profile.preset)

    def set_numbers(self, uid: str) -> None:
        """A start for every number of the screen's menus that nobody has set in the cells the run is in."""
        run, result = self.rig.runs[uid], self._result(uid)
        look = schools_of(self._view, run)["look"]
        for kind in kinds_of(self._view, result):
            for box in boxes_of(self._view, result, kind)[:1]:
                for place, setting in places(box.device.profile, box.scope):
                    if place in box.kept:
                        continue
                    key, range_ = box.key(place), spot_of(box.around.signal).range
                    spot = spot_of(box.around.signal, box.scope, box.modes.get(box.scope, ""))
                    start = measured(self.rig, box.device, spot, setting, "night") or start_of(
                        setting, range_ if "range" in setting.dimensions else "", look
                    )
                    if start is not None:
                        self._start(run, key, start)

    def set_day(self, uid: str) -> None:
        """By day films have another preset, with values of its own."""
        run, result = self.rig.runs[uid], self._result(uid)
        day = day_preset(self._view, result)
        preset = self.rig.devices[run.sink].profile.preset
        if not day or preset is None:
            return
        for key, start in day_values(self._view, result, day):
            self._start(run, key, start)
        for key, row in self.rows.items():
            if key[0] == run.sink and key[2] == preset.id and run.label in row.runs:
                row.signals = {BY_NIGHT: row.value, BY_DAY: day}

    def _start(self, run: Run, key: Key, start: Start) -> None:
        row = self.rows.get(key)
        if row is not None:
            row.serves(run)
            if row.value != start.value:
                row.clashes.append(f"{run.label} would begin at {self._option_label(key, start.value)}: {start.why}")
        elif key not in self.rig.settings or (start.firm and not self.rig.settings[key].plan):
            self._take([to_set(key, start.value)])
            self.rows[key] = Row(key, start.value, start.why, start.source, [run.label], start=True)

    def settle(self, uid: str, only: Setting | None = None) -> None:
        """Settings by wishes and house style. What another run has settled, or a want hangs on, stays."""
        run = self.rig.runs[uid]
        for key, by_kind in proposals(self._view, self._result(uid)).items():
            if only is not None and key[2] != only.id:
                continue
            value, why, worth = by_kind[STANDARD]
            row = self.rows.get(key)
            if row is not None and row.settled_for_others(run):
                if row.value == value:
                    row.serves(run)
                else:
                    row.clashes.append(f"{run.label} would have it at {self._option_label(key, value)}: {why}")
            elif value == _value(self._view, key) or self._take([to_set(key, value)], if_still_good=True):
                values = {kind: p.value for kind, p in by_kind.items()}
                runs = list(dict.fromkeys([*(row.runs if row else []), run.label]))
                differing = values if len(set(values.values())) > 1 else {}
                self.rows[key] = Row(key, value, why, runs=runs, signals=differing, worth=worth)

    def _result(self, uid: str) -> RunResult:
        return run_result(self._view, self.rig.runs[uid])

    def _take(self, ops: Sequence[Change], if_still_good: bool = False) -> bool:
        """Take changes into the plan; False, and nothing taken, where a run would lose what it had."""
        after = Layer(apply(self.rig, list(ops))[0], self.name, self._states)
        if if_still_good and not _still_good(self._view, after):
            return False
        self._view = after
        self.ops += ops
        return True

    def _needed(self, run: Run, result: RunResult, key: Key, value: str) -> None:
        reason = _reason_at(result, key[0])
        said = f" As it is: {render(reason, self.rig)}" if reason else ""
        source = PROVENANCE_NAMES[reason.provenance] if reason else "common practice"
        self.rows[key] = Row(key, value, f"{run.label} needs it.{said}", source, [run.label], needed=True)

    def _option_label(self, key: Key, value: str) -> str:
        setting = self.rig.devices[key[0]].profile.setting(key[2])
        return setting.option_label(value) if setting else value


def _reason_at(result: RunResult, device: str) -> Reason | None:
    """What blocks at a box; the first that blocks at all where nothing does there."""
    blocking = [r for i in result.items if i.blocking for r in i.reasons]
    return next((r for r in blocking if r.socket is not None and r.socket.device == device), result.limiting)


def _deciding(view: Layer, result: RunResult) -> Iterator[Deciding]:
    """Settings on a run's way that limit what its sockets carry; of several rules on one, the first."""
    seen = _named(result)
    fine = "it gives the want" if result.good else "it does not decide what is missing"
    for station in result.stations:
        device, port = view.rig.devices[station.socket.device], station.socket.port
        for quirk in device.profile.limits:
            if quirk.when is None or (quirk.ports and port not in quirk.ports):
                continue
            settings = (device.profile.setting(name) for name in sorted(quirk.when.settings()))
            for setting in (s for s in settings if s is not None and (not s.ports or port in s.ports)):
                key = (device.uid, view.scope(device, setting, port, facts_of_want(result.run.want)), setting.id)
                if key not in seen:
                    seen.add(key)
                    words = condition_words(device.profile, quirk.when)
                    because = f"as it is, {fine}; with {words}: {quirk.because}"
                    yield Deciding(key, because, PROVENANCE_NAMES[quirk.source])


def _named(result: RunResult) -> set[Key]:
    """Settings that a reason of the run names: none of them is as it should be."""
    return {
        (r.socket.device, scope, setting)
        for r in result.reasons if r.socket is not None and r.origin is not None
        for scope, setting, _ in r.origin.settings
    }  # fmt: skip


def _value(view: Layer, key: Key) -> str | None:
    device = view.rig.devices[key[0]]
    setting = device.profile.setting(key[2])
    return view.rig.setting_value(view.name, device.uid, key[1], setting) if setting else None


def proposals(view: Layer, result: RunResult) -> dict[Key, dict[str, Proposed]]:
    """For each setting what is wished of it, by kind of signal the run shows."""
    out: dict[Key, dict[str, Proposed]] = {}
    for kind in kinds_of(view, result):
        for solved in solve_run(view, result, wished(view, result, None, kind), kind):
            for key, proposed in _proposed_at(solved):
                by_kind = out.setdefault(key, {})
                by_kind[kind] = proposed
                by_kind.setdefault(STANDARD, proposed)  # what only HDR asks for
    return out


def _proposed_at(solved: Solved) -> Iterator[tuple[Key, Proposed]]:
    """What is wished of a box's settings, as far as its own rules and the other box let it."""
    box, solution = solved.box, solved.solution
    profile = box.device.profile
    put_back = {q.setting for q in returning(box.device)}
    for place, setting in places(profile, box.scope):
        if place not in solution.chosen:
            continue
        value, wish = solution.value(place), solved.wish(place, setting)
        if setting.id in put_back:  # put back at every start: it is set all the same, and looked at again
            value = _best(wish, setting, value)
        taken = solved.given_up(place, setting, wish)
        barred = barred_words(profile, place, setting, wish, solution, box.around)
        why = f"given up: {taken}" if taken else f"{wish.why}; {barred}" if barred else wish.why
        if place in box.kept:
            value, why = box.kept[place].value, f"{kept_words(box.kept[place])}; else: {wish.why}"
        yield box.key(place), Proposed(value, why, wish.most)


def _best(wish: Wish, setting: Setting, value: str) -> str:
    return max((o.id for o in setting.options), key=lambda o: (wish.worth.get(o, 0), o == value))


def _still_good(before: Layer, after: Layer) -> bool:
    """Does no run lose what it had?"""
    runs = before.rig.runs.items()
    return all(run_result(after, after.rig.runs[uid]).good for uid, r in runs if run_result(before, r).good)


def settings_plan_data(layer: Layer, plan: SettingsPlan | None = None) -> SettingsPlanOut:
    """The plan as plain data: rows by box, and the changes that make it."""
    plan = plan or settings_plan(layer)
    after = layer if plan.after is layer.rig else Layer(plan.after, layer.name, layer.states)
    boxes: list[PlannedBox] = []
    for device in layer.rig.devices.values():
        own = [r for k, r in plan.rows.items() if k[0] == device.uid]
        if own:
            own.sort(key=lambda r: (not r.needed, -r.worth))  # what matters most first
            rows = [_row_data(layer, after, device, r) for r in own]
            rows.sort(key=lambda r: not r["changes"])
            boxes.append({"device": device.uid, "label": device.label, "room": device.room, "rows": rows})
    wants = [op for op in plan.ops if op["op"] == "set_want"]
    return {
        "boxes": boxes, "ops": [op for op in plan.ops if _changes(layer, op)],
        "changes": sum(r["changes"] for b in boxes for r in b["rows"]),
        "hdr_left_off": [layer.rig.runs[op["run"]].label for op in wants],
    }  # fmt: skip


def _changes(layer: Layer, op: Change) -> bool:
    if op["op"] != "set_setting":
        return True
    return _value(layer, (op["device"], op.get("scope", ""), op["key"])) != op["value"]


def _row_data(layer: Layer, after: Layer, device: Device, row: Row) -> PlannedOut:
    _, scope, name = row.key
    spot = read_scope(scope)
    standing = after.standing(device, spot=spot if device.profile.in_cells else None)
    setting = device.profile.setting(name)
    assert setting is not None
    found = layer.rig.setting_value("found", device.uid, scope, setting)
    stands = standing_data(device.profile, standing[spot.input, name])
    return {
        "key": name, "scope": scope, "input": cell_words(device.profile, scope), "label": setting.label,
        "where": setting.where, "found": setting.option_label(found) if found else "not seen",
        "plan_now": setting.option_label(_value(layer, row.key) or ""),
        "to": setting.option_label(row.value), "value": row.value, "changes": row.value != _value(layer, row.key),
        "seen_otherwise": found is not None and found != row.value,
        "why": row.why, "source": row.source, "runs": row.runs, "clashes": row.clashes,
        "signals": [f"{kind}: {setting.option_label(v)}" for kind, v in row.signals.items()],
        "standing": stands["standing"], "because": stands["because"], "frees": stands["frees"],
        "elsewhere": _elsewhere(device, setting, spot.input, standing),
        "returns": _returns(device, setting, after),
        "start": row.start, "copies": COPIES[setting.copies], "may_copy": setting.copies == "yes",
    }  # fmt: skip


def _elsewhere(device: Device, setting: Setting, port: str, standing: Mapping[Place, Standing]) -> list[str]:
    """What this setting, standing as planned, makes of others: sets, greys out, bars."""
    out = []
    for (at, name), now in standing.items():
        if at not in ("", port) or name == setting.id:
            continue
        other = device.profile.setting(name)
        assert other is not None
        if now.forced is not None and setting.id in now.forced.when.settings():
            out.append(f"sets {other.label} to {other.option_label(now.forced.to)}: {now.forced.because}")
        elif now.greyed is not None and setting.id in now.greyed.when.settings():
            out.append(f"greys out {other.label}: {now.greyed.because}")
        elif now.inert is not None and setting.id in now.inert.when.settings():
            out.append(f"leaves {other.label} without effect: {now.inert.because}")
        for option, quirk in now.barred:
            if setting.id in quirk.when.settings():
                out.append(f"keeps {other.label} from {other.option_label(option)}: {quirk.because}")
    return out


def _returns(device: Device, setting: Setting, after: Layer) -> str:
    """Does it come back by itself, and when? "" where it stays."""
    values = value_at(device.profile, after.standing(device), "")
    for quirk in returning(device):
        if quirk.setting == setting.id and holds(quirk.when, values, after.around(device)) is not False:
            words = condition_words(device.profile, quirk.when)
            return f"goes back to {setting.option_label(quirk.to)} by itself with {words}: look at it again"
    return ""


def returning(device: Device) -> Sequence[Forces]:
    """Settings a box puts back at every start of something, on its firmware or where nobody read it."""
    firmware = device.firmware_in("plan")
    return [
        q for q in device.profile.setting_quirks
        if isinstance(q, Forces) and q.returns and (q.firmware is None or q.firmware.holds(firmware) is not False)
    ]  # fmt: skip
