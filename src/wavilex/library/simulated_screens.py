"""Screens the simulated EDID reader shows: starter screens in settings other than factory."""

from __future__ import annotations

from wavilex.core.edid.build import build
from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input
from wavilex.library import starter_profiles

_PLUGGED: tuple[tuple[str, str, str, dict[str, str]], ...] = (  # connector, profile, input, settings
    ("card0-HDMI-A-1", "yarrowby-65s", "hdmi3", {"format": "basic"}),
    ("card0-HDMI-A-2", "kelpine-x32", "hdmi1", {}),
)
_EMPTY = "card0-HDMI-A-3"


def simulated_edids() -> dict[str, bytes]:
    """EDIDs by connector; the last connector is empty."""
    found = {_EMPTY: b""}
    for connector, profile_id, port, chosen in _PLUGGED:
        profile = starter_profiles()[profile_id]
        found[connector] = build(spec_of_input(profile, port, factory_settings(profile, chosen)))
    return found
