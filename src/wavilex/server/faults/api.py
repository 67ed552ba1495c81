"""Faults: where the search on a run stands, an answer, its end; and what this installation learned."""

from __future__ import annotations

from django.db import transaction
from django.http import HttpRequest
from ninja import Field, Router, Schema
from typing_extensions import TypedDict

from wavilex.core import bounds
from wavilex.core.fault.kinds import FAULTS, SHARE_OF_HERE, learned
from wavilex.core.fault.shapes import SearchOut
from wavilex.server.accounts.roles import editor
from wavilex.server.faults.finding import answer, close, confirmed, fault_answer, forget_learned
from wavilex.server.jobs.api import READ, WRITE
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.views import run_of
from wavilex.server.schemas import When

router = Router()
AT_RUN = "/jobs/{job_uid}/runs/{run_uid}/fault"


class FaultAnswer(SearchOut):
    """Where a search stands, and the content of the job it is of."""

    mark: str


def _told(job_uid: str, run_uid: str, *, whole: bool) -> FaultAnswer:
    job = job_by_uid(job_uid)
    return {**fault_answer(job, run_of(job, run_uid), whole=whole), "mark": job.mark}


@router.get(AT_RUN, operation_id="fault", response={200: FaultAnswer, **READ})
def fault(request: HttpRequest, job_uid: str, run_uid: str, whole: bool = False) -> FaultAnswer:
    """What may be the matter with a run, and the next best check. whole: with every pair of faults worth trying."""
    return _told(job_uid, run_uid, whole=whole)


class AnswerIn(Schema):
    """key: a complaint, a line or a check; value: the outcome, or `cannot`. uid makes it safe to send twice."""

    uid: str = Field(min_length=8, max_length=30, pattern=r"^[A-Za-z0-9-]+$")
    key: str = Field(min_length=1, max_length=bounds.OBSERVED_LETTERS)
    value: str = Field(min_length=1, max_length=bounds.OBSERVED_LETTERS)
    said_at: When


@router.post(f"{AT_RUN}/answers", auth=editor, operation_id="answerFault", response={200: FaultAnswer, **WRITE})
def answered(request: HttpRequest, job_uid: str, run_uid: str, payload: AnswerIn) -> FaultAnswer:
    """Keep one answer: a complaint, what a check showed, whether a cure helped."""
    with transaction.atomic():
        answer(
            job_uid=job_uid, run_uid=run_uid, uid=payload.uid, key=payload.key, value=payload.value,
            said_at=payload.said_at, actor=request.user,
        )  # fmt: skip
    return _told(job_uid, run_uid, whole=False)


class ClosedIn(Schema):
    """cause: its id, "" for none. note: note the rig so, as found."""

    uid: str = Field(min_length=8, max_length=30, pattern=r"^[A-Za-z0-9-]+$")
    cause: str = Field(default="", max_length=400)
    note: bool = False
    said_at: When


@router.post(f"{AT_RUN}/close", auth=editor, operation_id="closeFault", response={200: FaultAnswer, **WRITE})
def closed(request: HttpRequest, job_uid: str, run_uid: str, payload: ClosedIn) -> FaultAnswer:
    """It was this: the search ends, and its kind is counted for this installation."""
    with transaction.atomic():
        close(
            job_uid=job_uid, run_uid=run_uid, uid=payload.uid, cause=payload.cause, note=payload.note,
            said_at=payload.said_at, actor=request.user,
        )  # fmt: skip
    return _told(job_uid, run_uid, whole=False)


class ConfirmedOut(TypedDict):
    """A kind of fault as this installation knows it. times: its odds against common practice’s."""

    kind: str
    name: str
    box: str
    confirmed: int
    times: float


class ExperienceOut(TypedDict):
    """What was confirmed here; practice weighs as so many."""

    rows: list[ConfirmedOut]
    total: int
    practice_weighs: int


@router.get("/faults/experience", operation_id="experience", response={200: ExperienceOut, **READ})
def experience(request: HttpRequest) -> ExperienceOut:
    """The kinds of fault that were confirmed on this installation, and how that moves their odds."""
    known = confirmed()
    rows: list[ConfirmedOut] = [
        {"kind": k, "name": FAULTS[k].name, "box": b, "confirmed": n, "times": learned(k, b, known)}
        for (k, b), n in known.most_common()
    ]
    return {"rows": rows, "total": sum(known.values()), "practice_weighs": SHARE_OF_HERE}


@router.post("/faults/forget", auth=editor, operation_id="forgetExperience", response={200: ExperienceOut, **WRITE})
def forget(request: HttpRequest) -> ExperienceOut:
    """Forget what was confirmed here: common practice alone counts again."""
    forget_learned()
    return experience(request)
