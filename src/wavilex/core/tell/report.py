"""The rig's answers as plain data, for the command line and the interface alike."""

from __future__ import annotations

from collections.abc import Sequence

from wavilex.core.advise.fixes import find_fixes
from wavilex.core.advise.shapes import TableOut
from wavilex.core.advise.table import Best, Row, nearest_of
from wavilex.core.chain.analogue import Met, meetings, rate_of
from wavilex.core.chain.carry import run_result
from wavilex.core.chain.items import Item
from wavilex.core.chain.notes import notes, sent_signal
from wavilex.core.chain.paths import Hop, Layer, States
from wavilex.core.chain.reasons import Reason, because, render
from wavilex.core.chain.results import LinkResult, RunResult, spare_percent
from wavilex.core.chain.shapes import ReasonOut
from wavilex.core.chain.sound import sound_of
from wavilex.core.fields import PROVENANCE_NAMES
from wavilex.core.link.answer import quantity_data
from wavilex.core.link.ends import ceilings
from wavilex.core.link.rates import ceiling_text
from wavilex.core.link.scratch import column_data
from wavilex.core.link.sums import line_data, link_sums
from wavilex.core.link.table import cell_data, row_data
from wavilex.core.link.words import cable_text, short_over, source_of, verdict_sentence
from wavilex.core.rig.model import Rig
from wavilex.core.rig.ops import LayerName
from wavilex.core.scan.signals import TREATMENTS
from wavilex.core.tell.shapes import BestOut, ItemOut, JobReport, LinkOut, RunReport, RunTold, RunWayOut, SignalOut
from wavilex.core.tell.sound import sound_data
from wavilex.core.tell.ways import ITEM_NAMES, fixes_data


def reason_data(reason: Reason, rig: Rig) -> ReasonOut:
    """A reason as plain data: code, sentence, subject, figures, provenance."""
    return {
        "code": reason.code,
        "item": reason.item,
        "verdict": reason.verdict,
        "text": render(reason, rig),
        "subject": reason.subject,
        "because": because(reason),
        "provenance": PROVENANCE_NAMES[reason.provenance],
        "quantities": [quantity_data(q) for q in reason.quantities],
    }


def item_data(item: Item, rig: Rig) -> ItemOut:
    return {
        "key": item.key,
        "name": ITEM_NAMES[item.key],
        "verdict": item.verdict,
        "blocking": item.blocking,
        "reasons": [reason_data(r, rig) for r in item.reasons],
    }


def link_data(link: LinkResult, rig: Rig) -> LinkOut:
    """One link: its lead and sockets, ceiling, and the asked signal's use of it."""
    lead, v = rig.leads[link.hop.lead], link.wanted
    cap = link.capacity
    return {
        "lead": lead.uid,
        "lead_label": lead.label,
        "grade": lead.cable.grade,
        "grade_name": cable_text(lead.cable),
        "length_mm": lead.cable.length_mm,
        "out": {"device": link.hop.out.device, "port": link.hop.out.port},
        "inp": {"device": link.hop.inp.device, "port": link.hop.inp.port},
        "verdict": v.verdict,
        "transport": v.transport,
        "used_percent": v.used_percent,
        "blocked_by": v.blocked_by,
        "ceiling": ceiling_text(*ceilings(cap)),
        "ceiling_short": short_over(v),
        "by": _BY.get(v.transport, "") if not cap.dvi else "",
        "sentence": verdict_sentence(v),
        "source": source_of(v),
        "quantities": [quantity_data(q) for q in link_sums(v)],
        "line": line_data(v),
    }


_BY = {"frl": "FRL", "tmds": "TMDS"}
LINK_BYTES = 6000  # a link’s row, measured on the demo job


def _links(layer: Layer, result: RunResult) -> list[LinkOut]:
    """The links of a run; of digital ones all but the leads' labels is remembered beside its result."""

    def rows() -> dict[Hop, LinkOut]:
        return {x.hop: link_data(x, layer.rig) for x in result.links}

    judged = layer.states.memory.beside(result, "links", rows, lambda r: LINK_BYTES * len(r))
    some = len(judged) < len(result.path)
    met = {m.hop: m for m in meetings(layer, result.path, sent=result.asked_timing)} if some else {}
    return [
        {**judged[h], "lead_label": layer.rig.leads[h.lead].label}
        if h in judged else _by_scan(h, layer.rig, met.get(h)) for h in result.path
    ]  # fmt: skip


def _by_scan(hop: Hop, rig: Rig, met: Met | None) -> LinkOut:
    """A link that is judged by its scan rate: an analogue one."""
    lead = rig.leads[hop.lead]
    signal = met.signal if met else None
    words = TREATMENTS[met.treats] if met and met.treats else ""
    return {
        "lead": lead.uid, "lead_label": lead.label, "grade": lead.cable.grade, "grade_name": "analogue video",
        "length_mm": lead.cable.length_mm, "out": {"device": hop.out.device, "port": hop.out.port},
        "inp": {"device": hop.inp.device, "port": hop.inp.port}, "verdict": met.verdict if met else "unknown",
        "transport": None, "used_percent": None, "blocked_by": None,
        "ceiling": signal.name if signal else "an analogue picture",
        "ceiling_short": rate_of(met) if met else "analogue", "by": "",
        "sentence": f"{rig.socket_name(hop.inp)} {words}." if words else "", "source": "",
        "quantities": [], "line": None,
    }  # fmt: skip


