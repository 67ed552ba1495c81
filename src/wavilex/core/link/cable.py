"""What a lead carries by its certification, and how long one may be in practice."""

from __future__ import annotations

from dataclasses import dataclass

from wavilex.core.link.rates import FRL_RATES, NO_FRL, FrlRate, frl_rate


@dataclass(frozen=True, slots=True)
class Grade:
    """A certification. Ceilings are None when the lead's certification is not known.

    Source: HDMI cable categories 1 to 4; value from memory. Leads below category 3 are counted as
    carrying no FRL: nobody certifies them for it.
    """

    code: str
    name: str
    tmds_hz: int | None
    frl: FrlRate | None


GRADES: dict[str, Grade] = {
    g.code: g
    for g in (
        Grade("standard", "Standard", 74_250_000, NO_FRL),
        Grade("high_speed", "High Speed", 340_000_000, NO_FRL),
        Grade("premium", "Premium High Speed", 600_000_000, NO_FRL),
        Grade("ultra", "Ultra High Speed", 600_000_000, frl_rate("4x12")),
        Grade("ultra96", "Ultra96", 600_000_000, FRL_RATES[-1]),
        Grade("unknown", "not certified", None, None),
    )
}
GRADE_ORDER = tuple(GRADES)


def practice_length_mm(tmds: bool, rate_mhz_or_gbps: int) -> int:
    """Longest passive copper lead that people trust at a rate, in mm. Common practice.

    For TMDS the rate is the character rate in MHz, for FRL the total in Gb/s.
    """
    if tmds:
        return 10_000 if rate_mhz_or_gbps <= 340 else 5_000
    return 5_000 if rate_mhz_or_gbps <= 18 else 3_000
