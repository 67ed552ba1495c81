"""The job file: a whole job as one versioned JSON text. Schema, reading, writing, upgrading."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, model_validator

from wavilex.core import bounds, refused
from wavilex.core.errors import ChangeError, JobFileError
from wavilex.core.fields import UID_PATTERN
from wavilex.core.gear.profile import profile_data
from wavilex.core.moment import Moment, known_zone
from wavilex.core.plain import PlainError, read_json
from wavilex.core.rig.changes import apply
from wavilex.core.rig.edit_brief import run_data, title_data
from wavilex.core.rig.edit_light import light_note_data
from wavilex.core.rig.edit_seen import observation_data
from wavilex.core.rig.edit_wiring import lead_data
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import INPUT_KEY, Answer, LightKind, LightMethod, Mark

JOB_VERSION = 1
Uid = Annotated[str, Field(pattern=UID_PATTERN)]
Text = Annotated[str, Field(max_length=1000)]
RoomName = Annotated[str, Field(min_length=1, max_length=60)]
Micros = Annotated[int, Field(gt=0, le=bounds.MOST_LAG_US, strict=True)]


Condition = Annotated[str, Field(min_length=1, max_length=bounds.CONDITION_LETTERS)]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class SocketRow(_Model):
    device: Uid
    port: str


class DeviceRow(_Model):
    uid: Uid
    label: Text
    room: Text = ""
    firmware: Text = ""
    firmware_plan: Text = ""
    mark: Mark = ""
    profile: str


class LeadRow(_Model):
    uid: Uid
    label: Text
    kind: str = "hdmi"
    grade: str = "unknown"
    length_mm: int | None = None
    build: str = "unknown"
    power: str = "port"
    turned: bool = False
    proved: str | None = None
    failed: str | None = None
    found: tuple[SocketRow | None, SocketRow | None] = (None, None)
    plan: tuple[SocketRow | None, SocketRow | None] = (None, None)
    mark: Mark = ""


class SettingRow(_Model):
    device: Uid
    scope: str = ""
    key: str
    found: str | None = None
    plan: str | None = None


class FactRow(_Model):
    device: Uid
    path: str
    value: Any
    provenance: str = "measured_here"


class RunRow(_Model):
    uid: Uid
    label: Text
    source: Uid
    sink: Uid
    want: dict[str, Any] = {}
    style: dict[str, str] = {}
    way: list[Uid] = []


class TitleModeRow(_Model):
    fps: int
    name: str = ""
    lines: int | None = None


class TitleRow(_Model):
    """render_rates: the short form for modes without names."""

    uid: Uid
    name: Text
    modes: list[TitleModeRow] = []
    render_rates: list[int] = []
    competitive: bool = False
    hdr: bool | None = None
    style: dict[str, str] = {}


class ReadingRow(_Model):
    """One lag reading; lag_us in µs, step_ns the frame it was counted by in ns, taken_at ISO 8601 in UTC."""

    seq: Annotated[int, Field(ge=0, strict=True)]
    condition: Condition
    signal: Annotated[str, Field(max_length=200)] = ""
    input: Annotated[str, Field(max_length=200)] = ""
    position: Literal["", "top", "middle", "bottom"] = ""
    firmware: Annotated[str, Field(max_length=60)] = ""
    method: Literal["meter", "film", "camera", "reference", "typed", "guess"]
    lag_us: Micros
    uncertainty_us: Annotated[int, Field(ge=0, le=bounds.MOST_LAG_US)] | None = None
    step_ns: Annotated[int, Field(ge=1, le=1_000_000_000)] | None = None
    taken_at: Moment
    discard: Annotated[str, Field(max_length=200)] = ""
    note: Annotated[str, Field(max_length=200)] = ""
    evidence: Annotated[str, Field(max_length=40)] = ""


_Name = Annotated[str, Field(min_length=1, max_length=60)]


class LagRow(_Model):
    uid: Uid
    device: Uid
    conditions: Annotated[list[Condition], Field(max_length=bounds.CONDITIONS)] = []
    baseline: Annotated[str, Field(max_length=160)] = ""
    bound_ms: Annotated[int, Field(ge=1, le=1000)] | None = None
    equivalence_us: Annotated[int, Field(ge=1, le=1_000_000)] = 2000
    strobes: bool = False
    states: Annotated[dict[Condition, dict[_Name, _Name]], Field(max_length=bounds.CONDITIONS)] = {}
    readings: Annotated[list[ReadingRow], Field(max_length=bounds.READINGS)] = []


class TickRow(_Model):
    """A step of the run sheet ticked, reverted or taken back; at ISO 8601 in UTC."""

    key: Annotated[str, Field(min_length=1, max_length=40)]
    state: Literal["done", "reverted", "undone"]
    title: Annotated[str, Field(max_length=240)] = ""
    phase: Annotated[str, Field(max_length=12)] = ""  # an older one that is none any more is shown as done by hand
    at: Moment
    grounds: Annotated[dict[str, Text], Field(max_length=bounds.GROUNDS)] = {}


def _no_text(value: object) -> object:
    """Files of the first release have an empty text here."""
    return {} if value == "" else value


class ObservationRow(_Model):
    """Something seen at a place of a box; at ISO 8601 in UTC."""

    uid: Uid
    run: Uid
    device: Uid
    line: Annotated[str, Field(min_length=1, max_length=bounds.OBSERVED_LETTERS)]
    place: Text
    label: Text
    answer: Answer
    predicted: Text | None = None
    observed: Text | None = None
    at: Moment
    by: Annotated[str, Field(max_length=150)] = ""
    firmware: Text = ""
    photo: Annotated[str, Field(max_length=80)] = ""
    grounds: Annotated[dict[str, Text], Field(max_length=bounds.GROUNDS)] = {}


class LightRow(_Model):
    """Something measured or seen of a box's light; at ISO 8601 in UTC."""

    uid: Uid
    kind: LightKind
    device: Uid
    scope: Text = ""
    value: Text = ""
    figures: Annotated[dict[str, int], Field(max_length=12)] = {}
    method: LightMethod
    at: Moment
    by: Annotated[str, Field(max_length=150)] = ""
    firmware: Text = ""
    text: Text = ""
    ref: Annotated[str, Field(max_length=80)] = ""
    grounds: Annotated[dict[str, Text], Field(max_length=bounds.GROUNDS)] = {}


