"""Every operation asked once with ids that are there: it succeeds, and its body is what the document says, no more.

The bodies are held against the OpenAPI document by an outside validator (jsonschema-rs), closed to words it does not
name. A new operation without an example here fails.
"""

from __future__ import annotations

import base64
import json
from typing import Any

import jsonschema_rs
import pytest
from django.conf import settings as site
from django.contrib.auth import get_user_model

from tests.conftest import Api
from tests.server.test_bench import Meter, meter  # noqa: F401  (a fixture)
from tests.server.test_boxes import SCREEN, SimulatedBox, running
from tests.server.test_film import begin, monitor_measured, read_whole, rendered, with_sound
from tests.server.test_light import light_meter  # noqa: F401  (a fixture)
from tests.server.test_prove import kept_picture, picture
from wavilex.core.gear.pack import Packed, write_pack
from wavilex.core.gear.profile import profile_data
from wavilex.core.lag.plan import Cell
from wavilex.library import simulated_screens, starter_profiles
from wavilex.library.simulated_screens import simulated_edids
from wavilex.server.api import api as ninja_api
from wavilex.server.bench.services import accept_warning, keep_reading, open_session
from wavilex.server.bench.states import make_plan
from wavilex.server.files.job_packs import pack_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.services import change_job

DOCUMENT = ninja_api.get_openapi_schema()
BY_METER = {"takeReadings", "stopMeter", "meterAbout"}
BY_BOX = {"fetchReadOuts"}
BY_LIGHT_METER = {"lookAtLight", "letLightGo"}
WHEN = "2026-11-30T09:00:00Z"
LIT = {"kind": "patch", "device": "den-screen", "scope": "hdmi3;range=sdr;mode=game", "value": "30",
       "figures": {"luminance_ucd_m2": 151_000_000}, "method": "typed"}  # fmt: skip
HDR = {"op": "set_want", "run": "den", "key": "hdr", "value": "off"}
EDID = next(e.hex() for e in simulated_edids().values() if e)
PROFILE = profile_data(starter_profiles()["kelpine-m27"])
SHELVED = profile_data(starter_profiles()["yarrowby-65s"])  # the den's screen
PEAK = {"op": "set_fact", "device": "den-screen", "path": "peak_cd_m2", "value": 640}
J, RUN, LAG = "/jobs/pierhead", "/jobs/pierhead/runs/den", "/lag/{lag}"
FILM = "/films/{film}"
OF_FILM = {
    "sendFilmPart", "readFilm", "measureFilm", "keepFilm", "useFilmSound", "filmStill", "filmStrip", "dropFilm",
}  # fmt: skip
SCRATCH = "timing=vic:97&out=frl:4x10&inp=tmds:600"

