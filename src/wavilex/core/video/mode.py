"""A mode: what people call a picture's size and rate. Parsed once, carried as a value that is still its own text."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from wavilex.core.errors import TimingError

if TYPE_CHECKING:
    from pydantic_core.core_schema import CoreSchema

_MODE = re.compile(r"(\d{2,5})x(\d{2,5})@(\d{1,3})$", re.ASCII)
_LONGEST = 24


class Mode(str):
    """`3840x2160@120`, `1920x1080i@60`: pixels, lines of a frame, nominal Hz. Equal to its text, and kept as it."""

    __slots__ = ("height", "hz", "interlaced", "width")
    width: int
    height: int
    hz: int
    interlaced: bool

    def __new__(cls, width: int, height: int, hz: int, interlaced: bool = False) -> Mode:
        mode = super().__new__(cls, f"{width}x{height}{'i' if interlaced else ''}@{hz}")
        mode.width, mode.height, mode.hz, mode.interlaced = width, height, hz, interlaced
        return mode

    def __getnewargs__(self) -> tuple[int, int, int, bool]:  # type: ignore[override]  # a str's are its text
        return self.width, self.height, self.hz, self.interlaced

    @property
    def size(self) -> tuple[int, int]:
        return self.width, self.height

    @property
    def size_name(self) -> str:
        """`3840×2160`."""
        return f"{self.width}×{self.height}"

    @property
    def figures(self) -> tuple[int, int, int]:
        return self.width, self.height, self.hz

    @property
    def name(self) -> str:
        """`2160p120`; widths that are not 16:9 are written out (`4096×2160p60`)."""
        short = f"{self.height}{'i' if self.interlaced else 'p'}{self.hz}"
        return short if self.width * 9 == self.height * 16 else f"{self.width}×{short}"

    @classmethod
    def __get_pydantic_core_schema__(cls, _source: Any, _handler: Any) -> CoreSchema:
        """In a profile: text in the file, parsed as it is read, text again when it is written."""
        from pydantic_core import core_schema

        return core_schema.no_info_after_validator_function(
            _of_a_file,
            core_schema.str_schema(max_length=_LONGEST),
            serialization=core_schema.plain_serializer_function_ser_schema(
                _to_a_file, return_schema=core_schema.str_schema()
            ),
        )


def _of_a_file(text: str) -> Mode:
    try:
        return parse_mode(text)
    except TimingError as error:
        raise ValueError(error.message) from None


def _to_a_file(mode: Mode) -> str:
    if not isinstance(mode, Mode):
        from pydantic_core import PydanticSerializationUnexpectedValue

        raise PydanticSerializationUnexpectedValue  # one of several: not this one
    return str(mode)


@lru_cache(maxsize=4096)
def parse_mode(text: str) -> Mode:
    """A progressive mode from its text. Raises TimingError."""
    m = _MODE.match(text)
    if not m:
        raise TimingError(f"{text!r} is no mode; write 3840x2160@120", where="")
    return Mode(int(m[1]), int(m[2]), int(m[3]))
