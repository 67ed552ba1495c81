"""Noting light: by meter, typed, by eye; each a change of the job, with who, when, and what it rests on. CSV too."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from django.db import transaction

from wavilex.core.chain.paths import Layer
from wavilex.core.errors import ChangeError
from wavilex.core.gear.cells import Spot, read_scope
from wavilex.core.light.counting import light_figures
from wavilex.core.light.readings import EYE_ERROR_E4, TYPED_ERROR_E4, USUAL_WINDOW, Cell, grounds_at, panel_light
from wavilex.core.plain import cell_text, text_of_cell
from wavilex.core.rig.light_notes import ALL_SIGNAL, LightNote, check_figures
from wavilex.core.rig.model import Device, Rig
from wavilex.core.rig.ops import Change, LightKind, LightMethod, LightNoteData
from wavilex.server.jobs import models
from wavilex.server.jobs.cache import layer_of, rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import change_job
from wavilex.server.light.watch import seen
from wavilex.server.problems import ProblemError

COLUMNS = ("screen", "scope", "value", "window_percent", "signal_percent", "cd_m2", "error_percent", "x", "y", "method",
           "at", "by")  # fmt: skip
MOST_ROWS = 2000


@dataclass(frozen=True, slots=True)
class Noted:
    """What somebody notes of light. figures as its kind has them; meter: take light and colour from it; ref: the
    settled moment meant. error_e4 and the like that nobody says are filled in. screen: of clicks, whose cell it is.
    warmth: the colour temperature as it stood, where it is not as noted.
    """

    kind: LightKind
    device: str
    scope: str = ""
    value: str = ""
    figures: dict[str, int] = field(default_factory=dict)
    method: LightMethod = "typed"
    text: str = ""
    meter: str = ""
    ref: str = ""
    screen: str = ""
    warmth: str = ""


@transaction.atomic
def note(*, job_uid: str, uid: str, noted: Sequence[Noted], said_at: datetime, actor: Any) -> models.Job:
    """Keep light notes as one change. The same uid twice is kept once; no revision is asked for: it may come late."""
    job = job_by_uid(job_uid, lock=True)
    change_uid = f"light-{uid}"
    if job.changes.filter(uid=change_uid).exists():
        return job
    layer = layer_of(job, "found")
    at = said_at.astimezone(UTC).isoformat()
    ops: list[Change] = [
        {"op": "note_light", "note": _data(layer, f"{uid}.{n}", x, at, actor.get_username())}
        for n, x in enumerate(noted)
    ]
    label = _label(layer.rig, noted)
    return change_job(job_uid=job.uid, base=job.revision, uid=change_uid, ops=ops, actor=actor, label=label).job


def _label(rig: Rig, noted: Sequence[Noted]) -> str:
    words = {"patch": "light read", "near_black": "near black seen", "clicks": "clicks counted", "ghost": "trail seen",
             "hours": "hours read", "played": "hours of play", "choice": "choice seen"}  # fmt: skip
    first = noted[0]
    more = f" and {len(noted) - 1} more" if len(noted) > 1 else ""
    return f"{words[first.kind]}: {rig.devices[first.device].label}{more}"


def _data(layer: Layer, uid: str, x: Noted, at: str, by: str) -> LightNoteData:
    device = device_of(layer.rig, x.device)
    screen = device_of(layer.rig, x.screen) if x.screen else device
    spot, figures, method, ref = spot_at(x.scope), dict(x.figures), x.method, ""
    if x.kind == "patch":
        _check_value(device, x.value)
        if x.meter:
            now = seen(x.meter, x.ref)
            method, ref = "meter", now.ref
            figures |= {"luminance_ucd_m2": now.light_ucd_m2, "error_e4": now.error_e4}
            if now.xy_e5 is not None and "x_e5" not in figures:
                figures |= {"x_e5": now.xy_e5[0], "y_e5": now.xy_e5[1]}
        figures.setdefault("window_percent", USUAL_WINDOW)
        figures.setdefault("signal_e4", ALL_SIGNAL)
        figures.setdefault("error_e4", EYE_ERROR_E4 if method == "eye" else TYPED_ERROR_E4)
    elif x.kind in ("near_black", "ghost", "choice"):
        method = "eye"
    elif x.kind == "clicks" and "light_ucd_m2" not in figures:
        figures |= light_figures(layer.rig, device, x.value, Cell(screen.uid, x.scope))
    try:
        check_figures(x.kind, figures)
    except ChangeError as error:
        raise ProblemError(422, "bad_figure", f"{error.message[:1].upper()}{error.message[1:]}.", "figures") from None
    grounds = grounds_at(layer, screen, spot, white="x_e5" in figures) if x.kind not in ("hours", "played") else {}
    if x.warmth:
        grounds |= _warmth(screen, spot, x.warmth)
    return {
        "uid": uid, "kind": x.kind, "device": x.device, "scope": x.scope, "value": x.value, "figures": figures,
        "method": method, "at": at, "by": by, "firmware": device.firmware, "text": x.text, "ref": ref,
        "grounds": grounds,
    }  # fmt: skip


def _warmth(device: Device, spot: Spot, option: str) -> dict[str, str]:
    """The colour temperature as it stood at the reading, whatever was noted of it before."""
    setting = next((s for s in device.profile.settings if s.effect == "warmth"), None)
    if setting is None or setting.read(option) is None:
        raise ProblemError(422, "bad_value", "This screen has no such colour temperature.", "warmth")
    return {f"setting/{device.uid}/{spot.kept(setting.dimensions)}/{setting.id}": option}


def spot_at(scope: str) -> Spot:
    try:
        return read_scope(scope)
    except ValueError as error:
        raise ProblemError(422, "bad_scope", f"No such cell: {error}.", "scope") from None


def device_of(rig: Rig, uid: str) -> Device:
    """A box of the job. Raises ProblemError 404."""
    device = rig.devices.get(uid)
    if device is None:
        raise ProblemError(404, "no_such_device", "There is no such box in this job.", uid[:40])
    return device


def _check_value(device: Device, value: str) -> None:
    setting = panel_light(device)
    if setting is not None and value and setting.read(value) != value:
        words = f"{setting.label} is {setting.choice_words}, not {value}."
        raise ProblemError(422, "bad_value", words, "value")


def drop(*, job_uid: str, note_uid: str, actor: Any, uid: str) -> models.Job:
    """Take a note back. Raises ProblemError 404 where it is not there."""
    job = job_by_uid(job_uid)
    if note_uid not in rig_of(job).light:
        raise ProblemError(404, "no_such_note", "There is no such light note in this job.", note_uid[:40])
    op: Change = {"op": "drop_light", "note": note_uid}
    return change_job(
        job_uid=job.uid, base=job.revision, uid=uid, ops=[op], actor=actor, label="light note dropped"
    ).job


def csv_text(rig: Rig) -> str:
    """Every patch reading as CSV."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\r\n")
    rows.writerow(COLUMNS)
    for n in rig.light.values():
        if n.kind == "patch":
            rows.writerow(_row(n))
    return out.getvalue()


