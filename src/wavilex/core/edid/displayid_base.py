"""A DisplayID structure that stands by itself, in the place of a base block: what the screen is, in its own words.

Source: VESA DisplayID 1.3 and 2.0; value from memory. No program at hand reads one: its sections are held against the
reference wrapped in an extension block.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from wavilex.core.edid.model import Base

_PRODUCT_1, _PARAMETERS_1, _INTERFACE_1, _PRODUCT_2, _INTERFACE_2 = 0x00, 0x01, 0x0F, 0x20, 0x26
_PARAMETERS_2 = 0x21
_HEAD_BYTES, _MOST_SECTIONS = 4, 8
# interface types of version 1.x as the base block's byte 20 counts them: DVI, HDMI, MDDI, DisplayPort
_KINDS_1 = {4: 1, 6: 1, 7: 2, 8: 4, 9: 5}
_DISPLAYPORT = 5
_BITS = (6, 8, 10, 12, 14, 16)


@dataclass(frozen=True, slots=True)
class Alone:
    """A structure by itself: its sections as extension blocks have them, and what stands in for a base block."""

    sections: tuple[bytes, ...]
    base: Base


def stands_alone(data: bytes) -> bool:
    """Are these bytes a DisplayID structure: a version, a size that fits, and a sum of nothing?"""
    return bool(_sections(data))


def read_alone(data: bytes) -> Alone:
    """Take a structure apart. `stands_alone` holds."""
    sections = _sections(data)
    blocks = [x for section in sections for x in _blocks(section)]
    return Alone(tuple(b"\x70" + section for section in sections), _base(data[0] >> 4, blocks))


def _sections(data: bytes) -> list[bytes]:
    found: list[bytes] = []
    at = 0
    while at + _HEAD_BYTES < len(data) and len(found) < _MOST_SECTIONS:
        end = at + _HEAD_BYTES + data[at + 1] + 1
        section = bytes(data[at:end])
        if data[at] >> 4 not in (1, 2) or end > len(data) or not data[at + 1] or sum(section) % 256:
            break
        found.append(section)
        if len(found) > found[0][3]:  # the first says how many follow
            break
        at = end
    return found


def _blocks(section: bytes) -> Iterator[tuple[int, bytes]]:
    at, end = _HEAD_BYTES, len(section) - 1
    while at + 3 <= end and (section[at] or section[at + 2]):
        yield section[at], section[at + 3 : at + 3 + section[at + 2]]
        at += 3 + section[at + 2]


def _base(version: int, blocks: list[tuple[int, bytes]]) -> Base:
    """What a base block would say. Of version 2 the maker is a number, and the interface is DisplayPort's own."""
    first = dict(reversed(blocks))
    product = first.get(_PRODUCT_1 if version == 1 else _PRODUCT_2, b"").ljust(12, b"\0")
    size = first.get(_PARAMETERS_1 if version == 1 else _PARAMETERS_2, b"").ljust(4, b"\0")
    interface, depths = 0, first.get(_INTERFACE_2, b"\0\0\0")
    if version == 1 and _INTERFACE_1 in first:
        d = first[_INTERFACE_1].ljust(3, b"\0")
        interface, depths = _KINDS_1.get(d[0] >> 4, 0), d[2:3] + b"\0\0"
    elif version == 2:
        interface = _DISPLAYPORT
    letters = product[:3].decode("ascii", "replace") if version == 1 else product[:3].hex()
    name = product[12 : 12 + product[11]].split(b"\0")[0].decode("latin-1").rstrip()
    known = [b for n, b in enumerate(_BITS) if depths[0] >> n & 1]
    return Base(
        maker=letters if letters.isalnum() else "",
        product=int.from_bytes(product[3:5], "little"),
        serial=int.from_bytes(product[5:9], "little"),
        week=product[9],
        year=2000 + product[10],
        digital=True,
        bits=max(known, default=None),
        interface=interface,
        width_cm=round(int.from_bytes(size[0:2], "little") / 100),
        height_cm=round(int.from_bytes(size[2:4], "little") / 100),
        name=name or None,
        yuv444=len(depths) > 1 and bool(depths[1]),
        yuv422=len(depths) > 2 and bool(depths[2]),
    )
