"""A job pack: a whole job with its photographs, visits, kept states and logbook as one zip with a manifest.

Nothing of a pack is believed: names, sizes and counts are bounded before anything is unpacked, every file is held
against its checksum, and everything is read as if it came from anywhere. All that is wrong is told, not the first only.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from wavilex.core import bounds, refused
from wavilex.core.errors import PackError, WavilexError
from wavilex.core.fields import Model
from wavilex.core.moment import Moment
from wavilex.core.plain import PlainError, read_json
from wavilex.core.rig.jobfile import Job, job_data, parse_job
from wavilex.core.visits.state import read_state

MANIFEST, JOB, VISITS, LOG = "manifest.json", "job.json", "visits.json", "log.jsonl"
MOST_BYTES = 512 * 1024 * 1024  # unpacked, all of it
MOST_FILE_BYTES = 128 * 1024 * 1024
_PHOTO = re.compile(r"photographs/[0-9a-f]{8,64}\.jpg", re.ASCII)
_STATE = re.compile(r"states/[0-9a-f]{8,64}\.json", re.ASCII)
_STAMP = (2000, 1, 1, 0, 0, 0)  # the same job makes the same bytes
_JPEG = b"\xff\xd8\xff"
_UNREADABLE = (
    zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, NotImplementedError, EOFError, OSError, ValueError,
    RuntimeError,
)  # fmt: skip


class VisitRow(Model):
    """A visit as a pack holds it; states by their digests, "" none; times ISO 8601 in UTC."""

    uid: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,40}$")]
    state: Literal["planned", "open", "closed", "dropped"]
    title: Annotated[str, Field(max_length=120)] = ""
    who: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=4000)] = ""
    planned_for: Moment | None = None
    opened_at: Moment | None = None
    closed_at: Moment | None = None
    opened: Annotated[str, Field(max_length=24)] = ""
    closed: Annotated[str, Field(max_length=24)] = ""
    did: dict[str, int] | None = None


class LogRow(Model):
    """A line of the logbook; boxes by uid."""

    kind: Annotated[str, Field(max_length=12)]
    at: Moment
    by: Annotated[str, Field(max_length=150)] = ""
    words: Annotated[str, Field(max_length=4000)]
    ref: Annotated[str, Field(max_length=80)] = ""


class _Visits(Model):
    check_days: Annotated[int, Field(ge=1, le=3650)] | None = None
    visits: Annotated[tuple[VisitRow, ...], Field(max_length=400)] = ()


class _Entry(Model):
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    bytes: Annotated[int, Field(ge=0, le=MOST_FILE_BYTES)]


class _Manifest(Model):
    wavilex_job_pack: Literal[1]
    made_with: Annotated[str, Field(max_length=40)] = ""
    files: Annotated[dict[str, _Entry], Field(max_length=10_000)]


@dataclass(frozen=True)
class JobPack:
    """A job as a pack holds it. photographs: by name; states: texts of core/visits/state, by digest."""

    job: Job
    photographs: Mapping[str, bytes] = field(default_factory=dict)
    check_days: int | None = None
    visits: Sequence[VisitRow] = ()
    states: Mapping[str, str] = field(default_factory=dict)
    log: Sequence[LogRow] = ()


def write_job_pack(pack: JobPack, version: str) -> bytes:
    """The pack's bytes; `read_job_pack` gives it back."""
    visits = {"check_days": pack.check_days, "visits": [v.model_dump(mode="json") for v in pack.visits]}
    files: dict[str, bytes] = {JOB: _json(job_data(pack.job)), VISITS: _json(visits)}
    files |= {f"states/{digest}.json": text.encode() for digest, text in pack.states.items()}
    files |= {f"photographs/{name}": data for name, data in pack.photographs.items()}
    files[LOG] = b"".join(_json(row.model_dump(mode="json", exclude_defaults=True)) + b"\n" for row in pack.log)
    listed = {name: {"sha256": hashlib.sha256(d).hexdigest(), "bytes": len(d)} for name, d in files.items()}
    files = {MANIFEST: _json({"wavilex_job_pack": 1, "made_with": version, "files": listed}), **files}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            how = zipfile.ZIP_STORED if name.endswith(".jpg") else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name, _STAMP), data, how)
    return out.getvalue()


def _json(data: Any) -> bytes:
    return json.dumps(data, ensure_ascii=False, separators=(",", ":")).encode()


