"""How a device stands: its profile, overlaid with facts learned on site, narrowed by its settings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from wavilex.core.gear.profile import Condition, Port, Profile, Quirk, Video
from wavilex.core.link.dsc import DscSink, common_dsc
from wavilex.core.link.rates import NO_FRL, NO_SCRAMBLING_HZ, FrlRate, frl_rate

FIELDS = ("tmds", "frl", "modes", "modes_420", "encodings", "hdr", "vrr", "low_latency", "dsc", "scdc")
_PASSED_ON = tuple(f for f in FIELDS if f not in ("tmds", "frl", "scdc"))  # rates belong to each link alone
ANY = "any"
ENCODING_NAMES = ("rgb", "444", "422", "420")


@dataclass(frozen=True, slots=True)
class Origin:
    """Where a figure comes from: the port itself, a fact learned here, or a quirk and the setting behind it."""

    kind: str  # port, fact, quirk
    provenance: str
    quirk: str = ""
    because: str = ""
    settings: tuple[tuple[str, str, str], ...] = ()  # (scope port or "", setting id, its value)


@dataclass(frozen=True, slots=True)
class PortState:
    """What a port carries now. None is unknown. `origins` says, field by field, what settled it.

    encodings maps `rgb`, `444`, `422`, `420` to depths in bits; vrr is a window in Hz, True or False;
    dsc is what is decoded, True (sent or passed) or False.
    """

    port: Port
    tmds_hz: int | None
    frl: FrlRate | None
    modes: tuple[str, ...] | str | None
    modes_420: tuple[str, ...] | str | None
    encodings: Mapping[str, tuple[int, ...]] | None
    hdr: tuple[str, ...] | None
    vrr: tuple[int, int] | bool | None
    low_latency: bool | None
    dsc: DscSink | bool | None
    scdc: bool | None
    origins: Mapping[str, Origin]


@dataclass(frozen=True, slots=True)
class FactValue:
    """A thing learned on site about a port's field."""

    value: Any
    provenance: str


SettingOf = Callable[[str, str], str | None]  # (scope port id or "", setting id) → value; None: not known


def resolve(profile: Profile, facts: Mapping[str, FactValue], setting_of: SettingOf) -> dict[str, PortState]:
    """Every port's state, by port id.

    Facts are keyed `ports.<port>.<field>` with Video's field names; they replace the profile's figure.
    Quirks narrow what is left, in any order with the same result.
    """
    return {p.id: _port_state(profile, p, facts, setting_of) for p in profile.ports}


def _port_state(profile: Profile, port: Port, facts: Mapping[str, FactValue], setting_of: SettingOf) -> PortState:
    fields: dict[str, Any] = {}
    origins: dict[str, Origin] = {}
    for name in FIELDS:
        key = "tmds_mhz" if name == "tmds" else name
        fact = facts.get(f"ports.{port.id}.{key}")
        if fact is not None:
            value: Any = Video.model_validate({key: fact.value}).__getattribute__(key)
            origins[name] = Origin("fact", fact.provenance)
        else:
            value = getattr(port.video, key)
            if value is None:
                value = getattr(profile.video, key)
            origins[name] = Origin("port", port.source)
        fields[name] = _inner(name, value)
    for quirk in profile.quirks:
        if quirk.ports and port.id not in quirk.ports:
            continue
        scoped = _scopes(profile, port, quirk.when)
        if scoped is None:
            continue
        known = {s: setting_of(scope, s) for s, scope in scoped.items()}
        held = holds(quirk.when, known)
        if held is False:
            continue
        values = tuple((scoped[s], s, known[s] or "") for s in sorted(scoped))
        origin = Origin("quirk", quirk.source, quirk.id, quirk.because, values)
        _narrow(fields, origins, quirk, origin, certain=held is True)
    if fields["scdc"] is False:
        _without_scdc(fields, origins)
    return PortState(
        port=port,
        tmds_hz=fields["tmds"],
        frl=fields["frl"],
        modes=fields["modes"],
        modes_420=fields["modes_420"],
        encodings=fields["encodings"],
        hdr=fields["hdr"],
        vrr=fields["vrr"],
        low_latency=fields["low_latency"],
        dsc=fields["dsc"],
        scdc=fields["scdc"],
        origins=origins,
    )


