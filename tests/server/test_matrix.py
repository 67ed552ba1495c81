"""What can go wrong around a running server, one sentence each: said, nothing lost, and well again by itself."""

from __future__ import annotations

import contextlib
import json
import random
import shutil
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.error
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from tests.server.live import Server

Faulty = Callable[[Server], contextlib.AbstractContextManager[str]]


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[Path]:
    """A small disk of its own. Where none may be mounted, there is nothing to fill."""
    place = tmp_path / "disk"
    place.mkdir()
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=8m", "tmpfs", place], capture_output=True, check=False)
    if made.returncode:
        pytest.skip("no disk may be mounted here")
    try:
        yield place
    finally:
        subprocess.run(["umount", "-l", place], check=False)


@pytest.fixture
def server(disk: Path) -> Iterator[Server]:
    made = Server(disk / "data")
    try:
        yield made
    finally:
        made.kill()


@contextlib.contextmanager
def full(server: Server) -> Iterator[str]:
    filler = server.data.parent / "filler"
    with filler.open("wb", buffering=0) as out, contextlib.suppress(OSError):
        while True:
            out.write(b"x" * 4096)
    try:
        yield "disk is full"
    finally:
        filler.unlink()


@contextlib.contextmanager
def read_only(server: Server) -> Iterator[str]:
    subprocess.run(["mount", "--bind", server.data, server.data], check=True)
    subprocess.run(["mount", "-o", "remount,bind,ro", server.data], check=True)
    try:
        yield "can only be read"
    finally:
        subprocess.run(["umount", "-l", server.data], check=True)


@contextlib.contextmanager
def gone(server: Server) -> Iterator[str]:
    away = server.data.with_name("away")
    server.data.rename(away)
    try:
        yield "cannot be opened"
    finally:
        shutil.rmtree(server.data, ignore_errors=True)
        away.rename(server.data)


@contextlib.contextmanager
def emptied(server: Server) -> Iterator[str]:
    """The database's files are away, the folder is not."""
    away = server.data / "away"
    away.mkdir()
    files = list(server.data.glob("wavilex.sqlite3*"))
    for file in files:
        file.rename(away / file.name)
    try:
        yield "another one than this program knows"
    finally:
        for file in server.data.glob("wavilex.sqlite3*"):
            file.unlink()
        for file in files:
            (away / file.name).rename(file)


@contextlib.contextmanager
def busy(server: Server) -> Iterator[str]:
    with contextlib.closing(sqlite3.connect(server.data / "wavilex.sqlite3", isolation_level=None)) as other:
        other.execute("begin immediate")
        try:
            yield "Somebody else is writing"
        finally:
            other.execute("rollback")


@pytest.mark.soak
@pytest.mark.parametrize("fault", [full, read_only, gone, emptied, busy])
def test_an_edit_that_cannot_be_kept_is_said_and_goes_in_afterwards(fault: Faulty, server: Server) -> None:
    server.change("before-the-fault")
    with fault(server) as words:
        begun = time.monotonic()
        status, told, again = server.refused("during-the-fault", 2)
        assert (status, told["code"]) == (503, "not_saved"), told
        assert words in told["detail"]
        assert again == "1"
        assert time.monotonic() - begun < 5
    assert server.change("during-the-fault", 2)["revision"] == 3
    assert server.process.poll() is None


@pytest.mark.soak
@pytest.mark.parametrize("fault", [full, read_only])
def test_the_job_can_be_looked_at_all_the_while(fault: Faulty, server: Server) -> None:
    with fault(server):
        server.refused("during-the-fault")
        assert server.call("/jobs/pierhead")["title"] == "Pierhead Game Library"


# --- clients that hold others up ---------------------------------------------------------------------


def test_neither_half_sent_requests_nor_a_file_beyond_all_bounds_hold_anybody_up(tmp_path: Path) -> None:
    """Eight halves held the server for minutes once, and 8,000 rooms the write lock for half a minute."""
    server = Server(tmp_path / "data")
    half = b"POST /api/v1/jobs/pierhead/changes HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n\r\n{"
    try:
        with contextlib.ExitStack() as stack:
            for _ in range(40):
                line = stack.enter_context(socket.create_connection(("127.0.0.1", server.port)))
                line.sendall(half)
            time.sleep(0.3)
            begun = time.monotonic()
            assert server.change("among-the-halves")["revision"] == 2
            assert time.monotonic() - begun < 3
        data = server.call("/jobs/pierhead/file")
        data["rooms"] = [f"room {n}" for n in range(8000)]
        begun = time.monotonic()
        with pytest.raises(urllib.error.HTTPError) as refused:
            server.call("/import", {"text": json.dumps(data)})
        assert refused.value.code == 422
        assert json.loads(refused.value.read())["where"].startswith("rooms")
        assert time.monotonic() - begun < 3
    finally:
        server.kill()


@pytest.mark.soak
def test_the_largest_job_there_may_be_lets_others_write(tmp_path: Path) -> None:
    """A writer waits a second at most and is then told to come again; it gets in."""
    from wavilex.core import bounds

    server = Server(tmp_path / "data")
    try:
        data = server.call("/jobs/pierhead/file")
        title = data["titles"][0]
        data["rooms"] += [f"room {n}" for n in range(bounds.ROOMS - len(data["rooms"]))]
        more = range(bounds.TITLES - len(data["titles"]))
        data["titles"] += [{**title, "uid": f"t{n}", "name": f"T {n}"} for n in more]
        begun = time.monotonic()
        server.call("/import", {"text": json.dumps(data)})
        assert time.monotonic() - begun < 10
        assert server.change("after-the-import")["revision"] == 2
    finally:
        server.kill()


# --- migrations --------------------------------------------------------------------------------------


@pytest.mark.soak
def test_a_migration_killed_at_any_moment_is_done_at_the_next_start(tmp_path: Path) -> None:
    server = Server(tmp_path / "data")
    server.kill()
    manage = [sys.executable, "-m", "wavilex.server.manage"]
    subprocess.run([*manage, "migrate", "jobs", "0005"], env=server.env, check=True, capture_output=True)
    rnd = random.Random(11)
    for _ in range(12):
        half = subprocess.Popen([*manage, "migrate"], env=server.env, stdout=subprocess.DEVNULL)
        time.sleep(rnd.uniform(0.3, 1.1))
        half.kill()
        half.wait()
    server.start()
    try:
        assert server.change("after-the-kills")["revision"] == 2
        sound = subprocess.run([*manage, "check_data"], env=server.env, capture_output=True, text=True, check=False)
        assert sound.returncode == 0, sound.stdout
    finally:
        server.kill()
