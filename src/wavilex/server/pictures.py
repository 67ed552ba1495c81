"""Addresses as pictures that a camera reads."""

from __future__ import annotations

import io

import segno
from typing_extensions import TypedDict


class PhoneOut(TypedDict):
    """Where a phone in the house opens this page; "" where the server is this machine's own. fingerprint: of the
    certificate, SHA-256.
    """

    address: str
    qr_svg: str
    fingerprint: str


def qr_svg(text: str) -> str:
    """A text as a QR code in SVG."""
    out = io.BytesIO()
    segno.make(text, error="m").save(out, kind="svg", border=2, xmldecl=False, svgns=True, nl=False)
    return out.getvalue().decode()
