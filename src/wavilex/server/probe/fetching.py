"""Read-outs fetched from boxes that answer: which there are is the owner's to say, one question at a time each."""

from __future__ import annotations

import threading
from datetime import datetime
from typing import Any

from django.conf import settings

from wavilex.core.chain.carry import run_result
from wavilex.core.prove.line import line_key
from wavilex.core.prove.readouts import readouts
from wavilex.core.rig.model import Device
from wavilex.instruments.box import Answer, AnsweringBox, BoxFaultError
from wavilex.instruments.line import LineLostError
from wavilex.server.holding import named_addresses
from wavilex.server.jobs.models import Job
from wavilex.server.jobs.observing import SeenAt, observe
from wavilex.server.jobs.views import at_run
from wavilex.server.problems import ProblemError

_locks: dict[str, threading.Lock] = {}


def boxes() -> dict[str, str]:
    """Name → address, from the owner's setting only: never from a request."""
    return named_addresses(settings.BOXES)


def name_of(device: Device) -> str:
    """The answering box that a box of a job is, by its uid or its label; "" where it is none."""
    label = "-".join(device.label.lower().split())
    known = boxes()
    return next((n for n in (device.uid, label) if n in known), "")


def ask_box(name: str) -> Answer:
    """What a box shows now. Raises ProblemError 502 with the reason where it does not say."""
    lock = _locks.setdefault(name, threading.Lock())
    if not lock.acquire(blocking=False):
        raise ProblemError(409, "box_busy", "It is being asked already: wait a moment.", name)
    try:
        with AnsweringBox(boxes()[name]) as box:
            return box.ask()
    except (LineLostError, BoxFaultError) as error:
        raise ProblemError(409, "box_silent", f"{name} was asked and did not say: {error}.", name) from error
    finally:
        lock.release()


def fetch(*, job_uid: str, run_uid: str, device_uid: str, uid: str, at: datetime, actor: Any) -> tuple[Job, int, int]:
    """Ask the box and keep what it shows of this run. Answers the job, how many lines were kept, how many not known."""
    job, layer, run = at_run(job_uid, run_uid, "found")
    device = layer.rig.devices.get(device_uid)
    name = name_of(device) if device is not None else ""
    if not name:
        raise ProblemError(404, "no_such_box", "No box that answers is known by this one’s name.", device_uid[:40])
    answer = ask_box(name)
    told = {(s.place, s.key): s.words for s in answer.lines}
    seen = []
    for card in readouts(layer, run, run_result(layer, run)):
        for line in card.lines if card.device == device_uid else ():
            words = told.pop((card.kind, line.key), None)
            if words is not None:
                same = line.says is not None and words == line.says
                seen.append(SeenAt(line_key(card, line), "as_predicted" if same else "differs", words))
    if seen:
        job = observe(job_uid=job_uid, uid=uid, run_uid=run_uid, seen=seen, said_at=at, actor=actor, by=f"asked {name}")
    return job, len(seen), len(told)
