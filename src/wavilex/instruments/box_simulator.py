"""A receiver or a screen that is not there, and says what it is told to show. Speaks box_protocol over TCP here."""

from __future__ import annotations

import random
import socketserver
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from wavilex.instruments.box_protocol import VERSION
from wavilex.instruments.framing import body, encode

# what the two shipped ones show unless told otherwise: place, key → words
RECEIVER: Mapping[tuple[str, str], str] = {
    ("in_out", "in.mode"): "2160p60", ("in_out", "in.colour"): "4:2:0, 10-bit", ("in_out", "out.mode"): "2160p60",
    ("in_out", "out.colour"): "4:2:0, 10-bit", ("in_out", "hdr"): "yes",
}  # fmt: skip
SCREEN: Mapping[tuple[str, str], str] = {
    ("banner", "mode"): "2160p60", ("banner", "hdr"): "yes", ("counter", "rate"): "60 Hz",
}  # fmt: skip
KINDS = {"receiver": RECEIVER, "screen": SCREEN}


@dataclass
class Faults:
    """What the box does wrong. busy: questions it refuses first; damages: share of its lines; silent: never answers;
    loses: leaves a line out of each answer; stale: still says what it showed first.
    """

    busy: int = 0
    damages: float = 0.0
    silent: bool = False
    loses: bool = False
    stale: bool = False


@dataclass
class SimulatedBox:
    """What it shows may be set at any time."""

    name: str
    shows: dict[tuple[str, str], str]
    faults: Faults = field(default_factory=Faults)
    seed: int = 1

    def __post_init__(self) -> None:
        self._first = dict(self.shows)
        self._random = random.Random(self.seed)

    def answer(self, line: bytes) -> list[bytes]:
        """What the box says to a line."""
        if body(line) != "ASK":
            return [encode("ERR not understood")]
        if self.faults.silent:
            return []
        if self.faults.busy:
            self.faults.busy -= 1
            return [encode("ERR busy, its menu is open")]
        shown = self._first if self.faults.stale else self.shows
        change = f"{abs(hash(tuple(sorted(shown.items())))) % 10**8:08}"
        lines = [f"L {place} {key} {words}" for (place, key), words in shown.items()]
        out = [f"BOX{VERSION} {self.name} {change}", *lines, f"END {len(lines)}"]
        if self.faults.loses and lines:
            del out[1]
        return [self._sent(encode(x)) for x in out]

    def _sent(self, line: bytes) -> bytes:
        if self._random.random() < self.faults.damages:
            return b"?" + line[1:]
        return line


def served(box: SimulatedBox, port: int = 0) -> socketserver.ThreadingTCPServer:
    """The box on a loopback port; its caller runs and ends it."""

    class Talk(socketserver.StreamRequestHandler):
        def handle(self) -> None:
            for line in self.rfile:
                for out in box.answer(line):
                    self.wfile.write(out)

    class Server(socketserver.ThreadingTCPServer):
        allow_reuse_address = True
        daemon_threads = True

    return Server(("127.0.0.1", port), Talk)


def serve_forever(port: int, kind: str, shows: Sequence[str], faults: Faults, seed: int) -> None:
    """Listen until killed. shows: `place.key=words`, put over what the kind shows by itself."""
    told = dict(KINDS[kind])
    for text in shows:
        where, _, words = text.partition("=")
        place, _, key = where.partition(".")
        told[place, key] = words
    with served(SimulatedBox(kind, told, faults, seed), port) as server:
        print(f"{kind} listening on 127.0.0.1:{server.server_address[1]}", flush=True)
        server.serve_forever()
