"""Gear: profiles checked, written as YAML, made of a template's answers. Nothing here is stored."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from wavilex.core.advise.setups import setup_ops, setups_data
from wavilex.core.advise.shapes import SetupOut
from wavilex.core.errors import ProfileError
from wavilex.core.gear.classes import from_template, templates_data
from wavilex.core.gear.places import place_words
from wavilex.core.gear.profile import Role, profile_from_data
from wavilex.core.gear.shapes import GearWords, ProfileOut, TemplateOut
from wavilex.core.gear.text import profile_text
from wavilex.core.gear.vocabulary import gear_words
from wavilex.core.modes.finder import learn, sought_data
from wavilex.core.modes.shapes import SoughtOut
from wavilex.core.rig.exchange import exchange_data
from wavilex.core.rig.model import Device
from wavilex.core.rig.ops import Op
from wavilex.core.rig.shapes import ExchangeOut
from wavilex.core.scan.shapes import ScanRead
from wavilex.core.scan.typed import scan_data, scan_from_data, typed
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.api_library import profile_out
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError
from wavilex.server.schemas import ProblemOut

router = Router()


class ProfileIn(Schema):
    data: dict[str, Any]


@router.post("/gear/check", operation_id="checkProfile", response={200: ProfileOut, **WRITE})
def check_profile(request: HttpRequest, payload: ProfileIn) -> ProfileOut:
    """Check a profile given as data; answers what it says, or the place and reason of the first fault, in words."""
    try:
        return profile_out(profile_from_data(payload.data))
    except ProfileError as error:
        place = place_words(payload.data, error.where)
        raise ProfileError(f"{place}: {error.message}" if place else error.message, where=error.where) from None


class Learned(ProfileIn):
    """What the finder found: which effect, the answer, the setting's name in our words, place, steps, as delivered."""

    sought: str = Field(max_length=40)
    answer: Literal["found", "absent", "inert"]
    label: str = Field(default="", max_length=60)
    where: str = Field(default="", max_length=160)
    steps: list[Annotated[str, Field(max_length=60)]] = Field(default_factory=list, max_length=12)
    stands: str = Field(default="", max_length=60)


@router.get("/gear/finder", operation_id="finder", response={200: list[SoughtOut], 401: ProblemOut})
def finder(request: HttpRequest, role: Role = "screen") -> list[SoughtOut]:
    """Effects to look for on a box nobody has profiled, and where such settings usually hide."""
    return sought_data(role)


@router.post("/gear/finder", operation_id="learnSetting", response={200: ProfileOut, **WRITE})
def learn_setting(request: HttpRequest, payload: Learned) -> ProfileOut:
    """A profile with what the finder found written in. Stores nothing."""
    profile = profile_from_data(payload.data)
    found = learn(profile, payload.sought, payload.answer, payload.label, payload.where, payload.steps, payload.stands)
    return profile_out(profile_from_data(found))


class YamlOut(Schema):
    text: str


@router.post("/gear/yaml", operation_id="profileYaml", response={200: YamlOut, **WRITE})
def profile_yaml(request: HttpRequest, payload: ProfileIn) -> dict[str, str]:
    """A profile as the YAML text of a gear file."""
    return {"text": profile_text(profile_from_data(payload.data))}


@router.get("/gear/templates", operation_id="templates", response={200: list[TemplateOut], 401: ProblemOut})
def templates(request: HttpRequest) -> list[TemplateOut]:
    """Classes of gear and the three questions that make each a device."""
    return templates_data()


class Answers(Schema):
    answers: dict[str, str]
    maker: str = Field(default="", max_length=40)
    model: str = Field(default="", max_length=40)


@router.post("/gear/templates/{template_id}", operation_id="fromTemplate", response={200: ProfileOut, **WRITE})
def make_from_template(request: HttpRequest, template_id: str, payload: Answers) -> ProfileOut:
    """A profile of a template's answers."""
    return profile_out(from_template(template_id, payload.answers, payload.maker.strip(), payload.model.strip()))


