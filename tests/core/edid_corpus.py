"""EDIDs of our own making with every kind of block, for comparison with the reference program edid-decode."""

from __future__ import annotations

import random
import re
import subprocess
from collections.abc import Iterator
from fractions import Fraction

from wavilex.core.edid.base_lists import STANDARD_CODES
from wavilex.core.edid.detailed import write_detailed
from wavilex.core.errors import TimingError
from wavilex.core.video.cta_table import CTA_ROWS
from wavilex.core.video.cvt import cvt_timing
from wavilex.core.video.dmt import DMT_IDS
from wavilex.core.video.timing import Timing

SIZES = ((1280, 720), (1366, 768), (1600, 900), (1920, 1080), (2560, 1080), (2560, 1440), (3440, 1440), (3840, 2160))
LISTED = re.compile(r"(\d+)x(\d+)(i?)\s+([\d.]+) Hz\s+\d+:\d+\s+[\d.]+ kHz\s+([\d.]+) MHz")


def sealed(block: bytearray) -> bytes:
    block[127] = -sum(block[:127]) % 256
    return bytes(block)


def timing_of(rnd: random.Random) -> Timing:
    """A CVT timing that a detailed descriptor can say."""
    while True:
        size, kind = rnd.choice(SIZES), rnd.choice(("rb0", "rb1", "rb2"))
        try:
            t = cvt_timing(*size, Fraction(rnd.choice((50, 60, 75, 100, 120, 144))), kind)
        except TimingError:
            continue
        if t.pixel_clock_hz < 655_350_000:
            return t


def _row(t: Timing) -> bytes:
    return write_detailed(t, 600, 340)


def _third(rnd: random.Random) -> bytes:
    bits = bytes(rnd.randrange(256) & rnd.randrange(256) for _ in range(5)) + bytes([rnd.randrange(16) << 4])
    return bytes([0, 0, 0, 0xF7, 0, 10]) + bits + bytes(6)


def _six(rnd: random.Random) -> bytes:
    codes = [bytes(rnd.choice(list(STANDARD_CODES))) if rnd.random() < 0.7 else b"\1\1" for _ in range(6)]
    return bytes([0, 0, 0, 0xFA, 0]) + b"".join(codes) + b"\n"


def _cvt(rnd: random.Random) -> bytes:
    rows = b""
    for _ in range(4):
        if rnd.random() < 0.3:
            rows += bytes(3)
            continue
        lines = rnd.choice((480, 600, 768, 800, 1050, 1200, 1440)) // 2 - 1
        shape, preferred, rates = rnd.randrange(4), rnd.randrange(4), rnd.randrange(1, 32)
        rows += bytes([lines & 255, (lines >> 8) << 4 | shape << 2, preferred << 5 | rates])
    return bytes([0, 0, 0, 0xF8, 0, 1]) + rows


def base(rnd: random.Random, extensions: int) -> bytes:
    """A 1.4 base block: detailed timings, lists of every kind, range limits with or without the CVT formula."""
    b = bytearray(128)
    b[:8] = b"\0\xff\xff\xff\xff\xff\xff\0"
    b[8:12], b[16], b[17], b[18], b[19], b[20] = b"\x5d\x96\x01\x02", 1, 34, 1, 4, 0xB2
    b[21], b[22], b[23], b[24] = 60, 34, 120, 0x06 | (1 if rnd.random() < 0.5 else 0)
    for at, most in ((35, 256), (36, 256), (37, 2)):
        b[at] = rnd.randrange(most) & rnd.randrange(256) if most > 2 else 0x80 * rnd.randrange(2)
    for n in range(8):
        code = rnd.choice(list(STANDARD_CODES)) if rnd.random() < 0.5 else (1, 1)
        b[38 + 2 * n : 40 + 2 * n] = bytes(code)
    formula = bytes([4, 0x11, 0, 0, 0xB8, 0, 0]) if b[24] & 1 else bytes([1, 10, 32, 32, 32, 32, 32, 32])[:7]
    ranges = bytes([0, 0, 0, 0xFD, 0, 24, 144, 15, 230, 60]) + formula
    rows = [_row(timing_of(rnd)), *rnd.sample([_row(timing_of(rnd)), _third(rnd), _six(rnd), _cvt(rnd)], 2)]
    for n, row in enumerate([*rows, ranges.ljust(18, b" ")]):
        b[54 + 18 * n : 72 + 18 * n] = row[:18]
    b[126] = extensions
    return sealed(b)


