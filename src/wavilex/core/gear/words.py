"""Conditions and quirks in words: why a setting is greyed out, and what frees it."""

from __future__ import annotations

from wavilex.core.gear.cells import RANGES, StoredBy, read_scope, said_by
from wavilex.core.gear.conditions import Condition, SignalTest
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import Excludes, OfSetting, Requires
from wavilex.core.gear.shapes import StandingKind, StandingOut
from wavilex.core.gear.stand import Standing

_IN_WORDS: tuple[StoredBy, ...] = ("input", "range", "mode", "resolution", "rate")  # the order people say it in


def condition_words(profile: Profile, when: Condition) -> str:
    """A condition as part of a sentence: `Game mode at on`, `the signal is faster than 60 Hz`."""
    if when.setting is not None:
        setting = profile.setting(when.setting)
        options = when.in_ if when.in_ is not None else (when.is_ or "",)
        names = [setting.option_label(o) if setting else o for o in options]
        return f"{setting.label if setting else when.setting} at {' or '.join(names)}"
    if when.signal is not None:
        return _signal_words(when.signal)
    if when.connected is not None:
        port = profile.port(when.connected.port) if when.connected.port else None
        what = " or ".join("nothing" if k == "nothing" else f"a {k}" for k in when.connected.kind)
        return f"{what} plugged in{f' at {port.label}' if port else ''}"
    if when.input is not None:
        port = profile.port(when.input)
        return f"{port.label if port else when.input} shown"
    if when.shown is not None:
        return "this input shown" if when.shown else "another input shown"
    if when.not_ is not None:
        return f"not {condition_words(profile, when.not_)}"
    joint = " and " if when.all is not None else " or "
    return joint.join(condition_words(profile, c) for c in when.all or when.any or ())


def _signal_words(test: SignalTest) -> str:
    parts = []
    if test.min_hz:
        parts.append(f"{test.min_hz} Hz or more")
    if test.max_hz:
        parts.append(f"{test.max_hz} Hz at most")
    if test.min_lines:
        parts.append(f"{test.min_lines} lines or more")
    if test.max_lines:
        parts.append(f"{test.max_lines} lines at most")
    if test.modes:
        parts.append(" or ".join(m.name for m in test.modes))
    if test.hdr is not None:
        parts.append({True: "HDR", False: "no HDR", "static": "static HDR", "hlg": "HLG"}.get(test.hdr, "dynamic HDR"))
    if test.vrr is not None:
        parts.append("variable refresh" if test.vrr else "no variable refresh")
    return f"a signal of {', '.join(parts)}"


def cell_words(profile: Profile, scope: str) -> str:
    """A cell in words: `HDMI 1, HDR, film dark`; "" for the whole box."""
    return ", ".join(value_words(profile, d, read_scope(scope).value(d)) for d in _IN_WORDS if d in said_by(scope))


def value_words(profile: Profile, dimension: StoredBy, value: str) -> str:
    """One thing a cell is told apart by, in words: `HDMI 1`, `HDR`, `3840×2160`."""
    if dimension == "input":
        port = profile.port(value)
        return port.label if port else value
    if dimension == "range":
        return RANGES.get(value, value)
    if dimension == "mode":
        return profile.preset.option_label(value) if profile.preset is not None else value
    return value.replace("x", "×") if dimension == "resolution" else f"{value} Hz"


def standing_data(profile: Profile, now: Standing) -> StandingOut:
    """What a device does to a setting: how it stands, why, what frees it, and which options are barred."""
    quirk: OfSetting | None = now.greyed or now.forced or now.inert
    kind: StandingKind = (
        "cycle" if now.cycle else "greyed" if now.greyed else "forced" if now.forced else "inert" if now.inert else ""
    )
    return {
        "standing": kind,
        "because": quirk.because if quirk else "the device’s own rules chase each other here" if now.cycle else "",
        "frees": frees_words(profile, quirk) if quirk else "",
        "barred": [{"option": o, "because": f"{q.because}; {frees_words(profile, q)}"} for o, q in now.barred],
    }


def frees_words(profile: Profile, quirk: OfSetting) -> str:
    """What ends a rule on a setting: `not while Special mode at sports`."""
    words = condition_words(profile, quirk.when)
    if isinstance(quirk, Requires):
        return f"needs {words}"
    return f"not while {words}" if isinstance(quirk, Excludes) else f"while {words}"
