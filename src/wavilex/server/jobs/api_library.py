"""Reading a profile of one's own, and telling of one."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Field, Router, Schema

from wavilex.core.gear.profile import Profile, parse_profile, profile_data
from wavilex.core.gear.shapes import ProfileOut
from wavilex.server.jobs.api import WRITE

router = Router()


def profile_out(profile: Profile) -> ProfileOut:
    return {
        "id": profile.id, "name": profile.name, "role": profile.role, "kind": profile.kind,
        "summary": profile.summary, "inputs": len(profile.inputs()), "outputs": len(profile.outputs()),
        "data": profile_data(profile),
    }  # fmt: skip


class ProfileText(Schema):
    text: str = Field(max_length=200_000)


@router.post("/library/read", operation_id="readProfile", response={200: ProfileOut, **WRITE})
def read_profile(request: HttpRequest, payload: ProfileText) -> ProfileOut:
    """Check a profile in YAML; answers what it says, or the line and reason of the first fault. Stores nothing."""
    return profile_out(parse_profile(payload.text))
