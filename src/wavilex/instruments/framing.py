"""Lines with a sum: `TEXT*HH`, HH the exclusive-or of TEXT's bytes in two upper-case hex digits; LF ends it.

Every protocol of ours is made of these.
"""

from __future__ import annotations

from functools import reduce
from operator import xor

LONGEST_LINE = 200


def checksum(text: str) -> str:
    return f"{reduce(xor, text.encode('ascii', 'replace'), 0):02X}"


def encode(text: str) -> bytes:
    """A line to send."""
    clean = "".join(c if " " <= c <= "~" and c != "*" else "?" for c in text)[: LONGEST_LINE - 4]
    return f"{clean}*{checksum(clean)}\n".encode("ascii")


def body(line: bytes) -> str | None:
    """The text of a received line, or None when it is damaged."""
    text = line.decode("ascii", "replace").strip()
    content, star, sum_ = text.rpartition("*")
    return content if star and sum_ == checksum(content) and len(text) <= LONGEST_LINE else None