@router.get("/jobs/{job_uid}/devices/{device_uid}/profile", operation_id="deviceProfile",
            response={200: ProfileOut, **READ})  # fmt: skip
def device_profile(request: HttpRequest, job_uid: str, device_uid: str) -> ProfileOut:
    """The profile a box of a job has."""
    return profile_out(_device(job_uid, device_uid).profile)


@router.get("/jobs/{job_uid}/devices/{device_uid}/profile.yaml", operation_id="deviceProfileFile",
            response={200: str, **READ})  # fmt: skip
def device_profile_file(request: HttpRequest, job_uid: str, device_uid: str) -> HttpResponse:
    """The same as a gear file to keep."""
    profile = _device(job_uid, device_uid).profile
    response = HttpResponse(profile_text(profile), content_type="application/yaml")
    response["Content-Disposition"] = f'attachment; filename="{profile.id}.yaml"'
    return response


class ExchangeIn(Schema):
    profile: dict[str, Any]


@router.post("/jobs/{job_uid}/devices/{device_uid}/exchange", operation_id="exchangeBox",
             response={200: ExchangeOut, **WRITE})  # fmt: skip
def exchange(request: HttpRequest, job_uid: str, device_uid: str, payload: ExchangeIn) -> ExchangeOut:
    """What putting another box in a box's place takes. Nothing is written."""
    device = _device(job_uid, device_uid)
    return exchange_data(rig_of(job_by_uid(job_uid)), device.uid, payload.profile)


def _device(job_uid: str, device_uid: str) -> Device:
    device = rig_of(job_by_uid(job_uid)).devices.get(device_uid)
    if device is None:
        raise ProblemError(404, "no_such_device", "There is no such box in this job.", device_uid[:40])
    return device


@router.get("/gear/setups", operation_id="setups", response={200: list[SetupOut], 401: ProblemOut})
def setups(request: HttpRequest) -> list[SetupOut]:
    """Typical set-ups to start a job from: their boxes, and the classes they may be of."""
    return setups_data()


class SetupIn(Schema):
    """Which class each box is of, and answers to its questions, by the set-up's boxes; left out: the usual ones."""

    classes: dict[str, str] = {}
    answers: dict[str, dict[str, str]] = {}
    room: str = Field(default="", max_length=60)


class SetupTake(Schema):
    """The changes that put a set-up into the job."""

    ops: list[Op]


@router.post("/jobs/{job_uid}/setups/{setup}", operation_id="startFrom", response={200: SetupTake, **WRITE})
def start_from(request: HttpRequest, job_uid: str, setup: str, payload: SetupIn) -> SetupTake:
    """What putting a set-up into a job takes: boxes, leads to the best sockets, runs. Nothing is written."""
    rig = rig_of(job_by_uid(job_uid))
    return SetupTake.model_construct(ops=setup_ops(rig, setup, payload.classes, payload.answers, payload.room.strip()))


class ScanIn(Schema):
    """A signal as typed, or as it stands in a profile; one of them."""

    text: str = Field(default="", max_length=120)
    scan: dict[str, Any] | None = None


@router.post("/gear/scan", operation_id="readScan", response={200: ScanRead, **WRITE})
def read_scan(request: HttpRequest, payload: ScanIn) -> ScanRead:
    """An analogue signal worked out: line rate, vertical rate, the shape of a dot."""
    if payload.scan is not None:
        return scan_data(scan_from_data(payload.scan))
    read = typed(payload.text)
    return scan_data(read.scan, read.guessed)


@router.get("/gear/words", operation_id="gearWords", response={200: GearWords, 401: ProblemOut})
def words(request: HttpRequest) -> GearWords:
    """What a profile's parts may say, with names for people: for an editor to offer."""
    return gear_words()
