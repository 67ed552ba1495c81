"""The one union of changes, as plain data: every edit, try, fix, tick and undo is a list of these.

What a change may say stands here once; from it come `apply` (rig/changes), the paths it touches, the API's document
and the front end's types. Optional words are NotRequired; `layer` left out means the plan.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, NotRequired, TypeAlias, get_args, get_type_hints

from pydantic import ConfigDict, Discriminator, TypeAdapter, ValidationError, with_config
from pydantic_core import ErrorDetails
from typing_extensions import TypeAliasType, TypedDict

from wavilex.core import refused
from wavilex.core.errors import ChangeError

LayerName = Literal["found", "plan"]
End = Literal["a", "b"]
LeadKind = Literal["hdmi", "dp", "usbc", "dvi", "analogue", "audio", "power"]
Mark = Literal["", "stays", "may_go"]  # of a box, of a lead; "": nobody said
HdrWish = Literal["off", "static", "dynamic"]
ChromaWish = Literal["any", "422", "444"]  # at least; RGB counts as 4:4:4
Answer = Literal["as_predicted", "differs", "seen"]  # seen: nobody could tell before what would be
ENDS: tuple[End, End] = ("a", "b")
_PLAIN = ConfigDict(extra="forbid", strict=True)
INPUT_KEY = "input"  # the setting that says which input a box shows; it belongs to every box with inputs


@with_config(_PLAIN)
class SocketData(TypedDict):
    """A port of a device."""

    device: str
    port: str


@with_config(_PLAIN)
class Selection(TypedDict):
    """An input to show, re-selected together with a swap."""

    device: str
    output: NotRequired[str]
    value: str | None


@with_config(_PLAIN)
class CableData(TypedDict):
    """What is known of a lead. length_mm, proved, failed: None where nobody knows."""

    grade: NotRequired[str]
    length_mm: NotRequired[int | None]
    build: NotRequired[str]
    power: NotRequired[str]
    turned: NotRequired[bool]
    proved: NotRequired[str | None]
    failed: NotRequired[str | None]


@with_config(_PLAIN)
class LeadData(CableData):
    """A lead as `add_lead` and job files have it; ends a and b per layer, None where loose."""

    uid: str
    label: str
    kind: NotRequired[LeadKind]
    found: NotRequired[list[SocketData | None]]
    plan: NotRequired[list[SocketData | None]]
    mark: NotRequired[Mark]


@with_config(_PLAIN)
class DeviceData(TypedDict):
    """A box as `add_device` has it, its profile as plain data; without a label it is called as its profile is."""

    uid: str
    label: NotRequired[str]
    room: NotRequired[str]
    firmware: NotRequired[str]
    firmware_plan: NotRequired[str]
    mark: NotRequired[Mark]
    profile: dict[str, Any]


@with_config(_PLAIN)
class WantData(TypedDict):
    """What a run should reach; words left out keep their usual value."""

    mode: NotRequired[str]
    hdr: NotRequired[HdrWish]
    chroma: NotRequired[ChromaWish]
    bits: NotRequired[int]
    vrr: NotRequired[bool]
    low_lag: NotRequired[bool]
    audio: NotRequired[str]
    protected: NotRequired[bool]
    weight: NotRequired[int]


@with_config(_PLAIN)
class RunData(TypedDict):
    uid: str
    label: str
    source: str
    sink: str
    want: NotRequired[WantData]
    style: NotRequired[dict[str, str]]
    way: NotRequired[list[str]]


@with_config(_PLAIN)
class TitleModeData(TypedDict):
    fps: int
    name: NotRequired[str]
    lines: NotRequired[int | None]


@with_config(_PLAIN)
class TitleData(TypedDict):
    """A title; `render_rates` is the short form for modes without names. hdr None: not known."""

    uid: str
    name: str
    modes: NotRequired[list[TitleModeData]]
    render_rates: NotRequired[list[int]]
    competitive: NotRequired[bool]
    hdr: NotRequired[bool | None]
    style: NotRequired[dict[str, str]]


@with_config(_PLAIN)
class SetSetting(TypedDict):
    """A setting's value; None: not known (found), not planned (plan)."""

    op: Literal["set_setting"]
    layer: NotRequired[LayerName]
    device: str
    scope: NotRequired[str]
    key: str
    value: str | None


