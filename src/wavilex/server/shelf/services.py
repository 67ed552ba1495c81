"""Writes to the shelf. Each function owns its transaction."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import Any

from django.db import transaction
from django.utils import timezone

from wavilex.core.errors import PackError
from wavilex.core.gear.pack import FactRow, Packed
from wavilex.core.gear.profile import Profile, profile_data, profile_digest, profile_from_data
from wavilex.core.rig.learned import fact_fault, learned, with_learned
from wavilex.server.accounts.asking import who
from wavilex.server.config import limits
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError
from wavilex.server.shelf import models
from wavilex.server.shelf.seen import seen_in
from wavilex.server.shelf.selectors import box_by_uid, box_of, facts_of, newest_of, words_of
from wavilex.server.shelf.shapes import PackRead


@transaction.atomic
def keep(*, profile: Profile, uid: str = "", note: str = "", facts: Sequence[FactRow] = ()) -> models.Box:
    """A box kept: a new one, or the next version of the one named, or of the one of the same maker and model.

    What is there alike already makes no version. A box that was put away comes back. Facts go over those there.
    """
    box = box_by_uid(uid) if uid else _same(profile)
    if box is None:
        if models.Box.objects.count() >= limits.SHELF_BOXES:
            raise ProblemError(422, "shelf_full", f"The shelf holds {limits.SHELF_BOXES} boxes: put some away.")
        box = models.Box(uid=uuid.uuid4().hex[:12])
    _describe(box, profile)
    box.away = False
    box.facts = _joined(box.facts, facts)
    box.save()
    digest = profile_digest(profile)
    last = newest_of(box) if box.versions.exists() else None
    if last is None or last.digest != digest:
        models.Version.objects.create(
            box=box, number=(last.number if last else 0) + 1, profile=profile_data(profile), digest=digest, note=note,
            actor=who(),
        )  # fmt: skip
    return box


def _same(profile: Profile) -> models.Box | None:
    return models.Box.objects.filter(profile_id=profile.id, maker=profile.maker, model=profile.model).first()


def _describe(box: models.Box, profile: Profile) -> None:
    """What a box is found by, from its newest profile. Raises ProblemError where another box has that name."""
    other = _same(profile)
    if other is not None and other.pk != box.pk:
        raise ProblemError(409, "name_taken", f"{profile.name} is on the shelf already: change that one.", "profile")
    box.profile_id, box.maker, box.model = profile.id, profile.maker, profile.model
    box.role, box.kind, box.words = profile.role, profile.kind, words_of(profile)


def _joined(kept: list[dict[str, Any]], facts: Sequence[FactRow]) -> list[dict[str, Any]]:
    """Facts by path, the newer over the older."""
    rows = {row["path"]: row for row in kept}
    rows |= {f.path: f.model_dump(mode="json", exclude_defaults=True) for f in facts}
    return list(rows.values())


@transaction.atomic
def put_away(*, uid: str, away: bool) -> models.Box:
    """Out of the way, or back. Jobs that use it keep what they have."""
    box = box_by_uid(uid)
    box.away = away
    box.save()
    return box


@transaction.atomic
def forget_fact(*, uid: str, path: str) -> models.Box:
    """Something learned that is no longer believed."""
    box = box_by_uid(uid)
    box.facts = [row for row in box.facts if row["path"] != path]
    box.save()
    return box


@transaction.atomic
def take_back(*, job_uid: str, device_uid: str, paths: Sequence[str]) -> models.Box:
    """Lines that a job learned of a box, taken to the shelf, each with when and on which firmware."""
    job = job_by_uid(job_uid)
    rig = rig_of(job)
    device = rig.devices.get(device_uid)
    if device is None:
        raise ProblemError(404, "no_such_device", "There is no such box in this job.", device_uid[:40])
    box = box_of(device.profile, device.profile_digest)
    profile = profile_from_data(newest_of(box).profile) if box else device.profile
    known = facts_of(box) if box else []
    lines = [x for x in learned(rig, device, known, seen_in(job, rig).get(device_uid, ())) if x.path in set(paths)]
    missing = sorted(set(paths) - {x.path for x in lines})
    if missing:
        raise ProblemError(422, "nothing_learned", "The job knows nothing new of that.", missing[0][:120])
    at = timezone.now().date().isoformat()
    after, facts = with_learned(profile, known, lines, at, device.firmware)
    note = f"learned in a job: {'; '.join(x.words for x in lines)}"[:200]
    return keep(profile=after, uid=box.uid if box else "", note=note, facts=facts)


@transaction.atomic
def bring_in(boxes: Sequence[Packed]) -> PackRead:
    """A pack's boxes, all of them or none."""
    told: PackRead = {"added": [], "renewed": [], "alike": []}
    for packed in boxes:
        for fact in packed.facts:
            fault = fact_fault(packed.profile, fact)
            if fault:
                raise PackError(f"{packed.profile.name}: what was learned of it ({fact.path}) does not fit: {fault}")
        there = _same(packed.profile)
        before = newest_of(there).digest if there else ""
        facts = there.facts if there else []
        box = keep(profile=packed.profile, facts=packed.facts, note="from a pack")
        alike = before == profile_digest(packed.profile) and box.facts == facts
        told["added" if there is None else "alike" if alike else "renewed"].append(packed.profile.name)
    return told
