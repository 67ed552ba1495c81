"""What an EDID teaches an input, as types."""

from __future__ import annotations

from typing_extensions import TypedDict

from wavilex.core.edid.report import ReportSection
from wavilex.core.gear.shapes import DiffersOut
from wavilex.core.rig.ops import ChromaWish, HdrWish, Op


class TaughtRow(TypedDict):
    field: str
    before: str
    after: str


class Taught(TypedDict):
    """What reading the EDID at the input would change; `ops` are the changes to send.

    report: all that the EDID says, in words. `says_input` is the input its physical address names, which may be
    another than the one asked about.
    """

    name: str
    report: list[ReportSection]
    findings: list[str]
    rows: list[TaughtRow]
    ops: list[Op]
    cannot_tell: list[str]
    says_input: str | None


class CableOut(TypedDict):
    """What is known of a lead; length_mm, proved, failed null: not known."""

    grade: str
    length_mm: int | None
    build: str
    power: str
    turned: bool
    proved: str | None
    failed: str | None


class TitleModeOut(TypedDict):
    """One of a title's modes; lines: what it renders, null: not known."""

    fps: int
    name: str
    lines: int | None


class InsertOut(TypedDict):
    """A box that could go into a lead, and the changes that put it there."""

    device: str
    label: str
    ops: list[Op]


class ExchangeOut(TypedDict):
    """The changes that put another box in a box's place. loose: leads that find no socket at it."""

    ops: list[Op]
    loose: list[str]


class TitleOut(TypedDict):
    """hdr null: not known. style: this title's own answers to the house style's questions."""

    uid: str
    name: str
    modes: list[TitleModeOut]
    competitive: bool
    hdr: bool | None
    style: dict[str, str]


class WantOut(TypedDict):
    mode: str
    hdr: HdrWish
    chroma: ChromaWish
    bits: int
    vrr: bool
    low_lag: bool
    audio: str
    protected: bool
    weight: int


class LitOut(TypedDict):
    """A socket that a step, a way or a swap is about."""

    device: str
    port: str


class LearnedOut(TypedDict):
    """Something a job knows of a box that its shelf entry does not; before: what that says now, "" where nothing."""

    path: str
    words: str
    before: str
    source: str


class RenewOut(TypedDict):
    """What another version of a box's profile takes: changes, what differs, and values it no longer knows."""

    ops: list[Op]
    differs: list[DiffersOut]
    lost: list[str]
