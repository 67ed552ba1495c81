"""Photographs of read-outs: checked, re-encoded without any data of theirs, kept beside the database.

What arrives may be hostile or tell where it was taken: nothing of it is kept but its pixels.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import os
from io import BytesIO
from pathlib import Path

from django.conf import settings
from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from wavilex.core import bounds
from wavilex.server.accounts.asking import asking_name
from wavilex.server.config import limits
from wavilex.server.jobs import models
from wavilex.server.jobs.log import write
from wavilex.server.jobs.selectors import job_by_uid
from wavilex.server.problems import ProblemError

_FORMATS = ("JPEG", "PNG", "WEBP")
_QUALITY = 85


def folder_of(job: models.Job) -> Path:
    """Where a job's photographs lie: in the data folder, by the job's own number."""
    folder: Path = settings.DATA / "photographs" / str(job.pk)
    return folder


def encoded(data: bytes) -> bytes:
    """A photograph as it is kept: a JPEG of at most so many pixels, upright, with nothing but its picture.

    Raises ProblemError 422 where the bytes are no photograph of a kind we read.
    """
    try:
        with Image.open(BytesIO(data), formats=_FORMATS) as image:
            if image.width * image.height > limits.PHOTOGRAPH_PIXELS:
                raise ProblemError(422, "photograph_large", "That picture has too many pixels.", "photograph")
            image.draft("RGB", (limits.PHOTOGRAPH_SIDE, limits.PHOTOGRAPH_SIDE))
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        words = "That is no photograph this program reads: send a JPEG, PNG or WebP."
        raise ProblemError(422, "photograph_invalid", words, "photograph") from None
    upright.thumbnail((limits.PHOTOGRAPH_SIDE, limits.PHOTOGRAPH_SIDE))
    bare = Image.frombytes("RGB", upright.size, upright.tobytes())  # its pixels, and nothing it carried beside them
    out = BytesIO()
    bare.save(out, "JPEG", quality=_QUALITY)
    return out.getvalue()


@transaction.atomic
def keep(*, job_uid: str, data: bytes) -> models.Photograph:
    """Keep a photograph with a job; the same one twice is kept once."""
    job = job_by_uid(job_uid, lock=True)
    before = job.photographs.count()
    row = _store(job, encoded(data))
    if job.photographs.count() > before:
        write(job, "photo", f"photograph {row.name}, {row.bytes // 1000} kB", by=asking_name(), ref=row.name)
    return row


def _store(job: models.Job, data: bytes) -> models.Photograph:
    name = f"{hashlib.sha256(data).hexdigest()[:24]}.jpg"
    there = job.photographs.filter(name=name).first()
    if there is not None:
        return there
    if job.photographs.count() >= bounds.PHOTOGRAPHS:
        raise ProblemError(422, "too_many_photographs", f"A job keeps {bounds.PHOTOGRAPHS} photographs.", "photograph")
    folder = folder_of(job)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    half = folder / f"{name}.part"
    half.write_bytes(data)
    os.replace(half, folder / name)
    return job.photographs.create(name=name, bytes=len(data))


def read(job: models.Job, name: str) -> bytes:
    """A photograph's bytes. Raises ProblemError 404."""
    row = job.photographs.filter(name=name).first()
    file = folder_of(job) / row.name if row else None
    if file is None or not file.is_file():
        raise ProblemError(404, "no_such_photograph", "There is no such photograph in this job.", name[:40])
    return file.read_bytes()


def as_text(job: models.Job) -> dict[str, str]:
    """Every photograph of a job as a job file holds it; those whose file is gone are left out."""
    rows = ((p.name, folder_of(job) / p.name) for p in job.photographs.all())
    return {name: base64.b64encode(file.read_bytes()).decode() for name, file in rows if file.is_file()}


def bring_in(job: models.Job, text: dict[str, str]) -> dict[str, str]:
    """Photographs of a job file, each looked at anew as if it had just been sent; names as they were to names now."""
    names = {}
    for name, words in text.items():
        try:
            data = base64.b64decode(words, validate=True)
        except (binascii.Error, ValueError):
            raise ProblemError(422, "photograph_invalid", "A photograph stands in base64.", "photographs") from None
        names[name] = _store(job, encoded(data)).name
    return names


def remove_all(job: models.Job) -> None:
    """With the job, its photographs go."""
    folder = folder_of(job)
    if folder.is_dir():
        for file in folder.iterdir():
            file.unlink(missing_ok=True)
        folder.rmdir()
