"""What is left behind: the hand-over on paper read by another program, labels measured, links, packs, attachments."""

from __future__ import annotations

import hashlib
import io
import re
import zipfile
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pypdf
import pytest
from django.test import Client
from django.utils import timezone

from tests.arrivals import settled
from tests.conftest import Api
from tests.rigs import s14, setting
from tests.server.test_prove import picture
from wavilex import __version__
from wavilex.core.errors import PackError
from wavilex.core.rig.changes import apply
from wavilex.core.rig.jobfile import Job as CoreJob
from wavilex.core.tell.codes import SIGNS, codes_of
from wavilex.core.tell.handover import handover
from wavilex.core.tell.labels import SHEETS, labels
from wavilex.core.visits.job_pack import MANIFEST, read_job_pack, write_job_pack
from wavilex.server import attachments, backup, keeping
from wavilex.server.files.job_packs import bring_in, pack_of, would_do
from wavilex.server.files.services import hand_over, import_job
from wavilex.server.jobs import photographs
from wavilex.server.jobs.cache import rig_of
from wavilex.server.jobs.models import ClientLink, Job
from wavilex.server.paper.hand_over import hand_over_pdf
from wavilex.server.paper.label_sheet import label_sheet_pdf
from wavilex.server.visits import services

pytestmark = pytest.mark.django_db
MM = 72 / 25.4
A4_MM = (210, 297)


@pytest.fixture
def job() -> Job:
    rig = apply(settled(s14()), [{"op": "set_title", "value": "S14 lounge"}])[0]
    return import_job(job=CoreJob("s14", "S14 lounge", "UTC", rig))


def _pdf(data: bytes) -> pypdf.PdfReader:
    return pypdf.PdfReader(io.BytesIO(data), strict=True)


def _words(page: Any) -> str:
    return re.sub(r"\s+", " ", page.extract_text())


# --- the hand-over on paper (read by pypdf, which is not ours) --------------------------------------------


def test_the_client_s_page_is_one_page_and_comes_first(job: Job) -> None:
    reader = _pdf(hand_over_pdf(hand_over(job), timezone.now()))
    first, second = (_words(p) for p in reader.pages[:2])
    for words in (
        "What plays where",
        "TV: input HDMI 1",
        "When it goes black",
        "1. Call the input up again",
        "Take care",
    ):
        assert words in first
    assert "S14 lounge: for the technician" in second
    assert "What plays where" not in second
    for page in reader.pages:
        assert tuple(round(float(x) / MM) for x in page.mediabox[2:]) == A4_MM


def test_a_long_job_s_client_page_is_still_one_page(demo: str) -> None:
    told = hand_over(Job.objects.get(uid=demo))
    reader = _pdf(hand_over_pdf(told, timezone.now(), client_only=True))
    assert len(reader.pages) == 1
    text = _words(reader.pages[0])
    assert all(r["what"] in text for r in told["client"]["plays"])


def test_everything_the_sheet_tells_is_on_paper(job: Job) -> None:
    told = hand_over(job)
    text = " ".join(_words(p) for p in _pdf(hand_over_pdf(told, timezone.now())).pages)
    bare = text.replace(" ", "")
    for row in told["wiring"]:
        assert row["code"] in text
    for row in told["settings"]:
        assert row["setting"].replace(" ", "") in bare
    for line in told["open"]:
        assert line.replace(" ", "").replace("→", "to") in bare


def test_the_pages_are_tagged_and_say_their_language(job: Job) -> None:
    """ISO 32000-1, 14.7 and 14.8: a structure tree whose elements point at marked content on their pages."""
    reader = _pdf(hand_over_pdf(hand_over(job), timezone.now()))
    root = reader.trailer["/Root"]
    assert root["/Lang"] == "en"
    assert root["/MarkInfo"]["/Marked"] is True or str(root["/MarkInfo"]["/Marked"]) == "True"
    elements = [e.get_object() for e in root["/StructTreeRoot"]["/K"][0].get_object()["/K"]]
    kinds = {str(e["/S"]) for e in elements}
    assert {"/H1", "/H2", "/LI", "/TH", "/TD", "/P"} <= kinds
    for number, page in enumerate(reader.pages):
        mine = sorted(
            int(e["/K"]) for e in elements if e["/Pg"] == page.indirect_reference or e["/Pg"].get_object() == page
        )
        marks = [int(x) for x in re.findall(rb"/MCID (\d+)", page.get_contents().get_data())]  # type: ignore[union-attr]
        assert sorted(marks) == mine == list(range(len(marks))), f"page {number}"


