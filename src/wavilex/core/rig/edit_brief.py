"""Changes of the brief: wants, runs, titles, survey, the job's own title."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any, cast

from wavilex.core import bounds
from wavilex.core.errors import ChangeError, WavilexError
from wavilex.core.rig import model as rig_m
from wavilex.core.rig.edit_common import Applied, find_device, find_lead, need, new_uid, text_of, with_item
from wavilex.core.rig.model import Rig, Run, Title, TitleMode, Want
from wavilex.core.rig.ops import (
    AddRun,
    AddTitle,
    RemoveRun,
    RemoveTitle,
    RunData,
    SetDistance,
    SetRun,
    SetStyle,
    SetSurvey,
    SetTitle,
    SetWant,
    TitleData,
    TitleModeData,
)
from wavilex.core.rig.shapes import TitleOut, WantOut
from wavilex.core.rig.style import QUESTIONS, Style, with_school
from wavilex.core.video.audio import parse_audio
from wavilex.core.video.codes import usual_timing
from wavilex.core.video.mode import parse_mode
from wavilex.core.video.signal import BITS

MOST_WEIGHT = 9
_WANT_CHECKS: dict[str, Callable[[Any], bool]] = {
    "hdr": lambda v: v in rig_m.HDR,
    "chroma": lambda v: v in rig_m.CHROMA,
    "bits": lambda v: v in BITS and not isinstance(v, bool),
    "vrr": lambda v: isinstance(v, bool),
    "low_lag": lambda v: isinstance(v, bool),
    "protected": lambda v: isinstance(v, bool),
    "weight": lambda v: isinstance(v, int) and not isinstance(v, bool) and 1 <= v <= MOST_WEIGHT,
}
WANT_KEYS = ("mode", *_WANT_CHECKS, "audio")


def _wanted(key: str, value: Any) -> Any:
    """A word of a want, checked; a mode parsed. Raises ChangeError."""
    try:
        if key == "mode":
            mode = parse_mode(str(value))
            usual_timing(mode)  # a size and rate that no formula gives a timing is no want
            return mode
        if key == "audio":
            parse_audio(str(value))
            return value
    except WavilexError as error:
        raise ChangeError(error.message) from None
    need(key in _WANT_CHECKS, f"a want has {', '.join(WANT_KEYS)}, not {key!r}")
    need(_WANT_CHECKS[key](value), f"{value!r} is no value for {key}")
    return value


def _run(rig: Rig, uid: str) -> Run:
    need(uid in rig.runs, f"there is no run {uid!r} in this job")
    return rig.runs[uid]


def set_want(rig: Rig, change: SetWant) -> Applied:
    run, key = _run(rig, change["run"]), change["key"]
    value = _wanted(key, change["value"])
    back: SetWant = {"op": "set_want", "run": run.uid, "key": key, "value": getattr(run.want, key)}
    new = replace(run, want=replace(run.want, **{key: value}))
    return replace(rig, runs={**rig.runs, run.uid: new}), [back]


def want_data(want: Want) -> WantOut:
    """A want as plain data, every word of it."""
    return {
        "mode": want.mode, "hdr": want.hdr, "chroma": want.chroma, "bits": want.bits, "vrr": want.vrr,
        "low_lag": want.low_lag, "audio": want.audio, "protected": want.protected, "weight": want.weight,
    }  # fmt: skip


def run_data(run: Run) -> RunData:
    """A run as plain data, the form `add_run` and job files use."""
    return {
        "uid": run.uid, "label": run.label, "source": run.source, "sink": run.sink, "want": {**want_data(run.want)},
        "style": dict(run.style), "way": list(run.way),
    }  # fmt: skip


def add_run(rig: Rig, change: AddRun) -> Applied:
    row = change["run"]
    uid = new_uid(rig.runs, row["uid"], "run")
    source, sink = find_device(rig, row["source"]), find_device(rig, row["sink"])
    need(source.profile.role == "source", f"{source.label} sends nothing: a run starts at a source")
    need(sink.profile.role == "screen", f"{sink.label} shows nothing: a run ends at a screen")
    want = {key: _wanted(key, value) for key, value in row.get("want", {}).items()}
    label = text_of(row["label"], "label", 60)
    run = Run(uid, label, source.uid, sink.uid, Want(**want), style_of(row.get("style")), _way(rig, row.get("way", [])))
    return replace(rig, runs={**rig.runs, uid: run}), [{"op": "remove_run", "run": uid}]


def _way(rig: Rig, leads: list[str]) -> tuple[str, ...]:
    need(len(leads) <= bounds.WAY, f"a way has at most {bounds.WAY} leads")
    for uid in leads:
        find_lead(rig, uid)
    return tuple(leads)


def set_run(rig: Rig, change: SetRun) -> Applied:
    """A run's name, or the leads it is to go by."""
    run = _run(rig, change["run"])
    back: SetRun = {"op": "set_run", "run": run.uid}
    if "label" in change:
        label = text_of(change["label"], "label", 60)
        need(label.strip(), "a run needs a name")
        back["label"], run = run.label, replace(run, label=label)
    if "way" in change:
        back["way"] = [uid for uid in run.way if uid in rig.leads]
        run = replace(run, way=_way(rig, change["way"]))
    return replace(rig, runs={**rig.runs, run.uid: run}), [back]


