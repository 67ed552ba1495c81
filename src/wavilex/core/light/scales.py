"""A transfer function as a table and a curve: code value, percent of signal, cd/m², with the levels of both ends."""

from __future__ import annotations

from typing import Literal, get_args

from wavilex.core.light.codes import Mismatch, code_of, ends, mismatch
from wavilex.core.light.shapes import ScaleOut, ScaleRow
from wavilex.core.light.transfer import Transfer, bt1886_light, hlg_light, power_light, pq_light

Document = Literal["pq", "hlg", "bt1886", "power"]
DOCUMENTS: dict[Document, str] = {
    "pq": "PQ (SMPTE ST 2084)", "hlg": "HLG (ITU-R BT.2100)", "bt1886": "ITU-R BT.1886", "power": "power law 2.2",
}  # fmt: skip
assert set(DOCUMENTS) == set(get_args(Document))
_STEPS = 40


def transfer(document: Document, white: float, black: float) -> Transfer:
    """Signal to light; white, black of the screen in cd/m², which PQ does not ask."""
    if document == "pq":
        return pq_light
    if document == "hlg":
        return lambda s: hlg_light(s, white, black)
    if document == "bt1886":
        return lambda s: bt1886_light(s, white, black)
    return lambda s: power_light(s, white, 2.2, black)


def _figures(m: Mismatch) -> str:
    black, white = (f"{100 * float(v):.1f}".replace("-", "−") for v in (m.black, m.white))
    lost = f"{m.lost_low} codes of 8 bits below and {m.lost_high} above are lost" if m.lost_low else "no code is lost"
    return f"black at {black} %, white at {white} % of signal; {lost}"


def scale_data(document: Document, bits: int, white: float, black: float) -> ScaleOut:
    """Rows at equal steps of signal. Raises ValueError for bits or lights that are none."""
    light = transfer(document, white, black)
    rows: list[ScaleRow] = []
    for n in range(_STEPS + 1):
        signal = n / _STEPS
        rows.append({
            "limited": code_of(signal, bits, "limited"), "full": code_of(signal, bits, "full"),
            "percent": 100 * signal, "light": light(signal),
        })  # fmt: skip
    low, high = ends(bits, "limited")
    off = (mismatch("full", "limited"), mismatch("limited", "full"))
    return {
        "document": DOCUMENTS[document], "bits": bits, "limited_black": low, "limited_white": high,
        "full_black": 0, "full_white": ends(bits, "full")[1],
        "rows": rows, "mismatches": [
            {"source": m.source, "screen": m.screen, "looks": m.looks, "cure": m.cure,
             "figures": _figures(m)}
            for m in off if m is not None
        ],
    }  # fmt: skip
