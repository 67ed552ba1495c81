"""Questions that need no job: a scratch link, and what proves a rate."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Field, Query, Router, Schema

from wavilex.core.link.cable import Cable
from wavilex.core.link.choices import link_choices
from wavilex.core.link.proof import conclude, proof_steps
from wavilex.core.link.rates import frl_rate
from wavilex.core.link.scratch import LinkQuestion, compare_links, scratch_link
from wavilex.core.link.shapes import ChoicesOut, ComparedOut, ProofOut, ProofStep, ScratchOut
from wavilex.server.schemas import ProblemOut

router = Router()
READ = {401: ProblemOut, 422: ProblemOut}
WRITE = {**READ, **dict.fromkeys((400, 403, 413), ProblemOut)}


class ScratchIn(Schema):
    """Ends as `frl:4x10`, `tmds:600`, `dp:4xhbr3`, `usbc:2xhbr3` or `dvi:dual`; timing as any
    address; the lead by print, make and proof.

    compression: `none`, `allowed`, or what both ends do: `8x340` (slices × MHz), then `,all` (any bits a pixel),
    `,chunk:11` (1024 × 12 bytes a line at most), `,frl:4x10` (the fastest step taken compressed).
    """

    out: str = Field(default="frl:4x12", max_length=20)
    inp: str = Field(default="frl:4x10", max_length=20)
    grade: str = Field(default="ultra", max_length=20)
    length_mm: int | None = Field(default=None, gt=0, le=200_000)
    build: str = Field(default="unknown", max_length=20)
    power: str = Field(default="port", max_length=20)
    turned: bool = False
    proved: str | None = Field(default=None, max_length=20)
    failed: str | None = Field(default=None, max_length=20)
    timing: str = Field(default="vic:118", max_length=200)
    encoding: str = Field(default="rgb", max_length=4)
    bits: int = Field(default=10, ge=8, le=16)
    audio: str = Field(default="2ch", max_length=20)
    compression: str = Field(default="none", max_length=60)

    def question(self) -> LinkQuestion:
        cable = Cable(
            self.grade, self.length_mm, self.build, self.power, self.turned, self.proved or None, self.failed or None
        )
        return LinkQuestion(
            self.out, self.inp, cable, self.timing, self.encoding, self.bits, self.audio, self.compression
        )


@router.get("/scratch/link", operation_id="scratchLink", response={200: ScratchOut, **READ})
def scratch(request: HttpRequest, ask: Query[ScratchIn]) -> ScratchOut:
    """A link without a job: the verdict on one signal, its sums, and what else the link carries."""
    return scratch_link(ask.question())


class TwoLinks(Schema):
    a: ScratchIn
    b: ScratchIn


@router.post("/scratch/compare", operation_id="compareLinks", response={200: ComparedOut, **WRITE})
def compare(request: HttpRequest, payload: TwoLinks) -> ComparedOut:
    """Two links side by side, differences first. Stores nothing."""
    return compare_links(payload.a.question(), payload.b.question())


@router.get("/scratch/choices", operation_id="linkChoices", response={200: ChoicesOut, **READ})
def choices(request: HttpRequest) -> ChoicesOut:
    """What may be chosen for a link, each with its name."""
    return link_choices()


@router.get("/scratch/proof", operation_id="proof", response={200: ProofOut, **READ})
def proof(
    request: HttpRequest, stuck: Query[str] = "", fell: Query[str] = "", compression_off: bool = False
) -> ProofOut:
    """Which mode proves which rate, and what the outcomes so far prove (rates as `4x10,4x8`)."""
    outcomes = {frl_rate(c): True for c in stuck.split(",") if c} | {frl_rate(c): False for c in fell.split(",") if c}
    told = conclude(outcomes, compression_off=compression_off)
    steps: list[ProofStep] = [
        {"rate": s.rate.code, "rate_name": s.rate.name, "signal": s.signal.name, "timing": s.timing}
        for s in proof_steps()
    ]
    return {"steps": steps, "sentence": told.sentence, "determined": told.determined}
