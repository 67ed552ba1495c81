"""What an EDID holds, as frozen values. Nothing here knows bytes; unknown blocks are kept byte for byte."""

from __future__ import annotations

from dataclasses import dataclass, field

from wavilex.core.errors import WavilexError
from wavilex.core.video.timing import Timing


class EdidError(WavilexError):
    """Bytes that are no EDID at all."""

    code = "no_edid"


@dataclass(frozen=True, slots=True)
class Finding:
    """A departure from the standards. severity: failure or warning."""

    code: str
    where: str
    severity: str
    text: str


@dataclass(frozen=True, slots=True)
class Audio:
    """A short audio descriptor. format: lpcm, ac3, eac3, … or `code N` for those with a trade name only; rates in Hz.

    detail: bits per sample for lpcm (16, 20, 24), else the descriptor's third byte.
    """

    format: str
    channels: int
    rates_hz: tuple[int, ...]
    detail: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class HdmiBlock:
    """The older HDMI block (00-0C-03). tmds_mhz None: not declared. Latencies in ms; None unknown."""

    physical_address: tuple[int, int, int, int]
    deep_bits: tuple[int, ...] = ()
    deep_444: bool = False
    ai: bool = False
    tmds_mhz: int | None = None
    hdmi_vics: tuple[int, ...] = ()
    game_content: bool = False
    video_latency_ms: int | None = None
    audio_latency_ms: int | None = None
    interlaced_video_latency_ms: int | None = None
    interlaced_audio_latency_ms: int | None = None


@dataclass(frozen=True, slots=True)
class ForumBlock:
    """The HDMI Forum block (C4-5D-D8, or the same fields in block 0x79). frl_code above 6: newer than 48 Gb/s.

    vrr_max_hz None: not stated. bits_420: depths over 8 allowed in 4:2:0.
    """

    tmds_mhz: int | None = None
    scdc: bool = False
    read_request: bool = False
    scramble_low: bool = False
    frl_code: int = 0
    bits_420: tuple[int, ...] = ()
    allm: bool = False
    fva: bool = False
    qms: bool = False
    vrr_min_hz: int | None = None
    vrr_max_hz: int | None = None
    dsc: bool = False
    dsc_native_420: bool = False
    dsc_all_bpp: bool = False
    dsc_bits: tuple[int, ...] = ()
    dsc_frl_code: int = 0
    dsc_slice_code: int = 0
    dsc_chunk_kib: int = 0


@dataclass(frozen=True, slots=True)
class Hdr:
    """Static-metadata HDR. Luminance in cd/m²; None: not stated."""

    eotf: tuple[str, ...]
    max_cd_m2: float | None = None
    frame_average_cd_m2: float | None = None
    min_cd_m2: float | None = None


@dataclass(frozen=True, slots=True)
class Range:
    """A variable-refresh window in Hz, and who declares it: hdmi, vendor, displayid, or limits (the base block’s)."""

    kind: str
    min_hz: int
    max_hz: int | None


@dataclass(frozen=True, slots=True)
class Tiles:
    """A display made of tiles: how many across and down, and the pixels of the one behind this socket."""

    across: int
    down: int
    width: int
    height: int


@dataclass(frozen=True, slots=True)
class Base:
    """The base block. minor: of its version, 1.minor."""

    maker: str
    product: int
    serial: int
    week: int
    year: int
    digital: bool
    bits: int | None
    interface: int
    width_cm: int
    height_cm: int
    name: str | None = None
    serial_text: str | None = None
    range_v_hz: tuple[int, int] | None = None
    range_h_khz: tuple[int, int] | None = None
    range_clock_mhz: int | None = None
    detailed: tuple[Timing, ...] = ()
    listed: tuple[Timing, ...] = ()  # established and standard timings, CVT codes
    unknown: tuple[bytes, ...] = ()
    minor: int = 4
    native_first: bool = False  # the first detailed timing is the native one
    yuv444: bool = False
    yuv422: bool = False
    continuous: bool = False  # it takes any rate within its range limits


@dataclass(frozen=True, slots=True)
class Cta:
    """The CTA-861 extension, blocks gathered. native_detailed: how many of the first detailed timings are native."""

    revision: int
    underscan: bool
    basic_audio: bool
    yuv444: bool
    yuv422: bool
    native_detailed: int = 0
    vics: tuple[tuple[int, bool], ...] = ()
    vics_420_only: tuple[int, ...] = ()
    map_420: bytes | None = None
    audio: tuple[Audio, ...] = ()
    speakers: int | None = None
    hdmi: HdmiBlock | None = None
    forum: ForumBlock | None = None
    vendor_vrr: Range | None = None
    hdr: Hdr | None = None
    dynamic_hdr: bool = False  # a block of a kind of dynamic-metadata HDR is there
    colorimetry: int | None = None
    video_capability: int | None = None
    preference: tuple[int, ...] = ()
    detailed: tuple[Timing, ...] = ()
    formats: tuple[Timing, ...] = ()  # by resolution code and rate, or listed by DMT code
    formats_420: tuple[str, ...] = ()
    extension_count: int | None = None
    unknown: tuple[bytes, ...] = ()


@dataclass(frozen=True)
class Edid:
    """A whole EDID, decoded: fields and findings. `ok` says whether nothing failed."""

    base: Base
    cta: Cta | None
    displayid_timings: tuple[Timing, ...] = ()
    displayid_range: Range | None = None
    unknown: tuple[bytes, ...] = ()
    findings: tuple[Finding, ...] = field(default=())
    displayid_v_hz: tuple[int, int] | None = None
    tiles: Tiles | None = None

    @property
    def ok(self) -> bool:
        return not any(f.severity == "failure" for f in self.findings)
