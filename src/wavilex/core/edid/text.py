"""Bytes of an EDID from what people have: a binary file, hex digits as programs print them, with other text around."""

from __future__ import annotations

import re

from wavilex.core.edid.base import HEADER
from wavilex.core.edid.displayid_base import stands_alone
from wavilex.core.edid.model import EdidError

_BLOCK = 128
_TOKEN = re.compile(r"(?:0x)?((?:[0-9a-fA-F]{2})+)", re.ASCII)
# the signs of a line printed beside its bytes: between bars, or behind a gap
_SIGNS = (re.compile(r"\s*[|>].*$", re.ASCII), re.compile(r"\s\s+\S.*$", re.ASCII))
_OFFSET = re.compile(r"^\s*(?:0x)?[0-9a-fA-F]{2,8}\s*[:|]\s*|^\s*[0-9a-fA-F]{6,8}\s+(?=[0-9a-fA-F]{2,4}\b)", re.ASCII)
_EXTENSIONS_AT, _CTA_TAG, _OVERRIDE_TAG = 126, 2, (0xE2, 0x78)


def bytes_of(data: bytes) -> bytes:
    """Binary as it is; text as hex digits: in rows with or without offsets and signs beside them, with 0x and commas.

    Lines that hold anything else are passed over. The EDID ends where its own count of blocks ends it.
    Raises EdidError when the text holds no EDID, or less than it declares.
    """
    if data[:8] == HEADER or stands_alone(data):
        return data
    try:
        text = data.decode("ascii")
    except UnicodeDecodeError:
        return data  # binary that is no EDID: decoding says so
    found = b"".join(_row(line) for line in text.splitlines())
    start = found.find(HEADER)
    if start < 0 and stands_alone(found):
        return found
    if start < 0:
        raise EdidError("no EDID header in these hex digits: 00 FF FF FF FF FF FF 00 is missing")
    found = found[start:]
    if len(found) < _BLOCK:
        raise EdidError(f"an EDID has at least 128 bytes; after its header {len(found)} are here")
    whole = _BLOCK * (1 + _extensions(found))
    if len(found) < whole:
        raise EdidError(f"it declares {whole} bytes, and {len(found)} are here: copy all of it")
    return found[:whole]


def _row(line: str) -> bytes:
    """The bytes of a line; none of one that is no row of hex digits."""
    plain = _OFFSET.sub("", line, count=1).strip()
    for text in (plain, *(signs.sub("", plain) for signs in _SIGNS)):
        tokens = re.split(r"[\s,;]+", text.strip(",; {}")) if text else []
        if tokens and all(_TOKEN.fullmatch(t) for t in tokens):
            return bytes.fromhex("".join(t.lower().removeprefix("0x") for t in tokens))
    return b""


def _extensions(found: bytes) -> int:
    """How many blocks follow the first: by its count, or the override that HDMI 2.1 puts first in the CTA block."""
    second = found[_BLOCK : _BLOCK + 7]
    if len(second) == 7 and second[0] == _CTA_TAG and tuple(second[4:6]) == _OVERRIDE_TAG:
        return second[6]
    return found[_EXTENSIONS_AT]
