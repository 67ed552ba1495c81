"""Commands about gear files (complete, versions, classes, packs), and about a job's values."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING

from wavilex.cli.commands import say
from wavilex.cli.rig_commands import read_rig
from wavilex.core.errors import PackError, ProfileError

if TYPE_CHECKING:
    from wavilex.core.gear.profile import Profile


def read_profile(name: str) -> Profile:
    """A profile file. Raises ProfileError."""
    from wavilex.core.gear.profile import parse_profile

    try:
        return parse_profile(Path(name).read_text(encoding="utf-8"))
    except (OSError, UnicodeDecodeError) as error:
        raise ProfileError(f"cannot be read: {error}", where=name) from None


def check(a: argparse.Namespace) -> int:
    """`wavilex gear check`."""
    from wavilex.core.gear.abilities import abilities
    from wavilex.core.gear.profile import profile_data

    p = read_profile(a.file)
    can = abilities(p)
    text = f"{p.name}: a {p.kind}, {len(p.inputs())} in, {len(p.outputs())} out. It is complete.\n  {', '.join(can)}"
    say({"ok": True, "name": p.name, "can": can, "data": profile_data(p)}, text, a.json)
    return 0


def diff(a: argparse.Namespace) -> int:
    """`wavilex gear diff`."""
    from wavilex.core.gear.compare import differences

    rows = differences(read_profile(a.a), read_profile(a.b))
    lines = [f"{r['part']}: {r['before'] or 'not said'} → {r['after'] or 'not said'}" for r in rows]
    say(list(rows), "\n".join(lines) or "They do not differ.", a.json)
    return 0


def finder(a: argparse.Namespace) -> int:
    """`wavilex gear finder`."""
    from wavilex.core.modes.finder import sought_data

    rows = sought_data(a.role)
    lines = [
        f"{r['title']} ({', '.join(r['steps'])})\n"
        + "\n".join(f"  {h['place']}: words like {h['words']}" for h in r["hideouts"])
        + f"\n  found: {r['see']}. If not: {r['if_absent']}"
        for r in rows
    ]
    say(list(rows), "\n".join(lines), a.json)
    return 0


def of_class(a: argparse.Namespace) -> int:
    """`wavilex gear class`: the classes, the questions of one, or the profile its answers make."""
    from wavilex.core.gear.classes import from_template, templates_data
    from wavilex.core.gear.profile import profile_data
    from wavilex.core.gear.text import profile_text

    if a.name is None:
        told = templates_data()
        say(list(told), "\n".join(f"{t['id']}: {t['title']}" for t in told), a.json)
        return 0
    answers = dict(x.partition("=")[::2] for x in a.answer)
    profile = from_template(a.name, answers, a.maker, a.model)
    say(profile_data(profile), profile_text(profile).rstrip(), a.json)
    return 0


def pack(a: argparse.Namespace) -> int:
    """`wavilex gear pack`."""
    from wavilex.core.gear.pack import Packed, write_pack

    boxes = [Packed(read_profile(name)) for name in a.files]
    try:
        Path(a.output).write_bytes(write_pack(boxes))
    except OSError as error:
        raise PackError(f"cannot be written: {error}", where=a.output) from None
    say({"boxes": len(boxes), "file": a.output}, f"{len(boxes)} in {a.output}", a.json)
    return 0


def unpack(a: argparse.Namespace) -> int:
    """`wavilex gear unpack`: what a pack holds; with --into, each box as a file there."""
    from wavilex.core.gear.pack import read_pack
    from wavilex.core.gear.text import profile_text

    try:
        boxes = read_pack(Path(a.file).read_bytes())
        for box in boxes if a.into else ():
            (Path(a.into) / f"{box.profile.id}.yaml").write_text(profile_text(box.profile), encoding="utf-8")
    except OSError as error:
        raise PackError(f"cannot be read or written: {error}", where=a.file) from None
    told = [{"name": b.profile.name, "id": b.profile.id, "facts": len(b.facts)} for b in boxes]
    say(told, "\n".join(f"{b['name']} ({b['id']}), {b['facts']} learned" for b in told), a.json)
    return 0


def values(a: argparse.Namespace) -> int:
    """`wavilex job values`."""
    from wavilex.core.chain.paths import Layer
    from wavilex.core.modes.grid import grid_data

    boxes = grid_data(Layer(read_rig(a.file), a.layer))
    lines = []
    for box in boxes:
        lines.append(box["label"])
        names = [c["words"] for c in box["columns"]]
        for row in box["rows"]:
            kept = [
                (n, c["words"] or f"factory: {row['default']}") for n, c in zip(names, row["cells"], strict=True) if c
            ]
            said = kept[0][1] if row["alike"] else "; ".join(f"{n}: {w}" for n, w in kept)
            lines.append(f"  {row['label']}: {said}")
    say(list(boxes), "\n".join(lines), a.json)
    return 0
