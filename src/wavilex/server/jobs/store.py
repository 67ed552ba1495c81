"""Between the tables and the core's rig: load a whole rig, save what differs between two."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from wavilex.core.gear.profile import Profile, profile_data, profile_from_data
from wavilex.core.gear.state import FactValue
from wavilex.core.link.cable import Cable
from wavilex.core.rig.edit_brief import WANT_KEYS, run_data, style_of, title_data
from wavilex.core.rig.edit_light import light_note_data, light_note_of
from wavilex.core.rig.edit_seen import observation_data, observation_of
from wavilex.core.rig.edit_wiring import CABLE_KEYS, lead_data
from wavilex.core.rig.model import (
    LEAD_KINDS,
    MARKS,
    Device,
    Lead,
    Rig,
    Run,
    SettingValue,
    Socket,
    Title,
    TitleMode,
    Want,
)
from wavilex.core.rig.ops import LeadKind, Mark
from wavilex.core.video.mode import parse_mode
from wavilex.server.jobs import models

_profiles: dict[str, Profile] = {}  # by digest: a profile's text never changes under its digest


def _profile(row: models.Device) -> Profile:
    if row.digest not in _profiles:
        _profiles[row.digest] = profile_from_data(row.profile)
    return _profiles[row.digest]


def _kind(word: str) -> LeadKind:
    return next(kind for kind in LEAD_KINDS if kind == word)


def _mark(word: str) -> Mark:
    return next(mark for mark in MARKS if mark == word)


def _ends(data: list[dict[str, str] | None]) -> tuple[Socket | None, Socket | None]:
    a, b = (Socket(e["device"], e["port"]) if e else None for e in data)
    return a, b


def load_rig(job: models.Job) -> Rig:
    """The whole rig of a job: ten queries, whatever its size."""
    devices = {
        d.uid: Device(
            d.uid,
            d.label,
            _profile(d),
            d.digest,
            d.room.name if d.room else "",
            d.firmware,
            d.firmware_plan,
            _mark(d.mark),
        )
        for d in job.devices.select_related("room")
    }
    leads = {
        x.uid: Lead(
            x.uid,
            x.label,
            Cable(**{k: getattr(x, k) for k in CABLE_KEYS}),
            _kind(x.kind),
            _ends(x.found),
            _ends(x.plan),
            _mark(x.mark),
        )
        for x in job.leads.all()
    }
    settings = models.Setting.objects.filter(device__job=job).values_list(
        "device__uid", "scope", "key", "found", "plan"
    )
    facts = models.Fact.objects.filter(device__job=job).values_list("device__uid", "path", "value", "provenance")
    runs = {
        r.uid: Run(
            r.uid,
            r.label,
            r.source.uid,
            r.sink.uid,
            Want(**{**{f: getattr(r.want, f) for f in WANT_KEYS}, "mode": parse_mode(r.want.mode)}),
            style_of(r.style),
            tuple(r.way),
        )
        for r in job.runs.select_related("source", "sink", "want")
    }
    titles = {t.uid: _title(t) for t in job.titles.all()}
    return Rig(
        title=job.title,
        rooms=tuple(job.rooms.values_list("name", flat=True)),
        devices=devices,
        leads=leads,
        settings={(d, s, k): SettingValue(f, p) for d, s, k, f, p in settings},
        facts={(d, path): FactValue(_tuples(v), prov) for d, path, v, prov in facts},
        runs=runs,
        titles=titles,
        survey=dict(job.survey),
        distances=dict(job.distances),
        style=style_of(job.style),
        observations={uid: observation_of(data) for uid, data in job.observations.values_list("uid", "data")},
        light={uid: light_note_of(data) for uid, data in job.light_notes.values_list("uid", "data")},
    )


def _title(row: models.Title) -> Title:
    modes = tuple(TitleMode(m["fps"], m["name"], m["lines"]) for m in row.modes)
    return Title(row.uid, row.name, modes, row.competitive, row.hdr, style_of(row.style))


def _tuples(value: Any) -> Any:
    """JSON lists as tuples, as the profile has them."""
    return tuple(_tuples(v) for v in value) if isinstance(value, list) else value


def save_rig(job: models.Job, before: Rig, after: Rig) -> None:
    """Write what differs. The caller owns the transaction and saves the job row itself."""
    job.title, job.survey, job.style = after.title, dict(after.survey), dict(after.style)
    job.distances = dict(after.distances)
    for name in (r for r in after.rooms if r not in before.rooms):
        job.rooms.get_or_create(name=name)
    parts = (("devices", _devices), ("leads", _leads), ("settings", _settings), ("facts", _facts), ("runs", _runs),
             ("titles", _titles), ("observations", _observations), ("light", _light))  # fmt: skip
    for name, save in parts:  # boxes first: the others stand on them
        old, new = getattr(before, name), getattr(after, name)
        if old is not new:
            save(job, old, new)


_Rows = Mapping[Any, Any]


def _gone(before: _Rows, after: _Rows) -> list[Any]:
    return [key for key in before if key not in after]


def _drop(rows: Any, before: _Rows, after: _Rows) -> None:
    """Remove rows whose uid is gone."""
    gone = _gone(before, after)
    if gone:
        rows.filter(uid__in=gone).delete()


def _new(before: _Rows, after: _Rows) -> list[Any]:
    """Keys that are new or hold another value."""
    return [key for key, value in after.items() if before.get(key) != value]


def _devices(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.devices, before, after)
    for uid in _new(before, after):
        d = after[uid]
        room = job.rooms.get_or_create(name=d.room)[0] if d.room else None
        job.devices.update_or_create(
            uid=uid,
            defaults={"label": d.label, "room": room, "firmware": d.firmware, "firmware_plan": d.firmware_plan,
                      "mark": d.mark,
                      "profile": profile_data(d.profile), "digest": d.profile_digest},
        )  # fmt: skip


def _leads(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.leads, before, after)
    for uid in _new(before, after):
        job.leads.update_or_create(uid=uid, defaults={k: v for k, v in lead_data(after[uid]).items() if k != "uid"})


def _settings(job: models.Job, before: _Rows, after: _Rows) -> None:
    ids = dict(job.devices.values_list("uid", "id"))
    for device, scope, key in _gone(before, after):
        models.Setting.objects.filter(device__job=job, device__uid=device, scope=scope, key=key).delete()
    for place in _new(before, after):
        device, scope, key = place
        value = after[place]
        models.Setting.objects.update_or_create(
            device_id=ids[device], scope=scope, key=key, defaults={"found": value.found, "plan": value.plan}
        )


def _facts(job: models.Job, before: _Rows, after: _Rows) -> None:
    ids = dict(job.devices.values_list("uid", "id"))
    for device, path in _gone(before, after):
        models.Fact.objects.filter(device__job=job, device__uid=device, path=path).delete()
    for place in _new(before, after):
        fact = after[place]
        models.Fact.objects.update_or_create(
            device_id=ids[place[0]], path=place[1], defaults={"value": fact.value, "provenance": fact.provenance}
        )


def _runs(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.runs, before, after)
    for uid in _new(before, after):
        data, old = run_data(after[uid]), before.get(uid)
        if old is not None and replace(old, want=after[uid].want) == after[uid]:  # a want alone is changed most often
            models.Want.objects.filter(run__job=job, run__uid=uid).update(**data["want"])
            continue
        ids = dict(job.devices.filter(uid__in=(data["source"], data["sink"])).values_list("uid", "id"))
        row, _ = job.runs.update_or_create(
            uid=uid,
            defaults={
                "label": data["label"],
                "source_id": ids[data["source"]],
                "sink_id": ids[data["sink"]],
                "style": data["style"],
                "way": data["way"],
            },
        )
        models.Want.objects.update_or_create(run=row, defaults=data["want"])


def _titles(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.titles, before, after)
    for uid in _new(before, after):
        job.titles.update_or_create(uid=uid, defaults={k: v for k, v in title_data(after[uid]).items() if k != "uid"})


def _observations(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.observations, before, after)
    job.observations.bulk_create(
        models.Observation(job=job, uid=uid, data=observation_data(after[uid])) for uid in _new(before, after)
    )


def _light(job: models.Job, before: _Rows, after: _Rows) -> None:
    _drop(job.light_notes, before, after)
    job.light_notes.bulk_create(
        models.LightNote(job=job, uid=uid, data=light_note_data(after[uid])) for uid in _new(before, after)
    )
