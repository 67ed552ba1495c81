"""EDIDs as people paste them: what programs print is read byte for byte, or refused in words."""

from __future__ import annotations

import random
import shutil
import subprocess
from pathlib import Path

import pytest

from tests.core.edid_corpus import base, corpus, cta
from wavilex.core.edid.decode import decode
from wavilex.core.edid.model import EdidError
from wavilex.core.edid.text import bytes_of

EDIDS = list(corpus(12))
PRINTERS = (("xxd",), ("xxd", "-i"), ("xxd", "-p"), ("hexdump", "-C"), ("od", "-tx1"), ("od", "-A", "x", "-t", "x1"),
            ("od", "-v", "-tx1z"), ("edid-decode",), ("edid-decode", "-o", "carray"))  # fmt: skip


@pytest.mark.parametrize("words", PRINTERS, ids=" ".join)
def test_what_a_program_prints_is_read_byte_for_byte(words: tuple[str, ...], tmp_path: Path) -> None:
    """References: the programs themselves. What od or hexdump leaves out is refused, not guessed."""
    if shutil.which(words[0]) is None:
        pytest.skip(f"{words[0]} is not here")
    for n, data in enumerate(EDIDS):
        file = tmp_path / f"{n}.bin"
        file.write_bytes(data)
        text = subprocess.run([*words, str(file)], capture_output=True, check=False).stdout.decode("ascii", "replace")
        if "\n*\n" in text:
            with pytest.raises(EdidError):
                bytes_of(text.encode())
        else:
            assert bytes_of(text.encode()) == data, text


def rows(data: bytes, width: int) -> list[str]:
    return [data[n : n + width].hex() for n in range(0, len(data), width)]


@pytest.mark.parametrize(("before", "after"), [
    ("DP-1 connected primary 2560x1440+0+0\n\tEDID: \n",
     "\tBorder: 0 0 0 0\n\tnon-desktop: 0\n  1920x1080 (0x4a) 148.500MHz\n"),
    ("He sent me this:\n", "\nthanks, deadbeef\n"), ("", "\n00 00 00 00\n"),
])  # fmt: skip
def test_text_around_is_passed_over_and_the_count_of_blocks_ends_it(before: str, after: str) -> None:
    for data in EDIDS:
        text = before + "".join(f"\t\t{row}\n" for row in rows(data, 16)) + after
        assert bytes_of(text.encode()) == data


@pytest.mark.parametrize("cut", [1, 40, 128, 129])
def test_less_than_it_declares_is_refused(cut: int) -> None:
    data = base(random.Random(1), 1) + cta(random.Random(1))
    with pytest.raises(EdidError, match=r"declares 256 bytes|at least 128 bytes"):
        bytes_of("\n".join(rows(data[: 256 - cut], 16)).encode())


def test_more_blocks_than_the_base_block_counts_where_the_override_says_so() -> None:
    """HDMI 2.1, HF-EEODB: the first data block of the first CTA extension overrides byte 126."""
    rnd = random.Random(4)
    first = bytearray(cta(rnd))
    body = bytes([0xE2, 0x78, 2])
    moved = (bytes(first[:4]) + body + bytes(first[4:124])).ljust(127, b"\0")
    out = bytearray(moved[:127] + b"\0")
    out[2] = min(first[2] + 3, 127)
    out[127] = -sum(out[:127]) % 256
    data = base(rnd, 1) + bytes(out) + cta(rnd)
    assert bytes_of("\n".join(rows(data, 16)).encode()) == data
    assert "extension_count" not in {f.code for f in decode(data).findings}
