"""Packs of gear: what goes in comes out; hostile archives are refused with the file and the reason, never unpacked."""

from __future__ import annotations

import io
import random
import stat
import zipfile

import pytest

from tests.rigs import device, lead, rig, run, s03
from wavilex.core.errors import PackError
from wavilex.core.gear.compare import differences
from wavilex.core.gear.pack import MANIFEST, MOST_FILE_BYTES, FactRow, Packed, read_pack, write_pack
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.gear.text import profile_text
from wavilex.core.rig.changes import apply
from wavilex.core.rig.learned import fact_ops, learned, with_learned
from wavilex.core.rig.renew import renew
from wavilex.library import starter_profiles

ALL = list(starter_profiles().values())
TEXT = profile_text(ALL[0])
LIST = "wavilex_pack: 1\nboxes:\n- file: boxes/a.yaml\n"


def zipped(*files: tuple[str, bytes], mode: int = 0) -> bytes:
    """An archive made by hand, file by file."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files:
            info = zipfile.ZipInfo(name)
            info.external_attr = mode << 16
            archive.writestr(info, data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def test_every_starter_goes_through_a_pack() -> None:
    facts = (FactRow(path="plays", value=True, at="2026-11-29", firmware="3.1"), FactRow(path="peak_cd_m2", value=640))
    boxes = [Packed(p, facts if n % 3 == 0 else ()) for n, p in enumerate(ALL)]
    data = write_pack(boxes)
    assert read_pack(data) == boxes
    assert write_pack(boxes) == data  # the same boxes make the same bytes
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        assert MANIFEST in archive.namelist()


HOSTILE = {
    "no archive": (b"PK but not really", "no zip archive"),
    "nothing": (b"", "no zip archive"),
    "no manifest": (zipped(("boxes/a.yaml", TEXT.encode())), "has no manifest"),
    "a way out": (zipped((MANIFEST, LIST.encode()), ("../../etc/a.yaml", b"x")), "nothing else"),
    "an absolute name": (zipped((MANIFEST, LIST.encode()), ("/boxes/a.yaml", b"x")), "nothing else"),
    "a program": (zipped((MANIFEST, LIST.encode()), ("boxes/a.sh", b"x")), "nothing else"),
    "a link": (zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", b"/etc/passwd"), mode=stat.S_IFLNK | 0o777),
               "points elsewhere"),
    "a bomb": (zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", b"0" * (MOST_FILE_BYTES + 1))), "larger than"),
    "a file nobody names": (zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", TEXT.encode()), ("boxes/b.yaml", b"x")),
                            "does not name"),
    "a file that is not there": (zipped((MANIFEST, LIST.encode())), "which is not there"),
    "named twice": (zipped((MANIFEST, (LIST + "- file: boxes/a.yaml\n").encode()), ("boxes/a.yaml", TEXT.encode())),
                    "names a file twice"),
    "no profile": (zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", b"wavilex_profile: 1\nid: 3\n")), "boxes/a.yaml"),
    "no text": (zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", b"\xff\xfe\x00")), "UTF-8"),
    "no YAML": (zipped((MANIFEST, b"boxes: [\n")), "not readable as YAML"),
    "another kind": (zipped((MANIFEST, b"wavilex_pack: 7\nboxes: []\n")), "wavilex_pack"),
    "a fact that is none": (
        zipped((MANIFEST, (LIST + "  facts: [{value: 3}]\n").encode()), ("boxes/a.yaml", TEXT.encode())), "path"),
    "aliases without end": (
        zipped((MANIFEST, b"a: &a [1,1,1,1,1,1,1,1,1]\nb: &b [*a,*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b]\n"
                          b"d: &d [*c,*c,*c,*c,*c,*c,*c,*c,*c]\ne: [*d,*d,*d,*d,*d,*d,*d,*d,*d,*d]\n")), ""),
}  # fmt: skip


@pytest.mark.parametrize("kind", HOSTILE)
def test_a_hostile_archive_is_refused_with_the_reason(kind: str) -> None:
    data, said = HOSTILE[kind]
    with pytest.raises(PackError) as refused:
        read_pack(data)
    assert said in str(refused.value)


def test_a_head_that_lies_about_its_size_unpacks_no_more_than_it_may() -> None:
    """The size in an archive's head is what its maker says: what is read is counted, too."""
    data = bytearray(zipped((MANIFEST, LIST.encode()), ("boxes/a.yaml", b"0" * (MOST_FILE_BYTES * 3))))
    real = (MOST_FILE_BYTES * 3).to_bytes(4, "little")
    while (at := data.find(real)) >= 0:
        data[at : at + 4] = (100).to_bytes(4, "little")
    with pytest.raises(PackError):
        read_pack(bytes(data))


