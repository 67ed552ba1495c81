"""The value of every setting that matters on every box of the job's runs: solved, with why, what it does elsewhere,
what comes back by itself, and whether a sister unit may be given the same.

Settings that decide what a link carries are found by the search for fixes, run by run, the weightiest first; the
rest by wishes and house style. What would take a run's want away is not taken.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.shapes import PlannedBox, PlannedOut, SettingsPlanOut
from wavilex.core.advise.situation import STANDARD, boxes_of, gives_hdr_up, kinds_of, wished
from wavilex.core.advise.solve import barred_words, given_up, places, solve
from wavilex.core.advise.wishes import Wish
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.paths import Layer
from wavilex.core.chain.reasons import PROVENANCE_NAMES, Reason, render
from wavilex.core.chain.results import RunResult
from wavilex.core.gear.conditions import holds
from wavilex.core.gear.profile import Setting
from wavilex.core.gear.quirks import Forces
from wavilex.core.gear.stand import Place, Standing, value_at
from wavilex.core.gear.vocabulary import COPIES
from wavilex.core.gear.words import condition_words, standing_data
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import Device, Rig, Run
from wavilex.core.rig.ops import Change, SetWant, to_set

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


@dataclass(frozen=True)
class SettingsPlan:
    """rows by place, in order of the job's boxes; ops: what makes the plan; after: the rig with them."""

    rows: Mapping[Key, Row]
    ops: tuple[Change, ...]
    after: Rig


def settings_plan(layer: Layer) -> SettingsPlan:
    """Solve the job's settings, starting from its plan."""
    rig = layer.rig
    rows: dict[Key, Row] = {}
    ops: list[Change] = []
    runs = sorted(rig.runs.values(), key=lambda r: -r.want.weight)
    for run in runs:
        rig, done = _hdr_left_off(layer, rig, run)
        ops += done
    for run in runs:
        rig, done = _opened(layer, rig, run, rows)
        ops += done
    for run in runs:
        rig, done = _wished(layer, rig, run, rows)
        ops += done
    return SettingsPlan(rows, tuple(ops), rig)


def _view(layer: Layer, rig: Rig) -> Layer:
    return layer if rig is layer.rig else Layer(rig, layer.name, layer.states)


def _hdr_left_off(layer: Layer, rig: Rig, run: Run) -> tuple[Rig, list[Change]]:
    """On a weak screen, by house style: the want goes without HDR, so that nothing is missed."""
    view = _view(layer, rig)
    if run.want.hdr == "off" or not gives_hdr_up(view, run_result(view, run)):
        return rig, []
    op: SetWant = {"op": "set_want", "run": run.uid, "key": "hdr", "value": "off"}
    return apply(rig, [op])[0], [op]


def _opened(layer: Layer, rig: Rig, run: Run, rows: dict[Key, Row]) -> tuple[Rig, list[Change]]:
    """Settings that let a run carry its want."""
    view = _view(layer, rig)
    run = rig.runs[run.uid]
    result = run_result(view, run)
    done: list[Change] = []
    if result.path and not result.good:
        found = find_fixes(rig, run, layer.name, budget=_BUDGET, states=layer.states, kinds=("setting",), max_moves=3)
        if found.ways:
            done = found.ways[0].ops
            for op in done:
                if op["op"] != "set_setting":
                    continue  # only settings are searched
                key = (op["device"], op.get("scope", ""), op["key"])
                reason = _reason_at(result, key[0])
                said = f" As it is: {render(reason, rig)}" if reason else ""
                source = PROVENANCE_NAMES[reason.provenance] if reason else "common practice"
                rows[key] = Row(
                    key, op["value"] or "", f"{run.label} needs it.{said}", source, [run.label], needed=True
                )
            rig = apply(rig, done)[0]
            view = _view(layer, rig)
            result = run_result(view, rig.runs[run.uid])
    for key, because, source in _deciding(view, result):
        row = rows.get(key)
        if row is None:
            value = _value(view, key)
            if value is not None:
                rows[key] = Row(key, value, because, source, [run.label], free=True)
        elif run.label not in row.runs:
            row.runs.append(run.label)
    return rig, done