def test_the_fonts_are_in_the_file(job: Job) -> None:
    for page in _pdf(hand_over_pdf(hand_over(job), timezone.now())).pages:
        for font in page["/Resources"]["/Font"].values():  # type: ignore[index, union-attr]
            base = font.get_object()
            if str(base["/Subtype"]) == "/TrueType":
                assert "/FontFile2" in base["/FontDescriptor"]


def test_a_link_on_paper_is_a_link(job: Job) -> None:
    address = "https://wavilex.test/c/secret"
    reader = _pdf(hand_over_pdf(hand_over(job), timezone.now(), address))
    targets = [a.get_object()["/A"]["/URI"] for p in reader.pages for a in p.get("/Annots", [])]
    assert targets == [address]


def test_nothing_that_nobody_saw_is_told_as_seen() -> None:
    """A job that was planned and never looked at: not a word of `seen` on a date, not `stays`."""
    told = handover(s14())
    assert not [
        x for r in told["client"]["plays"] for x in (r["picture"], r["sound"]) if "seen 2" in x or "heard 2" in x
    ]
    assert not [x for x in told["client"]["leave"] if "stays at" in x]


def test_what_was_bettered_stands_with_its_figures(job: Job, django_user_model: Any) -> None:
    """The first visit's state against now, as found: nobody had seen the format, then somebody did."""
    from wavilex.server.jobs.services import change_job

    services.plan_visit(job_uid=job.uid, uid="visit-0001", title="", who="", note="", planned_for=None)
    services.move_visit(job_uid=job.uid, uid="visit-0001", state="open")
    user = django_user_model.objects.create(username="somebody")
    ops = [setting("tv", "hdmi4", "format", "basic", "found")]
    change_job(job_uid=job.uid, base=0, uid="change-0001", ops=ops, actor=user)
    told = hand_over(Job.objects.get(pk=job.pk))
    row = next(r for r in told["improved"] if r["what"] == "disc")
    assert row["was"].startswith("unknown: 2160p24")
    assert row["now"].startswith("blocked")
    assert told["since"]


def test_the_text_says_what_the_page_says(api: Api, job: Job) -> None:
    text = api.client.get(f"/api/v1/jobs/{job.uid}/handover.txt?part=client").content.decode()
    assert "WHEN IT GOES BLACK" in text
    assert "FOR THE TECHNICIAN" not in text


# --- labels -----------------------------------------------------------------------------------------------


def _boxes(page: Any) -> list[tuple[float, float, float, float]]:
    """The outlines drawn on a page, in mm from its lower left corner."""
    data = page.get_contents().get_data().decode("latin-1")
    return [
        tuple(float(x) / MM for x in m) for m in re.findall(r"(?<!\S)([\d.-]+) ([\d.-]+) ([\d.-]+) ([\d.-]+) re", data)
    ]  # type: ignore[misc]


