"""The light meters: one watched at a time a meter, by one thread under a file lock, started when somebody looks."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass, replace

from django.conf import settings

from wavilex.instruments.light_meter import LightMeter, LightMeterFaultError, LightNow
from wavilex.instruments.line import LineLostError
from wavilex.server.holding import Holding, named_addresses
from wavilex.server.problems import ProblemError

UNWATCHED_SECONDS = 20  # nobody asked for so long: the meter is let go
RETRY_SECONDS = 1.0
GIVE_UP_SECONDS = 120


@dataclass(frozen=True, slots=True)
class Watched:
    """state: idle, connecting, looking, settled, lost, failed. now: the last moment seen, None: none yet."""

    meter: str
    state: str = "idle"
    message: str = ""
    now: LightNow | None = None


def light_meters() -> dict[str, str]:
    """Name → address, from the owner's setting only: never from a request."""
    return named_addresses(settings.LIGHT_METERS)


class _Watch:
    """One meter's thread and what it sees."""

    def __init__(self, name: str, url: str) -> None:
        self.name, self.url = name, url
        self.status = Watched(name)
        self.asked_at, self.label = 0.0, ""
        self.holding = Holding(f"light-{name}")
        self.ended = threading.Event()
        self.thread: threading.Thread | None = None

    def look(self, label: str) -> Watched:
        """What is seen now of what the label says stands there; starts looking where nobody does."""
        self.asked_at = time.monotonic()
        if label != self.label:
            self.label = label
            self.status = replace(self.status, now=None)
        if self.thread is None or not self.thread.is_alive():
            if self.status.state == "failed":  # said once: the next look tries again
                failed, self.status = self.status, Watched(self.name)
                return failed
            self.holding.take()
            self.ended.clear()
            self.status = Watched(self.name, "connecting", "Looking for the meter.")
            self.thread = threading.Thread(target=self._run, daemon=True, name=f"light-{self.name}")
            self.thread.start()
        return self.status

    def stop(self) -> None:
        self.ended.set()
        if self.thread is not None:
            self.thread.join(timeout=3)
        self.holding.let_go()
        self.status = Watched(self.name)

    def _wanted(self) -> bool:
        return not self.ended.is_set() and time.monotonic() - self.asked_at < UNWATCHED_SECONDS

    def _run(self) -> None:
        heard = time.monotonic()
        try:
            while self._wanted():
                try:
                    with LightMeter(self.url) as meter:
                        hello = meter.hello()
                        heard = time.monotonic()
                        meter.watch(hello, self._tell, lambda: self.label)
                except LineLostError as error:
                    if self.status.now is not None:
                        heard = time.monotonic()
                    if time.monotonic() - heard > GIVE_UP_SECONDS:
                        raise LightMeterFaultError(f"it did not come back: {error}") from error
                    self.status = Watched(self.name, "lost", f"Meter lost: {error}. Trying again.")
                    self.ended.wait(RETRY_SECONDS)
            self.status = Watched(self.name)
        except LightMeterFaultError as error:
            self.status = Watched(self.name, "failed", f"No reading: {error}.")
        finally:
            self.holding.let_go()

    def _tell(self, now: LightNow, label: str) -> bool:
        if label != self.label:
            return self._wanted()  # of what stood there before
        state = "settled" if now.settled else "looking"
        self.status = replace(self.status, state=state, message=now.why, now=now)
        return self._wanted()


_watches: dict[str, _Watch] = {}
_guard = threading.Lock()


def _watch(name: str) -> _Watch:
    url = light_meters().get(name)
    if url is None:
        raise ProblemError(404, "no_such_meter", "There is no such light meter.", name[:40])
    with _guard:
        found = _watches.get(name)
        if found is None or found.url != url:
            if found is not None:
                found.stop()
            found = _watches[name] = _Watch(name, url)
        return found


def look(name: str, label: str) -> Watched:
    """What a meter sees now, begun where it is not watched yet; label: what stands before it. ProblemError 404, 409."""
    watch = _watch(name)
    with _guard:
        return watch.look(label)


def seen(name: str, ref: str) -> LightNow:
    """The settled moment of that name. ProblemError 409 where it has not settled, or is another by now."""
    now = _watch(name).status.now
    if now is None or not now.settled:
        raise ProblemError(409, "not_settled", "The light has not settled yet: wait for the mark, then keep it.")
    if now.ref.split(":")[0] != ref.split(":")[0]:
        raise ProblemError(409, "another_moment", "The meter was started anew since: look again.")
    return now


def let_go(name: str) -> None:
    """Nobody watches it any more."""
    _watch(name).stop()