def test_a_pack_with_changed_bytes_is_read_or_refused_and_nothing_else() -> None:
    data = write_pack([Packed(p) for p in ALL[:3]])
    rnd = random.Random(17)
    refused = 0
    for _ in range(300):
        broken = bytearray(data)
        for _ in range(rnd.randint(1, 5)):
            broken[rnd.randrange(len(broken))] = rnd.randrange(256)
        try:
            read_pack(bytes(broken))
        except PackError:
            refused += 1
    assert refused > 200


# --- what a job learns -----------------------------------------------------------------------------------


def test_what_a_job_learned_goes_to_the_shelf_line_by_line_and_comes_back_with_the_box() -> None:
    r = apply(s03(), [
        {"op": "set_fact", "device": "tv", "path": "peak_cd_m2", "value": 610},
        {"op": "set_fact", "device": "tv", "path": "ports.hdmi1.frl", "value": "4x8"},
        {"op": "set_device", "device": "tv", "firmware": "9.9"},
    ])[0]  # fmt: skip
    tv = r.devices["tv"]
    lines = learned(r, tv)
    assert {x.path for x in lines} == {"peak_cd_m2", "ports.hdmi1.frl", "newest_firmware"}
    profile, facts = with_learned(
        tv.profile, [], [x for x in lines if x.path != "ports.hdmi1.frl"], "2026-11-29", "9.9"
    )
    assert profile.newest_firmware == "9.9"
    assert [(f.path, f.value, f.at, f.firmware) for f in facts] == [("peak_cd_m2", 610, "2026-11-29", "9.9")]
    assert {x.path for x in learned(r, tv, facts)} == {"ports.hdmi1.frl", "newest_firmware"}
    fresh = rig({"op": "add_device", "device": {"uid": "n", "profile": profile_data(profile)}}, *fact_ops("n", facts))
    assert fresh.peak_cd_m2("n") == 610
    assert learned(fresh, fresh.devices["n"], facts) == []


def test_a_rate_proved_by_a_lead_is_known_of_both_sockets() -> None:
    r = rig(
        device("k", "kelpine-k1"), device("tv", "yarrowby-65s"), lead("L", "k/hdmi", "tv/hdmi1"), run("m", "k", "tv")
    )
    assert not [x for x in learned(r, r.devices["tv"]) if "proved" in x.words]
    proved = apply(r, [{"op": "replace_lead", "lead": "L", "proved": "frl:4x10"}])[0]
    told = [x for x in learned(proved, proved.devices["tv"]) if "proved" in x.words]
    assert [(x.path, x.value) for x in told] == [("ports.hdmi1.frl", "4x10")]  # its maker says no FRL there
    assert not [x for x in learned(proved, proved.devices["k"]) if "proved" in x.words]  # 48 Gb/s is more already


# --- versions ----------------------------------------------------------------------------------------------


def test_differences_are_named_part_by_part() -> None:
    old = starter_profiles()["yarrowby-65s"]
    data = profile_data(old)
    assert differences(old, old) == []
    data["peak_cd_m2"] = 999
    data["ports"][1]["label"] = "HDMI two"
    data["settings"] = [s for s in data["settings"] if s["id"] != "motion"]
    data["quirks"] = [q for q in data["quirks"] if q.get("setting") != "motion" and q["id"] != "motion-lag"]
    data["video"]["modes"] = data["video"]["modes"][1:]
    told = {d["part"]: (d["before"], d["after"]) for d in differences(old, profile_from_data(data))}
    assert told["brightest white, cd/m²"][1] == "999"
    assert told["socket HDMI 2: label"] == ("HDMI 2", "HDMI two")
    assert told["setting Interpolation"] == ("there", "")
    assert told["modes"] == ("vic:118", "none")


def test_a_newer_version_is_taken_with_what_it_lets_go_named_and_undo_brings_all_back() -> None:
    r = apply(s03(), [{"op": "set_setting", "layer": "found", "device": "tv", "scope": "hdmi1", "key": "format",
                       "value": "basic"}])[0]  # fmt: skip
    tv = r.devices["tv"]
    data = profile_data(tv.profile)
    data["summary"] = "as we know it now"
    data["settings"] = [s for s in data.get("settings", []) if s["id"] != "format"]
    data["quirks"] = [q for q in data.get("quirks", []) if q.get("when", {}).get("setting") != "format"]
    told = renew(r, "tv", data, [FactRow(path="peak_cd_m2", value=700)])
    assert told["lost"] == ["Input format, HDMI 1: wide"]
    after, back = apply(r, list(told["ops"]))
    assert after.devices["tv"].profile.summary == "as we know it now"
    assert after.peak_cd_m2("tv") == 700
    assert apply(after, back)[0] == r
