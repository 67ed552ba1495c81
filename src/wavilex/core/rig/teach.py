"""What reading an EDID at an input of the job changes: facts over its profile; and what no EDID can tell."""

from __future__ import annotations

from typing import Any

from wavilex.core.edid.answers import answer
from wavilex.core.edid.facts import doubtful, facts_of
from wavilex.core.edid.model import Edid
from wavilex.core.edid.report import edid_report
from wavilex.core.errors import ChangeError
from wavilex.core.fields import Provenance
from wavilex.core.gear.ports import Dsc, Port
from wavilex.core.gear.profile import MOST_PEAK_CD_M2, Profile
from wavilex.core.link.rates import ceiling_text, frl_rate
from wavilex.core.rig.changes import apply
from wavilex.core.rig.model import PEAK_FACT, Rig, Socket
from wavilex.core.rig.ops import Change
from wavilex.core.rig.shapes import Taught, TaughtRow
from wavilex.core.video.codes import listed_timing
from wavilex.core.video.named import shown

CANNOT_TELL = (
    "how long the screen takes to show a picture (measure it)",
    "what its menus call things",
    "which of its settings were on when this was read: another format may say otherwise",
)
FIELD_NAMES = {
    "tmds_mhz": "TMDS ceiling, MHz",
    "frl": "FRL",
    "modes": "modes",
    "modes_420": "modes in 4:2:0",
    "encodings": "depths by encoding",
    "hdr": "HDR",
    "vrr": "variable refresh, Hz",
    "vrr_kinds": "kind of variable refresh",
    "low_latency": "automatic low latency",
    "dsc": "compression it decodes",
    "scdc": "control channel for scrambling",
}


def teach(rig: Rig, device_uid: str, port_id: str, e: Edid) -> Taught:
    """What reading this EDID at an input would change: rows to show, ops to apply. Raises ChangeError."""
    device = rig.devices.get(device_uid)
    port = device.profile.port(port_id) if device else None
    if device is None or port is None or port.direction != "in":
        raise ChangeError("an EDID is read at an input of a box of this job")
    rows: list[TaughtRow] = []
    ops: list[Change] = []
    refused = []
    unsure = doubtful(e)
    for name, value in facts_of(e).items():
        before = _now(rig, Socket(device_uid, port_id), port, name)
        kept = name == "hdr" and isinstance(before, list) and "dynamic" in before and "dynamic" not in value
        after = [*value, "dynamic"] if kept else value  # that no block says so is no word against it
        if before == after:
            continue
        path = f"ports.{port_id}.{name}"
        change: Change = {
            "op": "set_fact", "device": device_uid, "path": path, "value": after,
            "provenance": _DOUBTS.get(name, "contradiction") if name in unsure else "measured_here",
        }  # fmt: skip
        try:
            apply(rig, [change])
        except ChangeError as error:
            refused.append(f"not taken over: {FIELD_NAMES[name]}: {error.message}")
            continue
        rows.append({"field": FIELD_NAMES[name], "before": _told(name, before), "after": _told(name, after)})
        ops.append(change)
    peak = _peak(rig, device_uid, e)
    if peak is not None:
        row, change = peak
        rows.append(row)
        ops.append(change)
    return {
        "name": answer(e).name,
        "report": edid_report(e),
        "findings": [*_said(e, port), *(f"{f.severity}: {f.where}: {f.text}" for f in e.findings), *refused],
        "rows": rows,
        "ops": ops,
        "cannot_tell": list(CANNOT_TELL),
        "says_input": _addressed_input(device.profile, e),
    }


def _peak(rig: Rig, uid: str, e: Edid) -> tuple[TaughtRow, Change] | None:
    """The brightest white the EDID asks pictures to be made for, offered for the screen's; a maker's claim."""
    said = answer(e).max_cd_m2
    before = rig.peak_cd_m2(uid)
    if said is None or rig.devices[uid].profile.role != "screen" or round(said) == before:
        return None
    after = min(max(round(said), 1), MOST_PEAK_CD_M2)
    row: TaughtRow = {"field": "brightest HDR white, cd/m² (a claim)", "before": _words(before), "after": str(after)}
    change: Change = {"op": "set_fact", "device": uid, "path": PEAK_FACT, "value": after, "provenance": "makers_claim"}
    return row, change


_DOUBTS: dict[str, Provenance] = {"vrr": "guess"}  # else it contradicts itself
_KINDS = {"HDMI": ("hdmi",), "DisplayPort": ("dp", "usbc"), "DVI": ("dvi",)}


def _said(e: Edid, port: Port) -> list[str]:
    """What of an EDID is to be known before its facts: which socket it is of, where it contradicts itself."""
    a = answer(e)
    out = []
    if port.kind not in _KINDS.get(a.socket, ()):
        out.append(f"this is the EDID of a socket of another kind ({a.socket}): it teaches modes, nothing of HDMI")
    if a.vrr is not None and a.vrr.kind == "limits":
        out.append("its window is that of its range limits: whether it varies at all no EDID says, a guess until seen")
    if a.exceeded and a.tmds_hz:
        out.append(f"its own timings need {a.tmds_hz // 1_000_000} MHz, more than it claims: the larger is believed")
    return out


def _addressed_input(profile: Profile, e: Edid) -> str | None:
    """The input its physical address names: n.0.0.0 is a display's n-th (HDMI 1.4b)."""
    address = e.cta.hdmi.physical_address if e.cta and e.cta.hdmi else (0, 0, 0, 0)
    inputs = profile.inputs()
    return inputs[address[0] - 1].id if not any(address[1:]) and 0 < address[0] <= len(inputs) else None


def _now(rig: Rig, socket: Socket, port: Port, name: str) -> Any:
    """The field as the profile or an earlier fact has it, in the form facts are written."""
    fact = rig.facts.get((socket.device, f"ports.{socket.port}.{name}"))
    if fact is not None:
        return _plain(fact.value)
    value = getattr(port.video, name)
    if value is None:
        value = getattr(rig.devices[socket.device].profile.video, name)
    if isinstance(value, Dsc):
        return {**value.model_dump(mode="json"), "frl": value.frl or _now(rig, socket, port, "frl")}
    if name == "encodings" and value is not None:
        return {e: list(value.depths(e)) for e in ("rgb", "444", "422", "420") if value.depths(e)}
    return _plain(value)


def _plain(value: Any) -> Any:
    return [_plain(v) for v in value] if isinstance(value, (list, tuple)) else value


def _told(name: str, value: Any) -> str:
    """A field's value as people say it: modes and rates by their names, a window as a span."""
    if name in ("modes", "modes_420") and isinstance(value, list) and value:
        timings = [listed_timing(m) for m in value]
        return ", ".join(dict.fromkeys(shown(str(t.mode)) for t in timings))
    if name == "frl" and isinstance(value, str) and value != "none":
        return ceiling_text(None, frl_rate(value))
    if name == "vrr" and isinstance(value, list):
        return f"{value[0]} to {value[1]}"
    return _words(value)


def _words(value: Any) -> str:
    if value is None:
        return "not known"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        return "; ".join(f"{k} {_words(v)}" for k, v in value.items()) or "none"
    if isinstance(value, list):
        return ", ".join(map(str, value)) or "none"
    return str(value)