@with_config(_PLAIN)
class SelectInput(TypedDict):
    """The input a box shows; of a matrix, on one of its outputs."""

    op: Literal["select_input"]
    layer: NotRequired[LayerName]
    device: str
    output: NotRequired[str]
    value: str | None


@with_config(_PLAIN)
class MoveLead(TypedDict):
    """One end of a lead into another socket; None: out."""

    op: Literal["move_lead"]
    layer: NotRequired[LayerName]
    lead: str
    end: End
    to: SocketData | None


@with_config(_PLAIN)
class SwapLeads(TypedDict):
    """Two leads change places at one end, with the inputs re-selected: one move."""

    op: Literal["swap_leads"]
    layer: NotRequired[LayerName]
    end: End
    leads: list[str]
    select: NotRequired[list[Selection]]


@with_config(_PLAIN)
class ReplaceLead(CableData):
    """Another lead in the same sockets, or what became known of this one."""

    op: Literal["replace_lead"]
    lead: str
    label: NotRequired[str]
    mark: NotRequired[Mark]


@with_config(_PLAIN)
class FoundAsPlanned(TypedDict):
    """The lead now hangs where the plan has it; `ends` (of an undo) says where it was found instead."""

    op: Literal["found_as_planned"]
    lead: str
    ends: NotRequired[list[SocketData | None]]


@with_config(_PLAIN)
class AddLead(TypedDict):
    op: Literal["add_lead"]
    lead: LeadData


@with_config(_PLAIN)
class RemoveLead(TypedDict):
    op: Literal["remove_lead"]
    lead: str


@with_config(_PLAIN)
class AddDevice(TypedDict):
    op: Literal["add_device"]
    device: DeviceData


@with_config(_PLAIN)
class RemoveDevice(TypedDict):
    """The box goes with its plugs, settings, facts and runs; undo brings all back."""

    op: Literal["remove_device"]
    device: str


@with_config(_PLAIN)
class SetDevice(TypedDict):
    op: Literal["set_device"]
    device: str
    label: NotRequired[str]
    room: NotRequired[str]
    firmware: NotRequired[str]
    firmware_plan: NotRequired[str]
    mark: NotRequired[Mark]


@with_config(_PLAIN)
class SetFact(TypedDict):
    """Something learned here; value None forgets it."""

    op: Literal["set_fact"]
    device: str
    path: str
    value: Any
    provenance: NotRequired[str]


@with_config(_PLAIN)
class SetProfile(TypedDict):
    """Another profile for a box: corrected, or of another type."""

    op: Literal["set_profile"]
    device: str
    profile: dict[str, Any]


@with_config(_PLAIN)
class SetWant(TypedDict):
    op: Literal["set_want"]
    run: str
    key: str
    value: str | int | bool


@with_config(_PLAIN)
class AddRun(TypedDict):
    op: Literal["add_run"]
    run: RunData


@with_config(_PLAIN)
class SetRun(TypedDict):
    """A run's own name; the leads it is to go by, where there are several ways ([]: whichever is shown)."""

    op: Literal["set_run"]
    run: str
    label: NotRequired[str]
    way: NotRequired[list[str]]


@with_config(_PLAIN)
class RemoveRun(TypedDict):
    op: Literal["remove_run"]
    run: str


@with_config(_PLAIN)
class AddTitle(TypedDict):
    op: Literal["add_title"]
    title: TitleData


@with_config(_PLAIN)
class RemoveTitle(TypedDict):
    op: Literal["remove_title"]
    title: str


@with_config(_PLAIN)
class SetStyle(TypedDict):
    """The school a job, a run or a title follows on one question; None leaves it to the level above."""

    op: Literal["set_style"]
    level: Literal["job", "run", "title"]
    uid: NotRequired[str]
    key: str
    value: str | None


@with_config(_PLAIN)
class SetSurvey(TypedDict):
    op: Literal["set_survey"]
    key: str
    value: str


@with_config(_PLAIN)
class SetDistance(TypedDict):
    """How long a lead from one room to another must be, in mm; None where nobody knows."""

    op: Literal["set_distance"]
    rooms: list[str]
    value: int | None