def _without_scdc(fields: dict[str, Any], origins: dict[str, Origin]) -> None:
    """No control channel: no scrambling above 340 MHz and no FRL training, whatever else is declared."""
    rule = Origin("rule", "document", because="without its control channel (SCDC) HDMI stops at 340 MHz")
    for name, most in (("tmds", NO_SCRAMBLING_HZ), ("frl", NO_FRL)):
        if fields[name] is None or fields[name] > most:
            fields[name], origins[name] = narrowed(name, fields[name], most), rule


def _scopes(profile: Profile, port: Port, when: Condition) -> dict[str, str] | None:
    """For each setting of a condition the scope it is read in at this port; None when it has none here."""
    scopes = {}
    for name in when.settings():
        setting = profile.setting(name)
        if setting is None or (setting.ports and port.id not in setting.ports):
            return None
        scopes[name] = port.id if setting.ports else ""
    return scopes


def holds(when: Condition, value_of: Mapping[str, str | None]) -> bool | None:
    """Does the condition hold? None when it turns on a setting whose value is not known."""
    if when.setting is not None:
        value = value_of[when.setting]
        if value is None:
            return None
        return value in (when.in_ if when.in_ is not None else (when.is_,))
    if when.not_ is not None:
        inner = holds(when.not_, value_of)
        return None if inner is None else not inner
    parts = [holds(c, value_of) for c in when.all or when.any or ()]
    decisive = when.all is None  # one true settles `any`, one false settles `all`
    if decisive in parts:
        return decisive
    return None if None in parts else not decisive


def _inner(name: str, value: Any) -> Any:
    if value is None:
        return None
    if name == "tmds":
        return value * 1_000_000
    if name == "frl":
        return frl_rate(value)
    if name == "encodings":
        return {e: value.depths(e) for e in ENCODING_NAMES}
    if name == "dsc" and not isinstance(value, bool):
        return value.sink()
    return value


def _narrow(fields: dict[str, Any], origins: dict[str, Origin], quirk: Quirk, origin: Origin, *, certain: bool) -> None:
    """Apply a quirk's limits; one that only may apply leaves what it would change unknown."""
    for name in FIELDS:
        limit = _inner(name, getattr(quirk.limits, "tmds_mhz" if name == "tmds" else name))
        if limit is None:
            continue
        before = fields[name]
        after = narrowed(name, before, limit)
        if after != before:
            fields[name], origins[name] = (after if certain else None), origin


def narrowed(name: str, before: Any, limit: Any) -> Any:
    """The tighter of two values of a field. Unknown narrowed by a known limit is that limit."""
    if before is None:
        return limit
    if name in ("tmds", "frl"):
        return min(before, limit)
    if name in ("modes", "modes_420"):
        if limit == ANY:
            return before
        return limit if before == ANY else tuple(m for m in before if m in limit)
    if name == "encodings":
        return {e: tuple(b for b in before[e] if b in limit[e]) for e in ENCODING_NAMES}
    if name == "hdr":
        return tuple(h for h in before if h in limit)
    if name == "vrr":
        return _narrow_vrr(before, limit)
    if name == "dsc":
        return common_dsc(before, limit)
    return before and limit


def _narrow_vrr(a: tuple[int, int] | bool, b: tuple[int, int] | bool) -> tuple[int, int] | bool:
    if a is False or b is False:
        return False
    if a is True or b is True:
        return b if a is True else a
    low, high = max(a[0], b[0]), min(a[1], b[1])
    return (low, high) if low < high else False


def through(own: PortState, beyond: PortState) -> PortState:
    """What an input offers upstream when the device passes on what lies beyond it.

    Rates stay the input's own (the next link is judged by itself); everything else is narrowed
    by what lies beyond, and keeps the origin of whatever settled it.
    """
    values: dict[str, Any] = {}
    origins = dict(own.origins)
    for name in _PASSED_ON:
        mine, far = getattr(own, name), getattr(beyond, name)
        value = None if mine is None or far is None else narrowed(name, mine, far)
        if name in ("modes", "modes_420", "encodings") and mine is None:
            value = far  # a box that says nothing of modes passes them
        values[name] = value
        if value != mine:
            origins[name] = beyond.origins[name]
    return replace(own, origins=origins, **values)
