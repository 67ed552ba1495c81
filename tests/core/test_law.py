"""The law over all doors: accepted means that every answer, export and re-import works; refused means in words.

Profiles, changes and job files bent at random: parts left out, made odd, or taken from elsewhere. The short run is in
`make test`; the long one, 3,000 profiles, 20,000 changes, 2,000 job files, in `make soak`.
"""

from __future__ import annotations

import csv
import json
import random
from functools import cache
from io import StringIO
from typing import Any

import pytest

import tests.rigs as made
from tests.core.law import FORMULAS, broken, changed, edids_hold, in_our_words, told
from tests.rigs import scopes_of, values_of
from wavilex.core.edid.decode import decode
from wavilex.core.errors import WavilexError
from wavilex.core.gear.profile import profile_data
from wavilex.core.gear.profile_of_edid import profile_of
from wavilex.core.lag.table import COLUMNS, read_table, write_table
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.rig.model import Rig
from wavilex.core.rig.teach import teach
from wavilex.library import starter_profiles
from wavilex.library.simulated_screens import simulated_edids

RIGS = ("s02", "s03", "s04", "s05", "s08", "s09", "s10", "s12", "s14", "s16", "s20", "s01", "s18")


@cache
def rigs() -> list[Rig]:
    return [getattr(made, name)() for name in RIGS] + [made.s21("sxga", "window")]


@cache
def library() -> dict[str, Any]:
    return {uid: json.loads(json.dumps(profile_data(p))) for uid, p in starter_profiles().items()}


def as_data(rig: Rig) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(job_data(Job("j", rig.title or "test", "UTC", rig))))
    return data


def in_any_order(data: dict[str, Any]) -> dict[str, Any]:
    """What is taken out and brought back comes last: the order of rows is not part of what undo gives back."""
    return {k: sorted(v, key=json.dumps) if isinstance(v, list) else v for k, v in data.items()}


# --- profiles ----------------------------------------------------------------------------------------


def plugged(rnd: random.Random, data: dict[str, Any]) -> Rig | None:
    """A rig with a box of this profile and one it could be plugged to, a run and a title; None where it is refused."""
    try:
        rig, _ = apply(Rig(title="t"), [{"op": "add_device", "device": {"uid": "x", "label": "X", "profile": data}}])
    except WavilexError as error:
        in_our_words(error)
        return None
    role = rig.devices["x"].profile.role
    partner = {"source": "screen", "screen": "source"}.get(role)
    if partner is None:
        return rig
    other = rnd.choice([uid for uid, p in starter_profiles().items() if p.role == partner])
    a, b = ("x", "o") if role == "source" else ("o", "x")
    rig, _ = apply(rig, [{"op": "add_device", "device": {"uid": "o", "label": "O", "profile": library()[other]}}])
    pairs = [
        (p, q) for p in rig.devices[a].profile.outputs() for q in rig.devices[b].profile.inputs()
        if (p.kind, p.plug) == (q.kind, q.plug)
    ]  # fmt: skip
    ops: list[dict[str, Any]] = [{"op": "add_title", "title": {"uid": "t", "name": "T", "modes": [{"fps": 60}]}}]
    if pairs:
        p, q = rnd.choice(pairs)
        ends = [{"device": a, "port": p.id}, {"device": b, "port": q.id}]
        grade = "ultra" if p.kind == "hdmi" else "unknown"
        lead = {
            "uid": "L",
            "label": "L",
            "kind": p.kind,
            "grade": grade,
            "length_mm": 2000,
            "found": ends,
            "plan": ends,
        }
        ops.append({"op": "add_lead", "lead": lead})
    want = {"mode": "1920x1080@60"}
    ops.append({"op": "add_run", "run": {"uid": "r", "label": "r", "source": a, "sink": b, "want": want}})
    for op in ops:
        try:
            rig, _ = apply(rig, [op])
        except WavilexError:
            continue
    return rig


def bent_profiles(seed: int, count: int) -> list[str]:
    rnd = random.Random(seed)
    every = list(library().values())
    faults = []
    for _ in range(count):
        data = changed(rnd, rnd.choice(every), rnd.sample(every, 3), rnd.choice((1, 1, 2, 4)))
        rig = plugged(rnd, data) if isinstance(data, dict) else None
        if rig is not None:
            faults += broken(rig) + edids_hold(rig)
    return faults


# --- changes -----------------------------------------------------------------------------------------