@pytest.mark.parametrize(
    ("name", "size", "corner", "step"),
    [  # width and height, first label's left and top edge, from one to the next, in mm; of the sheets' makers' packs
        ("24", (70, 37), (0, 0.5), (70, 37)), ("21", (63.5, 38.1), (7.25, 15.15), (66, 38.1)),
        ("65", (38.1, 21.2), (4.75, 10.7), (40.6, 21.2)), ("189", (25.4, 10), (8.5, 13.5), (27.9, 10)),
    ],
)  # fmt: skip
def test_labels_lie_where_the_sheet_has_them(
    job: Job, name: str, size: tuple[float, float], corner: tuple[float, float], step: tuple[float, float]
) -> None:
    """Measured in the PDF by another program, to half a millimetre."""
    sheet = SHEETS[name]
    rows = labels(rig_of(job)) * 20
    page = _pdf(label_sheet_pdf("x", rows, sheet)).pages[0]
    found = _boxes(page)
    assert len(found) == sheet.count
    for n, (x, y, width, height) in enumerate(found):
        line, column = divmod(n, sheet.columns)
        assert width == pytest.approx(size[0], abs=0.5)
        assert height == pytest.approx(size[1], abs=0.5)
        assert x == pytest.approx(corner[0] + column * step[0], abs=0.5)
        assert A4_MM[1] - y - height == pytest.approx(corner[1] + line * step[1], abs=0.5)
        assert x + 0.01 >= 0
        assert x + width <= A4_MM[0] + 0.51


def test_a_sheet_begun_before_is_gone_on_with(job: Job) -> None:
    rows = labels(rig_of(job))[:3]
    first = _boxes(_pdf(label_sheet_pdf("x", rows, SHEETS["24"], first=23)).pages[0])
    assert len(first) == 2
    assert len(_pdf(label_sheet_pdf("x", rows, SHEETS["24"], first=23)).pages) == 2


def test_a_qr_code_says_the_job_s_address(job: Job) -> None:
    """As many dark squares as segno makes of the address: its own reader is none of ours."""
    import segno

    address = "https://wavilex.test/jobs/abc"
    rows = labels(rig_of(job))[:1]
    page = _pdf(label_sheet_pdf("x", rows, SHEETS["24"], link=address, lines=False)).pages[0]
    squares = _boxes(page)
    assert len(squares) == sum(map(sum, segno.make(address, error="m").matrix))
    assert {round(w, 4) for _, _, w, _ in squares} == {round(squares[0][2], 4)}


def test_codes_stay_when_others_go(job: Job) -> None:
    rig = rig_of(job)
    before = codes_of(rig)
    after = codes_of(apply(rig, [{"op": "remove_lead", "lead": "A1"}])[0])
    assert {u: c for u, c in before.leads.items() if u != "A1"} == dict(after.leads)
    assert not set("01OIBQSGZ") & set(SIGNS)


def test_schedule_labels_and_hand_over_name_a_lead_alike(api: Api, job: Job) -> None:
    code = codes_of(rig_of(job)).leads["A1"]
    assert [r["code"] for r in api.get(f"/jobs/{job.uid}/schedule") if r["lead"] == "A1"] == [code]
    assert [w["code"] for w in api.get(f"/jobs/{job.uid}/handover")["wiring"] if w["label"] == "A1"] == [code]
    assert {x["code"] for x in api.get(f"/jobs/{job.uid}/labels") if x["name"] == "A1"} == {code}


# --- links for the client ---------------------------------------------------------------------------------


def test_a_client_reads_the_hand_over_and_nothing_else(api: Api, job: Job) -> None:
    made = api.post(f"/jobs/{job.uid}/client-links", {"note": "Mr & Mrs <b>", "days": 7})
    path = "/" + made["address"].split("/", 3)[3]
    nobody = Client()
    page = nobody.get(path)
    assert page.status_code == 200
    assert "When it goes black" in page.content.decode()
    assert page["Referrer-Policy"] == "no-referrer"
    assert _pdf(nobody.get(f"{path}.pdf").content).pages
    assert nobody.get(f"/api/v1/jobs/{job.uid}").status_code == 401
    assert "sessionid" not in str(nobody.cookies)
    assert ClientLink.objects.get(job=job).digest not in made["address"]


@pytest.mark.parametrize("how", ["revoked", "expired", "guessed"])
def test_a_link_that_does_not_count_opens_nothing(api: Api, job: Job, how: str) -> None:
    made = api.post(f"/jobs/{job.uid}/client-links", {"days": 7})
    path = "/" + made["address"].split("/", 3)[3]
    if how == "revoked":
        api.post(f"/jobs/{job.uid}/client-links/{made['links'][0]['uid']}/revoke", {})
    if how == "expired":
        ClientLink.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    if how == "guessed":
        path = path[:-1] + ("A" if path[-1] != "A" else "B")
    answers = [Client().get(p) for p in (path, f"{path}.pdf")]
    assert [a.status_code for a in answers] == [404, 404]
    assert "S14" not in answers[0].content.decode()


