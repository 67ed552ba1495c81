"""The hand-over as lines of text: the client's page, then the technician's."""

from __future__ import annotations

from collections.abc import Iterator

from wavilex.core.tell.hand_shapes import ClientPage, HandoverOut


def hand_text(told: HandoverOut, *, client_only: bool = False) -> str:
    """The pages as text that any program shows."""
    lines = [told["title"], f"Hand-over, {told['made_at'][:10]}", "", *_client(told["client"])]
    if not client_only:
        lines += ["", "FOR THE TECHNICIAN", "", *_technician(told)]
    return "\n".join(lines) + "\n"


def _client(page: ClientPage) -> Iterator[str]:
    yield "WHAT PLAYS WHERE"
    for r in page["plays"]:
        yield f"- {r['what']}: {'; '.join(r['press'])}. {r['picture']}. {r['sound']}."
    yield from (f"- {x}" for x in page["not_yet"])
    if page["leave"] or page["yours"]:
        yield from ("", "WHAT NOT TO TOUCH")
        yield from (f"- {x}" for x in (*page["leave"], *page["yours"]))
    yield from ("", page["updates"], "", "WHEN IT GOES BLACK")
    yield from (f"{n}. {x}" for n, x in enumerate(page["black"], 1))
    yield from ("", "TAKE CARE")
    yield from (f"- {x}" for x in page["cautions"])


def _technician(told: HandoverOut) -> Iterator[str]:
    if told["open"]:
        yield "STILL OPEN"
        yield from (f"- {x}" for x in told["open"])
        yield ""
    if told["improved"]:
        yield f"SINCE THE FIRST VISIT, {told['since'][:10]}"
        for d in told["improved"]:
            yield f"- {d['what']}: {d['was']} → {d['now']}" + (f" ({d['says']})" if d["says"] else "")
        yield ""
    yield "RUNS"
    for run in told["runs"]:
        signal = ", ".join([run["signal"], *run["with_"]])
        yield f"- {run['label']}: {run['path']}. {run['verdict']}: {signal}. {run['why']}"
    yield from ("", "WIRING")
    for w in told["wiring"]:
        yield f"- {w['label']} {w['code']}: {w['start']} → {w['end']}, {w['grade']}, {w['length_m']} m. {w['change']}"
    yield from ("", "SETTINGS")
    for s in told["settings"]:
        at = ", ".join(x for x in (s["device"], s["socket"]) if x)
        planned = s["plan"] or f"factory: {s['factory']}"
        yield f"- {at}: {s['setting']}, found {s['found']}, planned {planned}"
    yield from ("", "FIRMWARE")
    yield from (f"- {f['device']} {f['version']}" for f in told["firmware"])
    yield from ("", "SEEN")
    for look in told["seen"]:
        said = f"{look['seen']} of {look['of']} lines as predicted" if look["seen"] else "nobody has looked"
        yield f"- {look['run']}: {'; '.join([said, *look['otherwise'], *look['stale']])}"
    if told["lag"]:
        yield from ("", "LAG")
        yield from (f"- {x['device']}, {x['condition']}: {x['text']}, of {x['count']}" for x in told["lag"])
    if told["light"]:
        yield from ("", "LIGHT")
        yield from (f"- {x['device']}, {x['cell']}: {'; '.join(x['lines'])}" for x in told["light"])
    yield from ("", "TAKE CARE")
    yield from (f"- {c}" for c in told["cautions"])