_FACTS: tuple[tuple[str, Any], ...] = (
    ("modes", ["vic:97", "1920x1080@60"]), ("modes_420", ["vic:97"]), ("tmds_mhz", 300), ("frl", "4x8"),
    ("encodings", {"rgb": [8, 10]}), ("hdr", ["static"]), ("vrr", [48, 120]), ("vrr", True), ("dsc", True),
    ("scdc", False), ("hdcp", "1.4"), ("low_latency", True), ("vrr_kinds", ["vendor"]), ("encrypts", True),
)  # fmt: skip
_WANTS: tuple[tuple[str, Any], ...] = (
    ("mode", "3840x2160@120"), ("hdr", "dynamic"), ("chroma", "444"), ("bits", 12), ("vrr", True), ("low_lag", True),
    ("audio", "8ch"), ("protected", True), ("weight", 3),
)  # fmt: skip
_TITLE = {
    "uid": "tt",
    "name": "T",
    "modes": [{"fps": 60, "name": "q", "lines": 2160}],
    "competitive": True,
    "hdr": True,
}


def ops_of(rig: Rig) -> list[dict[str, Any]]:
    """Changes of every kind that fit a rig, to be bent."""
    data, out = as_data(rig), []
    for row in data["devices"]:
        out.append({"op": "add_device", "device": {**row, "profile": data["profiles"][row["profile"]]}})
    for row in data["leads"]:
        known = {"grade": "high_speed", "length_mm": 900, "proved": "frl:4x8", "failed": "tmds:600", "turned": True}
        out += [
            {"op": "add_lead", "lead": row}, {"op": "remove_lead", "lead": row["uid"]},
            {"op": "replace_lead", "lead": row["uid"], "build": "active", "power": "fed", **known},
            *({"op": "move_lead", "layer": "plan", "lead": row["uid"], "end": end, "to": other["plan"][end == "b"]}
              for end in "ab" for other in data["leads"]),
        ]  # fmt: skip
    for device in rig.devices.values():
        uid = device.uid
        known = {"label": "N", "room": "Den", "firmware": "1.0", "firmware_plan": "2.0"}
        out += [{"op": "set_device", "device": uid, **known}, {"op": "remove_device", "device": uid}]
        out += [
            {"op": "set_setting", "layer": "plan", "device": uid, "scope": scopes_of(device.profile, s)[0],
             "key": s.id, "value": value} for s in device.profile.settings for value in values_of(s)
        ]  # fmt: skip
        facts = [(f"ports.{p.id}.{field}", value) for p in device.profile.ports for field, value in _FACTS]
        for path, value in [*facts, ("sound_lag_ms", 40), ("plays", False), ("peak_cd_m2", 700)]:
            out.append({"op": "set_fact", "device": uid, "path": path, "value": value, "provenance": "measured_here"})
    for run in rig.runs:
        out += [{"op": "set_want", "run": run, "key": key, "value": value} for key, value in _WANTS]
        out.append({"op": "remove_run", "run": run})
    style = {"op": "set_style", "level": "job", "key": "look", "value": "vivid"}
    survey = {"op": "set_survey", "key": "annoys", "value": "x"}
    rest = ({"op": "add_title", "title": _TITLE}, {"op": "set_title", "value": "x"}, {"op": "found_as_planned"})
    return [*out, style, survey, *rest]


def bent_changes(seed: int, count: int) -> list[str]:
    """Several on top of each other; a refused one leaves the rig as it was."""
    rnd = random.Random(seed)
    pools = [ops_of(rig) for rig in rigs()]
    faults, done = [], 0
    while done < count:
        number = rnd.randrange(len(pools))
        rig = rigs()[number]
        for _ in range(rnd.choice((1, 2, 4))):
            done += 1
            op = rnd.choice(pools[number])
            if rnd.random() < 0.6:
                op = changed(rnd, op, rnd.sample(pools[number], 3), rnd.choice((1, 1, 2)))
            before = as_data(rig)
            try:
                rig, inverse = apply(rig, [op])
            except WavilexError as error:
                in_our_words(error)
                if as_data(rig) != before:
                    faults.append(f"refused, and yet changed: {op}")
                continue
            if in_any_order(as_data(apply(rig, inverse)[0])) != in_any_order(before):
                faults.append(f"not taken back: {op}")
        faults += broken(rig)
    return faults


# --- job files ---------------------------------------------------------------------------------------

_AT = "2026-11-02T10:00:00Z"


def full(rig: Rig) -> dict[str, Any]:
    """A job file with something of everything."""
    data = as_data(rig)
    screen = next(d.uid for d in rig.devices.values() if d.profile.role == "screen")
    reading = {"seq": 1, "condition": "standard", "method": "meter", "lag_us": 92000, "taken_at": _AT}
    data["lag"] = [{"uid": "l1", "device": screen, "conditions": ["standard"], "readings": [reading]}]
    data["ticks"] = [{"key": "set-x", "state": "done", "title": "x", "phase": "ports", "at": _AT}]
    data["survey"], data["house_style"] = {"light": "x"}, {"look": "vivid"}
    data["titles"] = [{"uid": "t", "name": "T", "modes": [{"fps": 60, "name": "q", "lines": 2160}]}]
    return data


