"""Conditions of quirks: three-valued statements about settings, the signal, what is plugged in; no expressions."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated

from pydantic import Field, model_validator

from wavilex.core.fields import Ident, Model, Version, version_key
from wavilex.core.gear.ports import HdrKind
from wavilex.core.video.mode import Mode


class SignalTest(Model):
    """A statement about the signal in question; all given parts must hold. Rates in Hz, sizes in lines."""

    min_hz: Annotated[int, Field(ge=1, le=1000)] | None = None
    max_hz: Annotated[int, Field(ge=1, le=1000)] | None = None
    min_lines: Annotated[int, Field(ge=1, le=20000)] | None = None
    max_lines: Annotated[int, Field(ge=1, le=20000)] | None = None
    modes: tuple[Mode, ...] = ()
    hdr: bool | HdrKind | None = None
    vrr: bool | None = None

    @model_validator(mode="after")
    def _says_something(self) -> SignalTest:
        if not self.model_fields_set:
            raise ValueError("signal: say at least one of min_hz, max_hz, min_lines, max_lines, modes, hdr, vrr")
        return self


class Connected(Model):
    """What is plugged into a socket: `kind` of box, or `kind: nothing`. `port` left out: the socket in question."""

    port: Ident | None = None
    kind: tuple[str, ...]


class Firmware(Model):
    """A range of firmware versions: from one on, below another."""

    from_: Version | None = Field(default=None, alias="from")
    below: Version | None = None

    @model_validator(mode="after")
    def _a_range(self) -> Firmware:
        if self.from_ is None and self.below is None:
            raise ValueError("firmware: give from, below or both")
        return self

    def holds(self, version: str) -> bool | None:
        """Is a version in the range? None when it is not known or cannot be compared."""
        key = version_key(version) if version else None
        if key is None:
            return None
        low = version_key(self.from_) if self.from_ else None
        high = version_key(self.below) if self.below else None
        return (low is None or key >= low) and (high is None or key < high)


class Condition(Model):
    """Exactly one form is given: a setting's value, the signal, what is connected, which input is shown, whether the
    socket in question is (`shown`), all, any, not.
    """

    setting: Ident | None = None
    is_: Ident | None = Field(default=None, alias="is")
    in_: tuple[Ident, ...] | None = Field(default=None, alias="in")
    signal: SignalTest | None = None
    connected: Connected | None = None
    input: Ident | None = None
    shown: bool | None = None
    all: tuple[Condition, ...] | None = None
    any: tuple[Condition, ...] | None = None
    not_: Condition | None = Field(default=None, alias="not")

    @model_validator(mode="after")
    def _one_form(self) -> Condition:
        forms = (self.setting, self.signal, self.connected, self.input, self.shown, self.all, self.any, self.not_)
        if sum(f is not None for f in forms) != 1:
            raise ValueError("give exactly one of setting, signal, connected, input, shown, all, any, not")
        if (self.setting is not None) != ((self.is_ is None) != (self.in_ is None)):
            raise ValueError("a setting needs exactly one of is, in")
        return self

    def walk(self) -> Iterator[Condition]:
        """The condition and all inside it."""
        yield self
        for inner in (*(self.all or ()), *(self.any or ()), *((self.not_,) if self.not_ else ())):
            yield from inner.walk()

    def settings(self) -> set[str]:
        """Every setting the condition looks at."""
        return {c.setting for c in self.walk() if c.setting}

    @property
    def asks_signal(self) -> bool:
        return any(c.signal is not None for c in self.walk())

    @property
    def asks_wiring(self) -> bool:
        """Does it look at what is plugged in, or at which input is shown?"""
        return any(c.connected is not None or c.input is not None or c.shown is not None for c in self.walk())


@dataclass(frozen=True, slots=True)
class SignalFacts:
    """What conditions may ask of the signal in question. hdr: off, static, hlg or dynamic."""

    mode: Mode
    hdr: str = "off"
    vrr: bool = False


@dataclass(frozen=True)
class Surroundings:
    """What a device's conditions are held against, besides its settings.

    plugged: port id to the kind of box at the lead's other end, "" for nothing; missing: not known.
    signal None: no signal is in question, and what depends on one is left open.
    """

    firmware: str = ""
    plugged: Mapping[str, str] = field(default_factory=dict)
    shown_input: str | None = None
    signal: SignalFacts | None = None


NOWHERE = Surroundings()
ValueOf = Callable[[str], str | None]


def holds(when: Condition, value_of: ValueOf, around: Surroundings = NOWHERE, port: str = "") -> bool | None:
    """Does the condition hold at a port? None when it turns on something not known."""
    if when.setting is not None:
        value = value_of(when.setting)
        return None if value is None else value in (when.in_ if when.in_ is not None else (when.is_,))
    if when.signal is not None:
        return None if around.signal is None else _signal_holds(when.signal, around.signal)
    if when.connected is not None:
        kind = around.plugged.get(when.connected.port or port)
        return None if kind is None else (kind or "nothing") in when.connected.kind
    if when.input is not None:
        return None if around.shown_input is None else around.shown_input == when.input
    if when.shown is not None:
        return None if around.shown_input is None else (around.shown_input == port) == when.shown
    if when.not_ is not None:
        inner = holds(when.not_, value_of, around, port)
        return None if inner is None else not inner
    parts = [holds(c, value_of, around, port) for c in when.all or when.any or ()]
    decisive = when.all is None  # one true settles `any`, one false settles `all`
    if decisive in parts:
        return decisive
    return None if None in parts else not decisive


def _signal_holds(test: SignalTest, s: SignalFacts) -> bool:
    hdr = test.hdr is None or (s.hdr != "off") == test.hdr if isinstance(test.hdr, bool | None) else s.hdr == test.hdr
    return (
        (test.min_hz is None or s.mode.hz >= test.min_hz)
        and (test.max_hz is None or s.mode.hz <= test.max_hz)
        and (test.min_lines is None or s.mode.height >= test.min_lines)
        and (test.max_lines is None or s.mode.height <= test.max_lines)
        and (not test.modes or s.mode in test.modes)
        and hdr
        and (test.vrr is None or s.vrr == test.vrr)
    )
