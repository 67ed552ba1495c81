"""Codes made and revoked, results let in: one run, a time, a number, a pace; anything else is refused and not kept."""

from __future__ import annotations

import hashlib
import secrets
import threading
import time
from collections import deque
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from wavilex.core.prove.probe import BrowserIn, FramesIn, PatternIn, measured
from wavilex.server.config import limits
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.observing import Measurement, keep_measured
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import new_uid
from wavilex.server.jobs.views import run_of
from wavilex.server.probe.models import Probe, ProbeSent
from wavilex.server.problems import ProblemError

# no letters that read like figures or like each other
_SIGNS = "23456789abcdefghjkmnpqrstuvwxyz"


def new_code() -> str:
    """A code to type on a console: about 2^49 of them."""
    return "".join(secrets.choice(_SIGNS) for _ in range(limits.PROBE_CODE_SIGNS))


def digest_of(code: str) -> str:
    return hashlib.sha256(code.strip().lower().encode()).hexdigest()


@transaction.atomic
def open_probe(*, job_uid: str, run_uid: str, actor: Any) -> tuple[Probe, str]:
    """A new code for a run; the only time it is told."""
    job = job_by_uid(job_uid, lock=True)
    run_of(job, run_uid)
    now = timezone.now()
    if job.probes.filter(revoked_at=None, expires_at__gt=now).count() >= limits.PROBES_OPEN:
        words = f"{limits.PROBES_OPEN} codes of this job are open: revoke one first."
        raise ProblemError(422, "too_many_probes", words)
    code = new_code()
    probe = Probe.objects.create(
        job=job, uid=new_uid(), run=run_uid, digest=digest_of(code), made_by=actor,
        expires_at=now + timedelta(minutes=limits.PROBE_MINUTES),
    )  # fmt: skip
    return probe, code


@transaction.atomic
def revoke(*, job_uid: str, uid: str) -> Job:
    """A code that counts no more from now on."""
    job = job_by_uid(job_uid, lock=True)
    probe = job.probes.filter(uid=uid).first()
    if probe is None:
        raise ProblemError(404, "no_such_probe", "There is no such code in this job.", uid[:40])
    if probe.revoked_at is None:
        probe.revoked_at = timezone.now()
        probe.save(update_fields=["revoked_at"])
    return job


class Pace:
    """How often something may happen within a minute, by whom; in this process, which is the only one."""

    def __init__(self, most: int, whom: int = 1000) -> None:
        self.most, self.whom = most, whom
        self._times: dict[str, deque[float]] = {}
        self._lock = threading.Lock()

    def hit(self, who: str) -> bool:
        """Note one more; False where that is too many."""
        now = time.monotonic()
        with self._lock:
            if len(self._times) >= self.whom and who not in self._times:
                self._times = {k: v for k, v in self._times.items() if v and now - v[-1] < 60}
            times = self._times.setdefault(who, deque())
            while times and now - times[0] >= 60:
                times.popleft()
            if len(times) >= self.most:
                return False
            times.append(now)
            return True

    def forget(self) -> None:
        with self._lock:
            self._times.clear()


WRONG = Pace(limits.PROBE_WRONG_A_MINUTE)  # codes that are none, by address
RESULTS = Pace(limits.PROBE_RESULTS_A_MINUTE)  # results, by code


def probe_of(code: str, address: str) -> Probe:
    """The probe of a code that counts now. Raises ProblemError 404 or 429, the same for all that is wrong with it."""
    probe = Probe.objects.select_related("job", "made_by").filter(digest=digest_of(code)).first()
    now = timezone.now()
    good = (
        probe is not None and probe.revoked_at is None and probe.expires_at > now and probe.made_by.is_active
        and not probe.job.archived
        and (not probe.job.kept or probe.job.readers.filter(pk=probe.made_by.pk).exists())
    )  # fmt: skip
    if not good or probe is None:
        if not WRONG.hit(address):
            raise ProblemError(429, "too_often", "Too many codes that are none: wait a minute.")
        raise ProblemError(404, "no_such_code", "This code is none, or counts no more: make a new one on Prove.")
    return probe


@transaction.atomic
def keep_result(
    *, code: str, address: str, uid: str, data: FramesIn | BrowserIn | PatternIn, at: datetime
) -> list[Measurement]:
    """Add a result to the one run its code is for. Raises ProblemError; nothing is kept then."""
    probe = probe_of(code, address)
    if not RESULTS.hit(probe.digest):
        raise ProblemError(429, "too_often", "Results come too fast: wait a minute.")
    probe = Probe.objects.select_for_update().get(pk=probe.pk)
    if probe.results >= limits.PROBE_RESULTS:
        raise ProblemError(404, "no_such_code", "This code has had all the results it may: make a new one on Prove.")
    if probe.sent.filter(uid=uid).exists():
        raise ProblemError(409, "already_kept", "This result is kept already.")
    found = measured(data)
    if not found:
        raise ProblemError(422, "nothing_measured", "Too little was measured to say anything: let it run longer.")
    kept = keep_measured(
        job=probe.job, run_uid=probe.run, uid=f"p{probe.pk}-{uid}", found=found, at=at, actor=probe.made_by
    )
    ProbeSent.objects.create(probe=probe, uid=uid)
    probe.results += 1
    probe.last_at = at
    probe.save(update_fields=["results", "last_at"])
    return kept