def bent_files(seed: int, count: int) -> list[str]:
    rnd = random.Random(seed)
    every = [full(rig) for rig in rigs()]
    faults = []
    for _ in range(count):
        data = changed(rnd, rnd.choice(every), rnd.sample(every, 2), rnd.choice((1, 1, 2, 5)))
        try:
            job = parse_job(json.dumps(data))
        except WavilexError as error:
            in_our_words(error)
            continue
        if parse_job(json.dumps(job_data(job))) != job:
            faults.append("another job comes back out of its own file")
        faults += broken(job.rig)
    return faults


# --- tables of readings ------------------------------------------------------------------------------

_CELLS = (
    "", " ", "=1+1", "'=1", "+", "-2", "@x", "\t1", "a,b", 'say "x"', "line\nend", "é", "\ud7ff", "x" * 61, "x" * 201,
    "0", "59999.999", "60000", "1e3", "NaN", "-0", "0.0004", "12,5", "yes", "maybe", "top", "meter", "guess",
    "2026-11-25", "2026-02-30T10:00:00Z", "9999-12-31T23:59:59+99:00", "0001-01-01T00:00:00Z", "\x85", "\u2028",
)  # fmt: skip


def bent_tables(seed: int, count: int) -> list[str]:
    """Rows taken come back the same out of their own table; no row spoils another; else the table is none, in words."""
    rnd = random.Random(seed)
    faults = []
    for _ in range(count):
        rows = [
            ["2026-11-25T14:03:22Z", "tv", "HDMI 1", "game", "", "", "meter", f"{rnd.uniform(1, 200):.3f}",
             "", "", "no", ""]
            for _ in range(rnd.randint(1, 6))
        ]  # fmt: skip
        bent = 0
        for row in rows:
            if rnd.random() < 0.6:
                row[rnd.randrange(len(row))] = rnd.choice(_CELLS)
                bent += 1
        out = StringIO(newline="")
        csv.writer(out).writerows([list(COLUMNS), *rows])
        try:
            read, refused = read_table(out.getvalue())
        except WavilexError:
            faults.append(f"one bad row, and no table: {rows}")
            continue
        if len(read) + len(refused) != len(rows) or len(refused) > bent:
            faults.append(f"rows lost: {rows}")
        text = write_table(read)
        if read_table(text)[0] != read:
            faults.append(f"not the same again: {read}")
        if any(cell.startswith(FORMULAS) for row in csv.reader(StringIO(text, newline="")) for cell in row):
            faults.append(f"a formula: {text}")
    return faults


# --- EDIDs -------------------------------------------------------------------------------------------


def bent_edids(seed: int, count: int) -> list[str]:
    """An EDID with bytes changed, sums put right: read or refused in words; what it proposes can all be taken over."""
    rnd = random.Random(seed)
    good = [data for data in simulated_edids().values() if data]
    inputs = [
        (rig, d.uid, p.id) for rig in rigs() for d in rig.devices.values() for p in d.profile.inputs()
        if p.kind == "hdmi" and d.profile.role == "screen"
    ]  # fmt: skip
    faults = []
    for _ in range(count):
        data = bytearray(rnd.choice(good))
        for _ in range(rnd.choice((1, 2, 8, 40))):
            data[rnd.randrange(len(data))] = rnd.randrange(256)
        for start in range(0, len(data) - 127, 128):
            data[start + 127] = -sum(data[start : start + 127]) % 256
        rig, device, port = rnd.choice(inputs)
        try:
            read = decode(bytes(data))
            apply(rig, teach(rig, device, port, read)["ops"])
            profile_of(read)
        except WavilexError as error:
            in_our_words(error)
            if "ops." in error.where:
                faults.append(f"proposed, and refused: {error} {data.hex()}")
        except Exception as error:
            faults.append(f"{told(error)} {data.hex()}")
    return faults


def test_a_bent_edid_proposes_nothing_that_would_be_refused() -> None:
    assert bent_edids(1, 150) == []


@pytest.mark.soak
def test_four_thousand_edids() -> None:
    assert bent_edids(500, 4000) == []


def test_a_bent_table_loses_nothing_but_its_bad_rows() -> None:
    assert bent_tables(1, 150) == []


@pytest.mark.soak
def test_a_thousand_tables() -> None:
    assert bent_tables(400, 1000) == []


def test_a_bent_profile_is_refused_or_works() -> None:
    assert bent_profiles(1, 80) == []


def test_a_bent_change_is_refused_or_works_and_can_be_taken_back() -> None:
    assert bent_changes(1, 50) == []


def test_a_bent_job_file_is_refused_or_works() -> None:
    assert bent_files(1, 40) == []


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(6))
def test_three_thousand_profiles(seed: int) -> None:
    assert bent_profiles(100 + seed, 500) == []


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(20))
def test_twenty_thousand_changes(seed: int) -> None:
    assert bent_changes(200 + seed, 1000) == []


@pytest.mark.soak
@pytest.mark.parametrize("seed", range(8))
def test_two_thousand_job_files(seed: int) -> None:
    assert bent_files(300 + seed, 250) == []
