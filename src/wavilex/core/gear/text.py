"""A profile as YAML text that reads back as the same profile."""

from __future__ import annotations

from io import StringIO
from typing import Any

from wavilex.core.gear.profile import Profile, profile_data

_ONE_LINE = 110


def profile_text(profile: Profile) -> str:
    """YAML: short parts on one line each, long ones spread; `parse_profile` of it gives the profile back."""
    from ruamel.yaml import YAML
    from ruamel.yaml.comments import CommentedMap, CommentedSeq

    def shaped(value: Any, depth: int) -> Any:
        out: CommentedMap | CommentedSeq
        if isinstance(value, dict):
            out = CommentedMap((k, shaped(v, depth + 1)) for k, v in value.items())
        elif isinstance(value, list):
            out = CommentedSeq([shaped(v, depth + 1) for v in value])
        else:
            return value
        if depth > 0 and len(repr(value)) < _ONE_LINE:
            out.fa.set_flow_style()
        return out

    yaml = YAML()
    yaml.width = 120
    yaml.indent(mapping=2, sequence=4, offset=2)
    out = StringIO()
    yaml.dump(shaped(profile_data(profile), 0), out)
    return out.getvalue()