def test_names_in_a_job_are_no_markup_on_the_client_s_page(api: Api, job: Job) -> None:
    apply_to = [{"op": "set_device", "device": "k1", "label": "<script>alert(1)</script>"}]
    api.post(f"/jobs/{job.uid}/changes", {"base_revision": 0, "uid": "change-0001", "ops": apply_to})
    made = api.post(f"/jobs/{job.uid}/client-links", {"days": 7})
    text = Client().get("/" + made["address"].split("/", 3)[3]).content.decode()
    assert "<script>" not in text
    assert "&lt;script&gt;" in text


# --- job packs --------------------------------------------------------------------------------------------


@pytest.fixture
def full(job: Job, tmp_path: Path, settings: Any) -> Job:
    """A job with a visit, a photograph and a line in the book."""
    settings.DATA = tmp_path / "data"
    services.plan_visit(job_uid=job.uid, uid="visit-0001", title="First", who="", note="", planned_for=None)
    for state in ("open", "closed"):
        services.move_visit(job_uid=job.uid, uid="visit-0001", state=state)
    services.set_regular(job_uid=job.uid, days=30)
    photographs.keep(job_uid=job.uid, data=picture())
    return Job.objects.get(pk=job.pk)


def test_a_pack_brings_a_whole_job_back(full: Job) -> None:
    again = bring_in(pack_of(full))
    assert again.uid != full.uid
    assert rig_of(again).settings == rig_of(full).settings
    assert [(v.title, v.state) for v in again.visits.all()] == [("First", "closed")]
    assert again.states.count() == 1
    assert again.photographs.count() == 1
    assert again.check_days == 30
    assert again.due is not None
    words = list(again.log.values_list("words", flat=True))
    assert all(w in words for w in full.log.values_list("words", flat=True))


def test_what_a_pack_would_do_is_said_before_anything_is_stored(full: Job) -> None:
    before = Job.objects.count()
    told = would_do(pack_of(full))
    assert (told["title"], told["photographs"], told["visits"], told["states"]) == ("S14 lounge", 1, 1, 1)
    assert "stays as it is" in told["words"]
    assert Job.objects.count() == before


