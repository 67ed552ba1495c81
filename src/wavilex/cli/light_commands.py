"""Commands about light: a curve of readings, clicks on HDR pages, transfer functions."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wavilex.cli.commands import say
from wavilex.core.errors import LightError

if TYPE_CHECKING:
    from wavilex.core.gear.profile import Profile
    from wavilex.core.light.curve import Point

_TYPED_PERCENT = 2.0


def _points(name: str) -> list[Point]:
    """Readings of a CSV with columns value, cd_m2 and, where known, error_percent. LightError names the line."""
    import csv
    import io

    from wavilex.core.light.curve import Point

    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise LightError(f"cannot be read: {error}", where=name) from None
    rows = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    if not {"value", "cd_m2"} <= set(rows.fieldnames or ()):
        raise LightError("the first line names value and cd_m2", where=f"{name}, line 1")
    out = []
    for number, row in enumerate(rows, 2):
        try:
            light = float(row["cd_m2"])
            share = float(row.get("error_percent") or _TYPED_PERCENT) / 100
            if not (0 < light < 1e5 and 0 < share <= 1):
                raise ValueError("a light is above 0, and its error 0 to 100 %")
            out.append(Point(float(row["value"]), light, light * share))
        except (ValueError, TypeError) as error:
            raise LightError(f"{error}", where=f"{name}, line {number}") from None
    return out


def curve(a: argparse.Namespace) -> int:
    """`wavilex light curve`: which value gives a light, with its interval, or the reading to take next."""
    from wavilex.core.light.curve import Curve, Refusal

    points = _points(a.file)
    if len({p.at for p in points}) < 2:
        raise LightError("a curve needs readings at two values", where=a.file)
    found = Curve(points)
    answer = found.find(a.want, a.step or 0.0, found.span[0])
    data: dict[str, Any] = {"want_cd_m2": a.want, "readings": len(points)}
    if isinstance(answer, Refusal):
        words = {"few": "too few readings: take three or more", "falls": "the light falls where more was set",
                 "above": f"brighter than anything read ({answer.most:.4g} cd/m²)" if answer.most else "",
                 "below": f"darker than anything read ({answer.most:.4g} cd/m²)" if answer.most else ""}  # fmt: skip
        text = f"not said: {words[answer.code]}" + (f"; read at {answer.next_at:g} next" if answer.next_at else "")
        say({**data, "value": None, "refused": answer.code, "next_at": answer.next_at}, text, a.json)
        return 1
    data |= {"value": answer.value, "low": answer.low, "high": answer.high, "light_cd_m2": answer.light,
             "light_low": answer.light_low, "light_high": answer.light_high, "close": answer.close}  # fmt: skip
    text = (f"{answer.value:.4g} gives {answer.light:.4g} cd/m² ({answer.light_low:.4g} to {answer.light_high:.4g}, "
            f"95 %); {answer.low:.4g} to {answer.high:.4g} would do")  # fmt: skip
    say(data, text if answer.close else f"{text}; one more reading there makes it surer", a.json)
    return 0


def _source(name: str) -> Profile:
    from wavilex.cli.gear_commands import read_profile
    from wavilex.library import starter_profiles

    return starter_profiles().get(name) or read_profile(name)


def hdr_steps(a: argparse.Namespace) -> int:
    """`wavilex light hdr-steps`: clicks on each page of a source for a screen, or what a count means."""
    from wavilex.core.light.pages import clicks_for, light_of, lights

    profile = _source(a.profile)
    if not profile.hdr_pages:
        raise LightError(f"{profile.name} has no HDR pages in its profile", where=a.profile)
    given = {"peak": a.peak, "full": a.full, "black": a.black}
    rows: list[dict[str, Any]] = []
    for page in profile.hdr_pages:
        row: dict[str, Any] = {"page": page.id, "label": page.label, "sets": page.sets, "known": page.known}
        table, light = lights(page), given[page.sets]
        if table and a.count is not None and a.count < len(table):
            row["count"], (row["above_cd_m2"], row["to_cd_m2"]) = a.count, light_of(table, a.count)
        if table and light is not None:
            off = light * a.error / 100
            c = clicks_for(table, light - off, light + off)
            row |= {"low": c.low, "high": c.high, "sure": c.sure, "cd_m2": c.at, "beyond": c.beyond}
        rows.append(row)
    say({"profile": profile.name, "pages": rows}, "\n".join(_page_words(r) for r in rows), a.json)
    return 0


def _page_words(row: dict[str, Any]) -> str:
    said = [f"{row['label']}:"]
    if not row["known"]:
        said.append("nobody knows its steps yet")
    if "low" in row:
        clicks = f"{row['low']}" if row["low"] == row["high"] else f"{row['low']} to {row['high']}"
        end = {"above": ", the page ends below that light", "below": ", the page begins over that light", "": ""}
        said.append(f"{clicks} clicks ({row['cd_m2']:.4g} cd/m²){end[row['beyond']]}")
    if "to_cd_m2" in row:
        said.append(f"a count of {row['count']} means {row['above_cd_m2']:.4g} to {row['to_cd_m2']:.4g} cd/m²")
    return " ".join(said)


def pq(a: argparse.Namespace) -> int:
    """`wavilex light pq`: code value, percent and cd/m² by a transfer function; of one light, or a table."""
    from wavilex.core.light.codes import code_of
    from wavilex.core.light.scales import scale_data
    from wavilex.core.light.transfer import pq_signal

    if a.light is not None and a.document == "pq":
        try:
            signal = pq_signal(a.light)
        except ValueError as error:
            raise LightError(str(error), where="--light") from None
        data = {"cd_m2": a.light, "percent": 100 * signal, "limited": code_of(signal, a.bits, "limited"),
                "full": code_of(signal, a.bits, "full"), "bits": a.bits}  # fmt: skip
        say(data, f"{a.light:g} cd/m² is {100 * signal:.3f} % of a PQ signal: code {data['limited']} limited, "
                  f"{data['full']} full, of {a.bits} bits", a.json)  # fmt: skip
        return 0
    if not 0 <= a.black < a.white:
        raise LightError("black is darker than white", where="--black")
    told = scale_data(a.document, a.bits, a.white, a.black)
    lines = [f"{told['document']}, {a.bits} bits", "limited   full       %      cd/m²"]
    lines += [f"{r['limited']:7} {r['full']:6} {r['percent']:7.2f} {r['light']:10.4g}" for r in told["rows"]]
    say(told, "\n".join(lines), a.json)
    return 0
