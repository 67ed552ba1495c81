"""Probes: a technician opens a code; the page on the source sends results by it, with no account."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urljoin

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from ninja import Body, Field, Router, Schema, Status

from wavilex.core.prove.patterns import PATTERNS, WARNING
from wavilex.core.prove.probe import UNKNOWABLE, ProbeIn
from wavilex.instruments.box_protocol import PLACES
from wavilex.server.accounts.roles import editor
from wavilex.server.config import limits
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.views import run_of
from wavilex.server.pictures import qr_svg
from wavilex.server.probe.fetching import fetch, name_of
from wavilex.server.probe.models import Probe
from wavilex.server.probe.services import keep_result, open_probe, probe_of, revoke
from wavilex.server.probe.shapes import BoxRow, FetchedOut, OpenedOut, ProbeHello, ProbeKept, ProbeRow, ProbeState
from wavilex.server.schemas import ProblemOut

router = Router()
_BY_CODE = {404: ProblemOut, 409: ProblemOut, 413: ProblemOut, 422: ProblemOut, 429: ProblemOut, 400: ProblemOut}
Code = Annotated[str, Field(min_length=4, max_length=40)]


def _row(probe: Probe) -> ProbeRow:
    now = timezone.now()
    state: ProbeState = "revoked" if probe.revoked_at else "expired" if probe.expires_at <= now else "open"
    return {
        "uid": probe.uid, "run": probe.run, "state": state, "made_by": probe.made_by.get_username(),
        "expires_at": probe.expires_at.isoformat(), "results": probe.results,
        "last_at": probe.last_at.isoformat() if probe.last_at else None,
    }  # fmt: skip


def _rows(job: Job) -> list[ProbeRow]:
    return [_row(p) for p in job.probes.select_related("made_by")[: limits.PROBES_LISTED]]


@router.get("/jobs/{job_uid}/probes", operation_id="probes", response={200: list[ProbeRow], **READ})
def list_probes(request: HttpRequest, job_uid: str) -> list[ProbeRow]:
    """The codes made for a job, the newest first, without the codes themselves."""
    return _rows(job_by_uid(job_uid))


@router.post("/jobs/{job_uid}/runs/{run_uid}/probes", auth=editor, operation_id="openProbe",
             response={201: OpenedOut, **WRITE})  # fmt: skip
def open_one(request: HttpRequest, job_uid: str, run_uid: str) -> Status[OpenedOut]:
    """A code for a run: told once, with its address and the same as a picture to point a camera at."""
    probe, code = open_probe(job_uid=job_uid, run_uid=run_uid, actor=request.user)
    short = settings.PROBE_ADDRESS or urljoin(settings.LAN or request.build_absolute_uri("/"), "/p")
    return Status(201, {
        "code": code, "address": f"{short}/{code}", "short": short, "qr_svg": qr_svg(f"{short}/{code}"),
        "here_only": not settings.LAN and request.get_host().partition(":")[0] in ("127.0.0.1", "localhost", "[::1]"),
        "probe": _row(probe),
    })  # fmt: skip


@router.post("/jobs/{job_uid}/probes/{uid}/revoke", auth=editor, operation_id="revokeProbe",
             response={200: list[ProbeRow], **WRITE})  # fmt: skip
def revoke_one(request: HttpRequest, job_uid: str, uid: str) -> list[ProbeRow]:
    """A code counts no more from now on; what it brought stays."""
    return _rows(revoke(job_uid=job_uid, uid=uid))


class Fetch(Schema):
    """uid makes it safe to send twice."""

    uid: str = Field(min_length=8, max_length=30, pattern=r"^[A-Za-z0-9-]+$")


@router.get("/jobs/{job_uid}/boxes", operation_id="answeringBoxes", response={200: list[BoxRow], **READ})
def answering(request: HttpRequest, job_uid: str) -> list[BoxRow]:
    """The boxes of a job that can be asked what they show."""
    devices = rig_of(job_by_uid(job_uid)).devices.values()
    return [{"device": d.uid, "name": name_of(d), "places": list(PLACES)} for d in devices if name_of(d)]


@router.post("/jobs/{job_uid}/runs/{run_uid}/devices/{device_uid}/fetch", auth=editor, operation_id="fetchReadOuts",
             response={200: FetchedOut, **WRITE})  # fmt: skip
def fetch_read_outs(request: HttpRequest, job_uid: str, run_uid: str, device_uid: str, payload: Fetch) -> FetchedOut:
    """Ask a box what it shows, and keep that as seen on this run."""
    _job, kept, unknown = fetch(
        job_uid=job_uid, run_uid=run_uid, device_uid=device_uid, uid=payload.uid, at=timezone.now(), actor=request.user
    )
    return {"kept": kept, "unknown": unknown}


@router.get("/probe/{code}", auth=None, operation_id="probeHello", response={200: ProbeHello, **_BY_CODE})
def hello(request: HttpRequest, code: Code) -> ProbeHello:
    """Does a code count, and for which run; the patterns there are."""
    probe = probe_of(code, str(request.META.get("REMOTE_ADDR", "")))
    return {
        "run": run_of(probe.job, probe.run).label, "expires_at": probe.expires_at.isoformat(), "unknowable": UNKNOWABLE,
        "warning": WARNING,
        "patterns": [
            {"id": p.id, "title": p.title, "see": p.see, "why": p.why, "moving": p.moving,
             "answers": [{"id": a.id, "says": a.says} for a in p.answers]}
            for p in PATTERNS
        ],
    }  # fmt: skip


class Result(Schema):
    """uid: of this result; the same one again is refused."""

    uid: str = Field(min_length=8, max_length=24, pattern=r"^[A-Za-z0-9-]+$")
    data: ProbeIn


@router.post("/probe/{code}", auth=None, operation_id="probeResult", response={200: ProbeKept, **_BY_CODE})
def result(request: HttpRequest, code: Code, payload: Body[Result]) -> ProbeKept:
    """Add a result to the run of a code. It can do nothing else."""
    address = str(request.META.get("REMOTE_ADDR", ""))
    kept = keep_result(code=code, address=address, uid=payload.uid, data=payload.data, at=timezone.now())
    return {
        "lines": [{"label": x.label, "observed": x.observed, "predicted": x.predicted, "cause": x.cause} for x in kept]
    }
