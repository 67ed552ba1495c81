"""Reads one film in a process of its own, within limits of time and memory, telling how far it is, a line each.

A file made to do harm ends this process and nothing else. Lines: {"done": frames, "of": about}, at the end
{"ready": true} or {"failed": "why"}.
"""

from __future__ import annotations

import json
import resource
import sys
from pathlib import Path

from wavilex.core.film.clock import FilmError

_MB = 1024 * 1024


def main(words: list[str]) -> int:
    """FILE FOLDER FRAMES SECONDS MEGABYTES."""
    file, folder, frames, seconds, megabytes = words
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds) + 5))
    resource.setrlimit(resource.RLIMIT_AS, (int(megabytes) * _MB, int(megabytes) * _MB))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        from wavilex.instruments.film import Limits, read_film

        read_film(Path(file), Path(folder), Limits(frames=int(frames)), _told)
    except FilmError as problem:
        _say({"failed": problem.message})
        return 1
    except ImportError:
        _say({"failed": "films need the package av (PyAV), which is not installed here"})
        return 1
    _say({"ready": True})
    return 0


def _told(done: int, of: int) -> None:
    _say({"done": done, "of": of})


def _say(what: dict[str, object]) -> None:
    print(json.dumps(what), flush=True)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
