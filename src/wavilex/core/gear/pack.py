"""A pack of gear: a zip of YAML profiles with a manifest, made by one workshop and read by another.

Nothing of a pack is believed: names, sizes and counts are bounded before anything is unpacked, and every profile is
read as any other.
"""

from __future__ import annotations

import io
import re
import stat
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, field_validator

from wavilex.core import refused
from wavilex.core.errors import PackError, ProfileError
from wavilex.core.fields import Model, Provenance
from wavilex.core.gear.profile import Profile, parse_profile
from wavilex.core.gear.text import profile_text
from wavilex.core.gear.yaml_in import read_yaml
from wavilex.core.plain import PlainError, check

MANIFEST = "manifest.yaml"
MOST_BOXES = 500
MOST_FILE_BYTES = 300_000
MOST_FACTS = 400
_NAME = re.compile(r"boxes/[a-z0-9][a-z0-9._-]{0,80}\.yaml", re.ASCII)
_UNREADABLE = (
    zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, NotImplementedError, EOFError, OSError, ValueError,
    RuntimeError,
)  # fmt: skip
_STAMP = (2000, 1, 1, 0, 0, 0)  # the same boxes make the same bytes


class FactRow(Model):
    """Something learned of a box: a rig's fact, with when and on which firmware. What was measured was measured in
    another job than the one that reads it.
    """

    path: Annotated[str, Field(min_length=1, max_length=120)]
    value: Any
    provenance: Provenance = "measured_elsewhere"
    at: Annotated[str, Field(max_length=40)] = ""
    firmware: Annotated[str, Field(max_length=60)] = ""

    @field_validator("provenance")
    @classmethod
    def _not_here(cls, value: Provenance) -> Provenance:
        return "measured_elsewhere" if value == "measured_here" else value


class _Row(Model):
    file: Annotated[str, Field(max_length=120)]
    facts: Annotated[tuple[FactRow, ...], Field(max_length=MOST_FACTS)] = ()


class _Manifest(Model):
    wavilex_pack: Literal[1]
    boxes: Annotated[tuple[_Row, ...], Field(max_length=MOST_BOXES)]


@dataclass(frozen=True, slots=True)
class Packed:
    """One box of a pack: its profile, and what was learned of it."""

    profile: Profile
    facts: tuple[FactRow, ...] = ()


def write_pack(boxes: Sequence[Packed]) -> bytes:
    """The boxes as a pack; `read_pack` gives them back."""
    from ruamel.yaml import YAML

    rows: list[dict[str, Any]] = []
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for n, box in enumerate(boxes, 1):
            name = f"boxes/{n:03}-{box.profile.id}.yaml"
            archive.writestr(zipfile.ZipInfo(name, _STAMP), profile_text(box.profile), zipfile.ZIP_DEFLATED)
            facts = [f.model_dump(mode="json", exclude_defaults=True) for f in box.facts]
            rows.append({"file": name, **({"facts": facts} if facts else {})})
        text = io.StringIO()
        YAML().dump({"wavilex_pack": 1, "boxes": rows}, text)
        archive.writestr(zipfile.ZipInfo(MANIFEST, _STAMP), text.getvalue(), zipfile.ZIP_DEFLATED)
    return out.getvalue()


def read_pack(data: bytes) -> list[Packed]:
    """The boxes of a pack, in its order. Raises PackError naming the file and what is wrong; nothing is half read."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            texts = {info.filename: _text(archive, info) for info in _listed(archive)}
    except _UNREADABLE as error:
        raise PackError(f"this is no pack: {_plain(error)}") from None
    if MANIFEST not in texts:
        raise PackError(f"this is no pack: it has no {MANIFEST}")
    manifest = _manifest(texts.pop(MANIFEST))
    named = [row.file for row in manifest.boxes]
    if len(set(named)) != len(named):
        raise PackError("its manifest names a file twice", where=MANIFEST)
    for name in named:
        if name not in texts:
            raise PackError(f"its manifest names {name[:100]!r}, which is not there", where=MANIFEST)
    strange = set(texts) - set(named)
    if strange:
        raise PackError("its manifest does not name this file", where=min(strange))
    return [Packed(_profile(row.file, texts[row.file]), row.facts) for row in manifest.boxes]


def _listed(archive: zipfile.ZipFile) -> list[zipfile.ZipInfo]:
    """What the pack holds, once its names and sizes are found in order."""
    infos = [i for i in archive.infolist() if not i.is_dir()]
    if len(infos) > MOST_BOXES + 1:
        raise PackError(f"it holds more than {MOST_BOXES} files")
    if len({i.filename for i in infos}) != len(infos):
        raise PackError("it holds two files of one name")
    for info in infos:
        name = info.filename
        if name != MANIFEST and not _NAME.fullmatch(name):
            raise PackError("a pack holds its manifest and boxes/….yaml, nothing else", where=name[:100])
        if info.flag_bits & 1:
            raise PackError("it is encrypted", where=name)
        if stat.S_ISLNK(info.external_attr >> 16):
            raise PackError("it points elsewhere instead of holding a file", where=name)
        if info.file_size > _most(name):
            raise PackError(f"it is larger than {_most(name)} bytes", where=name)
    return infos


def _most(name: str) -> int:
    return MOST_FILE_BYTES * (4 if name == MANIFEST else 1)


def _text(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> str:
    """A file's text; never more of it than it may hold, whatever its head says."""
    with archive.open(info) as file:
        raw = file.read(_most(info.filename) + 1)
    if len(raw) > _most(info.filename):
        raise PackError(f"it is larger than {_most(info.filename)} bytes", where=info.filename)
    try:
        return raw.decode("utf-8")
    except UnicodeDecodeError:
        raise PackError("it is no UTF-8 text", where=info.filename) from None


def _manifest(text: str) -> _Manifest:
    try:
        data = read_yaml(text)
        check(data)
        return _Manifest.model_validate(data)
    except (ProfileError, PlainError) as error:
        raise PackError(error.message, where=MANIFEST) from None
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise PackError(refused.words(first), where=f"{MANIFEST}: {refused.place(first)}") from None


def _profile(name: str, text: str) -> Profile:
    try:
        return parse_profile(text)
    except ProfileError as error:
        line = f", line {error.line}" if error.line else ""
        raise PackError(error.message, where=f"{name}{line}{f': {error.where}' if error.where else ''}") from None


def _plain(error: Exception) -> str:
    """Why an archive cannot be read, without names of programs."""
    return (
        "it is no zip archive" if isinstance(error, zipfile.BadZipFile) else "it is broken or of a kind not read here"
    )
