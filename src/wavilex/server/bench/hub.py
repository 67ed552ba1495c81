"""The hub: the one owner of the meters. One thread a meter, started on first use, under a file lock."""

from __future__ import annotations

import fcntl
import threading
import time
from dataclasses import dataclass, replace
from typing import IO

from django.conf import settings
from django.db import DatabaseError, close_old_connections

from wavilex.core.lag.enough import MOST_SETTLING, settled
from wavilex.core.lag.plan import Cell
from wavilex.instruments.lag_meter import LagMeter, MeterLostError
from wavilex.instruments.lag_protocol import End, Garbage, MeterReading
from wavilex.server.bench.models import LagSession
from wavilex.server.bench.services import keep_reading
from wavilex.server.problems import ProblemError

RETRY_SECONDS = 0.7
SILENCE_SECONDS = 4
SETTLING = "settling"


@dataclass(frozen=True, slots=True)
class MeterStatus:
    """state: idle, connecting, reading, lost, done, stopped, failed. settling: readings do not count yet."""

    meter: str
    state: str = "idle"
    message: str = ""
    session: str = ""
    condition: str = ""
    asked: int = 0
    taken: int = 0
    settling: bool = False


@dataclass(frozen=True)
class Taking:
    """What to take: so many readings of a cell. label: told to the meter; settle: wait for a stable picture first."""

    session: LagSession
    cell: Cell
    count: int
    label: str
    settle: bool


def meters() -> dict[str, str]:
    """Name → address, from the owner's setting only: never from a request."""
    pairs = (part.partition("=") for part in settings.METERS.split(";") if "=" in part)
    return {name.strip(): url.strip() for name, _, url in pairs}


class _Worker:
    """One meter's thread and what it is doing."""

    def __init__(self, name: str, url: str) -> None:
        self.name, self.url = name, url
        self.status = MeterStatus(name)
        self.stop = threading.Event()
        self.thread: threading.Thread | None = None
        self._lock_file: IO[str] | None = None

    def busy(self) -> bool:
        return self.thread is not None and self.thread.is_alive()

    def start(self, job: Taking) -> None:
        self._own_meter()
        self.stop.clear()
        self.status = MeterStatus(
            self.name, "connecting", "Looking for the meter.", job.session.uid, job.cell.name, job.count, 0,
            settling=job.settle,
        )  # fmt: skip
        self.settling: list[int] = []
        self.thread = threading.Thread(target=self._run, args=(job,), daemon=True, name=f"meter-{self.name}")
        self.thread.start()

    def _own_meter(self) -> None:
        if self._lock_file is not None:
            return
        handle = open(settings.DATA / f"meter-{self.name}.lock", "w")  # noqa: SIM115  (held while we live)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            handle.close()
            raise ProblemError(409, "meter_owned", "Another Wavilex process holds this meter.") from None
        self._lock_file = handle

    def _set(self, **changes: object) -> None:
        self.status = replace(self.status, **changes)  # type: ignore[arg-type]

    def _run(self, job: Taking) -> None:
        try:
            while not self.stop.is_set() and self.status.taken < job.count:
                try:
                    self._take(job)
                except MeterLostError as error:
                    self._set(state="lost", message=f"Meter lost: {error}. Readings so far are kept; trying again.")
                    self.stop.wait(RETRY_SECONDS)
            if self.stop.is_set():
                self._set(state="stopped", message="Stopped.")
            else:
                self._set(state="done", message=f"{job.count} readings taken.")
        except (ProblemError, DatabaseError) as error:
            self._set(state="failed", message=f"A reading could not be kept: {error}")
        finally:
            close_old_connections()

    def _take(self, job: Taking) -> None:
        with LagMeter(self.url) as meter:
            boot = meter.hello().boot
            if job.cell.signal and not meter.choose(job.cell.signal):
                raise ProblemError(422, "no_such_signal", f"This meter does not send {job.cell.signal}.", "signal")
            meter.label(job.label)
            self._set(state="reading", message="")
            meter.resume()
            # what the meter still holds counts first: only then is it known how many to ask for
            while isinstance(message := meter.read(), MeterReading | Garbage):
                if isinstance(message, MeterReading):
                    self._keep(meter, boot, message, job)
                if self.stop.is_set():
                    break
            if self.status.taken < job.count:
                meter.take(job.count - self.status.taken)
            heard = time.monotonic()
            while not self.stop.is_set() and self.status.taken < job.count:
                message = meter.read()
                if isinstance(message, MeterReading):
                    self._keep(meter, boot, message, job)
                    heard = time.monotonic()
                elif isinstance(message, End) and self.status.taken < job.count:
                    meter.take(job.count - self.status.taken)
                elif isinstance(message, Garbage):
                    meter.resume()
                elif time.monotonic() - heard > SILENCE_SECONDS:
                    raise MeterLostError("connected, but no reading comes")
            if self.stop.is_set():
                meter.stop()

    def _keep(self, meter: LagMeter, boot: str, message: MeterReading, job: Taking) -> None:
        """Commit a reading, then tell the meter it may forget it; one that came before is not counted again.

        While the picture settles readings are kept with that as the reason they do not count.
        """
        ref = f"{boot}:{message.number}"
        new = not job.session.readings.filter(meter_ref=ref).exists()
        keep_reading(
            session=job.session, cell=job.cell, lag_us=message.lag_us, method="meter", meter_ref=ref,
            discard=SETTLING if self.status.settling else "",
        )  # fmt: skip
        meter.acknowledge(message.number)
        if not new:
            return
        if self.status.settling:
            self.settling.append(message.lag_us)
            if settled(self.settling) or len(self.settling) >= MOST_SETTLING:
                self._set(settling=False)
        else:
            self._set(taken=self.status.taken + 1)


_workers: dict[str, _Worker] = {}
_guard = threading.Lock()


def _worker(name: str) -> _Worker:
    url = meters().get(name)
    if url is None:
        raise ProblemError(404, "no_such_meter", "There is no such meter.", name[:40])
    with _guard:
        worker = _workers.get(name)
        if worker is None or (worker.url != url and not worker.busy()):
            worker = _workers[name] = _Worker(name, url)
        return worker


def about(name: str) -> tuple[str, list[str]]:
    """Who a meter says it is, and the pictures it can send; nothing where it is at work or not there."""
    worker = _worker(name)
    if worker.busy():
        return "", []
    try:
        with LagMeter(worker.url) as meter:
            return meter.hello().name, meter.signals()
    except MeterLostError:
        return "", []


def start(name: str, job: Taking) -> MeterStatus:
    """Begin taking readings. ProblemError 409 when the meter is at work."""
    worker = _worker(name)
    with _guard:
        if worker.busy():
            raise ProblemError(409, "meter_busy", "This meter is taking readings already.")
        worker.start(job)
    return worker.status


def stop(name: str) -> MeterStatus:
    """Stop taking readings; those taken are kept."""
    worker = _worker(name)
    worker.stop.set()
    if worker.thread is not None:
        worker.thread.join(timeout=3)
    return worker.status


def status(name: str) -> MeterStatus:
    return _worker(name).status
