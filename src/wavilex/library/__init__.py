"""The starter library: made-up devices as YAML profiles, one file each, checked when read."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from wavilex.core.gear.profile import Profile, parse_profile


@cache
def starter_profiles() -> dict[str, Profile]:
    """Every starter profile by id, in order of role and name. Raises ProfileError on a bad file."""
    order = {"source": 0, "repeater": 1, "screen": 2, "sound": 3}
    found = [
        parse_profile(f.read_text(encoding="utf-8")) for f in files(__name__).iterdir() if f.name.endswith(".yaml")
    ]
    return {p.id: p for p in sorted(found, key=lambda p: (order[p.role], p.name))}