# operation: method, path, body
CALLS: dict[str, tuple[str, str, Any]] = {
    "edidConnectors": ("GET", "/edid/connectors", None),
    "readConnector": ("GET", f"/edid/connectors/{simulated_screens._PLUGGED[0][0]}", None),
    "profileOfEdid": ("POST", "/edid/profile", {"text": EDID}),
    "readEdid": ("POST", "/edid/read", {"text": EDID}),
    "checkProfile": ("POST", "/gear/check", {"data": PROFILE}),
    "finder": ("GET", "/gear/finder", None),
    "learnSetting": ("POST", "/gear/finder", {"data": PROFILE, "sought": "game_mode", "answer": "absent"}),
    "readScan": ("POST", "/gear/scan", {"text": "480i"}),
    "setups": ("GET", "/gear/setups", None),
    "startFrom": ("POST", f"{J}/setups/console-bar", {"answers": {"screen": {"fast": "3,4"}}}),
    "templates": ("GET", "/gear/templates", None),
    "fromTemplate": ("POST", "/gear/templates/{template}", {"answers": {}, "maker": "Tindrel", "model": "One"}),
    "gearWords": ("GET", "/gear/words", None),
    "profileYaml": ("POST", "/gear/yaml", {"data": PROFILE}),
    "importJob": ("POST", "/import", {"text": "{file}"}),
    "listJobs": ("GET", "/jobs", None),
    "createJob": ("POST", "/jobs", {"title": "Another"}),
    "readJob": ("GET", J, None),
    "archiveJob": ("POST", f"{J}/archive", {"archived": True}),
    "removeJob": ("DELETE", J, None),
    "readAccess": ("GET", f"{J}/access", None),
    "setAccess": ("POST", f"{J}/access", {"kept": True, "names": ["technician"]}),
    "assignment": ("GET", f"{J}/assignment", None),
    "changeJob": ("POST", f"{J}/changes?known=0123456789ab", {"base_revision": 2, "uid": "live-0001", "ops": [HDR]}),
    "coverage": ("GET", f"{J}/coverage", None),
    "values": ("GET", f"{J}/values", None),
    "copyValues": ("GET", f"{J}/values/copy?device=den-screen&start=hdmi3&to_device=den-screen&end=hdmi4", None),
    "teachInput": ("POST", f"{J}/devices/den-screen/inputs/hdmi3/edid", {"text": EDID}),
    "deviceProfile": ("GET", f"{J}/devices/den-screen/profile", None),
    "deviceProfileFile": ("GET", f"{J}/devices/den-screen/profile.yaml", None),
    "exportJob": ("GET", f"{J}/file", None),
    "handover": ("GET", f"{J}/handover", None),
    "defaultWant": ("GET", f"{J}/default-want?source=den-console&sink=den-screen", None),
    "insertable": ("GET", f"{J}/leads/B1/insertable", None),
    "exchangeBox": ("POST", f"{J}/devices/den-screen/exchange", {"profile": PROFILE}),
    "rankInputs": ("GET", f"{J}/inputs?device=den-console&port=hdmi", None),
    "light": ("GET", f"{J}/light", None),
    "noteLight": ("POST", f"{J}/light?screen=den-screen", {"uid": "light-live-1", "notes": [LIT], "said_at": WHEN}),
    "dropLight": ("POST", f"{J}/light/drop", {"uid": "light-live-drop", "note": "light-live-0.0"}),
    "lookAtLight": ("POST", f"{J}/light/look", {"meter": "spot", "device": "den-screen", "value": "20"}),
    "letLightGo": ("POST", "/light-meters/spot/let-go", None),
    "exportLight": ("GET", f"{J}/light.csv", None),
    "importLight": ("POST", f"{J}/light.csv", {"uid": "light-live-2", "said_at": WHEN,
                                               "text": "screen,value,cd_m2\nden-screen,20,120\n"}),
    "lightScale": ("GET", "/light/scale?document=hlg&bits=10&white=1000", None),
    "lagSessions": ("GET", f"{J}/lag", None),
    "lagBeside": ("GET", f"{J}/lag/beside", None),
    "openLag": ("POST", f"{J}/lag", {"device": "match-monitor"}),
    "redo": ("POST", f"{J}/redo", {"uid": "live-0002"}),
    "undo": ("POST", f"{J}/undo", {"uid": "live-0003"}),
    "choices": ("GET", f"{RUN}/choices", None),
    "compareRuns": ("GET", f"{RUN}/compare?to=layer:found", None),
    "comparisons": ("GET", f"{RUN}/comparisons", None),
    "explain": ("GET", f"{RUN}/explain?mode=3840x2160@60&encoding=rgb&bits=8", None),
    "fixes": ("GET", f"{RUN}/fixes", None),
    "lagBudget": ("GET", f"{RUN}/lag-budget", None),
    "refresh": ("GET", f"{RUN}/refresh", None),
    "retro": ("GET", f"{J}/runs/h8/retro", None),
    "houseStyle": ("GET", f"{RUN}/style", None),
    "carryTable": ("GET", f"{RUN}/table", None),
    "titlePlans": ("GET", f"{RUN}/titles", None),
    "tryTable": ("POST", f"{RUN}/try-table", {"ops": [HDR]}),
    "runSheet": ("GET", f"{J}/runsheet", None),
    "probes": ("GET", f"{J}/probes", None),
    "openProbe": ("POST", f"{RUN}/probes", {}),
    "revokeProbe": ("POST", f"{J}/probes/{{probe}}/revoke", {}),
    "probeHello": ("GET", "/probe/{code}", None),
    "probeResult": ("POST", "/probe/{code}", {"uid": "live-0008", "data": {
        "kind": "browser", "width": 1920, "height": 1080, "ratio_thousandths": 1000, "pads": 1}}),
    "answeringBoxes": ("GET", f"{J}/boxes", None),
    "fetchReadOuts": ("POST", f"{RUN}/devices/den-screen/fetch", {"uid": "live-0009"}),
    "prove": ("GET", f"{RUN}/prove?stage=plan", None),
    "observe": ("POST", f"{RUN}/seen", {"uid": "live-0005", "said_at": "2026-11-29T09:00:00Z", "seen": [{
        "line": "{line}", "answer": "differs", "observed": "something else"}]}),
    "takeBackSeen": ("POST", f"{RUN}/not-seen", {"uid": "live-0006", "seen": "live-0007.0"}),
    "keepPhotograph": ("POST", f"{J}/photographs", "{picture}"),
    "photograph": ("GET", f"{J}/photographs/{{photo}}", None),
    "runSheetPdf": ("GET", f"{J}/runsheet.pdf", None),
    "cableSchedule": ("GET", f"{J}/schedule", None),
    "settingsPlan": ("GET", f"{J}/settings-plan", None),
    "tickStep": ("POST", f"{J}/ticks", {"uid": "live-0004", "key": "{next}", "state": "done",
                                        "said_at": "2026-11-25T09:00:00Z"}),
    "tryChanges": ("POST", f"{J}/try", {"ops": [HDR]}),
    "visit": ("GET", f"{J}/visit.ics?start=2026-11-26T09:00:00Z", None),
    "drawWiring": ("GET", f"{J}/wiring.svg", None),
    "readLag": ("GET", LAG, None),
    "askLag": ("POST", f"{LAG}/asked", {"bound_ms": 30}),
    "addCondition": ("POST", f"{LAG}/conditions", {"condition": "cinema"}),
    "lagSettings": ("GET", f"{LAG}/settings?input=HDMI 3", None),
    "barredSettings": ("POST", f"{LAG}/settings/barred", {
        "input": "HDMI 3", "baseline": {"game": "on", "motion": "off"}}),
    "sayState": ("POST", f"{LAG}/states", {"name": "late", "state": {"game": "off", "motion": "on"}}),
    "cellIsSet": ("POST", f"{LAG}/ready", {"cell": 0}),
    "useCosts": ("POST", f"{LAG}/use", {}),
    "dropLagPlan": ("DELETE", f"{LAG}/plan", None),
    "planLag": ("POST", f"{LAG}/plan", {"conditions": ["game", "standard"]}),
    "typeReading": ("POST", f"{LAG}/readings", {"condition": "game", "lag_ms": 11.5}),
    "exportReadings": ("GET", f"{LAG}/readings.csv", None),
    "importReadings": ("POST", f"{LAG}/readings.csv", {"text": "device,condition,lag_ms\nDen screen,game,12.5\n"}),
    "removeDiscarded": ("DELETE", f"{LAG}/readings", None),
    "discardReading": ("POST", f"{LAG}/readings/1/discard", {"reason": "somebody walked past"}),
    "acceptWarning": ("POST", f"{LAG}/warning", {}),
    "readProfile": ("POST", "/library/read", {"text": "{yaml}"}),
    "shelf": ("GET", "/shelf?search=4k120", None),
    "keepOnShelf": ("POST", "/shelf", {"data": PROFILE, "note": "as it is"}),
    "shelfPack": ("GET", "/shelf/pack.zip?uids={shelf}", None),
    "readPack": ("POST", "/shelf/pack", {}),
    "shelfEntry": ("GET", "/shelf/{shelf}", None),
    "putAway": ("POST", "/shelf/{shelf}/away", {"away": True}),
    "forgetLearned": ("POST", "/shelf/{shelf}/forget", {"path": "peak_cd_m2"}),
    "jobOnShelf": ("GET", f"{J}/shelf", None),
    "takeToShelf": ("POST", f"{J}/devices/den-screen/shelf", {"paths": ["peak_cd_m2"]}),
    "renewBox": ("GET", f"{J}/devices/den-screen/renew/{{shelf}}", None),
    "onThePhone": ("GET", "/phone", None),
    "ready": ("GET", "/ready", None),
    "linkChoices": ("GET", "/scratch/choices", None),
    "compareLinks": ("POST", "/scratch/compare", {"a": {}, "b": {"timing": "vic:16"}}),
    "scratchLink": ("GET", f"/scratch/link?{SCRATCH}", None),
    "proof": ("GET", "/scratch/proof?stuck=4x8&fell=4x10", None),
    "session": ("GET", "/session", None),
    "door": ("GET", "/session/door", None),
    "signIn": ("POST", "/session/sign-in", {"name": "technician", "password": "a long password"}),
    "enterDemo": ("POST", "/session/demo", {}),
    "signOut": ("POST", "/session/sign-out", {}),
    "status": ("GET", "/status", None),
    "fault": ("GET", f"{RUN}/fault?whole=true", None),
    "answerFault": ("POST", f"{RUN}/fault/answers", {"uid": "live-answer", "key": "complaint/no_hdr", "value": "yes",
                                                     "said_at": "2026-11-30T10:00:00Z"}),
    "closeFault": ("POST", f"{RUN}/fault/close", {"uid": "live-close", "said_at": "2026-11-30T10:00:00Z"}),
    "experience": ("GET", "/faults/experience", None),
    "forgetExperience": ("POST", "/faults/forget", {}),
    "practice": ("GET", "/practice", None),
    "practiceRigs": ("GET", "/practice/rigs/pierhead", None),
    "beginPractice": ("POST", "/practice", {"case": "template/console-tv modes 6"}),
    "practiceGame": ("GET", "/practice/games/{game}", None),
    "practiceMove": ("POST", "/practice/games/{game}/moves", {"number": 0, "key": "check/input/screen/"}),
    "takeReadings": ("POST", f"{LAG}/take", {"meter": "bench", "condition": "game", "count": 2}),
    "stopMeter": ("POST", "/meters/stop", {"meter": "bench"}),
    "meterAbout": ("GET", "/meters/bench/about", None),
    "beginFilm": ("POST", f"{LAG}/films", {"name": "den.mp4", "bytes": 5000}),
    "sendFilmPart": ("PUT", f"{FILM}/part?offset=0", "{film}"),
    "readFilm": ("GET", FILM, None),
    "measureFilm": ("POST", f"{FILM}/measure", {"taken_fps": 120}),
    "keepFilm": ("POST", f"{FILM}/keep", {"uid": "live-film-1", "condition": "game", "marks": {}}),
    "useFilmSound": ("POST", f"{FILM}/sound", {"run": "match", "condition": "game", "marks": {}}),
    "filmStill": ("GET", f"{FILM}/stills/{{still}}", None),
    "filmStrip": ("GET", f"{FILM}/strips/60", None),
    "dropFilm": ("DELETE", FILM, None),
    "visits": ("GET", f"{J}/visits", None),
    "planVisit": ("POST", f"{J}/visits", {"uid": "live-visit", "title": "Check", "planned_for": WHEN}),
    "editVisit": ("PUT", f"{J}/visits/live-visit", {"uid": "live-visit", "title": "Another"}),
    "moveVisit": ("POST", f"{J}/visits/live-visit/state", {"state": "open"}),
    "setRegular": ("POST", f"{J}/regular", {"every_days": 90}),
    "visitsCalendar": ("GET", "/visits.ics", None),
    "compareStates": ("GET", f"{J}/compare?a=live-visit/open&layer=plan", None),
    "compareStatesText": ("GET", f"{J}/compare.txt?a=live-visit/open", None),
    "updates": ("GET", f"{J}/updates", None),
    "updateOf": ("GET", f"{J}/devices/den-screen/update?version=2.6", None),
    "lookedAfterUpdate": ("POST", f"{J}/devices/den-screen/update", {
        "uid": "live-look", "version": "2.6", "key": "{look}", "outcome": "stays", "said_at": WHEN}),
    "keepByHand": ("POST", f"{J}/devices/den-screen/kept", {
        "uid": "live-kept", "scope": "hdmi3", "setting": "game", "value": "off", "because": "too dark",
        "said_at": WHEN}),
    "jobLog": ("GET", f"{J}/log?words=hdr", None),
    "log": ("GET", "/log?kinds=change,learned", None),
    "handoverPdf": ("GET", f"{J}/handover.pdf", None),
    "handoverText": ("GET", f"{J}/handover.txt", None),
    "labels": ("GET", f"{J}/labels", None),
    "labelLines": ("GET", f"{J}/labels.txt", None),
    "labelSheet": ("GET", f"{J}/labels.pdf?sheet=21&code=true", None),
    "jobPack": ("GET", f"{J}/pack.zip", None),
    "checkJobPack": ("POST", "/job-packs/check", "{pack}"),
    "readJobPack": ("POST", "/job-packs?uid=live-pack", "{pack}"),
    "clientLinks": ("GET", f"{J}/client-links", None),
    "makeClientLink": ("POST", f"{J}/client-links", {"note": "the house", "days": 7}),
    "revokeClientLink": ("POST", f"{J}/client-links/{{link}}/revoke", {}),
}  # fmt: skip


