"""Addresses by which a client reads a job's hand-over and nothing else: made, revoked, read by their secret."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone
from typing_extensions import TypedDict

from wavilex.server.accounts.asking import asking_name
from wavilex.server.config import limits
from wavilex.server.jobs.log import write
from wavilex.server.jobs.models import ClientLink, Job
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.jobs.services import new_uid
from wavilex.server.problems import ProblemError

_SECRET_BYTES = 32


class ClientLinkOut(TypedDict):
    """A link without its secret; times ISO 8601 in UTC, "" for none. open: does it still count?"""

    uid: str
    note: str
    made_at: str
    expires_at: str
    revoked_at: str
    read_at: str
    open: bool


class MadeLinkOut(TypedDict):
    """A link just made: the only time its address is told."""

    address: str
    links: list[ClientLinkOut]


def digest_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


@transaction.atomic
def make_link(*, job_uid: str, note: str, days: int, actor: Any) -> tuple[ClientLink, str]:
    """A link and its secret, which is told once and not kept."""
    job = job_by_uid(job_uid, lock=True)
    if job.client_links.filter(revoked_at=None, expires_at__gt=timezone.now()).count() >= limits.CLIENT_LINKS:
        words = f"{limits.CLIENT_LINKS} links of this job are open: revoke one first."
        raise ProblemError(422, "too_many_links", words)
    secret = secrets.token_urlsafe(_SECRET_BYTES)
    link = job.client_links.create(
        uid=new_uid(), digest=digest_of(secret), note=note, actor=actor,
        expires_at=timezone.now() + timedelta(days=days),
    )  # fmt: skip
    write(job, "visit", f"a link for the client{f', {note}' if note else ''}, for {days} days", by=asking_name())
    return link, secret


@transaction.atomic
def revoke_link(*, job_uid: str, uid: str) -> Job:
    """A link that opens nothing from now on."""
    job = job_by_uid(job_uid, lock=True)
    link = job.client_links.filter(uid=uid).first()
    if link is None:
        raise ProblemError(404, "no_such_link", "There is no such link of this job.", uid[:40])
    if link.revoked_at is None:
        link.revoked_at = timezone.now()
        link.save(update_fields=["revoked_at"])
        write(job, "visit", f"a client’s link revoked{f': {link.note}' if link.note else ''}", by=asking_name())
    return job


def job_behind(secret: str) -> Job | None:
    """The job whose hand-over a secret opens; None where it opens none (any more)."""
    now = timezone.now()
    link = ClientLink.objects.filter(digest=digest_of(secret), revoked_at=None, expires_at__gt=now)
    found = link.select_related("job").first()
    if found is None:
        return None
    if not settings.READ_ONLY:
        link.update(read_at=now)
    return found.job


def links_of(job: Job) -> list[ClientLinkOut]:
    """The links of a job, the latest first."""
    now = timezone.now()
    return [
        {
            "uid": x.uid, "note": x.note, "made_at": x.at.isoformat(), "expires_at": x.expires_at.isoformat(),
            "revoked_at": x.revoked_at.isoformat() if x.revoked_at else "",
            "read_at": x.read_at.isoformat() if x.read_at else "",
            "open": x.revoked_at is None and x.expires_at > now,
        }
        for x in job.client_links.all()
    ]  # fmt: skip
