"""What may be chosen for a link: certifications, makes, rates, sounds, encodings, each with its name."""

from __future__ import annotations

from wavilex.core.link.cable import BUILDS, GRADES, GRADES_OF, POWERS
from wavilex.core.link.compression import slice_choices
from wavilex.core.link.dp_rates import DP_RATES, dvi_words
from wavilex.core.link.rates import FRL_RATES, ceiling_text
from wavilex.core.link.scratch import column_data
from wavilex.core.link.shapes import ChoiceOut, ChoicesOut, KindChoice
from wavilex.core.video.audio import usual_audio

_TMDS_MHZ = (165, 225, 300, 340, 600)  # the ceilings met in practice; any whole number of MHz may be typed


def rate_choices() -> list[KindChoice]:
    """Link rates as `parse_over` reads them, each kind’s slowest first."""
    names = {f"tmds:{mhz}": ceiling_text(mhz * 1_000_000, None) for mhz in _TMDS_MHZ}
    names |= {f"frl:{r.code}": ceiling_text(None, r) for r in FRL_RATES}
    names |= {f"dp:{r.code}": f"DisplayPort, {r.words}" for r in DP_RATES}
    names |= {f"usbc:{r.code}": f"USB-C, {r.words}" for r in DP_RATES if r.lanes > 1}
    names |= {f"dvi:{code}": dvi_words(links) for code, links in (("single", 1), ("dual", 2))}
    return [{"id": over, "name": name, "kinds": _kinds(over)} for over, name in names.items()]


def _kinds(over: str) -> list[str]:
    """Leads that a rate is told of: HDMI ones carry TMDS into DVI too, USB-C ones end in DisplayPort."""
    way = over.partition(":")[0]
    return {"tmds": ["hdmi", "dvi"], "frl": ["hdmi"], "dp": ["dp", "usbc"]}.get(way, [way])


def _grades() -> list[KindChoice]:
    of = {g.code: [kind for kind, order in GRADES_OF.items() if g.code in order] for g in GRADES.values()}
    return [{"id": g.code, "name": g.name, "kinds": of[g.code] or list(GRADES_OF)} for g in GRADES.values()]


def link_choices() -> ChoicesOut:
    """Every list, by what is chosen."""
    return {
        "grades": _grades(),
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
