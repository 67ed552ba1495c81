"""How an installation stands, and whether its data is sound."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from io import StringIO
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from pydantic import TypeAdapter

from tests.conftest import Api
from tests.server.test_jobs import WIDEST, change
from wavilex import __version__
from wavilex.server.jobs.models import ChangeSet, Job, Setting
from wavilex.server.upkeep import health


def told(command: str) -> dict[str, Any]:
    out = StringIO()
    call_command(command, "--json", stdout=out)
    answer: dict[str, Any] = json.loads(out.getvalue())
    return answer


def test_status_counts_what_is_there(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    status = api.get("/status")
    assert TypeAdapter(health.StatusOut).validate_python(status) == status
    assert (status["version"], status["jobs"], status["changes"]) == (__version__, 1, 2)
    assert set(status["schema"]) == {"jobs", "bench", "shelf", "probe", "faults"}
    assert told("installation_status")["changes"] == 2


def test_status_is_for_those_who_may_enter(client: Any) -> None:
    assert client.get("/api/v1/status").status_code == 401


def test_a_running_server_tells_its_memory(db: None, tmp_path: Path, settings: Any) -> None:
    """Linux tells a process's memory; the process here is this one."""
    settings.DATA = tmp_path
    assert health.status()["running"] is None
    health.note_running(4711)
    running = health.status()["running"]
    assert running is not None
    assert (running["pid"], running["port"]) == (os.getpid(), 4711)
    assert running["rss_bytes"] is not None
    assert running["rss_bytes"] > 10_000_000
    assert running["remembered"] is not None
    assert running["remembered"]["most_bytes"] > 0


def test_a_process_that_is_gone_is_not_running(db: None, tmp_path: Path, settings: Any) -> None:
    settings.DATA = tmp_path
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    (tmp_path / "running.json").write_text(json.dumps({"pid": gone.pid, "port": 1, "remembered": None}))
    assert health.status()["running"] is None


def test_sound_data_has_no_fault(api: Api, demo: str) -> None:
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    api.post(f"/jobs/{demo}/undo", {"uid": "undo-0001"})
    api.post(f"/jobs/{demo}/changes", change(3, {"op": "remove_device", "device": "den-receiver"}))
    assert told("check_data") == {"sound": True, "faults": []}


def test_what_history_does_not_explain_is_a_fault(api: Api, demo: str) -> None:
    """A setting written past the history, a change whose inverse is wrong, a revision that is missing."""
    api.post(f"/jobs/{demo}/changes", change(1, WIDEST))
    Setting.objects.filter(device__uid="den-receiver", key="format").update(plan="basic")
    assert [f["fault"] for f in health.faults()] == ["its settings do not come out of its history as they are"]
    ChangeSet.objects.filter(revision=2).update(inverse=[{**WIDEST, "device": "nobody"}])
    fault = next(iter(health.faults()))
    assert fault["where"] == f"job {demo}, revision 2 taken back"
    assert "no device 'nobody'" in fault["fault"]
    Job.objects.filter(uid=demo).update(revision=5)
    assert "do not lead to revision 5" in next(iter(health.faults()))["fault"]


def test_faults_end_the_check_with_1(api: Api, demo: str) -> None:
    Job.objects.filter(uid=demo).update(revision=5)
    out = StringIO()
    with pytest.raises(SystemExit) as ended:
        call_command("check_data", stdout=out)
    assert ended.value.code == 1
    assert demo in out.getvalue()
