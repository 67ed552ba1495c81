"""Packs of gear: what goes in comes out; hostile archives are refused with the file and the reason, never unpacked."""

from __future__ import annotations

import io
import random
import stat
import zipfile

import pytest

from wavilex.core.errors import PackError
from wavilex.core.gear.compare import differences
from wavilex.core.gear.pack import MANIFEST, MOST_FILE_BYTES, FactRow, Packed, read_pack, write_pack
from wavilex.core.gear.profile import profile_data, profile_from_data
from wavilex.core.gear.text import profile_text
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