def remove_run(rig: Rig, change: RemoveRun) -> Applied:
    run = _run(rig, change["run"])
    back: AddRun = {"op": "add_run", "run": run_data(run)}
    return replace(rig, runs=with_item(rig.runs, run.uid, None)), [back]


def title_data(title: Title) -> TitleOut:
    """A title as plain data, the form `add_title` and job files use."""
    return {
        "uid": title.uid, "name": title.name, "competitive": title.competitive, "hdr": title.hdr,
        "modes": [{"fps": m.fps, "name": m.name, "lines": m.lines} for m in title.modes],
        "style": dict(title.style),
    }  # fmt: skip


def style_of(data: Mapping[str, str] | None) -> Style:
    """A style from plain data. Raises ChangeError for a question or school that is not there."""
    style: Style = ()
    for key, school in (data or {}).items():
        style = with_school(style, *_school(key, school))
    return style


def _school(key: str, school: str) -> tuple[str, str]:
    need(key in QUESTIONS, f"a house style answers {', '.join(QUESTIONS)}, not {key!r}")
    schools = QUESTIONS[key].schools
    need(school in schools, f"{QUESTIONS[key].name} can be {', '.join(schools)}, not {school!r}")
    return key, school


def _title_modes(row: TitleData) -> tuple[TitleMode, ...]:
    """A title's modes; `render_rates` is the short form for modes without names."""
    short: list[TitleModeData] = [{"fps": r} for r in row.get("render_rates", ())]
    modes = [TitleMode(m["fps"], m.get("name", ""), m.get("lines")) for m in row.get("modes") or short]
    good = all(1 <= m.fps <= 1000 and len(m.name) <= 40 and (m.lines is None or 1 <= m.lines <= 20000) for m in modes)
    need(len(modes) <= 8 and good, "a title has up to eight modes, each of 1 to 1000 frames a second")
    return tuple(modes)


def add_title(rig: Rig, change: AddTitle) -> Applied:
    row = change["title"]
    uid = new_uid(rig.titles, row["uid"], "title")
    name = text_of(row["name"], "name", 80)
    need(name.strip(), "a title needs a name")
    style = style_of(row.get("style"))
    title = Title(uid, name, _title_modes(row), row.get("competitive", False), row.get("hdr"), style)
    return replace(rig, titles={**rig.titles, uid: title}), [{"op": "remove_title", "title": uid}]


def remove_title(rig: Rig, change: RemoveTitle) -> Applied:
    uid = change["title"]
    need(uid in rig.titles, f"there is no title {uid!r} in this job")
    back: AddTitle = {"op": "add_title", "title": cast(TitleData, title_data(rig.titles[uid]))}
    return replace(rig, titles=with_item(rig.titles, uid, None)), [back]


def set_style(rig: Rig, change: SetStyle) -> Applied:
    """Which school a job, a run or a title follows on one question; None leaves it to the level above."""
    level, uid, key, school = change["level"], change.get("uid", ""), change["key"], change["value"]
    need(key in QUESTIONS, f"a house style answers {', '.join(QUESTIONS)}, not {key!r}")
    if school is not None:
        _school(key, school)
    back: SetStyle = {"op": "set_style", "level": level, "key": key, "value": None}
    if level == "job":
        old, after = rig.style, replace(rig, style=with_school(rig.style, key, school))
    elif level == "run":
        run = _run(rig, uid)
        changed = replace(run, style=with_school(run.style, key, school))
        old, after = run.style, replace(rig, runs={**rig.runs, run.uid: changed})
    else:
        need(uid in rig.titles, f"there is no title {uid!r} in this job")
        title = rig.titles[uid]
        other = replace(title, style=with_school(title.style, key, school))
        old, after = title.style, replace(rig, titles={**rig.titles, title.uid: other})
    back["value"] = dict(old).get(key)
    if level != "job":
        back["uid"] = uid
    return after, [back]


def set_survey(rig: Rig, change: SetSurvey) -> Applied:
    key, value = change["key"], text_of(change["value"], "value", 1000)
    need(key in rig_m.SURVEY_KEYS, f"the survey asks for {', '.join(rig_m.SURVEY_KEYS)}, not {key!r}")
    back: SetSurvey = {"op": "set_survey", "key": key, "value": rig.survey.get(key, "")}
    return replace(rig, survey=with_item(rig.survey, key, value or None)), [back]


def set_distance(rig: Rig, change: SetDistance) -> Applied:
    """How much lead lies between two rooms."""
    rooms, value = change["rooms"], change["value"]
    need(len(rooms) == 2 and rooms[0] != rooms[1] and all(rooms), "a distance is one between two rooms")
    for room in rooms:
        text_of(room, "room", 60)
    key = rig_m.between(*rooms)
    need(key in rig.distances or len(rig.distances) < bounds.ROOMS, f"a job holds {bounds.ROOMS} distances")
    need(value is None or 0 < value <= 200_000, "a distance is 1 to 200 000 mm of lead")
    back: SetDistance = {"op": "set_distance", "rooms": rooms, "value": rig.distances.get(key)}
    return replace(rig, distances=with_item(rig.distances, key, value)), [back]


def set_title(rig: Rig, change: SetTitle) -> Applied:
    value = text_of(change["value"], "value", 120)
    need(value.strip(), "a job needs a title")
    return replace(rig, title=value), [{"op": "set_title", "value": rig.title}]