def best_data(best: Best | None) -> BestOut | None:
    if best is None:
        return None
    s = best.signal
    return {
        "name": s.name, "mode": s.timing.mode, "mode_name": s.timing.mode.name, "timing": s.timing.code,
        "family": s.timing.family, "encoding": s.encoding, "bits": s.bits, "verdict": best.verdict,
        "used_percent": best.used_percent, "hdr": best.hdr,
    }  # fmt: skip


def table_data(rows: Sequence[Row]) -> TableOut:
    """A carry table as plain data, with its columns."""
    return {
        "columns": column_data([(c.encoding, c.bits) for c in rows[0].cells]) if rows else column_data(),
        "rows": [
            row_data(r.timing, r.timing.code, r.wanted, [
                cell_data(c.encoding, c.bits, c.verdict, c.used_percent, c.stopped_by, c.room) for c in r.cells
            ])
            for r in rows
        ],
    }  # fmt: skip


def run_data(layer: Layer, result: RunResult) -> RunTold:
    """Everything the interface shows of one run, but its fixes."""
    rig = layer.rig
    rate, detail = nearest_of(layer, result)
    limiting = result.limiting
    carried = sent_signal(result) or (detail.signal if detail else None)
    return {
        "uid": result.run.uid,
        "label": result.run.label,
        "source": result.run.source,
        "sink": result.run.sink,
        "verdict": result.verdict,
        "wanted": result.run.want.mode.name,
        "asked": result.asked.name if result.asked else None,
        "asked_signal": signal_data(result),
        "carried": carried.name if carried else None,
        "headline": _headline(layer, result),
        "limiting": reason_data(limiting, rig) if limiting else None,
        "items": [item_data(i, rig) for i in result.items],
        "reasons": [reason_data(r, rig) for r in result.reasons],
        "links": _links(layer, result),
        "alternatives": [s.name for s in result.alternatives],
        "best_rate": best_data(rate),
        "best_detail": best_data(detail),
        "notes": [{"code": n.code, "text": render(n, rig), "subject": n.subject} for n in notes(layer, result)],
        "sound": sound_data(layer, sound_of(layer, result)),
        "ways": ways_of_run(layer, result),
    }


def ways_of_run(layer: Layer, result: RunResult) -> list[RunWayOut]:
    """The ways a run could go, the one it goes first; none where there is but one."""
    paths = layer.paths(result.run)
    if len(paths) < 2:
        return []
    out: list[RunWayOut] = []
    for path in paths:
        leads = [h.lead for h in path]
        boxes = [layer.rig.devices[h.inp.device].label for h in path]
        ports = layer.rig.socket_name(path[0].out), layer.rig.socket_name(path[-1].inp)
        between = f", by {', '.join(boxes[:-1])}" if len(boxes) > 1 else ""
        out.append(
            {"leads": leads, "words": f"{ports[0]} to {ports[1]}{between}", "chosen": list(result.run.way) == leads}
        )
    return out


def signal_data(result: RunResult) -> SignalOut | None:
    s = result.asked
    if s is None:
        return None
    return {"mode": s.timing.mode, "timing": s.timing.code, "encoding": s.encoding, "bits": s.bits}


def _headline(layer: Layer, result: RunResult) -> str:
    rig, reason = layer.rig, result.limiting
    if reason is not None:
        return render(reason, rig)
    if not result.links:  # analogue all the way
        last = meetings(layer, result.path, sent=result.asked_timing)[-1]
        return f"{rig.devices[result.run.sink].label} takes {last.signal.name if last.signal else 'it'} as it is."
    spare = spare_percent(result)
    name = result.asked.name if result.asked else ""
    name += f", sent on as {result.resent.timing.mode.name}," if result.resent else ""
    return f"{name} fits{f', {spare:.1f} % to spare' if spare is not None else ''}."


def job_report(rig: Rig, layer: LayerName = "plan") -> JobReport:
    """`wavilex job check --json`: every run with verdict, limiting stage, reasons, fixes."""
    states = States()
    view = Layer(rig, layer, states)
    runs: list[RunReport] = []
    for run in rig.runs.values():
        result = run_result(view, run)
        data = run_data(view, result)
        fixes = fixes_data(find_fixes(rig, run, layer, states=states), rig, run)
        limiting = data["limiting"]["subject"] if data["limiting"] else None
        runs.append({**data, "limiting_stage": limiting, "fixes": fixes["ways"],
                     "fixes_proved": fixes["proved"], "needs": fixes["needs"], "parts": fixes["parts"]})  # fmt: skip
    return {"title": rig.title, "layer": layer, "runs": runs}
