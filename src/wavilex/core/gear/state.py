"""How a device stands: its profile, overlaid with facts learned on site, narrowed by its settings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from wavilex.core.gear.conditions import NOWHERE, Condition, Surroundings, holds
from wavilex.core.gear.origin import Origin
from wavilex.core.gear.ports import Port, Video
from wavilex.core.gear.profile import Profile
from wavilex.core.gear.quirks import Limits
from wavilex.core.gear.setting import Setting
from wavilex.core.gear.socket_kinds import family, usual_of
from wavilex.core.gear.stand import Place, Standing, scope_at, stand_in, value_at
from wavilex.core.link.check import End
from wavilex.core.link.dp_rates import DpRate, dp_rate, lesser
from wavilex.core.link.dsc import DscSink, common_dsc
from wavilex.core.link.rates import NO_FRL, NO_SCRAMBLING_HZ, FrlRate, frl_rate
from wavilex.core.video.codes import names_mode, parse_timing
from wavilex.core.video.mode import parse_mode

FIELDS = (
    "tmds",
    "frl",
    "dp",
    "modes",
    "modes_420",
    "encodings",
    "hdr",
    "vrr",
    "vrr_kinds",
    "low_latency",
    "dsc",
    "scdc",
    "hdcp",
    "encrypts",
)
_PASSED_ON = tuple(
    f for f in FIELDS if f not in ("tmds", "frl", "dp", "scdc", "encrypts")
)  # rates belong to each link alone
ANY = "any"
ENCODING_NAMES = ("rgb", "444", "422", "420")
PROTECTIONS = ("none", "1.4", "2.2", "2.3")  # copy-protection versions, the least first


@dataclass(frozen=True, slots=True)
class PortState:
    """What a port carries now. None is unknown. `origins` says, field by field, what settled it.

    encodings maps `rgb`, `444`, `422`, `420` to depths in bits; vrr is a window in Hz, True or False;
    dsc is what is decoded, True (sent or passed) or False.
    """

    port: Port
    tmds_hz: int | None
    frl: FrlRate | None
    dp: DpRate | None
    modes: tuple[str, ...] | str | None
    modes_420: tuple[str, ...] | str | None
    encodings: Mapping[str, tuple[int, ...]] | None
    hdr: tuple[str, ...] | None
    vrr: tuple[int, int] | bool | None
    vrr_kinds: tuple[str, ...] | None
    low_latency: bool | None
    dsc: DscSink | bool | None
    scdc: bool | None
    hdcp: str | None
    encrypts: bool | None
    origins: Mapping[str, Origin]

    @property
    def end(self) -> End:
        """This socket as one end of a link."""
        return End(self.tmds_hz, self.frl, self.dp, self.port.links or 0)


@dataclass(frozen=True, slots=True)
class FactValue:
    """A thing learned on site about a port's field."""

    value: Any
    provenance: str


SettingOf = Callable[[str, str], str | None]  # (scope, setting id) → value; None: not known


def resolve(
    profile: Profile, facts: Mapping[str, FactValue], setting_of: SettingOf, around: Surroundings = NOWHERE
) -> dict[str, PortState]:
    """Every port's state, by port id.

    Facts are keyed `ports.<port>.<field>` with Video's field names; they replace the profile's figure.
    Quirks narrow what is left, in any order with the same result. Without a signal in question, what depends
    on one is left as it is: `around.signal` says which.
    """
    standing = stand_in(profile, setting_of, around)
    return {p.id: _port_state(profile, p, facts, standing, around) for p in profile.ports}


def _port_state(
    profile: Profile, port: Port, facts: Mapping[str, FactValue], standing: Mapping[Place, Standing],
    around: Surroundings,
) -> PortState:  # fmt: skip
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
                value, origins[name] = usual_of(profile, port, key)
            else:
                origins[name] = Origin("port", port.source)
        fields[name] = _inner(name, value)
    for quirk in profile.limits:
        acts, origin = quirk_acts(profile, port, quirk, standing, around)
        if acts is not False:
            _narrow(fields, origins, quirk.limits, origin, certain=acts is True)
    if fields["scdc"] is False:
        _without_scdc(fields, origins)
    fields["tmds_hz"] = fields.pop("tmds")
    return PortState(port=port, origins=origins, **fields)