@with_config(_PLAIN)
class ObservationData(TypedDict):
    """What was seen at a place; words left out are not known. at: UTC. grounds: what it rests on, by path."""

    uid: str
    run: str
    device: str
    line: str
    place: str
    label: str
    answer: Answer
    predicted: NotRequired[str | None]
    observed: NotRequired[str | None]
    at: str
    by: NotRequired[str]
    firmware: NotRequired[str]
    photo: NotRequired[str]
    grounds: NotRequired[dict[str, str]]


@with_config(_PLAIN)
class Observe(TypedDict):
    """Something was seen; it stands beside what was seen there before."""

    op: Literal["observe"]
    observation: ObservationData


@with_config(_PLAIN)
class TakeBack(TypedDict):
    """An observation that was a slip."""

    op: Literal["take_back"]
    observation: str


LightKind = Literal["patch", "near_black", "clicks", "ghost", "hours", "played", "choice"]
LightMethod = Literal["meter", "typed", "eye"]


@with_config(_PLAIN)
class LightNoteData(TypedDict):
    """What was measured or seen of light: see rig/light_notes. at: UTC. figures: whole numbers, unit in the name."""

    uid: str
    kind: LightKind
    device: str
    scope: NotRequired[str]
    value: NotRequired[str]
    figures: NotRequired[dict[str, int]]
    method: LightMethod
    at: str
    by: NotRequired[str]
    firmware: NotRequired[str]
    text: NotRequired[str]
    ref: NotRequired[str]
    grounds: NotRequired[dict[str, str]]


@with_config(_PLAIN)
class NoteLight(TypedDict):
    """Something was measured or seen of light; it stands beside what was noted before."""

    op: Literal["note_light"]
    note: LightNoteData


@with_config(_PLAIN)
class DropLight(TypedDict):
    """A light note that was a slip."""

    op: Literal["drop_light"]
    note: str


@with_config(_PLAIN)
class SetTitle(TypedDict):
    """The job's own title."""

    op: Literal["set_title"]
    value: str


Change: TypeAlias = (
    SetSetting | SelectInput | MoveLead | SwapLeads | ReplaceLead | FoundAsPlanned | AddLead | RemoveLead | AddDevice
    | RemoveDevice | SetDevice | SetFact | SetProfile | SetWant | AddRun | SetRun | RemoveRun | AddTitle | RemoveTitle
    | SetStyle | SetSurvey | SetDistance | SetTitle | Observe | TakeBack | NoteLight
    | DropLight
)  # fmt: skip
Op = TypeAliasType("Op", Annotated[Change, Discriminator("op")])
_READ: TypeAdapter[Change] = TypeAdapter(Op)
KINDS: tuple[str, ...] = tuple(get_args(get_type_hints(kind)["op"])[0] for kind in get_args(Change))


def read_change(data: object) -> Change:
    """Plain data as a change. Raises ChangeError naming the word that is wrong (`where`) and what it should be."""
    try:
        return _READ.validate_python(data)
    except ValidationError as error:
        words = data if isinstance(data, Mapping) else {}
        raise _refusal(words, error.errors(include_url=False)[0]) from None


def _refusal(data: Mapping[str, Any], first: ErrorDetails) -> ChangeError:
    """What is wrong with plain data that is no change, said plainly."""
    op = data.get("op")
    place = refused.place(first, skip=(str(op),))
    if op not in KINDS:
        return ChangeError(f"{op!r} is no change; one of {', '.join(KINDS)}", where="op")
    if first["type"] == "missing":
        return ChangeError(f"{op} lacks {place}", where=place)
    if first["type"] == "extra_forbidden":
        return ChangeError(f"{op} has no word {place}", where=place)
    return ChangeError(f"{op}: {place} {refused.words(first)}", where=place)


def to_set(place: tuple[str, str, str], value: str | None, layer: LayerName | None = None) -> SetSetting:
    """The change that sets a setting; place: device, scope (gear/cells), setting."""
    device, scope, key = place
    change: SetSetting = {"op": "set_setting", "device": device, "scope": scope, "key": key, "value": value}
    if layer is not None:
        change["layer"] = layer
    return change


def place_of(change: Change) -> tuple[str, str, str] | None:
    """Device, scope and setting of a change that sets a setting; None of any other."""
    if change["op"] != "set_setting":
        return None
    return change["device"], change.get("scope", ""), change["key"]
