"""`wavilex edid`: decode, build, diff."""

from __future__ import annotations

import argparse
import json
import sys
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from wavilex.core.edid.model import Edid
    from wavilex.core.gear.profile import Profile


def _read(name: str) -> Edid:
    from wavilex.core.edid.decode import decode as decode_bytes
    from wavilex.core.edid.model import EdidError
    from wavilex.core.edid.text import bytes_of

    try:
        if name.startswith("connector:"):
            from wavilex.instruments.edid_reader import DrmReader

            return decode_bytes(DrmReader().read(name.removeprefix("connector:")))
        data = sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
        return decode_bytes(bytes_of(data))
    except OSError as error:
        raise EdidError(f"cannot be read: {error.strerror}", where=name) from None
    except EdidError as error:
        raise EdidError(error.message, where=name) from None


def decode(a: argparse.Namespace) -> int:
    """`wavilex edid decode`: one answer, or a list for several files."""
    from wavilex.core.edid.report import edid_data

    answers = [edid_data(_read(name)) for name in a.files]
    if a.json:
        print(json.dumps(answers[0] if len(answers) == 1 else answers, ensure_ascii=False, indent=2))
        return 0
    for name, data in zip(a.files, answers, strict=True):
        print(f"{name}: {data['name']}, {len(data['modes'])} modes")
        for section in data["report"]:
            print(f"  {section['title']}")
            for row in section["rows"]:
                print(f"    {row['name']:32} {row['value']}" + (f" ({row['note']})" if row["note"] else ""))
        print("  Timings")
        for m in data["modes"]:
            scan, lines = ("i", 2 * m["v_active"]) if m["interlaced"] else ("", m["v_active"])
            depths = ", ".join(f"{e} {'/'.join(map(str, bits))}" for e, bits in m["bits"].items())
            print(f"    {m['h_active']}×{lines}{scan} {_rate(m['refresh_hz'])} {m['code'] or ''} {depths}")
        for f in data["findings"]:
            print(f"  {f['severity']}: {f['where']}: {f['text']}")
    return 0


def _rate(hz: str | float) -> str:
    """A rate as people write it: 60 Hz, 59.94 Hz."""
    return f"{float(Fraction(hz)):.2f}".rstrip("0").rstrip(".") + " Hz"


def connectors(a: argparse.Namespace) -> int:
    """`wavilex edid connectors`: this PC's own, and what the system shows there."""
    from wavilex.instruments.edid_reader import DrmReader

    rows = [{"connector": c.name, "connected": c.connected, "readable": c.readable} for c in DrmReader().connectors()]
    if a.json:
        print(json.dumps(rows, indent=2))
        return 0
    for row in rows:
        print(f"{row['connector']:24} {'an EDID' if row['readable'] else 'nothing'}")
    if not rows:
        print("This system shows no connectors.")
    return 0


def _profile(name: str) -> Profile:
    from wavilex.core.errors import ProfileError
    from wavilex.core.gear.profile import parse_profile
    from wavilex.library import starter_profiles

    known = starter_profiles()
    if name in known:
        return known[name]
    try:
        return parse_profile(Path(name).read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError):
        raise ProfileError(f"{name} is neither a readable file nor one of {', '.join(known)}") from None


def build(a: argparse.Namespace) -> int:
    """`wavilex edid build`."""
    from wavilex.core.edid.build import build as build_bytes
    from wavilex.core.edid.model import EdidError
    from wavilex.core.gear.edid_of_input import factory_settings, spec_of_input

    profile = _profile(a.profile)
    chosen: dict[str, str] = {}
    for pair in a.set:
        key, _, value = pair.partition("=")
        setting = profile.setting(key)
        if setting is None or value not in [o.id for o in setting.options]:
            raise EdidError(f"{pair!r} is no setting of {profile.name}", where="--set")
        chosen[key] = value
    data = build_bytes(spec_of_input(profile, a.input, factory_settings(profile, chosen)))
    if a.output == "-":
        print("\n".join(data[n : n + 16].hex(" ") for n in range(0, len(data), 16)))
        return 0
    try:
        Path(a.output).write_bytes(data)
    except OSError as error:
        raise EdidError(f"cannot be written: {error.strerror}", where=a.output) from None
    return 0


def diff(a: argparse.Namespace) -> int:
    """`wavilex edid diff`."""
    from wavilex.core.edid.difference import edid_difference

    data: dict[str, Any] = edid_difference(_read(a.a), _read(a.b))
    if a.json:
        print(json.dumps(data, ensure_ascii=False, indent=2))
        return 0
    for name, (one, two) in data["fields"].items():
        print(f"{name}: {one} → {two}")
    for side, name in (("modes_only_a", a.a), ("modes_only_b", a.b)):
        for mode in data[side]:
            print(f"only in {name}: {mode}")
    for mode, (one, two) in data["depths"].items():
        print(f"{mode}: {one} → {two}")
    if not any(data.values()):
        print("They say the same.")
    return 0