def operations() -> dict[str, dict[str, Any]]:
    return {o["operationId"]: o for path in DOCUMENT["paths"].values() for o in path.values() if "operationId" in o}


def test_every_operation_has_an_example() -> None:
    assert set(CALLS) == set(operations())


def closed(node: Any) -> Any:
    """A schema in which objects may hold no words but those it names."""
    if isinstance(node, list):
        return [closed(n) for n in node]
    if not isinstance(node, dict):
        return node
    out = {k: closed(v) for k, v in node.items() if k != "discriminator"}
    if out.get("type") == "object" and "properties" in out and "additionalProperties" not in out:
        out["additionalProperties"] = False
    return out


def validator_of(operation: str, status: int) -> Any | None:
    """The outside validator of a documented JSON body; None where the body is no JSON."""
    content = operations()[operation]["responses"][status].get("content", {})
    schema = content.get("application/json", {}).get("schema")
    if not schema or not {"$ref", "anyOf", "items", "additionalProperties"} & set(schema):
        return None  # text, bytes, a drawing
    components = {"components": {"schemas": closed(DOCUMENT["components"]["schemas"])}}
    return jsonschema_rs.Draft202012Validator({**closed(schema), **components})


@pytest.fixture
def lag(api: Api, demo: str, settings: Any) -> str:
    """A job worked on: an edit, an undo, a lag session with readings and a plan."""
    settings.EDID_READER = "simulated"
    settings.BOXES = "den-screen=socket://127.0.0.1:1"
    settings.DEMO = True
    first = [{**HDR, "value": "static"}, PEAK]
    actor = get_user_model().objects.get(pk=api.client.session["_auth_user_id"])
    job = change_job(job_uid=demo, base=1, uid="live-first", ops=first, actor=actor).job
    session = accept_warning(session=open_session(job=job, device="den-screen"))
    for n in range(7):
        for condition in ("game", "standard"):
            cell = Cell(condition=condition)
            keep_reading(session=session, cell=cell, lag_us=12_000 + 100 * n, method="typed")
    make_plan(session=session, wanted=[Cell(condition="game")], order="grouped", count=5)
    uid: str = session.uid
    return uid


