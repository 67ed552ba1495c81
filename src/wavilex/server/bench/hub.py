"""The hub: the one owner of the meters. One thread a meter, started on first use, under a file lock."""

from __future__ import annotations

import secrets
import threading
import time
from dataclasses import dataclass, field, replace

from django.conf import settings
from django.db import DatabaseError, OperationalError, close_old_connections

from wavilex.core.lag.enough import MOST_SETTLING, settled
from wavilex.core.lag.plan import Cell
from wavilex.instruments.lag_meter import LagMeter, MeterFaultError, MeterLostError
from wavilex.instruments.lag_protocol import End, Garbage, Hello, MeterReading
from wavilex.server.bench import metered
from wavilex.server.bench.models import LagSession
from wavilex.server.holding import Holding, named_addresses
from wavilex.server.problems import ProblemError

RETRY_SECONDS, RETRY_MOST_SECONDS = 0.7, 15.0  # a meter that is away is looked for less and less often
GIVE_UP_SECONDS = 600
SILENCE_SECONDS = 4
HELD_SECONDS, HELD_MOST = 20, 20_000  # what a meter may send of readings it still holds
BUSY_TRIES = 20
_WITHOUT_END = "it sends what it says it still holds without end"


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
    """What to take: so many readings of a cell. label: told to the meter; settle: wait for a stable picture first.

    mark: the meter gives it back with each reading.
    """

    session: LagSession
    cell: Cell
    count: int
    label: str
    settle: bool
    mark: str = field(default_factory=lambda: secrets.token_hex(6))


def meters() -> dict[str, str]:
    """Name → address, from the owner's setting only: never from a request."""
    return named_addresses(settings.METERS)


