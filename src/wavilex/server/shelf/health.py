"""Is the shelf sound? Every version reads, is what its digest says, and stands in its row of numbers."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import ValidationError

from wavilex.core.errors import WavilexError
from wavilex.core.gear.profile import Profile, profile_digest, profile_from_data
from wavilex.core.rig.learned import fact_fault
from wavilex.server.shelf.models import Box, Version
from wavilex.server.shelf.selectors import facts_of, words_of


def shelf_faults() -> Iterator[tuple[str, str]]:
    """Where, and what is wrong there."""
    for box in Box.objects.prefetch_related("versions"):
        place, versions = f"shelf box {box.uid}", sorted(box.versions.all(), key=lambda v: v.number)
        if [v.number for v in versions] != list(range(1, len(versions) + 1)) or not versions:
            yield (
                place,
                f"its versions are not numbered from 1 on: {', '.join(str(v.number) for v in versions) or 'none'}",
            )
        newest = None
        for version in versions:
            newest, fault = _read(version)
            if fault:
                yield f"{place}, version {version.number}", fault
        if newest is not None:
            yield from ((place, fault) for fault in _of_box(box, newest))


def _read(version: Version) -> tuple[Profile | None, str]:
    try:
        profile = profile_from_data(version.profile)
    except WavilexError as error:
        return None, f"its profile does not read: {error}"
    return profile, "" if profile_digest(profile) == version.digest else "its profile is not the one its digest names"


def _of_box(box: Box, newest: Profile) -> Iterator[str]:
    """What a box says of itself against its newest version; its facts must fit it."""
    said = (box.profile_id, box.maker, box.model, box.role, box.kind)
    if said != (newest.id, newest.maker, newest.model, newest.role, newest.kind):
        yield "its name or kind is not that of its newest version"
    if box.words != words_of(newest):
        yield "the words it is found by are not those of its newest version"
    try:
        facts = facts_of(box)
    except ValidationError:
        yield "what was learned of it does not read"
        return
    for fact in facts:
        fault = fact_fault(newest, fact)
        if fault:
            yield f"what was learned of it ({fact.path}) does not fit: {fault}"
