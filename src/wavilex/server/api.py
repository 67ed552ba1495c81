"""The API: routers joined, errors mapped, every call but sign-in behind an account."""

from __future__ import annotations

from typing import Any

from django.conf import settings as settings_of_django
from django.http import HttpRequest
from ninja.parser import Parser

from wavilex import __version__
from wavilex.core.plain import read_json
from wavilex.server.accounts.api import router as accounts
from wavilex.server.accounts.roles import reader
from wavilex.server.bench.api import router as bench
from wavilex.server.bench.api_film import router as bench_film
from wavilex.server.bench.api_plan import router as bench_plan
from wavilex.server.document import DocumentedAPI
from wavilex.server.faults.api import router as faults
from wavilex.server.faults.api_practice import router as practice
from wavilex.server.files.api import router as files
from wavilex.server.files.api_leave import router as leave
from wavilex.server.jobs.api import router as jobs
from wavilex.server.jobs.api_access import router as access
from wavilex.server.jobs.api_answers import router as answers
from wavilex.server.jobs.api_edid import router as edid
from wavilex.server.jobs.api_gear import router as gear
from wavilex.server.jobs.api_library import router as library
from wavilex.server.jobs.api_modes import router as modes
from wavilex.server.jobs.api_prove import router as prove
from wavilex.server.jobs.api_retro import router as retro
from wavilex.server.jobs.api_runsheet import router as runsheet
from wavilex.server.jobs.api_scratch import router as scratch
from wavilex.server.jobs.api_settings import router as settings
from wavilex.server.jobs.api_wiring import router as wiring
from wavilex.server.light.api import router as light
from wavilex.server.pictures import PhoneOut, qr_svg
from wavilex.server.probe.api import router as probe
from wavilex.server.problems import connect_handlers
from wavilex.server.schemas import ProblemOut
from wavilex.server.shelf.api import router as shelf
from wavilex.server.upkeep.health import StatusOut, status
from wavilex.server.visits.api import router as visits


class PlainParser(Parser):
    """Bodies as JSON that every field of ours can hold."""

    def parse_body(self, request: HttpRequest) -> Any:
        return read_json(request.body)


api = DocumentedAPI(
    parser=PlainParser(), title="Wavilex", version=__version__, auth=reader, docs_url=None, openapi_url="/openapi.json"
)
connect_handlers(api)
api.add_router("/session", accounts, tags=["session"])
api.add_router("", jobs, tags=["jobs"])
api.add_router("", access, tags=["jobs"])
api.add_router("", answers, tags=["answers"])
api.add_router("", library, tags=["files"])
api.add_router("", files, tags=["files"])
api.add_router("", leave, tags=["files"])
api.add_router("", shelf, tags=["shelf"])
api.add_router("", gear, tags=["gear"])
api.add_router("", wiring, tags=["wiring"])
api.add_router("", modes, tags=["modes"])
api.add_router("", settings, tags=["settings"])
api.add_router("", retro, tags=["retro"])
api.add_router("", runsheet, tags=["runsheet"])
api.add_router("", prove, tags=["prove"])
api.add_router("", probe, tags=["prove"])
api.add_router("", visits, tags=["visits"])
api.add_router("", faults, tags=["fault"])
api.add_router("", practice, tags=["practice"])
api.add_router("", light, tags=["light"])
api.add_router("", scratch, tags=["scratch"])
api.add_router("", edid, tags=["edid"])
api.add_router("", bench, tags=["bench"])
api.add_router("", bench_plan, tags=["bench"])
api.add_router("", bench_film, tags=["bench"])


@api.get("/status", operation_id="status", response={200: StatusOut, 401: ProblemOut}, tags=["session"])
def installation(request: HttpRequest) -> StatusOut:
    """How this installation stands: data, backups, meters, memory."""
    return status()


@api.get("/phone", operation_id="onThePhone", response={200: PhoneOut, 401: ProblemOut}, tags=["session"])
def on_the_phone(request: HttpRequest) -> PhoneOut:
    """The address by which a phone in the house reaches this, or that it does not."""
    if not settings_of_django.LAN:
        return {"address": "", "qr_svg": "", "fingerprint": ""}
    address = settings_of_django.LAN
    return {"address": address, "qr_svg": qr_svg(address), "fingerprint": settings_of_django.LAN_PRINT}


@api.get("/ready", auth=None, operation_id="ready", response=dict[str, str], tags=["session"])
def ready(request: HttpRequest) -> dict[str, str]:
    """Is the server there? Says nothing else."""
    return {"state": "ready"}