class _Worker:
    """One meter's thread and what it is doing."""

    def __init__(self, name: str, url: str) -> None:
        self.name, self.url = name, url
        self.status = MeterStatus(name)
        self.stop = threading.Event()
        self.thread: threading.Thread | None = None
        self.holding = Holding(f"meter-{name}")
        self.line = threading.Lock()  # who speaks with the meter just now: a measurement, or a question who it is

    def busy(self) -> bool:
        return self.thread is not None and self.thread.is_alive()

    def start(self, job: Taking) -> None:
        self.holding.take()
        self.stop.clear()
        self.status = MeterStatus(
            self.name, "connecting", "Looking for the meter.", job.session.uid, job.cell.name, job.count, 0,
            settling=job.settle,
        )  # fmt: skip
        self.settling: list[int] = []
        self.not_placed = 0
        self.take_row = metered.note_take(
            session=job.session, mark=job.mark, cell=job.cell, asked=job.count, settling=job.settle
        )
        self.thread = threading.Thread(target=self._run, args=(job,), daemon=True, name=f"meter-{self.name}")
        self.thread.start()

    def _set(self, **changes: object) -> None:
        self.status = replace(self.status, **changes)  # type: ignore[arg-type]

    def _run(self, job: Taking) -> None:
        wait, heard = RETRY_SECONDS, time.monotonic()
        try:
            while not self.stop.is_set() and self.status.taken < job.count:
                before = self.status.taken
                try:
                    with self.line:
                        self._take(job)
                except MeterLostError as error:
                    if self.status.taken > before:
                        wait, heard = RETRY_SECONDS, time.monotonic()
                    if time.monotonic() - heard > GIVE_UP_SECONDS:
                        raise MeterFaultError(f"it did not come back: {error}") from error
                    self._set(state="lost", message=f"Meter lost: {error}. Readings so far are kept; trying again.")
                    self.stop.wait(wait)
                    wait = min(wait * 2, RETRY_MOST_SECONDS)
            if self.stop.is_set():
                self._set(state="stopped", message=f"Stopped.{self._aside()}")
            else:
                self._set(state="done", message=f"{job.count} readings taken.{self._aside()}")
        except MeterFaultError as error:
            self._set(state="failed", message=f"Ended: {error}. Readings so far are kept.")
        except (ProblemError, DatabaseError) as error:
            self._set(state="failed", message=f"A reading could not be kept: {error}")
        finally:
            close_old_connections()

    def _aside(self) -> str:
        if not self.not_placed:
            return ""
        return (
            f" The meter held {self.not_placed} of which nobody knows what they are: kept as not placed, not counted."
        )

    def _take(self, job: Taking) -> None:
        with LagMeter(self.url) as meter:
            hello = meter.hello()
            if job.cell.signal and not meter.choose(job.cell.signal):
                raise ProblemError(422, "no_such_signal", f"This meter does not send {job.cell.signal}.", "signal")
            meter.label(job.label)
            self._set(state="reading", message="")
            self._held(meter, hello, job)
            self._fresh(meter, hello, job)
            if self.stop.is_set():
                meter.stop()

    def _held(self, meter: LagMeter, hello: Hello, job: Taking) -> None:
        """What the meter still holds comes first, each to its take; only then it is known how many are missing.

        Raises MeterFaultError when that has no end.
        """
        meter.resume()
        end = time.monotonic() + HELD_SECONDS
        for _ in range(HELD_MOST):
            message = meter.read()
            if self.stop.is_set() or not isinstance(message, MeterReading | Garbage):
                return
            if isinstance(message, MeterReading):
                self._keep(meter, hello.boot, message, job, held=True)
            if time.monotonic() > end:
                break
        raise MeterFaultError(_WITHOUT_END)

    def _fresh(self, meter: LagMeter, hello: Hello, job: Taking) -> None:
        mark = job.mark if hello.marks else ""
        if self.status.taken < job.count:
            meter.take(job.count - self.status.taken, mark)
        heard, noise = time.monotonic(), False
        while not self.stop.is_set() and self.status.taken < job.count:
            message = meter.read()
            if isinstance(message, MeterReading):
                held = hello.marks and message.mark != job.mark
                if self._keep(meter, hello.boot, message, job, held=held) == "own":
                    heard, noise = time.monotonic(), False
                elif time.monotonic() - heard > HELD_SECONDS:  # others never end, and none of them is what was asked
                    raise MeterFaultError(_WITHOUT_END)
                continue
            if time.monotonic() - heard > SILENCE_SECONDS:
                if noise:
                    raise MeterFaultError("it sends what is no reading")
                raise MeterLostError("connected, but no reading comes")
            if isinstance(message, End):
                meter.take(job.count - self.status.taken, mark)
                self.stop.wait(RETRY_SECONDS / 10)
            elif message is not None:
                noise = True
                if isinstance(message, Garbage):
                    meter.resume()
                    self.stop.wait(RETRY_SECONDS / 10)

    def _keep(
        self, meter: LagMeter, boot: str, message: MeterReading, job: Taking, *, held: bool
    ) -> metered.MeteredAs | None:
        """Commit a reading to the take it belongs to, then tell the meter it may forget it; one known is not counted.

        While the picture settles readings are kept with that as the reason they do not count. One held from before
        that says no take, or one nobody knows, is kept as not placed. None: stopped before it could be kept.
        """
        ref = f"{boot}:{message.number}"
        own = message.mark == job.mark or not held
        for _ in range(BUSY_TRIES):
            try:
                new = metered.keep_metered(
                    take=self.take_row, own=own, mark=message.mark, ref=ref, lag_us=message.lag_us,
                    settling=self.status.settling,
                )  # fmt: skip
                break
            except OperationalError:  # somebody else writes: the meter holds it meanwhile
                if self.stop.wait(RETRY_SECONDS / 2):
                    return None
        else:
            raise MeterLostError("the database is busy")
        self._count(new, message.lag_us)  # before the meter is told: the line may break there, and it is kept
        meter.acknowledge(message.number)
        return new

    def _count(self, new: metered.MeteredAs, lag_us: int) -> None:
        if new == "not placed":
            self.not_placed += 1
        if new != "own":
            return
        if self.status.settling:
            self.settling.append(lag_us)
            if settled(self.settling) or len(self.settling) >= MOST_SETTLING:
                metered.settled(self.take_row)
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
            if worker is not None:
                worker.holding.let_go()
            worker = _workers[name] = _Worker(name, url)
        return worker


def about(name: str) -> tuple[str, list[str]]:
    """Who a meter says it is, and the pictures it can send; nothing where it is at work or not there."""
    worker = _worker(name)
    if worker.busy() or not worker.line.acquire(blocking=False):
        return "", []
    try:
        worker.holding.take()
        with LagMeter(worker.url) as meter:
            return meter.hello().name, meter.signals()
    except (MeterLostError, MeterFaultError, ProblemError):
        return "", []
    finally:
        worker.line.release()


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
