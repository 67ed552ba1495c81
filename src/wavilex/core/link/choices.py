"""What may be chosen for a link: certifications, makes, rates, sounds, encodings, each with its name."""

from __future__ import annotations

from wavilex.core.link.cable import BUILDS, GRADES, POWERS
from wavilex.core.link.compression import slice_choices
from wavilex.core.link.dp_rates import DP_RATES, dvi_words
from wavilex.core.link.rates import FRL_RATES, ceiling_text
from wavilex.core.link.scratch import column_data
from wavilex.core.link.shapes import ChoiceOut, ChoicesOut
from wavilex.core.video.audio import usual_audio

_TMDS_MHZ = (165, 225, 300, 340, 600)  # the ceilings met in practice; any whole number of MHz may be typed


def rate_choices() -> list[ChoiceOut]:
    """Link rates as `parse_over` reads them, each kind’s slowest first."""
    tmds: list[ChoiceOut] = [{"id": f"tmds:{mhz}", "name": ceiling_text(mhz * 1_000_000, None)} for mhz in _TMDS_MHZ]
    frl: list[ChoiceOut] = [{"id": f"frl:{r.code}", "name": ceiling_text(None, r)} for r in FRL_RATES]
    dp: list[ChoiceOut] = [{"id": f"dp:{r.code}", "name": f"DisplayPort, {r.words}"} for r in DP_RATES]
    usbc: list[ChoiceOut] = [{"id": f"usbc:{r.code}", "name": f"USB-C, {r.words}"} for r in DP_RATES if r.lanes > 1]
    dvi: list[ChoiceOut] = [{"id": f"dvi:{code}", "name": dvi_words(n)} for code, n in (("single", 1), ("dual", 2))]
    return tmds + frl + dp + usbc + dvi


def link_choices() -> ChoicesOut:
    """Every list, by what is chosen."""
    return {
        "grades": [{"id": g.code, "name": g.name} for g in GRADES.values()],
        "builds": _named(BUILDS),
        "powers": _named(POWERS),
        "rates": rate_choices(),
        "audio": _named(usual_audio()),
        "encodings": [{"id": e, "name": name} for e, name in _encodings().items()],
        "slices": _named(slice_choices()),
        "derived": _named({"": "as it is", **{f"+fva{n}": f"vertical active {n} times as fast" for n in (2, 3, 4)}}),
    }


def _encodings() -> dict[str, str]:
    """By the table's columns: RGB and 4:4:4 weigh the same."""
    return {column["encoding"]: column["name"] for column in column_data()}


def _named(words: dict[str, str]) -> list[ChoiceOut]:
    return [{"id": key, "name": name} for key, name in words.items()]
