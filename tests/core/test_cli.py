"""The command line: the agreed fields, exit codes, one line for a malformed question."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.arrivals import settled
from tests.rigs import s02, s03, s04, s05, s07, s08, s09, s10, s12, s14, s18, setting
from wavilex.cli import main
from wavilex.core.gear.text import profile_text
from wavilex.core.light.transfer import pq_light
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job, job_data
from wavilex.core.rig.model import Rig
from wavilex.library import starter_profiles


def ask(capsys: pytest.CaptureFixture[str], *words: str) -> dict[str, object]:
    assert main([*words, "--json"]) == 0
    answer: dict[str, object] = json.loads(capsys.readouterr().out)
    return answer


def test_link_over_frl(capsys: pytest.CaptureFixture[str]) -> None:
    got = ask(capsys, "link", "vic:118", "--encoding", "444", "--bits", "10", "--over", "frl:4x10")
    assert (got["verdict"], got["fits"], got["blocked_by"], got["pixel_clock_hz"]) == (
        "fits",
        True,
        None,
        1_188_000_000,
    )
    assert got["used_percent"] == pytest.approx(91.9, abs=0.06)
    got = ask(capsys, "link", "vic:118", "--encoding", "444", "--bits", "12", "--over", "frl:4x10")
    assert (got["verdict"], got["blocked_by"]) == ("blocked", "rate")


def test_link_over_tmds(capsys: pytest.CaptureFixture[str]) -> None:
    long = ("--lead", "ultra", "--length", "12", "--build", "passive", "--in", "frl:4x10")
    got = ask(capsys, "link", "vic:118", "--encoding", "444", "--bits", "10", "--over", "frl:4x12", *long)
    assert (got["verdict"], got["blocked_by"], got["limited_by"]) == ("unknown", "lead_too_long", "the lead")
    got = ask(capsys, "link", "cvt:2560x1440@120:rb1", "--encoding", "rgb", "--bits", "8", "--over", "tmds:600")
    assert (got["fits"], got["tmds_character_rate_hz"]) == (True, 497_750_000)
    assert got["used_percent"] == pytest.approx(82.96, abs=0.01)


def test_timing_fields(capsys: pytest.CaptureFixture[str]) -> None:
    got = ask(capsys, "timing", "vic:97@60000/1001")
    assert (got["refresh_hz"], got["h_active"], got["v_back"], got["interlaced"]) == ("60000/1001", 3840, 72, False)
    half = ask(capsys, "timing", "vic:5")
    assert (half["v_active"], half["interlaced"], half["refresh_hz"]) == (540, True, "60")


def test_job_check(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("j", "t", "UTC", s03()))), encoding="utf-8")
    runs = ask(capsys, "job", "check", str(file))["runs"]
    assert [r["verdict"] for r in runs] == ["blocked", "fits"]  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    "words",
    [["timing", "vic:999"], ["link", "vic:118", "--encoding", "444", "--bits", "ten", "--over", "frl:4x10"],
     ["link", "vic:118", "--encoding", "444", "--bits", "10", "--over", "x"], ["job", "check", "/nowhere.json"],
     ["nonsense"], []],
)  # fmt: skip
def test_a_malformed_question_gives_one_line_and_exit_2(words: list[str]) -> None:
    done = subprocess.run([sys.executable, "-m", "wavilex.cli", *words], capture_output=True, text=True, check=False)
    assert done.returncode == 2
    assert len(done.stderr.strip().splitlines()) == 1
    assert "Traceback" not in done.stderr


def test_a_question_about_a_link_imports_nothing_heavy() -> None:
    """What makes the start quick: no pydantic, numpy, scipy, Django on the way to `link`."""
    code = (
        "import sys; from wavilex.cli import main; main(['link','vic:118','--encoding','444','--bits','10',"
        "'--over','frl:4x10']); print([m for m in ('pydantic','numpy','scipy','django') if m in sys.modules])"
    )
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    assert out.strip().endswith("[]")


def job_file(tmp_path: Path) -> str:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("s14", "S14", "UTC", s14()))))
    return str(file)


def test_job_check_tells_sound_and_what_else_happens(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    """S14 from a shell: every run with its sound path."""
    report = ask(capsys, "job", "check", job_file(tmp_path))
    assert isinstance(report["runs"], list)
    assert all("plays it" in run["sound"]["headline"] for run in report["runs"])


def test_job_assign_is_proved(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    answer = ask(capsys, "job", "assign", job_file(tmp_path))
    assert (answer["proved"], answer["satisfied"], answer["runs"]) == (True, 4, 4)


def test_job_draw_writes_what_is_asked(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    for form, start in (("svg", "<svg"), ("dot", "digraph"), ("csv", "lead,code,kind")):
        target = tmp_path / f"wiring.{form}"
        assert main(["job", "draw", job_file(tmp_path), "--form", form, "-o", str(target)]) == 0
        assert target.read_text(encoding="utf-8").startswith(start)


def test_gear_check_names_line_and_reason(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "box.yaml"
    file.write_text(profile_text(starter_profiles()["yarrowby-50i"]))
    assert ask(capsys, "gear", "check", str(file))["ok"] is True
    file.write_text(file.read_text().replace("role: screen", "role: hammer"))
    assert main(["gear", "check", str(file)]) == 2
    assert "line 5" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("rig", "run", "verdict", "words"),
    [
        (s02(), "main", "blocked", "No HDR at TV, HDMI 1 as set (Input format at basic"),
        (s03(), "base", "blocked", "Swap leads A1 and A2 at TV and select HDMI 1"),
        (s04(), "main", "blocked", "sends 2160p60: it prefers that to 1440p120"),
        (s05(), "main", "fits", "plays it, at best as lossless bitstream"),
        (s08(), "main", "blocked", "HDMI generation → the newer"),
        (s09(), "main", "fits", "goes black"),
        (s10(), "main", "blocked", "Update TV to firmware 3.1"),
        (s12(), "oldest", "blocked", "optical lead from OLDEST"),
        (s14(), "k1", "blocked", "Swap leads"),
    ],
    ids=["s02", "s03", "s04", "s05", "s08", "s09", "s10", "s12", "s14"],
)
def test_scenarios_from_a_shell(
    rig: Rig, run: str, verdict: str, words: str, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    """`wavilex job check` on each scenario's job file: verdict and the telling words."""
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("x", "x", "UTC", rig))))
    report = ask(capsys, "job", "check", str(file))
    assert isinstance(report["runs"], list)
    row = next(r for r in report["runs"] if r["uid"] == run)
    assert row["verdict"] == verdict
    assert words in json.dumps(row, ensure_ascii=False)