def quirk_acts(
    profile: Profile, port: Port, quirk: Limits, standing: Mapping[Place, Standing], around: Surroundings
) -> tuple[bool | None, Origin]:
    """Does a limit act at a port, and what it would be blamed on. None: it may, nobody knows."""
    origin = Origin("quirk", quirk.source, quirk.id, quirk.because)
    if quirk.ports and port.id not in quirk.ports:
        return False, origin
    there = True if quirk.firmware is None else quirk.firmware.holds(around.firmware)
    when = quirk.when
    if there is False or (when is not None and when.asks_signal and around.signal is None):
        return False, origin
    held: bool | None = True
    values: tuple[tuple[str, str, str], ...] = ()
    if when is not None:
        scoped = _scopes(profile, port, when)
        if scoped is None:
            return False, origin
        held = holds(when, value_at(profile, standing, port.id), around, port.id)
        values = tuple(
            (scope_at(profile, s, standing, port.id, around), s.id, standing[scope, s.id].value or "")
            for s, scope in scoped
        )
    until = quirk.firmware.below or "" if quirk.firmware else ""
    origin = replace(origin, settings=values, firmware=until)
    if held is False:
        return False, origin
    return (None if held is None or there is None else True), origin


def _without_scdc(fields: dict[str, Any], origins: dict[str, Origin]) -> None:
    """No control channel: no scrambling above 340 MHz and no FRL training, whatever else is declared."""
    rule = Origin("rule", "document", because="without its control channel (SCDC) HDMI stops at 340 MHz")
    for name, most in (("tmds", NO_SCRAMBLING_HZ), ("frl", NO_FRL)):
        if fields[name] is None or fields[name] > most:
            fields[name], origins[name] = narrowed(name, fields[name], most), rule


def _scopes(profile: Profile, port: Port, when: Condition) -> list[tuple[Setting, str]] | None:
    """Each setting of a condition with the socket it is read at, "" for the whole box; None when one has none here."""
    scopes = []
    for name in sorted(when.settings()):
        setting = profile.setting(name)
        if setting is None or (setting.ports and port.id not in setting.ports):
            return None
        scopes.append((setting, port.id if setting.ports else ""))
    return scopes


def _inner(name: str, value: Any) -> Any:
    if value is None:
        return None
    if name == "tmds":
        return value * 1_000_000
    if name == "frl":
        return frl_rate(value)
    if name == "dp":
        return dp_rate(value)
    if name == "encodings":
        return {e: value.depths(e) for e in ENCODING_NAMES}
    if name == "dsc" and not isinstance(value, bool):
        return value.sink()
    return value


def _narrow(
    fields: dict[str, Any], origins: dict[str, Origin], limits: Video, origin: Origin, *, certain: bool
) -> None:
    """Apply limits; one that only may apply leaves what it would change unknown."""
    for name in FIELDS:
        limit = _inner(name, getattr(limits, "tmds_mhz" if name == "tmds" else name))
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
    if name == "dp":
        return lesser(before, limit)
    if name in ("modes", "modes_420"):
        if limit == ANY:
            return before
        return limit if before == ANY else tuple(m for m in before if _among(m, limit))
    if name == "encodings":
        return {e: tuple(b for b in before[e] if b in limit[e]) for e in ENCODING_NAMES}
    if name in ("hdr", "vrr_kinds"):
        return tuple(h for h in before if h in limit)
    if name == "vrr":
        return _narrow_vrr(before, limit)
    if name == "dsc":
        return common_dsc(before, limit)
    if name == "hdcp":
        return min(before, limit, key=PROTECTIONS.index)
    return before and limit


def _among(entry: str, limit: tuple[str, ...]) -> bool:
    """Is an entry of a list of modes in another list, in either spelling? Two addresses must be the same timing."""
    if entry in limit:
        return True
    if ":" in entry:
        return parse_timing(entry).mode in limit
    mode = parse_mode(entry)
    return any(names_mode(code, mode) for code in limit)


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
        if name in ("modes", "modes_420", "encodings", "vrr_kinds") and mine is None:
            value = far  # a box that says nothing of modes passes them
        if (name == "vrr_kinds" and family(own.port) != family(beyond.port)) or (name == "dsc" and own.port.decodes):
            value = mine  # a converter has its own on this side
        values[name] = value
        if value != mine:
            origins[name] = beyond.origins[name]
    return replace(own, origins=origins, **values)
