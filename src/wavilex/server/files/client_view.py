"""What a client's link shows: his page of the hand-over, and the whole of it as a PDF. Nothing else, and no account."""

from __future__ import annotations

from html import escape
from zoneinfo import ZoneInfo

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from wavilex.core.tell.hand_shapes import ClientPage
from wavilex.server.files.client_links import job_behind
from wavilex.server.files.services import hand_over

_STYLE = """
body{font:18px/1.45 system-ui,sans-serif;max-width:46rem;margin:0 auto;padding:1.2rem;color:#1a211c;background:#fbfaf6}
h1{font-size:1.7rem;margin:.2em 0}h2{font-size:1.2rem;margin:1.3em 0 .3em}
table{border-collapse:collapse;width:100%}td,th{text-align:left;vertical-align:top;padding:.4em .5em .4em 0;
border-bottom:1px solid #b9c2ba}th{font-size:.85rem;color:#4d584f}li{margin:.3em 0}.quiet{color:#4d584f;font-size:.9rem}
@media(prefers-color-scheme:dark){body{color:#eceae2;background:#14181f}td,th{border-color:#3a424c}
th,.quiet{color:#b3b9bf}a{color:#9dbcff}}
@media print{body{background:#fff;color:#000}.quiet a{display:none}}
"""
_GONE = "This link does not open anything (any more). Ask whoever gave it to you for another."


@require_safe
@never_cache
def client_page(request: HttpRequest, secret: str) -> HttpResponse:
    """The page that a client's link opens; the same answer for a wrong one, an old one and a revoked one."""
    job = job_behind(secret)
    if job is None:
        return _guarded(HttpResponse(_document(request, "Not here", f"<p>{_GONE}</p>"), status=404))
    told = hand_over(job)
    day = timezone.now().astimezone(ZoneInfo(job.time_zone))
    body = f"<h1>{escape(told['title'])}</h1><p class=quiet>How it is used, as of {day:%-d %B %Y}. "
    body += f'<a href="{escape(secret)}.pdf">All of the hand-over as a PDF</a></p>{_page(told["client"])}'
    return _guarded(HttpResponse(_document(request, told["title"], body)))


@require_safe
@never_cache
def client_pdf(request: HttpRequest, secret: str) -> HttpResponse:
    """The hand-over as a PDF, by a client's link."""
    job = job_behind(secret)
    if job is None:
        return _guarded(HttpResponse(_document(request, "Not here", f"<p>{_GONE}</p>"), status=404))
    from wavilex.server.paper.hand_over import hand_over_pdf  # the printing library is asked for here only

    now = timezone.now().astimezone(ZoneInfo(job.time_zone))
    return _guarded(HttpResponse(hand_over_pdf(hand_over(job), now), "application/pdf"))


def _guarded(response: HttpResponse) -> HttpResponse:
    response["Referrer-Policy"] = "no-referrer"  # the address is the key
    response["X-Robots-Tag"] = "noindex, nofollow"
    return response


def _document(request: HttpRequest, title: str, body: str) -> str:
    nonce = request.csp_nonce  # type: ignore[attr-defined]
    return (
        f'<!doctype html><html lang=en><meta charset=utf-8><meta name=viewport content="width=device-width">'
        f"<meta name=robots content=noindex><title>{escape(title)}</title><style nonce={nonce}>{_STYLE}</style>"
        f"<main>{body}</main></html>"
    )


def _page(page: ClientPage) -> str:
    rows = "".join(
        f"<tr><td><b>{escape(r['what'])}</b><td>{'<br>'.join(escape(p) for p in r['press'])}"
        f"<td>{escape(r['picture'])}<br>{escape(r['sound'])}"
        for r in page["plays"]
    )
    parts = [f"<h2>What plays where</h2><table><tr><th>To play on<th>call up<th>picture and sound{rows}</table>"]
    parts += [f"<p>{escape(x)}</p>" for x in page["not_yet"]]
    leave = [*page["leave"], *page["yours"]]
    parts += [f"<h2>What not to touch</h2>{_list(leave)}"] if leave else []
    parts += [f"<p>{escape(page['updates'])}</p>", f"<h2>When it goes black</h2>{_list(page['black'], 'ol')}"]
    parts.append(f"<h2>Take care</h2>{_list(page['cautions'])}")
    return "".join(parts)


def _list(lines: list[str], kind: str = "ul") -> str:
    return f"<{kind}>{''.join(f'<li>{escape(x)}' for x in lines)}</{kind}>"
