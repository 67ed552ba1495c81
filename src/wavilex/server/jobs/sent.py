"""Requests that may come twice and are done once, by the uid their sender gave them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Annotated, Any, TypeVar

from django.utils import timezone
from ninja import Field

from wavilex.server.accounts.asking import who
from wavilex.server.jobs.models import Sent

T = TypeVar("T", str, int, dict[str, Any])
SentUid = Annotated[str, Field(default="", max_length=64, pattern=r"^([A-Za-z0-9-]{8,})?$")]
_KEPT = timedelta(days=60)


def once(uid: str, work: Callable[[], T]) -> T:
    """What came of the work: done now, or when this account first sent this uid. Inside the caller's transaction.

    uid "": sent by somebody who does not repeat himself; the work is done.
    """
    actor = who()
    if not uid or actor is None:
        return work()
    earlier = Sent.objects.filter(actor=actor, uid=uid).first()
    if earlier is not None:
        kept: T = earlier.result
        return kept
    result = work()
    Sent.objects.create(actor=actor, uid=uid, result=result)
    return result


def forget_old() -> int:
    """Nobody repeats a request after two months; how many are forgotten."""
    return Sent.objects.filter(at__lt=timezone.now() - _KEPT).delete()[0]