def _with(data: bytes, change: Any) -> bytes:
    """The pack with its files otherwise."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        files = {n: archive.read(n) for n in archive.namelist()}
    change(files)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize(
    ("change", "word"),
    [
        (lambda f: f.update({"job.json": f["job.json"] + b" "}), "damaged"),
        (lambda f: f.pop("log.jsonl"), "missing"),
        (lambda f: f.update({"notes.txt": b"x"}), "no file of a job pack"),
        (lambda f: f.pop(MANIFEST), "no manifest"),
        (lambda f: f.update({MANIFEST: b"{}"}), "none that this version reads"),
        (lambda f: f.update({"../../etc/passwd": b"x"}), "no file of a job pack"),
        (lambda f: f.update({"photographs/" + "a" * 24 + ".jpg": b"GIF"}), "not named"),
    ],
)
def test_a_pack_that_is_not_whole_is_refused_with_what_is_wrong(full: Job, change: Any, word: str) -> None:
    before = Job.objects.count()
    with pytest.raises(PackError, match=word):
        bring_in(_with(pack_of(full), change))
    assert Job.objects.count() == before


@pytest.mark.parametrize("cut", [0, 10, 500, -20])
def test_any_bytes_are_a_pack_or_refused(full: Job, cut: int) -> None:
    with pytest.raises(PackError):
        read_job_pack(pack_of(full)[:cut])


def test_a_pack_names_everything_that_is_wrong(full: Job) -> None:
    def spoil(files: dict[str, bytes]) -> None:
        files["job.json"] += b" "
        files.pop("visits.json")

    with pytest.raises(PackError) as caught:
        read_job_pack(_with(pack_of(full), spoil))
    assert "job.json is damaged" in str(caught.value)
    assert "visits.json is missing" in str(caught.value)


def test_the_same_job_makes_the_same_pack(full: Job) -> None:
    assert write_job_pack(read_job_pack(pack_of(full)), __version__) == pack_of(full)


# --- photographs with the backups -------------------------------------------------------------------------


def _data(tmp_path: Path) -> tuple[Path, Path, Path]:
    """A data folder with a database of ours and a photograph, its backups folder, and the photograph."""
    from tests.server.test_backups import database

    live = database(tmp_path / "data" / "wavilex.sqlite3", "x") if (tmp_path / "data").mkdir() is None else None
    content = b"\xff\xd8\xff" + b"picture" * 100
    photo = tmp_path / "data" / "photographs" / "1" / f"{hashlib.sha256(content).hexdigest()[:24]}.jpg"
    photo.parent.mkdir(parents=True)
    photo.write_bytes(content)
    assert live is not None
    return live, tmp_path / "data" / "backups", photo


def test_a_backup_has_the_photographs_and_puts_them_back_elsewhere(tmp_path: Path) -> None:
    live, folder, photo = _data(tmp_path)
    made = backup.back_up(live, folder, "asked")
    assert made is not None
    assert backup.verify(made) == 1
    content = photo.read_bytes()
    photo.unlink()
    assert backup.restore_to(made, tmp_path / "other") == 1
    assert (tmp_path / "other" / "photographs" / "1" / photo.name).read_bytes() == content
    backup.restore(made, live, folder)  # and in its own place
    assert photo.read_bytes() == content


def test_a_damaged_copy_of_a_photograph_is_told(tmp_path: Path) -> None:
    live, folder, photo = _data(tmp_path)
    made = backup.back_up(live, folder, "asked")
    assert made is not None
    (folder / "photographs" / photo.name).write_bytes(b"\xff\xd8\xffbent")
    with pytest.raises(backup.BackupError, match="missing or damaged"):
        backup.verify(made)
    with pytest.raises(backup.BackupError):
        backup.restore_to(made, tmp_path / "other")
    assert not (tmp_path / "other").exists()


def test_a_photograph_is_kept_once_and_goes_with_the_last_backup_that_has_it(tmp_path: Path) -> None:
    live, folder, _photo = _data(tmp_path)
    made = [backup.back_up(live, folder, "asked") for _ in range(3)]
    assert len(list((folder / "photographs").iterdir())) == 1
    for one in made:
        assert one is not None
        one.unlink()
    attachments.forget_unlisted(folder)
    assert list((folder / "photographs").iterdir()) == []


def test_a_folder_with_something_in_it_is_not_written_over(tmp_path: Path) -> None:
    live, folder, _photo = _data(tmp_path)
    made = backup.back_up(live, folder, "asked")
    (tmp_path / "other").mkdir()
    (tmp_path / "other" / "mine.txt").write_text("mine")
    assert made is not None
    with pytest.raises(backup.BackupError, match="not empty"):
        backup.restore_to(made, tmp_path / "other")


def test_daily_backups_thin_out_by_weeks_and_months() -> None:
    """Two years of a copy a day: a fortnight of days, eight weeks, twelve months, and always the latest."""
    days = [date(2025, 1, 1) + timedelta(days=n) for n in range(730)]
    files = [Path(f"{n:06}-{d:%Y%m%d}T030000-daily.sqlite3") for n, d in enumerate(days)]
    gone = set(keeping.to_go(files, "daily"))
    kept = [keeping.day_of(f) for f in files if f not in gone]
    assert kept[-14:] == days[-14:]
    assert len({d.isocalendar()[:2] for d in kept if d is not None}) >= 8
    assert len({(d.year, d.month) for d in kept if d is not None}) == 12
    assert len(kept) <= 14 + 8 + 12
    assert keeping.to_go([f for f in files if f not in gone], "daily") == []