def _reason_at(result: RunResult, device: str) -> Reason | None:
    """What blocks at a box; the first that blocks at all where nothing does there."""
    blocking = [r for i in result.items if i.blocking for r in i.reasons]
    return next((r for r in blocking if r.socket is not None and r.socket.device == device), result.limiting)


def _deciding(view: Layer, result: RunResult) -> list[tuple[Key, str, str]]:
    """Settings on a run's way that limit what its sockets carry, with what they would take away otherwise."""
    out: dict[Key, tuple[str, str]] = {}
    for station in result.stations:
        device = view.rig.devices[station.socket.device]
        for quirk in device.profile.limits:
            if quirk.when is None or (quirk.ports and station.socket.port not in quirk.ports):
                continue
            for name in sorted(quirk.when.settings()):
                setting = device.profile.setting(name)
                if setting is None or (setting.ports and station.socket.port not in setting.ports):
                    continue
                key = (device.uid, station.socket.port if setting.ports else "", name)
                words = condition_words(device.profile, quirk.when)
                fine = "it gives the want" if result.good else "it does not decide what is missing"
                out.setdefault(key, (f"as it is, {fine}; with {words}: {quirk.because}",
                                     PROVENANCE_NAMES[quirk.source]))  # fmt: skip
    return [(k, *v) for k, v in out.items()]


def _value(view: Layer, key: Key) -> str | None:
    device = view.rig.devices[key[0]]
    setting = device.profile.setting(key[2])
    return view.rig.setting_value(view.name, device.uid, key[1], setting) if setting else None


def _wished(layer: Layer, rig: Rig, run: Run, rows: dict[Key, Row]) -> tuple[Rig, list[Change]]:
    """Settings by wishes and house style. What another run has settled, or a want hangs on, stays."""
    done: list[Change] = []
    for key, by_kind in _proposals(_view(layer, rig), rig.runs[run.uid]).items():
        value, why, worth = by_kind[STANDARD]
        row = rows.get(key)
        if row is not None and not row.free and (row.needed or row.runs != [run.label]):
            if row.value != value:
                setting = rig.devices[key[0]].profile.setting(key[2])
                label = setting.option_label(value) if setting else value
                row.clashes.append(f"{run.label} would have it at {label}: {why}")
            elif run.label not in row.runs:
                row.runs.append(run.label)
            continue
        if value != _value(_view(layer, rig), key):
            op = to_set(key, value)
            tried = apply(rig, [op])[0]
            if not _still_good(layer, rig, tried):
                continue
            rig = tried
            done.append(op)
        runs = list(dict.fromkeys([*(row.runs if row else []), run.label]))
        values = {kind: v for kind, (v, _, _) in by_kind.items()}
        differing = values if len(set(values.values())) > 1 else {}
        rows[key] = Row(key, value, why, runs=runs, signals=differing, worth=worth)
    return rig, done


def _proposals(view: Layer, run: Run) -> dict[Key, dict[str, tuple[str, str, int]]]:
    """For each setting the value wished, why, and the wish's points, by kind of signal the run shows."""
    result = run_result(view, run)
    out: dict[Key, dict[str, tuple[str, str, int]]] = {}
    for kind in kinds_of(view, result):
        wishes = wished(view, result, None, kind)
        by_effect = {w.effect: w for w in wishes}
        for box in boxes_of(view, result, kind):
            profile = box.device.profile
            solution = solve(profile, box.scope, wishes, box.now, box.around)
            for place, setting in places(profile, box.scope):
                if place not in solution.chosen:
                    continue
                value, wish = solution.value(place), by_effect[setting.effect or ""]
                if any(q.setting == setting.id for q in returning(box.device)):
                    # put back at every start: it is set all the same, and looked at again
                    value = _best(wish, setting, value)
                taken = given_up(profile, place, setting, wish, solution, box.around)
                barred = barred_words(profile, place, setting, wish, solution, box.around)
                why = f"given up: {taken}" if taken else f"{wish.why}; {barred}" if barred else wish.why
                by_kind = out.setdefault((box.device.uid, *place), {})
                by_kind[kind] = (value, why, wish.most)
                by_kind.setdefault(STANDARD, by_kind[kind])  # what only HDR asks for
    return out