class DistanceRow(_Model):
    """How much lead lies between two rooms, in mm."""

    rooms: tuple[str, str]
    mm: int


class JobFile(_Model):
    """Version 1 of the file."""

    wavilex_job: Literal[1]
    uid: Uid
    title: Annotated[str, Field(min_length=1, max_length=120)]
    time_zone: Annotated[str, Field(max_length=60), AfterValidator(known_zone)] = "UTC"
    house_style: Annotated[dict[str, str], BeforeValidator(_no_text)] = {}
    survey: dict[str, Text] = {}
    rooms: Annotated[list[RoomName], Field(max_length=bounds.ROOMS)] = []
    distances: Annotated[list[DistanceRow], Field(max_length=bounds.ROOMS)] = []
    titles: Annotated[list[TitleRow], Field(max_length=bounds.TITLES)] = []
    profiles: dict[str, dict[str, Any]] = {}
    devices: Annotated[list[DeviceRow], Field(max_length=bounds.DEVICES)] = []
    leads: Annotated[list[LeadRow], Field(max_length=bounds.LEADS)] = []
    settings: Annotated[list[SettingRow], Field(max_length=bounds.SETTINGS)] = []
    facts: Annotated[list[FactRow], Field(max_length=bounds.FACTS)] = []
    runs: Annotated[list[RunRow], Field(max_length=bounds.RUNS)] = []
    lag: Annotated[list[LagRow], Field(max_length=bounds.DEVICES)] = []
    ticks: Annotated[list[TickRow], Field(max_length=bounds.TICKS)] = []
    observations: Annotated[list[ObservationRow], Field(max_length=bounds.OBSERVATIONS)] = []
    light: Annotated[list[LightRow], Field(max_length=bounds.LIGHT_NOTES)] = []
    photographs: Annotated[dict[str, str], Field(max_length=bounds.PHOTOGRAPHS)] = {}

    @model_validator(mode="after")
    def _readings(self) -> JobFile:
        if sum(len(row.readings) for row in self.lag) > bounds.READINGS:
            raise ValueError(f"lag: a job holds {bounds.READINGS} readings")
        return self


@dataclass(frozen=True)
class Job:
    """A job outside any database: its head, its rig, its lag sessions and ticks (as rows), its photographs (base64)."""

    uid: str
    title: str
    time_zone: str
    rig: Rig
    lag: tuple[LagRow, ...] = ()
    ticks: tuple[TickRow, ...] = ()
    photographs: Mapping[str, str] = field(default_factory=dict)


def parse_job(text: str) -> Job:
    """Read a job file. Raises JobFileError saying what is wrong and where; nothing is half read."""
    try:
        data = read_json(text)
    except PlainError as error:
        raise JobFileError(error.message, where=error.where) from None
    if not isinstance(data, dict) or "wavilex_job" not in data:
        raise JobFileError("this is no job file: it does not say wavilex_job", where="wavilex_job")
    version = data["wavilex_job"]
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobFileError(f"{version!r} is no version", where="wavilex_job")
    if version > JOB_VERSION:
        raise JobFileError(
            f"written by a newer Wavilex (version {version}; this one reads {JOB_VERSION})", where="wavilex_job"
        )
    try:
        row = JobFile.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise JobFileError(refused.words(first), where=refused.place(first)) from None
    return Job(row.uid, row.title, row.time_zone, _rig(row), tuple(row.lag), tuple(row.ticks), row.photographs)