def ask(api: Api, operation: str, lag: str) -> None:
    """The example's call: a documented 2xx, and a body that is what the document says."""
    method, path, body = CALLS[operation]
    if operation in ("visits", "editVisit", "moveVisit", "compareStates", "compareStatesText"):
        api.post(f"{J}/visits", CALLS["planVisit"][2])
    if operation.startswith("compareStates"):
        api.post(f"{J}/visits/live-visit/state", {"state": "open"})
        edit(api, {"op": "set_device", "device": "den-screen", "firmware": "2.4"})
    if operation in ("updates", "updateOf", "lookedAfterUpdate"):
        bright = {"op": "set_setting", "device": "den-screen", "scope": "hdmi3", "key": "game", "value": "on"}
        edit(api, {"op": "set_device", "device": "den-screen", "firmware": "2.4"}, {**bright, "layer": "found"})
        edit(api, {"op": "set_device", "device": "den-screen", "firmware": "2.6"}, uid="live-update")
    if operation == "lookedAfterUpdate":
        told = api.get(f"{J}/devices/den-screen/update?version=2.6")
        body = {**body, "key": told["steps"][0]["key"]}
    if operation in ("clientLinks", "revokeClientLink"):
        made = api.post(f"{J}/client-links", CALLS["makeClientLink"][2])
        path = path.replace("{link}", made["links"][0]["uid"])
    if operation == "tickStep":
        body = {**body, "key": api.get(f"{J}/runsheet")["next"]}
    if operation == "insertable":
        box = {"uid": "spare", "profile": profile_data(starter_profiles()["tindrel-s2"])}
        revision = api.get(J)["revision"]
        ops = [{"op": "add_device", "device": box}]
        api.post(f"{J}/changes", {"base_revision": revision, "uid": "live-spare", "ops": ops})
    if operation == "redo":
        api.post(f"{J}/undo", {"uid": "live-before"})
    if operation == "removeJob":
        api.post(f"{J}/archive", {"archived": True})
    if operation == "importJob":
        body = {"text": api.client.get(f"/api/v1{J}/file").getvalue().decode()}
    if operation == "readProfile":
        body = {"text": api.client.get(f"/api/v1{J}/devices/den-screen/profile.yaml").content.decode()}
    if operation == "fromTemplate":
        first = api.get("/gear/templates")[0]
        path = path.format(template=first["id"])
        body = {**body, "answers": {q["id"]: q["usual"] for q in first["questions"] if q["usual"]}}
    path = path.replace("{lag}", lag)
    if "{shelf}" in path:
        path = path.replace("{shelf}", str(api.post("/shelf", {"data": SHELVED})["uid"]))
        api.post(f"{J}/devices/den-screen/shelf", {"paths": ["peak_cd_m2"]})
    if operation == "readPack":
        body = {"zip": base64.b64encode(write_pack([Packed(starter_profiles()["tindrel-s2"])])).decode()}
    if operation == "dropLight":
        api.post(f"{J}/light", {**CALLS["noteLight"][2], "uid": "light-live-0"})
    if operation in ("probes", "revokeProbe", "probeHello", "probeResult"):
        made = api.post(f"{RUN}/probes", expect=201)
        path = path.replace("{probe}", made["probe"]["uid"]).replace("{code}", made["code"])
    if "{game}" in path:
        path = path.replace(
            "{game}", str(api.post("/practice", {"case": "template/console-tv modes 6"}, expect=201)["uid"])
        )
    if operation == "experience":
        api.post(f"{RUN}/fault/answers", {**CALLS["answerFault"][2], "uid": "live-first-answer"})
        cause = api.get(f"{RUN}/fault")["causes"][0]["id"]
        api.post(f"{RUN}/fault/close", {**CALLS["closeFault"][2], "cause": cause})
    if operation == "observe":
        body["seen"][0]["line"] = api.get(f"{RUN}/prove")["cards"][0]["lines"][0]["key"]
    if operation == "takeBackSeen":
        line = api.get(f"{RUN}/prove")["cards"][0]["lines"][0]["key"]
        seen = [{"line": line, "answer": "differs"}]
        api.post(f"{RUN}/seen", {"uid": "live-0007", "said_at": "2026-11-29T09:00:00Z", "seen": seen})
    if operation == "photograph":
        path = path.replace("{photo}", kept_picture(api, "pierhead"))
    if operation in OF_FILM:
        film = rendered()
        if operation == "useFilmSound":
            film, lag = with_sound(), monitor_measured(api, "pierhead")
        uid = begin(api, lag, film) if operation == "sendFilmPart" else read_whole(api, lag, film)
        path = path.replace("{film}", uid).replace("{still}", str((api.get(f"/films/{uid}")["stills"] or [0])[0]))
    token = {"X-CSRFToken": api.client.cookies[site.CSRF_COOKIE_NAME].value}
    answer = api.client.generic(
        method, f"/api/v1{path}", _SENT[body]() if isinstance(body, str) else text_of(body),
        content_type="application/json", headers=token,
    )  # fmt: skip
    assert 200 <= answer.status_code < 300, f"{answer.status_code}: {answer.content[:300]!r}"
    assert answer.status_code in operations()[operation]["responses"]
    validator = validator_of(operation, answer.status_code)
    if validator is not None:
        said = json.loads(answer.getvalue())
        validator.validate(said)
        assert said not in ([], {}), "an empty answer shows nothing of its shape"
    elif answer.status_code != 204:
        assert answer.getvalue()


