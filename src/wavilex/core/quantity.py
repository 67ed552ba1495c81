"""A figure with its unit, rounded only when shown."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction


@dataclass(frozen=True, slots=True)
class Quantity:
    """A figure with its unit. `over` marks the one that breaks the rule, `digits` is for display only.

    `working` is how it comes about with the numbers in place (`4400 ÷ (1188 MHz × 1.005)`).
    """

    name: str
    value: Fraction | int | str
    unit: str = ""
    over: bool = False
    digits: int = 1
    working: str = ""

    def text(self) -> str:
        """Rounded for showing: the only place where a figure is rounded."""
        if isinstance(self.value, str):
            body = self.value
        elif isinstance(self.value, int):
            body = str(self.value)
        else:
            body = f"{float(self.value):.{self.digits}f}"
        return f"{body} {self.unit}".strip().replace("-", "−")