def _row(n: LightNote) -> Iterator[str]:
    x, y = n.figure("x_e5"), n.figure("y_e5")
    yield from (cell_text(n.device), cell_text(n.scope), n.value, str(n.must("window_percent")))
    yield f"{n.must('signal_e4') / 100:g}"
    yield f"{n.must('luminance_ucd_m2') / 1e6:.10g}"
    yield f"{n.must('error_e4') / 100:g}"
    yield from ("" if v is None else f"{v / 1e5:.5f}" for v in (x, y))
    yield from (n.method, n.at, cell_text(n.by))


def read_csv(rig: Rig, text: str) -> list[Noted]:
    """Patch readings of a CSV as `csv_text` writes it; screen, scope, window_percent and cd_m2 are enough. ProblemError
    names the line.
    """
    rows = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    missing = {"screen", "cd_m2"} - set(rows.fieldnames or ())
    if missing:
        raise ProblemError(422, "bad_csv", f"The first line names no {' and no '.join(sorted(missing))}.", "line 1")
    out: list[Noted] = []
    for number, row in enumerate(rows, 2):
        if len(out) >= MOST_ROWS:
            raise ProblemError(422, "bad_csv", f"At most {MOST_ROWS} readings a file.", f"line {number}")
        try:
            out.append(_noted(rig, {k: text_of_cell((v or "").strip()) for k, v in row.items() if k}))
        except (ValueError, ArithmeticError, KeyError) as error:
            raise ProblemError(422, "bad_csv", f"Line {number}: {error}.", f"line {number}") from None
    if not out:
        raise ProblemError(422, "bad_csv", "There is no reading in it.", "line 2")
    return out


def _noted(rig: Rig, row: dict[str, str]) -> Noted:
    device = rig.devices.get(row["screen"]) or next((d for d in rig.devices.values() if d.label == row["screen"]), None)
    if device is None:
        raise ValueError(f"there is no box {row['screen'][:40]!r} in this job")
    figures = {
        "luminance_ucd_m2": _scaled(row["cd_m2"], 1_000_000, "cd_m2"),
        "window_percent": _scaled(row.get("window_percent") or "10", 1, "window_percent"),
        "signal_e4": _scaled(row.get("signal_percent") or "100", 100, "signal_percent"),
    }
    if row.get("error_percent"):
        figures["error_e4"] = _scaled(row["error_percent"], 100, "error_percent")
    if row.get("x") and row.get("y"):
        figures |= {"x_e5": _scaled(row["x"], 100_000, "x"), "y_e5": _scaled(row["y"], 100_000, "y")}
    method: LightMethod = "eye" if row.get("method") == "eye" else "typed"
    return Noted("patch", device.uid, row.get("scope", ""), row.get("value", ""), figures, method)


def _scaled(text: str, by: int, name: str) -> int:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise ValueError(f"{name} is a number, not {text[:20]!r}") from None
    if not 0 <= value <= 1e6:
        raise ValueError(f"{name} {text[:20]} is out of bounds")
    return round(value * by)
