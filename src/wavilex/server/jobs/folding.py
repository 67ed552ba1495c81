"""A job's history before the present visit folded: what each change did goes, that it was made stays.

What a visit did can be undone while it is under way, and after it until the next one begins. Older changes keep their
uid, so that what is sent again is still done once, their label and their time; the logbook has what they did.
"""

from __future__ import annotations

from django.db import transaction

from wavilex.server.config import limits
from wavilex.server.jobs.models import ChangeSet, Job, new_mark

FOLDED = "folded"


def fold_to(job: Job) -> int:
    """Up to which revision a job's history may be folded: to where its present visit, or its last one, began; and
    never the last few hundred changes. 0: nothing.
    """
    visit = job.visits.filter(opened_revision__isnull=False).order_by("-opened_at").first()
    if visit is None or visit.opened_revision is None:
        return 0
    return max(0, min(visit.opened_revision, job.revision - limits.CHANGES_UNFOLDED))


@transaction.atomic
def fold(*, job_pk: int) -> int:
    """Fold a job's history as far as it may be; how many changes."""
    job = Job.objects.select_for_update().get(pk=job_pk)
    to = fold_to(job)
    if to <= job.folded_to:
        return 0
    old = ChangeSet.objects.filter(job=job, revision__lte=to).exclude(kind=FOLDED)
    done = old.update(kind=FOLDED, ops=[], inverse=[])
    Job.objects.filter(pk=job.pk).update(folded_to=to, mark=new_mark())  # what is remembered of it has other stacks
    return done


def fold_all() -> int:
    """Fold every job's history; how many changes."""
    return sum(fold(job_pk=pk) for pk in Job.objects.values_list("pk", flat=True))
