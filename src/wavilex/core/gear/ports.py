"""A device's sockets and what each carries. Left out is unknown; `none`, `false` or `[]` is a known absence."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, model_validator

from wavilex.core.errors import WavilexError
from wavilex.core.fields import Ident, Model, Provenance
from wavilex.core.link.dsc import DscSink, slice_code
from wavilex.core.link.rates import FRL_CODES, TMDS_MAX_MHZ, frl_rate
from wavilex.core.scan.described import Scan, Takes
from wavilex.core.video.codes import listed_timing

HdrKind = Literal["static", "hlg", "dynamic"]
Frl = Literal["none", "3x3", "3x6", "4x6", "4x8", "4x10", "4x12", "4x16", "4x20", "4x24"]
assert set(Frl.__args__) == set(FRL_CODES)  # type: ignore[attr-defined]
Depths = tuple[Literal[8, 10, 12, 16], ...]
Tmds = Annotated[int, Field(ge=25, le=TMDS_MAX_MHZ, strict=True)]
Protection = Literal["none", "1.4", "2.2", "2.3"]
PortKind = Literal["hdmi", "analogue", "audio", "power"]
Return = Literal["arc", "earc"]
# best first; bitstream: lossless, up to about 37 Mb/s. object: the newer lossy format that carries object sound
SOUND_FORMATS = ("bitstream", "pcm8", "object", "lossy5", "pcm2")
SoundFormat = Literal["bitstream", "pcm8", "object", "lossy5", "pcm2"]
CONNECTORS = {
    "hdmi": ("hdmi",),
    "analogue": ("composite", "s_video", "scart", "component", "vga"),
    "audio": ("optical", "coaxial", "jack", "phono", "usb", "wireless"),
    "power": ("usb", "barrel"),
}


class Encodings(Model):
    """Depths in bits per component, by encoding. A left-out encoding is known to be absent."""

    rgb: Depths = ()
    yuv444: Depths = Field(default=(), alias="444")
    yuv422: Depths = Field(default=(), alias="422")
    yuv420: Depths = Field(default=(), alias="420")

    def depths(self, encoding: str) -> tuple[int, ...]:
        return {"rgb": self.rgb, "444": self.yuv444, "422": self.yuv422, "420": self.yuv420}[encoding]


def _keys_to_text(value: object) -> object:
    """YAML reads `444:` as a number; encodings are named by text."""
    return {str(k): v for k, v in value.items()} if isinstance(value, dict) else value


class Dsc(Model):
    """Compressed transport (VESA DSC over FRL) as a sink declares it.

    frl: the fastest step it takes compressed, left out: its FRL rate. slices: the most a line is cut into,
    each to slice_mhz. chunk_kib: the field that bounds the bytes of a line, 0: not declared.
    all_bpp: any bits a pixel; else 12 at most. bits: depths taken compressed.
    """

    frl: Frl | None = None
    slices: Literal[1, 2, 4, 8, 12, 16] = 8
    slice_mhz: Literal[340, 400] = 340
    chunk_kib: Annotated[int, Field(ge=0, le=63, strict=True)] = 0
    all_bpp: bool = False
    bits: Depths = (8, 10, 12)

    @model_validator(mode="after")
    def _declared_pair(self) -> Dsc:
        if slice_code(self.slices, self.slice_mhz) is None:
            raise ValueError(f"dsc: no sink can declare {self.slices} slices of {self.slice_mhz} MHz")
        return self

    def sink(self) -> DscSink:
        """As the link rules take it."""
        return DscSink(
            slice_code(self.slices, self.slice_mhz) or 0, self.chunk_kib, self.all_bpp,
            frl_rate(self.frl) if self.frl else None, tuple(self.bits),
        )  # fmt: skip


VrrKind = Literal["hdmi", "vendor"]
VrrWindow = tuple[Annotated[int, Field(ge=1, le=1000)], Annotated[int, Field(ge=1, le=1000)]]


class Video(Model):
    """What a port sends, passes or accepts. Every field may be unknown (left out).

    tmds_mhz: TMDS ceiling; 0 or 345–600 in steps of 5 where the newer block declares it.
    modes: timing addresses (`vic:118`, usual for a screen), modes (`3840x2160@120`, usual for a source), or `any`.
    modes_420: the same, of what is accepted in 4:2:0.
    vrr: a window in Hz for a screen; true or false for what only sends or passes it.
    vrr_kinds: HDMI’s own, or a vendor’s adaptive sync; left out: not known, taken as HDMI’s.
    low_latency: the automatic low-latency mode signal.
    dsc: for a screen what it decodes; true or false for what only sends or passes compressed pictures.
    scdc: the control channel that scrambling above 340 MHz and FRL need.
    hdcp: the copy-protection version; encrypts: a source that protects everything, games too.
    """

    tmds_mhz: Tmds | None = None
    frl: Frl | None = None
    modes: Literal["any"] | tuple[str, ...] | None = None
    modes_420: Literal["any"] | tuple[str, ...] | None = None
    encodings: Annotated[Encodings, BeforeValidator(_keys_to_text)] | None = None
    hdr: tuple[HdrKind, ...] | None = None
    vrr: VrrWindow | bool | None = None
    vrr_kinds: tuple[VrrKind, ...] | None = None
    low_latency: bool | None = None
    dsc: Dsc | bool | None = None
    scdc: bool | None = None
    hdcp: Protection | None = None
    encrypts: bool | None = None

    @model_validator(mode="after")
    def _addresses(self) -> Video:
        for field in ("modes", "modes_420"):
            for text in getattr(self, field) or ():
                if getattr(self, field) == "any":
                    break
                try:
                    listed_timing(text)
                except WavilexError as error:
                    raise ValueError(f"{field}: {error}") from None
        if isinstance(self.vrr, tuple) and self.vrr[0] >= self.vrr[1]:
            raise ValueError("vrr: the window's lower end must be under its upper end")
        return self


class Port(Model):
    """One socket. `note` is shown beside it (`front`).

    sends, takes: of an analogue socket, the signals it sends (the usual one first) and the scan rates it takes.
    kind: what its leads carry; connector: their plug, for all but HDMI.
    sound: formats it carries, best first; left out: whatever the kind can. returns: sound comes back over this
    HDMI socket (at a screen's input, it sends; at a bar's or receiver's output, it takes).
    """

    id: Ident
    label: Annotated[str, Field(min_length=1, max_length=40)]
    direction: Literal["in", "out"]
    note: Annotated[str, Field(max_length=60)] = ""
    kind: PortKind = "hdmi"
    connector: Annotated[str, Field(max_length=20)] = ""
    sound: tuple[SoundFormat, ...] | None = None
    returns: Return | None = None
    sends: tuple[Scan, ...] = ()
    takes: tuple[Takes, ...] | None = None
    video: Video = Video()
    source: Provenance = "makers_claim"

    @model_validator(mode="after")
    def _plug(self) -> Port:
        allowed = CONNECTORS[self.kind]
        if self.kind != "hdmi" and self.connector not in allowed:
            raise ValueError(f"connector: a socket of kind {self.kind} has {', '.join(allowed)}")
        if self.kind == "hdmi" and self.connector not in ("", "hdmi"):
            raise ValueError("connector: an HDMI socket needs none")
        if (self.sends or self.takes) and self.kind != "analogue":
            raise ValueError("sends and takes are of analogue sockets only")
        if self.returns and self.kind != "hdmi":
            raise ValueError("returns: sound comes back over HDMI sockets only")
        return self

    @property
    def shows_picture(self) -> bool:
        return self.kind in ("hdmi", "analogue")

    @property
    def plug(self) -> str:
        """What fits it."""
        return self.connector or "hdmi"
