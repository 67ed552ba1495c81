"""A source's HDR set-up pages that count: from a count of clicks to cd/m² and back, as a profile tells it.

The person clicks until a pattern just vanishes. Count 0 is the page's lowest step.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from wavilex.core.fields import Ident, Model, Provenance

PageOf = Literal["peak", "full", "black"]
MOST_CLICKS = 400
_Light = Annotated[float, Field(ge=0, le=20_000)]


class HdrPage(Model):
    """sets: what is found on it: the peak of a small patch, the light of a full picture, or black.

    steps: cd/m² of every count from 0. Or first, step and most: the light of count 0, what a click adds, and the last
    count; scale `pq`: first and step are PQ signals in ten-thousandths, so that a click is an equal step to the eye.
    None of these: nobody knows its steps yet. number: how its number is shown, where it is hidden.
    """

    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=60)]
    sets: PageOf
    steps: Annotated[tuple[_Light, ...], Field(max_length=MOST_CLICKS + 1)] = ()
    first: _Light | None = None
    step: Annotated[float, Field(gt=0, le=10_000)] | None = None
    most: Annotated[int, Field(ge=1, le=MOST_CLICKS)] | None = None
    scale: Literal["light", "pq"] = "light"
    number: Annotated[str, Field(max_length=160)] = ""
    source: Provenance = "common_practice"

    @model_validator(mode="after")
    def _one_way(self) -> HdrPage:
        given = [x is not None for x in (self.first, self.step, self.most)]
        if any(given) and not all(given):
            raise ValueError("first, step and most go together")
        if self.steps and all(given):
            raise ValueError("give steps, or first, step and most, not both")
        if len(self.steps) == 1 or any(b <= a for a, b in zip(self.steps, self.steps[1:], strict=False)):
            raise ValueError("steps: two or more, each brighter than the one before")
        if self.scale == "pq" and self.first is not None:
            assert self.step is not None
            assert self.most is not None
            if self.first + self.step * self.most > 10_000:
                raise ValueError("most: a PQ signal ends at 10 000 ten-thousandths")
        return self

    @property
    def known(self) -> bool:
        """Does anybody know its steps?"""
        return bool(self.steps) or self.first is not None