def _best(wish: Wish, setting: Setting, value: str) -> str:
    return max((o.id for o in setting.options), key=lambda o: (wish.worth.get(o, 0), o == value))


def _still_good(layer: Layer, before: Rig, after: Rig) -> bool:
    """Does no run lose what it had?"""
    old, new = _view(layer, before), _view(layer, after)
    return all(run_result(new, after.runs[u]).good for u, r in before.runs.items() if run_result(old, r).good)


def settings_plan_data(layer: Layer, plan: SettingsPlan | None = None) -> SettingsPlanOut:
    """The plan as plain data: rows by box, and the changes that make it."""
    plan = plan or settings_plan(layer)
    after = _view(layer, plan.after)
    boxes: list[PlannedBox] = []
    for device in layer.rig.devices.values():
        own = [r for k, r in plan.rows.items() if k[0] == device.uid]
        if own:
            standing = after.standing(device)
            own.sort(key=lambda r: (not r.needed, -r.worth))  # what matters most first
            rows = [_row_data(layer, after, device, r, standing) for r in own]
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


def _row_data(layer: Layer, after: Layer, device: Device, row: Row, standing: Mapping[Place, Standing]) -> PlannedOut:
    _, scope, name = row.key
    setting = device.profile.setting(name)
    assert setting is not None
    port = device.profile.port(scope) if scope else None
    found = layer.rig.setting_value("found", device.uid, scope, setting)
    stands = standing_data(device.profile, standing[scope, name])
    return {
        "key": name, "scope": scope, "input": port.label if port else "", "label": setting.label,
        "where": setting.where, "found": setting.option_label(found) if found else "not seen",
        "plan_now": setting.option_label(_value(layer, row.key) or ""),
        "to": setting.option_label(row.value), "value": row.value, "changes": row.value != _value(layer, row.key),
        "seen_otherwise": found is not None and found != row.value,
        "why": row.why, "source": row.source, "runs": row.runs, "clashes": row.clashes,
        "signals": [f"{kind}: {setting.option_label(v)}" for kind, v in row.signals.items()],
        "standing": stands["standing"], "because": stands["because"], "frees": stands["frees"],
        "elsewhere": _elsewhere(device, setting, scope, standing, after),
        "returns": _returns(device, setting, after),
        "copies": COPIES[setting.copies], "may_copy": setting.copies == "yes",
    }  # fmt: skip


def _elsewhere(
    device: Device, setting: Setting, scope: str, standing: Mapping[Place, Standing], after: Layer
) -> list[str]:
    """What this setting, standing as planned, makes of others: sets, greys out, bars."""
    out = []
    for (at, name), now in standing.items():
        if at not in ("", scope) or name == setting.id:
            continue
        other = device.profile.setting(name)
        assert other is not None
        if now.forced is not None and setting.id in now.forced.when.settings():
            out.append(f"sets {other.label} to {other.option_label(now.forced.to)}: {now.forced.because}")
        elif now.greyed is not None and setting.id in now.greyed.when.settings():
            out.append(f"greys out {other.label}: {now.greyed.because}")
        elif now.inert is not None and setting.id in now.inert.when.settings():
            out.append(f"{other.label} does nothing: {now.inert.because}")
        for option, quirk in now.barred:
            if setting.id in quirk.when.settings():
                out.append(f"{other.label} cannot be {other.option_label(option)}: {quirk.because}")
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