def test_lag_of_a_job_side_by_side_with_what_settings_cost(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    base = {"game": "off", "noise": "off", "motion": "off", "preset": "standard", "tone": "off"}
    states = {"baseline": base, "Interpolation on": {**base, "motion": "on"}}
    readings = [
        {"seq": 10 * n + k, "condition": name, "method": "typed", "lag_us": us + 100 * k,
         "taken_at": "2026-11-30T10:00:00Z"}
        for n, (name, us) in enumerate((("baseline", 60_000), ("Interpolation on", 95_000))) for k in range(6)
    ]  # fmt: skip
    data = job_data(Job("s18", "S18", "UTC", s18()))
    data["lag"] = [{"uid": "lag-1", "device": "tv", "conditions": list(states), "baseline": "baseline",
                    "states": states, "readings": readings}]  # fmt: skip
    file = tmp_path / "measured.json"
    file.write_text(json.dumps(data))
    told = ask(capsys, "job", "lag", str(file))
    assert [(r["condition"], r["against_ms"]) for r in told["rows"]] == [("baseline", None), ("Interpolation on", 35.0)]
    ((cost,),) = told["costs"].values()
    assert (cost["words"], cost["ms"], cost["proved"]) == ("Interpolation on instead of off", 35.0, True)
    assert main(["job", "lag", job_file(tmp_path)]) == 1
    assert "no screen of this job was measured" in capsys.readouterr().out


def test_lag_summary_and_compare(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Per condition n, median, mean, sd, interval; two compared: difference, decision, ratio; refused rows told."""
    rows = ["device,condition,lag_ms,method"]
    rows += [f"TV,standard,{92 + n / 10},meter" for n in range(8)] + [f"TV,game,{11 + n / 10},meter" for n in range(8)]
    file = tmp_path / "readings.csv"
    file.write_text("\n".join([*rows, "TV,game,soon,meter", "TV,game,25,guess"]))
    assert main(["lag", "summary", str(file), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["conditions"]["game"] == {
        "n": 8, "lag": 11.35, "of": "median", "median": 11.35, "mean": 11.35, "sd": 0.245, "ci_low": 11.0,
        "ci_high": 11.7,
    }  # fmt: skip
    assert data["refused"] == [{"line": 18, "why": "lag_ms is a number of ms, not 'soon'"}]
    assert main(["lag", "compare", str(file), "standard", "game", "--json"]) == 0
    both = json.loads(capsys.readouterr().out)
    assert (both["decision"], both["ms"]) == ("changed", -81.0)
    assert both["ratio"]["ci_low"] < both["ratio"]["times"] < both["ratio"]["ci_high"]
    assert main(["lag", "compare", str(file), "standard", "game"]) == 0
    told = capsys.readouterr().out
    assert "Game takes 81.0 ms less than standard" in told
    assert f"Game is 0.12 times standard ({both['ratio']['ci_low']:.2f} to {both['ratio']['ci_high']:.2f})" in told
    assert main(["lag", "compare", str(file), "standard", "sharp"]) == 2
    assert "no readings of 'sharp'; there are standard, game" in capsys.readouterr().err


def test_the_finder_by_role(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["gear", "finder", "--role", "source", "--json"]) == 0
    assert {"depth", "quantisation"} <= {r["id"] for r in json.loads(capsys.readouterr().out)}
    assert main(["gear", "finder"]) == 0
    assert "lowest lag (off, on)" in capsys.readouterr().out


def test_gear_by_class_compared_packed_and_unpacked(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["gear", "class"]) == 0
    assert "tv-4k120: back-lit 4K120 television" in capsys.readouterr().out
    files = []
    for fast in ("3", "3,4"):
        assert main(["gear", "class", "tv-4k120", "--answer", f"fast={fast}", "--model", "Foyer"]) == 0
        files.append(tmp_path / f"{len(files)}.yaml")
        files[-1].write_text(capsys.readouterr().out, encoding="utf-8")
    assert main(["gear", "diff", *map(str, files), "--json"]) == 0
    assert [r["part"].split(":")[0] for r in json.loads(capsys.readouterr().out)] == ["socket HDMI 4"]
    pack = tmp_path / "gear.zip"
    assert main(["gear", "pack", str(files[0]), "-o", str(pack)]) == 0
    capsys.readouterr()
    assert main(["gear", "unpack", str(pack), "--into", str(tmp_path), "--json"]) == 0
    assert json.loads(capsys.readouterr().out) == [{"name": "Foyer", "id": "foyer", "facts": 0}]
    assert (tmp_path / "foyer.yaml").exists()
    assert main(["gear", "unpack", str(files[0])]) == 2
    assert main(["gear", "class", "tv-4k120", "--answer", "fast=9"]) == 2


def test_job_values_are_told_by_cell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "job.json"
    rig = apply(s07(), [setting("tv", "hdmi1;range=hdr;mode=standard", "light", "33")])[0]
    file.write_text(json.dumps(job_data(Job("j", "t", "UTC", rig))), encoding="utf-8")
    assert main(["job", "values", str(file)]) == 0
    assert "HDMI 1, HDR, standard: 33" in capsys.readouterr().out


def test_a_search_for_a_fault(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("c", "C", "UTC", s12()))))
    about = ("job", "fault", str(file), "--run", "new")
    got = ask(capsys, *about, "--complaint", "lags")
    assert got["joined"]
    first = str(got["next"]["key"])  # type: ignore[index]
    value = got["next"]["outcomes"][0]["value"]  # type: ignore[index]
    then = ask(capsys, *about, "--complaint", "lags", "--seen", f"{first}={value}")
    assert [t["key"] for t in then["trail"]] == ["complaint/lags", first]  # type: ignore[attr-defined]
    assert main([*about, "--complaint", "it smells"]) != 0
    assert "one of no_picture" in capsys.readouterr().err
    assert main([*about, "--seen", "nothing=yes"]) != 0
    assert "is no KEY=VALUE" in capsys.readouterr().err
    assert main([*about, "--complaint", "lags"]) == 0
    assert "next: " in capsys.readouterr().out


def test_read_outs_of_a_run(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("c", "C", "UTC", s12()))))
    got = ask(capsys, "job", "prove", str(file), "--run", "new")
    assert {c["kind"] for c in got["cards"]} >= {"list", "banner", "counter"}  # type: ignore[attr-defined]
    assert main(["job", "prove", str(file), "--run", "nobody"]) == 2
    assert "its runs are new, second, oldest" in capsys.readouterr().err


def test_light_curve_from_a_table_or_the_reading_to_take_next(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table = tmp_path / "light.csv"
    table.write_text("value,cd_m2,error_percent\n0,30,1\n12,96,1\n25,190,1\n38,312,1\n50,450,1\n")
    assert main(["light", "curve", str(table), "--want", "190", "--step", "1", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["value"] == 25
    assert found["light_low"] < 190 < found["light_high"]
    assert main(["light", "curve", str(table), "--want", "900", "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["refused"] == "above"
    table.write_text("value,cd_m2\n0,dark\n")
    assert main(["light", "curve", str(table), "--want", "90"]) == 2
    assert "line 2" in capsys.readouterr().err


def test_light_hdr_steps_both_ways(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["light", "hdr-steps", "kelpine-k1", "--peak", "780", "--error", "1", "--count", "41", "--json"]) == 0
    pages = {p["page"]: p for p in json.loads(capsys.readouterr().out)["pages"]}
    table = [pq_light((4800 + 60 * n) / 10_000) for n in range(61)]
    right = next(n for n, light in enumerate(table) if light >= 780)
    assert pages["peak"]["low"] <= right <= pages["peak"]["high"]
    assert pages["peak"]["above_cd_m2"] == pytest.approx(table[40])
    assert "low" not in pages["full"]
    assert main(["light", "hdr-steps", "kelpine-m27"]) == 2
    assert "no HDR pages" in capsys.readouterr().err


def test_light_pq_of_one_light_and_as_a_table(capsys: pytest.CaptureFixture[str]) -> None:
    """203 cd/m² is 58.07 % of PQ, code 573 of 10 bits limited: BT.2408, value from memory."""
    assert main(["light", "pq", "--light", "203", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert (found["limited"], round(found["percent"], 2)) == (573, 58.07)
    assert main(["light", "pq", "--document", "bt1886", "--white", "120"]) == 0
    assert "BT.1886" in capsys.readouterr().out
    assert main(["light", "pq", "--light", "20000"]) == 2


def test_after_an_update_from_a_shell(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(job_data(Job("s10", "S10", "UTC", settled(s10("3.2", "full"))))))
    told = ask(capsys, "job", "update", str(file), "--box", "TV", "--to", "3.4")
    assert told["installed"] is False
    assert len(told["steps"]) <= 0.4 * int(str(told["full"]))  # type: ignore[arg-type]
    assert main(["job", "update", str(file), "--box", "nobody", "--to", "3.4"]) == 2


def test_two_job_files_and_what_is_left_behind(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    one, other = tmp_path / "one.json", tmp_path / "other.json"
    one.write_text(json.dumps(job_data(Job("a", "A", "UTC", s14()))))
    moved = apply(s14(), [{"op": "set_device", "device": "tv", "firmware": "3.5"}])[0]
    other.write_text(json.dumps(job_data(Job("b", "B", "UTC", moved))))
    assert main(["job", "compare", str(one), str(one)]) == 0
    assert main(["job", "compare", str(one), str(other)]) == 1
    assert "TV: 3.4 → 3.5" in capsys.readouterr().out
    assert main(["job", "handover", str(one), "--client"]) == 0
    assert "WHEN IT GOES BLACK" in capsys.readouterr().out
    labels = json.loads(json.dumps(ask_list(capsys, "job", "labels", str(one))))
    assert {x["kind"] for x in labels} == {"lead", "box"}


def ask_list(capsys: pytest.CaptureFixture[str], *words: str) -> list[dict[str, str]]:
    assert main([*words, "--json"]) == 0
    answer: list[dict[str, str]] = json.loads(capsys.readouterr().out)
    return answer
