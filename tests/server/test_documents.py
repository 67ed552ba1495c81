"""What is sent is what is declared: media types, HEAD, headers on every file, private files, notices."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from django.conf import settings
from django.test import Client

from tests.conftest import Api
from tests.server.test_live_contract import CALLS, DOCUMENT, operations
from wavilex.server.config.data_folder import keep_private
from wavilex.server.document import FILES, PROBLEM

HEADERS = ("Content-Security-Policy", "X-Frame-Options", "X-Content-Type-Options", "Referrer-Policy")


def test_every_refusal_is_declared_as_a_problem_document() -> None:
    for path, ops in DOCUMENT["paths"].items():
        for method, operation in ops.items():
            for status, answer in operation["responses"].items():
                if int(status) >= 400:
                    assert list(answer["content"]) == [PROBLEM], (method, path, status)


@pytest.mark.parametrize(("operation", "path"), [
    ("visit", "/jobs/pierhead/visit.ics?start=2026-12-01T09:00:00Z"), ("runSheetPdf", "/jobs/pierhead/runsheet.pdf"),
    *(("drawWiring", f"/jobs/pierhead/wiring.{form}") for form in ("svg", "dot", "csv")),
    ("deviceProfileFile", "/jobs/pierhead/devices/den-screen/profile.yaml"),
    ("exportReadings", "/lag/LAG/readings.csv"),
])  # fmt: skip
def test_files_are_sent_as_what_is_declared(operation: str, path: str, api: Api, demo: str) -> None:
    if "LAG" in path:
        path = path.replace("LAG", api.post(f"/jobs/{demo}/lag", {"device": "den-screen"})["uid"])
    answer = api.client.get(f"/api/v1{path}")
    assert answer.status_code == 200
    sent = answer["Content-Type"].split(";")[0]
    assert sent in FILES[operation]
    assert sent in operations()[operation]["responses"][200]["content"]


@pytest.mark.parametrize("operation", sorted(n for n, (method, path, _) in CALLS.items() if method == "GET"))
def test_a_head_is_answered_as_its_get_is_without_a_body(operation: str, api: Api, demo: str) -> None:
    path = CALLS[operation][1]
    if "{" in path or "/meters/" in path:
        return
    got, head = api.client.get(f"/api/v1{path}"), api.client.head(f"/api/v1{path}")
    assert (head.status_code, head["Content-Type"]) == (got.status_code, got["Content-Type"])
    assert head.content == b""


def test_a_head_changes_nothing_and_needs_an_account(api: Api, client: Client, demo: str) -> None:
    assert client.head("/api/v1/jobs").status_code == 401
    assert api.client.head(f"/api/v1/jobs/{demo}/undo").status_code == 405


def asset(ending: str) -> str:
    return next(p.name for p in sorted((settings.PACKAGE / "web" / "assets").iterdir()) if p.name.endswith(ending))


@pytest.mark.parametrize("ending", [".js", ".css", ".woff2"])
def test_built_files_carry_the_same_headers_as_the_page(ending: str, client: Client, db: None) -> None:
    page, file = client.get("/"), client.get(f"/static/assets/{asset(ending)}")
    file.close()
    assert file.status_code == 200
    assert all(file[name] for name in HEADERS)
    assert all(page[name] for name in HEADERS)
    assert "immutable" in file["Cache-Control"]


def test_what_is_kept_is_for_its_owner_only(tmp_path: Path) -> None:
    for name in ("wavilex.sqlite3", "wavilex.sqlite3-wal", "wavilex.log.1", "backups/a.sqlite3"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).touch(0o644)
    keep_private(tmp_path)
    (tmp_path / "wavilex-later").touch()
    modes = {p.name: p.stat().st_mode & 0o777 for p in tmp_path.rglob("*") if p.is_file()}
    assert set(modes.values()) == {0o600}
    assert len(modes) == 5


def test_the_licences_of_what_is_shipped_come_with_it(client: Client, db: None) -> None:
    """Every package whose code or fonts are in the bundle stands there with its licence's text."""
    answer = client.get("/static/licences.txt")
    assert answer.status_code == 200
    text = b"".join(answer.streaming_content).decode()  # type: ignore[attr-defined]
    answer.close()
    locked = (Path(__file__).parents[2] / "frontend" / "package.json").read_text(encoding="utf-8")
    shipped = re.findall(r'"(@?[\w/.-]+)": "[\d.]+"', locked.split('"dependencies"')[1].split("}")[0])
    assert len(shipped) > 8
    assert [name for name in shipped if name not in text] == []
    assert text.count("Permission is hereby granted") > 8
    assert "SIL OPEN FONT LICENSE" in text
