"""Reads of the shelf. Never writes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cache

from django.db.models import Q, QuerySet

from wavilex.core.gear.abilities import abilities
from wavilex.core.gear.compare import differences
from wavilex.core.gear.pack import FactRow, Packed
from wavilex.core.gear.profile import Profile, profile_data, profile_from_data
from wavilex.core.rig.learned import Seen, learned, learned_data
from wavilex.core.rig.model import AFTER_UPDATE_FACT, Device, Rig
from wavilex.core.rig.visit_facts import AfterUpdate
from wavilex.library import starter_profiles
from wavilex.server.jobs.models import Device as DeviceRow
from wavilex.server.jobs.selectors import seen_jobs
from wavilex.server.problems import ProblemError
from wavilex.server.shelf import models
from wavilex.server.shelf.shapes import EntryOut, OnShelf, ShelfRow, ShelfState, UsedOut, VersionOut

STARTER = "starter:"


def words_of(profile: Profile) -> str:
    """Everything a box is found by, in small letters."""
    said = (profile.name, profile.kind, profile.role, profile.summary, *abilities(profile))
    return " ".join(said).lower()


def shelf_rows(*, search: str = "", role: str = "", away: bool = False, starters: bool = True) -> list[ShelfRow]:
    """Boxes to choose from: the workshop's own first, then the starters. search: every word of it is found."""
    asked = search.lower().split()
    own = models.Box.objects.filter(away=away)
    for word in asked:
        own = own.filter(words__contains=word)
    if role:
        own = own.filter(role=role)
    rows = [own_row(box) for box in own.prefetch_related("versions")]
    if starters and not away:
        rows += [row for row, words in _starters() if all(w in words for w in asked) and role in ("", row["role"])]
    return rows


@cache
def _starters() -> list[tuple[ShelfRow, str]]:
    rows = []
    for profile in starter_profiles().values():
        row = _row(profile, uid=STARTER + profile.id, own=False)
        rows.append((row, words_of(profile)))
    return rows


def _row(profile: Profile, *, uid: str, own: bool) -> ShelfRow:
    return {
        "uid": uid, "name": profile.name, "maker": profile.maker, "role": profile.role, "kind": profile.kind,
        "summary": profile.summary, "inputs": len(profile.inputs()), "outputs": len(profile.outputs()),
        "can": abilities(profile), "own": own, "away": False, "version": 0, "used": 0, "changed_at": "",
    }  # fmt: skip


def own_row(box: models.Box) -> ShelfRow:
    newest = newest_of(box)
    row = _row(profile_from_data(newest.profile), uid=box.uid, own=True)
    used = used_rows(box).count()
    return {**row, "away": box.away, "version": newest.number, "used": used, "changed_at": box.changed_at.isoformat()}


def newest_of(box: models.Box) -> models.Version:
    return max(box.versions.all(), key=lambda v: v.number)


def box_by_uid(uid: str) -> models.Box:
    """A box of the workshop's own. Raises ProblemError 404."""
    box = models.Box.objects.filter(uid=uid).first()
    if box is None:
        raise ProblemError(404, "not_on_the_shelf", "There is no such box on the shelf.", uid[:40])
    return box


def facts_of(box: models.Box) -> list[FactRow]:
    return [FactRow.model_validate(row) for row in box.facts]


def entry(uid: str) -> EntryOut:
    """A box whole: the workshop's own, or a starter."""
    if uid.startswith(STARTER):
        profile = starter_profiles().get(uid.removeprefix(STARTER))
        if profile is None:
            raise ProblemError(404, "not_on_the_shelf", "There is no such starter.", uid[:40])
        row = _row(profile, uid=uid, own=False)
        return {**row, "data": profile_data(profile), "facts": [], "versions": [], "used_in": []}
    box = box_by_uid(uid)
    facts = [f.model_dump(mode="json") for f in facts_of(box)]
    return {
        **own_row(box), "data": newest_of(box).profile, "facts": facts,  # type: ignore[typeddict-item]
        "versions": _versions(box), "used_in": _used_in(box),
    }  # fmt: skip


def _versions(box: models.Box) -> list[VersionOut]:
    """The newest first, each with what it changed."""
    out: list[VersionOut] = []
    before: Profile | None = None
    for v in box.versions.select_related("actor"):
        now = profile_from_data(v.profile)
        out.append({
            "number": v.number, "at": v.at.isoformat(), "by": v.actor.get_username() if v.actor else "",
            "note": v.note, "differs": differences(before, now) if before else [],
        })  # fmt: skip
        before = now
    return out[::-1]