def edit(api: Api, *ops: dict[str, Any], uid: str = "live-before") -> None:
    """A change on top of what there is."""
    revision = api.get(J)["revision"]
    api.post(f"{J}/changes", {"base_revision": revision, "uid": uid, "ops": list(ops)})


def packed() -> bytes:
    """The demo job as a pack."""
    return pack_of(Job.objects.get(uid="pierhead"))


_SENT = {"{picture}": picture, "{film}": lambda: rendered(), "{pack}": packed}


def text_of(body: Any) -> str:
    return "" if body is None else json.dumps(body)


@pytest.mark.parametrize("operation", sorted(set(CALLS) - BY_METER - BY_BOX - BY_LIGHT_METER))
def test_it_succeeds_and_answers_what_the_document_says(operation: str, api: Api, lag: str) -> None:
    ask(api, operation, lag)


@pytest.mark.django_db(transaction=True)
def test_the_meters_too(api: Api, lag: str, meter: Meter, settings: Any) -> None:  # noqa: F811
    settings.METERS = f"bench={meter.url}"
    for operation in ("meterAbout", "cellIsSet", "takeReadings", "stopMeter"):
        ask(api, operation, lag)


def test_and_a_light_meter(api: Api, lag: str, light_meter: str, settings: Any) -> None:  # noqa: F811
    settings.LIGHT_METERS = f"spot={light_meter}"
    for operation in ("lookAtLight", "letLightGo"):
        ask(api, operation, lag)


def test_and_a_box_that_answers(api: Api, lag: str, settings: Any) -> None:
    with running(SimulatedBox("den-screen", dict(SCREEN))) as url:
        settings.BOXES = f"den-screen={url}"
        ask(api, "fetchReadOuts", lag)