def _rig(row: JobFile) -> Rig:
    """Build the rig with the same changes people make, so that every rule is checked once."""
    rig = Rig(title=row.title, rooms=tuple(row.rooms))
    for number, d in enumerate(row.devices):
        if d.profile not in row.profiles:
            raise JobFileError(f"profile {d.profile!r} is not in this file", where=f"devices.{number}.profile")
        device = {**d.model_dump(), "profile": row.profiles[d.profile]}
        rig = _do(rig, {"op": "add_device", "device": device}, f"devices.{number}")
    for number, lead in enumerate(row.leads):
        rig = _do(rig, {"op": "add_lead", "lead": lead.model_dump(mode="json")}, f"leads.{number}")
    for number, s in enumerate(row.settings):
        for layer in ("found", "plan"):
            value = getattr(s, layer)
            if value is None:
                continue
            change = {
                "op": "set_setting",
                "layer": layer,
                "device": s.device,
                "scope": s.scope,
                "key": s.key,
                "value": value,
            }
            if s.key == INPUT_KEY:
                change = {"op": "select_input", "layer": layer, "device": s.device, "output": s.scope, "value": value}
            rig = _do(rig, change, f"settings.{number}")
    for number, fact in enumerate(row.facts):
        rig = _do(rig, {"op": "set_fact", **fact.model_dump()}, f"facts.{number}")
    for number, run in enumerate(row.runs):
        rig = _do(rig, {"op": "add_run", "run": run.model_dump()}, f"runs.{number}")
    for number, title in enumerate(row.titles):
        rig = _do(rig, {"op": "add_title", "title": title.model_dump()}, f"titles.{number}")
    for key, school in row.house_style.items():
        change = {"op": "set_style", "level": "job", "key": key, "value": school}
        rig = _do(rig, change, f"house_style.{key}")
    for key, value in row.survey.items():
        rig = _do(rig, {"op": "set_survey", "key": key, "value": value}, f"survey.{key}")
    for number, far in enumerate(row.distances):
        change = {"op": "set_distance", "rooms": list(far.rooms), "value": far.mm}
        rig = _do(rig, change, f"distances.{number}")
    for number, seen in enumerate(row.observations):
        rig = _do(rig, {"op": "observe", "observation": seen.model_dump()}, f"observations.{number}")
    for number, note in enumerate(row.light):
        rig = _do(rig, {"op": "note_light", "note": note.model_dump()}, f"light.{number}")
    for number, session in enumerate(row.lag):
        if session.device not in rig.devices:
            raise JobFileError(f"there is no device {session.device!r} in this file", where=f"lag.{number}.device")
        numbers = [r.seq for r in session.readings]
        if len(set(numbers)) != len(numbers):
            raise JobFileError("two readings share a number", where=f"lag.{number}.readings")
    return rig


def _do(rig: Rig, change: dict[str, Any], where: str) -> Rig:
    try:
        return apply(rig, [change])[0]
    except ChangeError as error:
        raise JobFileError(error.message, where=where) from None


def job_data(job: Job) -> dict[str, Any]:
    """The job as plain data; `parse_job(json.dumps(job_data(j)))` gives the same job."""
    rig = job.rig
    return {
        "wavilex_job": JOB_VERSION,
        "uid": job.uid,
        "title": job.title,
        "time_zone": job.time_zone,
        "house_style": dict(rig.style),
        "survey": dict(rig.survey),
        "rooms": list(rig.rooms),
        "distances": [{"rooms": list(rooms), "mm": mm} for rooms, mm in rig.distances.items()],
        "titles": [title_data(t) for t in rig.titles.values()],
        "profiles": {d.profile_digest: profile_data(d.profile) for d in rig.devices.values()},
        "devices": [
            {
                "uid": d.uid,
                "label": d.label,
                "room": d.room,
                "firmware": d.firmware,
                "firmware_plan": d.firmware_plan,
                "mark": d.mark,
                "profile": d.profile_digest,
            }
            for d in rig.devices.values()
        ],
        "leads": [lead_data(x) for x in rig.leads.values()],
        "settings": [
            {"device": device, "scope": scope, "key": key, "found": v.found, "plan": v.plan}
            for (device, scope, key), v in rig.settings.items()
        ],
        "facts": [
            {"device": device, "path": path, "value": f.value, "provenance": f.provenance}
            for (device, path), f in rig.facts.items()
        ],
        "runs": [run_data(r) for r in rig.runs.values()],
        "lag": [s.model_dump(mode="json", exclude_defaults=True) for s in job.lag],
        "ticks": [t.model_dump(mode="json", exclude_defaults=True) for t in job.ticks],
        "observations": [observation_data(o) for o in rig.observations.values()],
        **({"light": [light_note_data(n) for n in rig.light.values()]} if rig.light else {}),
        **({"photographs": dict(job.photographs)} if job.photographs else {}),
    }