def used_rows(box: models.Box) -> QuerySet[DeviceRow]:
    """Boxes of jobs, as far as the asker sees them, that are this one: of one of its versions, or changed since."""
    digests = [v.digest for v in box.versions.all()]
    seen = DeviceRow.objects.filter(job__in=seen_jobs())
    named = seen.filter(profile__id=box.profile_id, profile__maker=box.maker, profile__model=box.model)
    return seen.filter(digest__in=digests) | named


def _used_in(box: models.Box) -> list[UsedOut]:
    numbers = {v.digest: v.number for v in box.versions.all()}
    return [
        {
            "job": row.job.uid, "title": row.job.title, "device": row.uid, "label": row.label,
            "version": numbers.get(row.digest, 0),
        }
        for row in used_rows(box).select_related("job").order_by("job__title", "id")
    ]  # fmt: skip


def box_of(profile: Profile, digest: str) -> models.Box | None:
    """The shelf's box that a job's is: of a version of it, else of the same name."""
    version = models.Version.objects.filter(digest=digest).select_related("box").first()
    if version is not None:
        return version.box
    named = {"profile_id": profile.id, "maker": profile.maker, "model": profile.model}
    return models.Box.objects.filter(**named).first()


def after_updates_of(rig: Rig) -> dict[str, list[AfterUpdate]]:
    """By box of a job: how settings stood after updates at others of its kind, as the shelf keeps it."""
    ids = {d.profile.id for d in rig.devices.values()}
    boxes = {(b.profile_id, b.maker, b.model): b for b in models.Box.objects.filter(profile_id__in=ids)}
    out: dict[str, list[AfterUpdate]] = {}
    for d in rig.devices.values():
        box = boxes.get((d.profile.id, d.profile.maker, d.profile.model))
        rows = [r for r in facts_of(box) if r.path.startswith(f"{AFTER_UPDATE_FACT}.")] if box else []
        own = rig.device_facts(d.uid)
        out[d.uid] = [AfterUpdate.model_validate(r.value) for r in rows if r.path not in own]
    return out


def on_shelf(rig: Rig, seen: Mapping[str, Sequence[Seen]]) -> list[OnShelf]:
    """Every box of a job against the shelf, read at once. seen: by box, what was seen there beside its facts."""
    digests = {d.profile_digest for d in rig.devices.values()}
    by_digest = {
        v.digest: v.box_id for v in models.Version.objects.filter(digest__in=digests).order_by("-box_id").only(
            "digest", "box_id")
    }  # fmt: skip
    ids = {d.profile.id for d in rig.devices.values()}
    wanted = models.Box.objects.filter(Q(pk__in=by_digest.values()) | Q(profile_id__in=ids))
    boxes = {box.pk: box for box in wanted.prefetch_related("versions")}
    named = {(b.profile_id, b.maker, b.model): b for b in boxes.values()}
    return [
        _standing(rig, d, seen.get(d.uid, ()), boxes.get(by_digest.get(d.profile_digest, 0))
                  or named.get((d.profile.id, d.profile.maker, d.profile.model)))
        for d in rig.devices.values()
    ]  # fmt: skip


def _standing(rig: Rig, device: Device, seen: Sequence[Seen], box: models.Box | None) -> OnShelf:
    known = facts_of(box) if box else []
    lines = learned_data(learned(rig, device, known, seen))
    if box is None:
        return {"device": device.uid, "uid": "", "state": "none", "version": 0, "newest": 0, "differs": [],
                "learned": lines}  # fmt: skip
    newest = newest_of(box)
    number = next((v.number for v in box.versions.all() if v.digest == device.profile_digest), 0)
    state: ShelfState = "changed" if not number else "same" if number == newest.number else "older"
    differs = [] if state == "same" else differences(device.profile, profile_from_data(newest.profile))
    return {
        "device": device.uid, "uid": box.uid, "state": state, "version": number, "newest": newest.number,
        "differs": differs, "learned": lines,
    }  # fmt: skip


def packed(uids: Sequence[str]) -> Iterable[Packed]:
    """Boxes as a pack holds them; all that are not put away, where none is named."""
    boxes = models.Box.objects.filter(uid__in=uids) if uids else models.Box.objects.filter(away=False)
    for box in boxes:
        yield Packed(profile_from_data(newest_of(box).profile), tuple(facts_of(box)))
