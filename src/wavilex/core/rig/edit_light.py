"""Light notes put into a rig and dropped: what was measured or seen, by whom, when, and what it rests on."""

from __future__ import annotations

from dataclasses import replace

from wavilex.core import bounds
from wavilex.core.errors import ChangeError
from wavilex.core.gear.cells import read_scope
from wavilex.core.moment import utc_text
from wavilex.core.rig.edit_common import Applied, check_grounds, need, new_uid, text_of, with_item
from wavilex.core.rig.light_notes import LightNote, check_figures
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import DropLight, LightNoteData, NoteLight


def note_light(rig: Rig, change: NoteLight) -> Applied:
    """Something was measured or seen of a box's light. The box may be gone since."""
    data = change["note"]
    uid = new_uid(rig.light, data["uid"], "light note")
    for name in ("scope", "value", "by", "firmware", "text", "ref"):
        text_of(str(data.get(name) or ""), name, bounds.OBSERVED_LETTERS)
    check_figures(data["kind"], data.get("figures", {}))
    check_grounds(data.get("grounds", {}), "a light note")
    need(len(rig.light) < bounds.LIGHT_NOTES, f"a job holds {bounds.LIGHT_NOTES} light notes")
    ref = data.get("ref", "")
    known = {n.ref for n in rig.light.values() if n.device == data["device"]} if ref else set()
    need(ref not in known, f"the meter's reading {ref} is kept already")
    try:
        read_scope(data.get("scope", ""))
        at = utc_text(data["at"])
    except ValueError as error:
        raise ChangeError(f"{error}", where="note") from None
    note = light_note_of({**data, "at": at})
    back: DropLight = {"op": "drop_light", "note": uid}
    return replace(rig, light={**rig.light, uid: note}), [back]


def drop_light(rig: Rig, change: DropLight) -> Applied:
    """A slip: it was never noted."""
    uid = change["note"]
    need(uid in rig.light, f"there is no light note {uid!r} in this job")
    back: NoteLight = {"op": "note_light", "note": light_note_data(rig.light[uid])}
    return replace(rig, light=with_item(rig.light, uid, None)), [back]


def light_note_of(data: LightNoteData) -> LightNote:
    """As the rig has it; what it says is checked already."""
    return LightNote(
        data["uid"], data["kind"], data["device"], data.get("scope", ""), data.get("value", ""),
        tuple(data.get("figures", {}).items()), data["method"], data["at"], data.get("by", ""),
        data.get("firmware", ""), data.get("text", ""), data.get("ref", ""), tuple(data.get("grounds", {}).items()),
    )  # fmt: skip


def light_note_data(note: LightNote) -> LightNoteData:
    """As changes and job files have it."""
    return {
        "uid": note.uid, "kind": note.kind, "device": note.device, "scope": note.scope, "value": note.value,
        "figures": dict(note.figures), "method": note.method, "at": note.at, "by": note.by, "firmware": note.firmware,
        "text": note.text, "ref": note.ref, "grounds": dict(note.grounds),
    }  # fmt: skip
