"""Questions without a job, two sides compared, EDIDs from connectors, leads known on site; all over the API."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from pytest_django.fixtures import Settings

from tests.conftest import Api
from wavilex.cli import main
from wavilex.core.edid.decode import decode
from wavilex.instruments.edid_reader import Connector, DrmReader, EdidReader, ReaderError, SimulatedReader
from wavilex.library.simulated_screens import simulated_edids


@pytest.fixture
def drm(tmp_path: Path) -> Path:
    """A folder as the system shows connectors: one with a screen, one empty, one of another kind, one broken."""
    good = simulated_edids()["card0-HDMI-A-2"]
    rows = {"card0-HDMI-A-1": ("connected", good), "card0-DP-2": ("disconnected", b""), "card1-HDMI-A-1": (None, None),
            "renderD128": (None, None)}  # fmt: skip
    for name, (status, edid) in rows.items():
        (tmp_path / name).mkdir()
        if status is not None:
            (tmp_path / name / "status").write_text(status + "\n")
        if edid is not None:
            (tmp_path / name / "edid").write_bytes(edid)
    return tmp_path


def test_connectors_are_read_as_the_system_shows_them(drm: Path) -> None:
    reader: EdidReader = DrmReader(drm)
    assert reader.connectors() == [
        Connector("card0-DP-2", connected=False, readable=False),
        Connector("card0-HDMI-A-1", connected=True, readable=True),
        Connector("card1-HDMI-A-1", connected=None, readable=False),
    ]
    assert decode(reader.read("card0-HDMI-A-1")).base.name == "X32"
    assert DrmReader(drm / "nowhere").connectors() == []


@pytest.mark.parametrize("name", ["card0-DP-2", "card1-HDMI-A-1", "../card0-HDMI-A-1", "renderD128", "card0-none", ""])
def test_what_shows_no_edid_says_so(name: str, drm: Path) -> None:
    for reader in (DrmReader(drm), SimulatedReader({"card0-DP-2": b""})):
        with pytest.raises(ReaderError):
            reader.read(name)


def test_both_readers_answer_alike(drm: Path) -> None:
    real = DrmReader(drm)
    mock = SimulatedReader({c.name: real.read(c.name) if c.readable else b"" for c in real.connectors()})
    assert [(c.name, c.readable) for c in mock.connectors()] == [(c.name, c.readable) for c in real.connectors()]
    assert (real.simulated, mock.simulated) == (False, True)


def test_the_command_line_reads_a_connector(
    drm: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr("wavilex.instruments.edid_reader.DrmReader", lambda: DrmReader(drm))
    assert main(["edid", "connectors", "--json"]) == 0
    assert "card0-HDMI-A-1" in capsys.readouterr().out
    assert main(["edid", "decode", "connector:card0-HDMI-A-1"]) == 0
    assert "X32" in capsys.readouterr().out
    assert main(["edid", "decode", "connector:card0-DP-2"]) == 2


def test_connectors_over_the_api(api: Api, settings: Settings) -> None:
    settings.EDID_READER = "simulated"
    shown = api.get("/edid/connectors")
    assert shown["simulated"] is True
    assert [(c["connector"], c["name"]) for c in shown["connectors"]] == [
        ("card0-HDMI-A-1", "65-S"), ("card0-HDMI-A-2", "X32"), ("card0-HDMI-A-3", ""),
    ]  # fmt: skip
    text = api.get("/edid/connectors/card0-HDMI-A-2")["text"]
    assert api.post("/edid/read", {"text": text})["name"] == "X32"
    assert api.get("/edid/connectors/card0-HDMI-A-3", expect=422)["code"]


def test_an_edid_makes_a_profile_that_joins_a_job(api: Api, demo: str, settings: Settings) -> None:
    settings.EDID_READER = "simulated"
    text = api.get("/edid/connectors/card0-HDMI-A-2")["text"]
    profile = api.post("/edid/profile", {"text": text})
    assert (profile["name"], profile["role"], profile["inputs"]) == ("WVX X32", "screen", 1)
    video = profile["data"]["ports"][0]["video"]
    assert video["dsc"]["slices"] == 8
    assert "cvt:3840x2160@240:rb2" in video["modes"]
    assert "lag_bound_ms" not in profile["data"]
    op = {"op": "add_device", "device": {"uid": "new", "label": "New", "profile": profile["data"]}}
    body = {"base_revision": api.get(f"/jobs/{demo}")["revision"], "uid": "edid-0001", "ops": [op]}
    assert "new" in [d["uid"] for d in api.post(f"/jobs/{demo}/changes", body)["devices"]]
    assert api.post("/edid/profile", {"text": "00 11"}, expect=422)["detail"]


def test_two_links_compared(api: Api) -> None:
    told = api.post("/scratch/compare", {"a": {"inp": "frl:4x12"}, "b": {"inp": "frl:4x8"}})
    assert told["rows"][0]["differs"]
    assert any(c["a"] == "fits" and c["b"] == "blocked" for c in told["cells"])
    assert api.post("/scratch/compare", {"a": {"build": "rope"}, "b": {}}, expect=422)["where"] == "build"


def test_a_run_compared_with_each_thing_it_may_be(api: Api, demo: str) -> None:
    choices = api.get(f"/jobs/{demo}/runs/den/comparisons")
    assert {c["id"].split(":")[0] for c in choices} == {"layer", "setting", "run"}
    for choice in choices:
        told = api.get(f"/jobs/{demo}/runs/den/compare?to={choice['id']}")
        differs = [r["differs"] for r in told["rows"]]
        assert differs == sorted(differs, reverse=True)
    assert api.get(f"/jobs/{demo}/runs/den/compare?to=dream", expect=422)["where"] == "to"


def test_choices_name_every_word_a_lead_may_take(api: Api) -> None:
    lists = api.get("/scratch/choices")
    for grade in lists["grades"]:
        for build in lists["builds"]:
            api.get(f"/scratch/link?grade={grade['id']}&build={build['id']}")
    for rate in lists["rates"]:
        for sound in lists["audio"][:2]:
            api.get(f"/scratch/link?out={rate['id']}&audio={sound['id']}")


def test_what_is_proved_of_a_lead_is_kept(api: Api, demo: str) -> None:
    before = api.get(f"/jobs/{demo}")
    lead = before["leads"][0]["uid"]
    known: dict[str, Any] = {"build": "optical", "power": "fed", "proved": "frl:4x10", "failed": "frl:4x12"}
    op = {"op": "replace_lead", "lead": lead, **known}
    body = {"base_revision": before["revision"], "uid": "lead-0001", "ops": [op]}
    view = api.post(f"/jobs/{demo}/changes", body)
    kept = next(x for x in view["leads"] if x["uid"] == lead)
    assert {k: kept[k] for k in known} == known
    assert "proved 40 Gb/s" in kept["grade_name"]
    out = api.get(f"/jobs/{demo}/file")
    assert {k: out["leads"][0][k] for k in known} == known
