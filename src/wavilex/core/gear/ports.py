"""A device's sockets and what each carries. Left out is unknown; `none`, `false` or `[]` is a known absence."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import BeforeValidator, Field, model_validator

from wavilex.core.errors import WavilexError
from wavilex.core.fields import Ident, Model, Provenance
from wavilex.core.link.cable import DIGITAL
from wavilex.core.link.dp_rates import DP_CODES
from wavilex.core.link.dsc import DscSink, slice_code, widest_code
from wavilex.core.link.rates import FRL_CODES, TMDS_MAX_MHZ, TMDS_MIN_MHZ, frl_rate
from wavilex.core.scan.described import Scan, Takes
from wavilex.core.video.codes import listed_timing

HdrKind = Literal["static", "hlg", "dynamic"]
Frl = Literal["none", "3x3", "3x6", "4x6", "4x8", "4x10", "4x12", "4x16", "4x20", "4x24"]
assert set(Frl.__args__) == set(FRL_CODES)  # type: ignore[attr-defined]
Dp = Literal[
    "none", "1xrbr", "1xhbr", "2xrbr", "1xhbr2", "2xhbr", "4xrbr", "1xhbr3", "2xhbr2", "4xhbr", "1xuhbr10", "2xhbr3",
    "1xuhbr13.5", "4xhbr2", "1xuhbr20", "2xuhbr10", "4xhbr3", "2xuhbr13.5", "2xuhbr20", "4xuhbr10", "4xuhbr13.5",
    "4xuhbr20",
]  # fmt: skip
assert set(Dp.__args__) == set(DP_CODES)  # type: ignore[attr-defined]
Depths = tuple[Literal[8, 10, 12, 16], ...]
Tmds = Annotated[int, Field(ge=0, le=TMDS_MAX_MHZ, strict=True)]
Protection = Literal["none", "1.4", "2.2", "2.3"]
PortKind = Literal["hdmi", "dp", "usbc", "dvi", "analogue", "audio", "power"]
Return = Literal["arc", "earc"]
# best first; bitstream: lossless, up to about 37 Mb/s. object: the newer lossy format that carries object sound
SOUND_FORMATS = ("bitstream", "pcm8", "object", "lossy5", "pcm2")
SoundFormat = Literal["bitstream", "pcm8", "object", "lossy5", "pcm2"]
CONNECTORS = {
    "hdmi": ("hdmi",),
    "dp": ("dp",),
    "usbc": ("usbc",),
    "dvi": ("dvi",),
    "analogue": ("composite", "s_video", "scart", "component", "vga"),
    "audio": ("optical", "coaxial", "jack", "phono", "usb", "wireless"),
    "power": ("usb", "barrel"),
}


# which sockets the far end of a lead goes into, by the socket its sending end is in: a lead has one kind or the other
FAR_ENDS: dict[str, tuple[str, ...]] = {"hdmi": ("hdmi", "dvi"), "dvi": ("dvi", "hdmi"), "usbc": ("usbc", "dp")}


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
    """Compressed transport (VESA DSC over FRL or DisplayPort) as a sink declares it.

    frl: the fastest step it takes compressed, left out: its FRL rate. slices: the most a line is cut into,
    each to slice_mhz; formats: encodings it decodes. chunk_kib: the field that bounds the bytes of a line, 0: not
    declared. all_bpp: any bits a pixel; else 12 at most. bits: depths taken compressed.
    """

    frl: Frl | None = None
    slices: Literal[1, 2, 4, 8, 10, 12, 16, 20, 24] = 8
    slice_mhz: Annotated[int, Field(ge=340, le=1000, strict=True)] = 340
    chunk_kib: Annotated[int, Field(ge=0, le=63, strict=True)] = 0
    all_bpp: bool = False
    bits: Depths = (8, 10, 12)
    formats: tuple[Literal["rgb", "444", "422", "420"], ...] = ("rgb", "444", "422", "420")

    @property
    def on_hdmi(self) -> bool:
        """Can it be declared at an HDMI socket?"""
        return slice_code(self.slices, self.slice_mhz) is not None

    def sink(self) -> DscSink:
        """As the link rules take it."""
        return DscSink(
            slice_code(self.slices, self.slice_mhz) or widest_code((self.slices, self.slice_mhz)), self.chunk_kib,
            self.all_bpp, frl_rate(self.frl) if self.frl else None, tuple(self.bits), formats=self.formats,
            dp_cut=None if self.on_hdmi else (self.slices, self.slice_mhz),
        )  # fmt: skip


VrrKind = Literal["hdmi", "vendor", "dp"]
VRR_KINDS: tuple[VrrKind, ...] = get_args(VrrKind)
VrrWindow = tuple[Annotated[int, Field(ge=1, le=1000)], Annotated[int, Field(ge=1, le=1000)]]


class Video(Model):
    """What a port sends, passes or accepts. Every field may be unknown (left out).

    tmds_mhz: TMDS ceiling; of a DisplayPort or USB-C output what it sends through a passive adapter, 0: nothing.
    dp: DisplayPort lanes and their rate (`4xhbr3`).
    modes: timing addresses (`vic:118`, usual for a screen), modes (`3840x2160@120`, usual for a source), or `any`.
    modes_420: the same, of what is accepted in 4:2:0.
    vrr: a window in Hz for a screen; true or false for what only sends or passes it.
    vrr_kinds: HDMI’s own, or a vendor’s adaptive sync; left out: not known, taken as HDMI’s. DisplayPort has its own.
    low_latency: the automatic low-latency mode signal.
    dsc: for a screen what it decodes; true or false for what only sends or passes compressed pictures.
    scdc: the control channel that scrambling above 340 MHz and FRL need.
    hdcp: the copy-protection version; encrypts: a source that protects everything, games too.
    """

    tmds_mhz: Tmds | None = None
    frl: Frl | None = None
    dp: Dp | None = None
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
        if self.tmds_mhz is not None and 0 < self.tmds_mhz < TMDS_MIN_MHZ:
            raise ValueError(f"tmds_mhz: {TMDS_MIN_MHZ} to {TMDS_MAX_MHZ}, or 0 for none")
        if isinstance(self.vrr, tuple) and self.vrr[0] >= self.vrr[1]:
            raise ValueError("vrr: the window's lower end must be under its upper end")
        return self

    def holds_on_hdmi(self, where: str) -> None:
        """Raises ValueError where this cannot be said of an HDMI socket."""
        if self.tmds_mhz == 0:
            raise ValueError(f"{where}.tmds_mhz: an HDMI socket has TMDS")
        if isinstance(self.dsc, Dsc) and not self.dsc.on_hdmi:
            raise ValueError(
                f"{where}.dsc: no HDMI socket can declare {self.dsc.slices} slices of {self.dsc.slice_mhz} MHz"
            )


class Port(Model):
    """One socket. `note` is shown beside it (`front`).

    sends, takes: of an analogue socket, the signals it sends (the usual one first) and the scan rates it takes.
    kind: what its leads carry; connector: their plug, of sound, power and analogue sockets.
    links: TMDS links of a DVI socket, one or two. decodes: an input that ends compression, as a converter’s does.
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
    links: Literal[1, 2] | None = None
    decodes: bool = False
    sends: tuple[Scan, ...] = ()
    takes: tuple[Takes, ...] | None = None
    video: Video = Video()
    source: Provenance = "makers_claim"

    @model_validator(mode="after")
    def _plug(self) -> Port:
        allowed = CONNECTORS[self.kind]
        if not self.digital and self.connector not in allowed:
            raise ValueError(f"connector: a socket of kind {self.kind} has {', '.join(allowed)}")
        if self.digital and self.connector not in ("", *allowed):
            raise ValueError("connector: a digital picture’s socket needs none")
        if (self.links is not None) != (self.kind == "dvi"):
            raise ValueError("links: a DVI socket has 1 or 2, any other socket none")
        if self.kind == "hdmi":
            self.video.holds_on_hdmi("video")
        if (self.sends or self.takes) and self.kind != "analogue":
            raise ValueError("sends and takes are of analogue sockets only")
        if self.returns and self.kind != "hdmi":
            raise ValueError("returns: sound comes back over HDMI sockets only")
        return self

    @property
    def shows_picture(self) -> bool:
        return self.digital or self.kind == "analogue"

    @property
    def digital(self) -> bool:
        """Does a digital picture pass it, judged by rate?"""
        return self.kind in DIGITAL

    @property
    def plug(self) -> str:
        """What fits it."""
        return self.connector or self.kind

    def joins(self, other: Port) -> bool:
        """Is there a lead from this output into that input, with no box between?"""
        if not self.digital:
            return self.kind == other.kind and self.plug == other.plug
        return other.kind in FAR_ENDS.get(self.kind, (self.kind,))
