"""Bytes of an EDID from what people have: a binary file, hex digits in any layout."""

from __future__ import annotations

import re

from wavilex.core.edid.base import HEADER
from wavilex.core.edid.model import EdidError

_LABEL = re.compile(r"^\s*(?:0x)?[0-9a-fA-F]{2,8}\s*[:|]\s*", re.ASCII)
_HEX = re.compile(r"(?:0x)?([0-9a-fA-F]{2})", re.ASCII)


def bytes_of(data: bytes) -> bytes:
    """Binary as it is; text as hex digits, with or without 0x, commas, offsets before a colon.

    Raises EdidError when the text holds no EDID.
    """
    if data[:8] == HEADER:
        return data
    try:
        text = data.decode("ascii")
    except UnicodeDecodeError:
        return data  # binary that is no EDID: decoding says so
    lines = [_LABEL.sub("", line) for line in text.splitlines()]
    found = bytes(int(h, 16) for line in lines for h in _HEX.findall(line))
    start = found.find(HEADER)
    if start < 0:
        raise EdidError("no EDID header in these hex digits: 00 FF FF FF FF FF FF 00 is missing")
    return found[start:]
