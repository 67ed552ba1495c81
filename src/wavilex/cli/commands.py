"""What each command does. Server commands are started as programs: nothing of the server is imported here."""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
from contextlib import nullcontext
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from wavilex.core.link.cable import Cable
    from wavilex.core.link.shapes import LinkAnswerOut

_MOST_LEAD_M = 200


def say(data: Any, text: str, as_json: bool) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=2) if as_json else text)


def link(a: argparse.Namespace) -> int:
    """`wavilex link`."""
    from wavilex.core.link.answer import link_answer

    lead = _lead(a)
    answer = link_answer(a.timing, a.encoding, a.bits, a.over, a.audio, a.dsc, lead=lead, inp=a.inp)
    if a.against:
        other = link_answer(a.timing, a.encoding, a.bits, a.against, a.audio, a.dsc, lead=lead, inp=a.inp)
        return _two_links(answer, other, a)
    decides = f"{answer['limited_by']} decides".capitalize() if answer["limited_by"] else ""
    lines = [
        answer["sentence"],
        *([f"  {decides}."] if decides else []),
        *([f"  Compression, as assumed: {answer['compression']}."] if a.dsc != "none" else []),
        *(f"  {q['name']:32} {q['text']:>16}   {q['working']}" for q in answer["reasons"][0]["quantities"]),
    ]
    say(answer, "\n".join(lines), a.json)
    return 0


def _lead(a: argparse.Namespace) -> Cable | None:
    """The lead that was described; None where nothing was said of one."""
    from wavilex.core.errors import SignalError
    from wavilex.core.link.cable import Cable

    said = (a.lead, a.length, a.build, a.power, a.proved, a.failed)
    if not a.turned and all(x is None for x in said):
        return None
    if a.length is not None and not 0 < a.length <= _MOST_LEAD_M:
        raise SignalError(
            f"a lead is at most {_MOST_LEAD_M} m long and more than 0, not {a.length:g}", where="--length"
        )
    length_mm = None if a.length is None else round(a.length * 1000)
    return Cable(a.lead or "unknown", length_mm, a.build or "unknown", a.power or "port", a.turned, a.proved, a.failed)


def _two_links(one: LinkAnswerOut, two: LinkAnswerOut, a: argparse.Namespace) -> int:
    from wavilex.core.link.answer import answer_words
    from wavilex.core.link.sides import side_by_side

    rows = side_by_side(answer_words(one), answer_words(two))
    lines = [f"{'':2}{'':32} {a.over:>24} {a.against:>24}"]
    lines += [f"{'≠' if r['differs'] else ' '} {r['name']:32} {r['a']:>24} {r['b']:>24}" for r in rows]
    say({"a": one, "b": two, "rows": rows}, "\n".join(lines), a.json)
    return 0


def scan(a: argparse.Namespace) -> int:
    """`wavilex scan`."""
    from wavilex.core.scan.typed import scan_data, typed

    read = typed(a.scan)
    data = scan_data(read.scan, read.guessed)
    lines = [
        data["name"],
        *(f"  {k:15} {data[k]}" for k in ("dot_clock_mhz", "active", "pixel_aspect", "shape", "sync") if data[k]),
    ]
    lines += [f"  a guess: {read.guessed}"] if read.guessed else []
    say(data, "\n".join(lines), a.json)
    return 0


def timing(a: argparse.Namespace) -> int:
    """`wavilex timing`."""
    from wavilex.core.video.codes import parse_timing

    data = parse_timing(a.timing).as_dict()
    say(data, "\n".join(f"{k:18} {v}" for k, v in data.items()), a.json)
    return 0


def simulate_lag_meter(a: argparse.Namespace) -> int:
    """`wavilex simulate lag-meter`."""
    from wavilex.instruments.lag_simulator import Behaviour, serve_forever

    behaviour = Behaviour(a.misreads, a.drift, a.noise)
    with open(a.log, "a", encoding="ascii") if a.log else nullcontext() as log:
        serve_forever(a.port, seed=a.seed, seconds_a_reading=a.every, behaviour=behaviour, log=log)
    return 0


def simulate_light_meter(a: argparse.Namespace) -> int:
    """`wavilex simulate light-meter`."""
    from wavilex.instruments.light_simulator import LightFaults, serve_forever

    faults = LightFaults(a.noise, a.drift, a.unit, a.saturates, a.drops)
    serve_forever(a.port, seed=a.seed, seconds_a_sample=a.every, faults=faults)
    return 0


def simulate_box(a: argparse.Namespace) -> int:
    """`wavilex simulate receiver`, `wavilex simulate screen`."""
    from wavilex.instruments.box_simulator import Faults, serve_forever

    serve_forever(a.port, a.instrument, a.show, Faults(a.busy, a.damages, a.silent, a.loses, a.stale), a.seed)
    return 0


def _program(module: str, *words: str) -> int:
    return subprocess.run([sys.executable, "-m", module, *words], check=False).returncode


def serve(a: argparse.Namespace) -> int:
    """`wavilex serve`: becomes the server process."""
    words = ["--port", str(a.port), *(["--host", a.host] if a.host else []), *(["--lan"] if a.lan else [])]
    words += ["--probe-port", str(a.probe_port)] if a.probe_port else []
    os.execv(sys.executable, [sys.executable, "-m", "wavilex.server.run", *words])


def user(a: argparse.Namespace) -> int:
    """`wavilex user`."""
    asked = [f"--{act}" for act in ("password", "unlock", "remove", "json") if getattr(a, act)]
    given = [word for key in ("role", "sees") if getattr(a, key) for word in (f"--{key}", getattr(a, key))]
    return _program("wavilex.server.manage", "account", *([a.name] if a.name else []), *given, *asked)


def restore(a: argparse.Namespace) -> int:
    """`wavilex restore`."""
    more = [
        *(["--job", a.job] if a.job else []),
        *(["--to", a.to] if a.to else []),
        *(["--verify"] if a.verify else []),
    ]
    return _program("wavilex.server.manage", "restore_backup", a.backup, *more)


def backup(a: argparse.Namespace) -> int:
    """`wavilex backup`."""
    return _program("wavilex.server.manage", "back_up", *([a.file] if a.file else []))


def status(a: argparse.Namespace) -> int:
    """`wavilex status`."""
    return _program("wavilex.server.manage", "installation_status", *(["--json"] if a.json else []))


def check(a: argparse.Namespace) -> int:
    """`wavilex check`: exit 1 where something is wrong."""
    return _program("wavilex.server.manage", "check_data", *(["--json"] if a.json else []))