def cta(rnd: random.Random) -> bytes:
    """A CTA extension: codes, formats, the HDMI blocks, detailed timings after them."""
    b = bytearray(128)
    vics = rnd.sample(sorted(CTA_ROWS), 14)
    video = bytes(v | (0x80 if v <= 64 and rnd.random() < 0.1 else 0) for v in vics)
    body = bytes([2 << 5 | len(video)]) + video + bytes([0x67, 3, 12, 0, 0x10, 0, 0x38, 0x78])
    body += bytes([0x67, 0xD8, 0x5D, 0xC4, 1, 0x78, 0x80, 0x03])
    b[0], b[1], b[2], b[3] = 2, 3, 4 + len(body), 0x70 | rnd.randrange(3)
    b[4 : 4 + len(body)] = body
    at = 4 + len(body)
    while at + 18 <= 127 and rnd.random() < 0.8:
        b[at : at + 18] = _row(timing_of(rnd))
        at += 18
    return sealed(b)


def first_family(t: Timing) -> bytes:
    """Type I and VII: a clock in steps, then words less one."""
    words = [
        t.h_active,
        t.h_blank,
        t.h_front,
        t.h_sync,
        t.v_active,
        t.v_front + t.v_sync + t.v_back,
        t.v_front,
        t.v_sync,
    ]
    signs = {2: t.h_sync_positive, 6: t.v_sync_positive}
    return b"\x84" + b"".join((w - 1 | 0x8000 * signs.get(n, False)).to_bytes(2, "little") for n, w in enumerate(words))


def _block(rnd: random.Random, tag: int) -> tuple[int, bytes]:
    """A DisplayID data block of a kind: its revision, its bytes."""
    t = timing_of(rnd)
    if tag in (0x03, 0x22):
        step = 10_000 if tag == 0x03 else 1000
        return 0, (t.pixel_clock_hz // step - 1).to_bytes(3, "little") + first_family(t)
    if tag == 0x04:
        across, down = rnd.randrange(60, 400), rnd.randrange(400, 2000)
        row = [rnd.randrange(256), rnd.randrange(100), rnd.choice((0x00, 0x80, 0x8C, 0x04, 0x08)), across & 255,
               across >> 8 | rnd.randrange(20, 60) << 1, rnd.randrange(256), down & 255, down >> 8,
               rnd.randrange(40, 99), rnd.randrange(256)]  # fmt: skip
        return 0, bytes([rnd.randrange(256), *row])
    if tag == 0x05:
        shape, kind = rnd.randrange(1, 8), rnd.randrange(2)
        return 0, bytes([kind << 4 | shape, rnd.randrange(80, 255), rnd.choice((49, 59, 74, 84))])
    if tag in (0x06, 0x23):
        kind = rnd.randrange(3)
        codes = (sorted(DMT_IDS), sorted(CTA_ROWS), [1, 2, 3, 4])[kind]
        return kind << 6, bytes(rnd.sample([c for c in codes if c < 256], 3))
    if tag == 0x07:
        return 0, bytes(rnd.randrange(256) & rnd.randrange(256) & rnd.randrange(256) for _ in range(10))
    if tag == 0x08:
        return 0, bytes(rnd.randrange(256) & rnd.randrange(256) & rnd.randrange(256) for _ in range(8))
    if tag == 0x81:
        return 0, bytes([2 << 5 | 5, *rnd.sample([v for v in CTA_ROWS if v < 128], 5)])
    size = rnd.choice(SIZES)
    words = b"".join((n - 1).to_bytes(2, "little") for n in size)
    hz = rnd.choice((59, 74, 99, 119, 143))
    first = bytes([0x80, 0]) if tag == 0x11 else bytes([rnd.randrange(3)])
    return 0, first + words + bytes([hz])


def displayid(rnd: random.Random, version: int) -> bytes:
    """A DisplayID extension with a few blocks of its version."""
    tags = (0x03, 0x04, 0x05, 0x06, 0x07, 0x08, 0x11, 0x81) if version == 1 else (0x22, 0x23, 0x24, 0x81)
    body = b""
    for tag in rnd.sample(tags, 3):
        revision, data = _block(rnd, tag)
        body += bytes([tag, revision, len(data)]) + data
    b = bytearray(128)
    b[:5] = 0x70, 0x12 if version == 1 else 0x20, 121, 3, 0
    b[5 : 5 + len(body)] = body
    b[126] = -sum(b[1:126]) % 256
    return sealed(b)


def corpus(count: int) -> Iterator[bytes]:
    for seed in range(count):
        rnd = random.Random(f"edid {seed}")
        more = [cta(rnd) for _ in range(rnd.choice((0, 1, 1)))]
        more += [displayid(rnd, rnd.choice((1, 1, 2))) for _ in range(rnd.choice((0, 1)))]
        yield base(rnd, len(more)) + b"".join(more)


def listed_by_the_reference(tool: str, data: bytes) -> set[tuple[int, int, bool, float]]:
    """Width, height, interlaced and clock in MHz of every timing edid-decode names."""
    done = subprocess.run([tool, "-s"], input=data, capture_output=True, check=False)
    text = done.stdout.decode("utf-8", "replace")
    return {(int(w), int(h), i == "i", round(float(mhz), 3)) for w, h, i, _, mhz in LISTED.findall(text)}