def read_job_pack(data: bytes) -> JobPack:
    """A pack's job. Raises PackError with all that is wrong, a line each; nothing is half read."""
    files, wrong = _files(data)
    if wrong:
        raise PackError("; ".join(wrong[:20]))
    try:
        job = parse_job(_text(files[JOB], JOB))
        visits = _Visits.model_validate(read_json(files[VISITS])) if VISITS in files else _Visits()
        log = [LogRow.model_validate(read_json(line)) for line in files.get(LOG, b"").splitlines() if line.strip()]
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise PackError(refused.words(first), where=refused.place(first)) from None
    except (PlainError, WavilexError) as error:
        raise PackError(error.message, where=error.where) from None
    states = {_stem(n): _text(d, n) for n, d in files.items() if _STATE.fullmatch(n)}
    photographs = {n.partition("/")[2]: d for n, d in files.items() if _PHOTO.fullmatch(n)}
    wrong = list(_inside(visits.visits, states, photographs))
    if wrong:
        raise PackError("; ".join(wrong[:20]))
    return JobPack(job, photographs, visits.check_days, visits.visits, states, log)


def _files(data: bytes) -> tuple[dict[str, bytes], list[str]]:
    """Every file of the archive, and what is wrong with the archive as a whole."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            infos = [i for i in archive.infolist() if not i.is_dir()]
            wrong = list(_names(infos))
            if wrong:
                return {}, wrong
            files = {i.filename: _read(archive, i) for i in infos}
    except _UNREADABLE as error:
        kind = isinstance(error, zipfile.BadZipFile) and "File is not" in str(error)
        return {}, ["this is no zip archive" if kind else "the archive is broken: it cannot be unpacked"]
    if MANIFEST not in files:
        return {}, [f"this is no job pack: it has no {MANIFEST}"]
    try:
        manifest = _Manifest.model_validate(read_json(files.pop(MANIFEST)))
    except (PlainError, ValidationError):
        return {}, [f"{MANIFEST} is none that this version reads"]
    return files, list(_against(manifest, files))


def _names(infos: Sequence[zipfile.ZipInfo]) -> Iterator[str]:
    names = [i.filename for i in infos]
    if len(names) != len(set(names)):
        yield "it holds two files of one name"
    if len(infos) > 2 * bounds.PHOTOGRAPHS + 2000:
        yield "it holds more files than a job has"
    if sum(i.file_size for i in infos) > MOST_BYTES:
        yield f"unpacked it is larger than {MOST_BYTES // 2**20} MB"
    for info in infos:
        known = info.filename in (MANIFEST, JOB, VISITS, LOG)
        if not known and not _PHOTO.fullmatch(info.filename) and not _STATE.fullmatch(info.filename):
            yield f"{info.filename[:80]!r} is no file of a job pack"
        if info.flag_bits & 1:
            yield f"{info.filename[:80]} is encrypted"


def _read(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> bytes:
    """A file; never more of it than its head says, and no more than a file may be."""
    most = min(info.file_size, MOST_FILE_BYTES)
    with archive.open(info) as file:
        return file.read(most + 1)


def _against(manifest: _Manifest, files: Mapping[str, bytes]) -> Iterator[str]:
    """Files that are missing, damaged, or not named."""
    for name, entry in manifest.files.items():
        data = files.get(name)
        if data is None:
            yield f"{name[:80]} is missing"
        elif len(data) != entry.bytes or hashlib.sha256(data).hexdigest() != entry.sha256:
            yield f"{name[:80]} is damaged: it is not what its checksum says"
    yield from (f"{name[:80]} is not named in {MANIFEST}" for name in files if name not in manifest.files)
    if JOB not in files:
        yield f"it has no {JOB}"


def _inside(
    visits: Sequence[VisitRow], states: Mapping[str, str], photographs: Mapping[str, bytes]
) -> Iterator[str]:  # fmt: skip
    """What the parts say of each other, and whether each reads."""
    for visit in visits:
        for digest in {visit.opened, visit.closed} - {""}:
            if digest not in states:
                yield f"the state {digest} of a visit is missing"
    for digest, text in states.items():
        try:
            read_state(text)
        except (WavilexError, ValueError, KeyError, TypeError) as error:
            yield f"states/{digest}.json does not read: {error}"
    yield from (f"photographs/{n} is no photograph" for n, d in photographs.items() if not d.startswith(_JPEG))
    if len(photographs) > bounds.PHOTOGRAPHS:
        yield f"it holds more than {bounds.PHOTOGRAPHS} photographs"


def _stem(name: str) -> str:
    return name.rpartition("/")[2].removesuffix(".json")


def _text(data: bytes, name: str) -> str:
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        raise PackError("it is no UTF-8 text", where=name) from None
