"""Which commands there are and what they take."""

from __future__ import annotations

import argparse
from typing import NoReturn

from wavilex.cli import (
    commands,
    edid_commands,
    evaluate_commands,
    film_commands,
    gear_commands,
    lag_commands,
    light_commands,
    plan_commands,
    rig_commands,
    visit_commands,
)


class _Parser(argparse.ArgumentParser):
    """One line for a malformed call, not the whole usage."""

    def error(self, message: str) -> NoReturn:
        self.exit(2, f"{self.prog}: {message}\n")


def build_parser() -> argparse.ArgumentParser:
    """The parser; each command sets `run`."""
    parser = _Parser(prog="wavilex", description="Questions to one model of the display chain.")
    sub = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    for group in (_sums, _job, _gear, _edid, _lag, _light, _simulate, _evaluate, _upkeep):
        group(sub)
    return parser


def _evaluate(sub: argparse._SubParsersAction[_Parser]) -> None:
    """The program tried on itself."""
    evaluate = sub.add_parser("evaluate", help="how well the program does, on rigs of its own")
    which = evaluate.add_subparsers(dest="what", required=True, parser_class=_Parser)
    found = which.add_parser("diagnosis", help="faults planted and searched for; takes some minutes")
    found.add_argument("--rigs", type=int, default=30, help="the demo's runs, the templates, then random ones")
    found.add_argument("--searches", type=int, default=6, metavar="N", help="whole searches by each order, a rig")
    found.add_argument("-o", "--output", default="-", metavar="FILE", help="the page kept in docs")
    found.add_argument("--json", action="store_true")
    found.set_defaults(run=evaluate_commands.diagnosis)


def _sums(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Sums without a job."""
    link = sub.add_parser("link", help="does a signal fit a link?")
    link.add_argument("timing", help="vic:118, cvt:2560x1440@120:rb1")
    link.add_argument("--encoding", required=True, help="rgb, 444, 422 or 420")
    link.add_argument("--bits", required=True, type=int, help="bits per component: 8, 10, 12 or 16")
    over = ("frl:4x10, tmds:600 (MHz), tmds:600,noscdc, dp:4xhbr3, dp:4xuhbr10, usbc:2xhbr3 or dvi:dual; with a "
            "lead or --in the sending end")  # fmt: skip
    link.add_argument("--over", required=True, help=over)
    link.add_argument("--in", dest="inp", metavar="OVER", help="the receiving end, where it differs")
    link.add_argument("--lead", metavar="PRINT", help="what is printed on the lead: standard, high_speed, premium, "
                      "ultra, ultra96; dp54g, dp8k, dp40, dp54, dp80; c_usb2, c_5, c_20, c_40, c_80; dvi_single, "
                      "dvi_dual; unknown (no certification), unread")  # fmt: skip
    link.add_argument("--length", type=float, metavar="M", help="the lead's length in metres")
    link.add_argument("--build", default=None, help="how it is made: unknown, passive, active or optical")
    link.add_argument("--power", default=None, help="of an active or optical lead: port, fed or unfed")
    link.add_argument("--turned", action="store_true", help="a directed lead, plugged the wrong way round")
    link.add_argument("--proved", metavar="OVER", help="the highest rate seen working over it")
    link.add_argument("--failed", metavar="OVER", help="the lowest rate seen failing over it")
    link.add_argument("--against", metavar="OVER", help="another link: both side by side, differences first")
    link.add_argument("--audio", default="2ch", help="none, 2ch, 8ch@48 (channels, kHz) or bitstream")
    link.add_argument("--dsc", default="none", help="compressed transport: none, allowed (8x340), or what both ends do "
                      "as 8x340[,all][,chunk:11][,frl:4x10]")  # fmt: skip
    _finish(link, commands.link)

    timing = sub.add_parser("timing", help="the figures of a timing")
    timing.add_argument(
        "timing",
        help="vic:97@60000/1001, hdmivic:1, dmt:0x52, cvt:2560x1440@120:rb1, ovt:3840x2160@120, "
        "gtf:1280x1024@75, modeline:…; +fva2 or +rep2 behind it",
    )
    _finish(timing, commands.timing)

    scan = sub.add_parser("scan", help="an analogue signal worked out of what is known of it")
    scan.add_argument("scan", help="480i, 640x480@60, or '5.3693 MHz 341.25 dots 262 lines 256x224'")
    _finish(scan, commands.scan)


def _job(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Questions about a job file."""
    job = sub.add_parser("job", help="questions about a job file")
    job_sub = job.add_subparsers(dest="question", required=True, parser_class=_Parser)
    for name, words, run in (
        ("check", "every run: verdict, limiting stage, reasons, sound, fixes", rig_commands.check),
        ("assign", "the best place for every source, proved, with the runner-up", rig_commands.assign),
        ("settings", "what to set on every box, why, and what excludes what", plan_commands.settings),
        ("values", "what every box keeps, cell by cell", gear_commands.values),
        ("retro", "old machines: scan rates, rate, shape, multiples", plan_commands.retro),
        ("steps", "the run sheet: every step from found to plan, in order", plan_commands.steps),
    ):
        question = job_sub.add_parser(name, help=words)
        _job_file(question)
        _finish(question, run)
    most = job_sub.add_parser("want", help="what a new run from a source to a screen should want")
    _job_file(most)
    most.add_argument("--source", required=True, help="the source's name")
    most.add_argument("--screen", required=True, help="the screen's name")
    _finish(most, rig_commands.want)
    wrong = job_sub.add_parser("fault", help="what may be the matter with a run, and the next best check")
    _job_file(wrong)
    wrong.add_argument("--run", dest="of_run", required=True, help="the run's name")
    wrong.add_argument("--complaint", action="append", default=[], metavar="CODE", help="no_picture, no_hdr, lags …")
    wrong.add_argument("--seen", action="append", default=[], metavar="KEY=VALUE", help="what a check or a line showed")
    _finish(wrong, plan_commands.fault)
    shown = job_sub.add_parser(
        "prove", help="what every box of a run will show, where to look, and what was seen there"
    )
    _job_file(shown)
    shown.add_argument("--run", dest="of_run", required=True, help="the run's name")
    shown.add_argument("--at", default="", metavar="STEP", help="behind this step of the run sheet; `plan`: at the end")
    _finish(shown, plan_commands.prove)
    lag = job_sub.add_parser("lag", help="every screen that was measured, side by side, and what its settings cost")
    _job_file(lag)
    lag.add_argument("--baseline", default="", metavar="KEY", help="the row the others are held against, as it is told")
    _finish(lag, lag_commands.of_job)
    update = job_sub.add_parser("update", help="after an update: the fewest looks that find what it put back")
    _job_file(update)
    update.add_argument("--box", required=True, help="the box's name")
    update.add_argument("--to", required=True, metavar="VERSION", help="the version it has now, or may have")
    _finish(update, visit_commands.after_update)
    two = job_sub.add_parser("compare", help="what stands otherwise in another job file; exit 1 where anything does")
    _job_file(two)
    two.add_argument("other", help="the job file it is held against")
    _finish(two, visit_commands.compare)
    left = job_sub.add_parser("handover", help="the hand-over as text: the client's page, then the technician's")
    _job_file(left)
    left.add_argument("--client", action="store_true", help="the client's page alone")
    _finish(left, visit_commands.hand_over)
    stick = job_sub.add_parser("labels", help="labels of leads and boxes, a line each, with their codes")
    _job_file(stick)
    _finish(stick, visit_commands.labels)
    draw = job_sub.add_parser("draw", help="the wiring as SVG, Graphviz DOT, or its cable schedule as CSV")
    _job_file(draw)
    draw.add_argument("--form", choices=("svg", "dot", "csv"), default="svg")
    draw.add_argument("-o", "--output", default="-", metavar="FILE")
    draw.set_defaults(run=rig_commands.draw)


def _gear(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Gear profiles."""
    gear = sub.add_parser("gear", help="gear profiles")
    gear_sub = gear.add_subparsers(dest="question", required=True, parser_class=_Parser)
    gear_check = gear_sub.add_parser("check", help="is a profile file complete? names line and reason if not")
    gear_check.add_argument("file")
    _finish(gear_check, gear_commands.check)
    differ = gear_sub.add_parser("diff", help="what two versions of a profile differ in")
    differ.add_argument("a")
    differ.add_argument("b")
    _finish(differ, gear_commands.diff)
    by_class = gear_sub.add_parser("class", help="classes of gear, or the profile a class makes of a few answers")
    by_class.add_argument("name", nargs="?", help="a class; left out: all of them")
    by_class.add_argument("--answer", action="append", default=[], metavar="QUESTION=ANSWER")
    by_class.add_argument("--maker", default="")
    by_class.add_argument("--model", default="")
    _finish(by_class, gear_commands.of_class)
    finder = gear_sub.add_parser("finder", help="settings to look for by their effect, and where they mostly hide")
    finder.add_argument("--role", choices=("source", "repeater", "screen", "sound"), default="screen")
    _finish(finder, gear_commands.finder)
    pack = gear_sub.add_parser("pack", help="profiles as one pack to hand on")
    pack.add_argument("files", nargs="+", metavar="FILE")
    pack.add_argument("-o", "--output", required=True, metavar="PACK")
    _finish(pack, gear_commands.pack)
    unpack = gear_sub.add_parser("unpack", help="what a pack holds; refused where anything is wrong with it")
    unpack.add_argument("file")
    unpack.add_argument("--into", metavar="FOLDER", help="write each box there as a profile file")
    _finish(unpack, gear_commands.unpack)


def _edid(sub: argparse._SubParsersAction[_Parser]) -> None:
    """EDIDs."""
    edid = sub.add_parser("edid", help="what a screen says of itself")
    edid_sub = edid.add_subparsers(dest="edid_command", required=True, parser_class=_Parser)
    decode = edid_sub.add_parser("decode", help="read EDIDs: binary files or hex text")
    decode.add_argument("files", nargs="+", metavar="FILE", help="a file, - or connector:NAME")
    _finish(decode, edid_commands.decode)
    connectors = edid_sub.add_parser("connectors", help="this PC's own connectors and what is plugged in")
    _finish(connectors, edid_commands.connectors)
    build = edid_sub.add_parser("build", help="the EDID a source reads at an input of a gear profile")
    build.add_argument("profile", help="a profile file, or the id of one of the starter library")
    build.add_argument("--input", required=True, help="the input's id")
    build.add_argument(
        "--set", action="append", default=[], metavar="SETTING=VALUE", help="a setting other than factory"
    )
    build.add_argument(
        "-o", "--output", required=True, metavar="FILE", help="written as binary; - for hex on the screen"
    )
    build.set_defaults(run=edid_commands.build)
    diff = edid_sub.add_parser("diff", help="what two EDIDs differ in")
    diff.add_argument("a")
    diff.add_argument("b")
    _finish(diff, edid_commands.diff)


def _lag(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Readings in a file."""
    lag = sub.add_parser("lag", help="readings in a CSV file")
    lag_sub = lag.add_subparsers(dest="question", required=True, parser_class=_Parser)
    lag_summary = lag_sub.add_parser("summary", help="each condition: n, median, mean, sd, interval of the median")
    lag_summary.add_argument("file", help="a CSV file, - for standard input")
    _finish(lag_summary, lag_commands.summary)
    lag_compare = lag_sub.add_parser("compare", help="two conditions: difference, interval, decision, ratio")
    lag_compare.add_argument("file", help="a CSV file, - for standard input")
    lag_compare.add_argument("a", help="the condition held against")
    lag_compare.add_argument("b", help="the condition compared")
    lag_compare.add_argument(
        "--within", type=float, default=2.0, metavar="MS", help="no practical change within ± this"
    )
    _finish(lag_compare, lag_commands.compare)

    film = lag_sub.add_parser("film", help="every press of a film of button and screen, with its lag")
    film.add_argument("file", help="MP4, MOV, MKV, WebM or AVI")
    film.add_argument("--taken-rate", type=float, metavar="FPS", help="frames a second it was taken at; else as stored")
    for name, words in (
        ("start", "what starts"), ("answer", "what answers"), ("strip", "the counter’s coded strip"),
        ("second", "another screen that answers too"),
    ):  # fmt: skip
        film.add_argument(f"--{name}", metavar="X,Y,W,H", help=f"where {words} stands, each 0 to 1 of the picture")
    for name in ("starts", "answers"):
        film.add_argument(f"--{name}", choices=("rise", "fall", "both"), default="rise", help=f"how it {name}")
    film.add_argument("--counter-hz", type=float, metavar="HZ", help="the rate the counter’s page says it runs at")
    film.add_argument("--readout", type=float, metavar="MS", help="from the first row to the last, where it is known")
    film.add_argument("--metres", type=float, default=0.0, help="from the speaker to the microphone")
    film.add_argument(
        "--csv", nargs=2, metavar=("SCREEN", "MODE"), help="as a table of readings, to bring into a lag session"
    )
    _finish(film, film_commands.film)


def _light(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Light without a job."""
    light = sub.add_parser("light", help="light of a screen: curves, HDR pages, transfer functions")
    light_sub = light.add_subparsers(dest="question", required=True, parser_class=_Parser)
    curve = light_sub.add_parser(
        "curve", help="which value of the panel light gives a light, by readings in a CSV file"
    )
    curve.add_argument(
        "file", help="columns value, cd_m2, error_percent (2 where it is not said); - for standard input"
    )
    curve.add_argument("--want", type=float, required=True, metavar="CD", help="cd/m² of white")
    curve.add_argument("--step", type=float, metavar="N", help="values are set in steps of this")
    _finish(curve, light_commands.curve)
    steps = light_sub.add_parser("hdr-steps", help="clicks on a source's HDR pages for a screen, or what a count means")
    steps.add_argument("profile", help="a profile file, or the id of one of the starter library")
    for name, words in (("peak", "of a small patch"), ("full", "of a full picture"), ("black", "of black")):
        steps.add_argument(f"--{name}", type=float, metavar="CD", help=f"measured light {words}, cd/m²")
    steps.add_argument("--error", type=float, default=3.0, metavar="PERCENT", help="how far each may be off")
    steps.add_argument("--count", type=int, metavar="N", help="a count found on site")
    _finish(steps, light_commands.hdr_steps)
    pq = light_sub.add_parser("pq", help="a transfer function: code value, percent, cd/m²")
    pq.add_argument("--document", choices=("pq", "hlg", "bt1886", "power"), default="pq")
    pq.add_argument("--light", type=float, metavar="CD", help="one light, of PQ")
    pq.add_argument("--bits", type=int, choices=(8, 10, 12), default=10)
    pq.add_argument("--white", type=float, default=100.0, metavar="CD", help="the screen's white (not of PQ)")
    pq.add_argument("--black", type=float, default=0.0, metavar="CD", help="the screen's black (not of PQ)")
    _finish(pq, light_commands.pq)


def _simulate(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Instruments that are not there."""
    simulate = sub.add_parser("simulate", help="instruments that are not there")
    simulate_sub = simulate.add_subparsers(dest="instrument", required=True, parser_class=_Parser)
    meter = simulate_sub.add_parser("lag-meter", help="a lag meter on a TCP port of this machine")
    meter.add_argument("--port", type=int, required=True)
    meter.add_argument("--seed", type=int, default=1)
    meter.add_argument("--every", type=float, default=0.18, metavar="S", help="seconds a reading takes")
    meter.add_argument("--log", metavar="FILE", help="where each acknowledged reading is noted")
    meter.add_argument("--misreads", type=float, default=0.0, metavar="SHARE", help="readings that are off by a field")
    meter.add_argument("--drift", type=float, default=0.0, metavar="US", help="microseconds added with every reading")
    meter.add_argument("--noise", type=float, default=1.0, metavar="TIMES", help="its spread, as a multiple")
    meter.set_defaults(run=commands.simulate_lag_meter)
    spot = simulate_sub.add_parser("light-meter", help="a light meter on a TCP port, before a screen of known light")
    spot.add_argument("--port", type=int, required=True)
    spot.add_argument("--seed", type=int, default=1)
    spot.add_argument("--every", type=float, default=0.08, metavar="S", help="seconds a look takes")
    spot.add_argument("--noise", type=float, default=0.004, metavar="SHARE", help="its noise, as a share of the light")
    spot.add_argument("--drift", type=float, default=0.0, metavar="SHARE", help="added with every look")
    spot.add_argument("--unit", choices=("ucd/m2", "mfL", "mlx"), default="ucd/m2", help="what it says it measures in")
    spot.add_argument("--saturates", type=float, default=0.0, metavar="CD", help="light above which it tells nothing")
    spot.add_argument("--drops", type=int, default=0, metavar="N", help="looks after which it hangs up")
    spot.set_defaults(run=commands.simulate_light_meter)
    for kind in ("receiver", "screen"):
        box = simulate_sub.add_parser(kind, help=f"a {kind} that answers what it shows, on a TCP port of this machine")
        box.add_argument("--port", type=int, required=True)
        box.add_argument("--seed", type=int, default=1)
        box.add_argument("--show", action="append", default=[], metavar="PLACE.KEY=WORDS", help="what a line says")
        box.add_argument("--busy", type=int, default=0, metavar="N", help="questions it refuses first")
        box.add_argument("--damages", type=float, default=0.0, metavar="SHARE", help="lines that arrive damaged")
        box.add_argument("--silent", action="store_true", help="it never answers")
        box.add_argument("--loses", action="store_true", help="a line is missing from each answer")
        box.add_argument("--stale", action="store_true", help="it still says what it showed first")
        box.set_defaults(run=commands.simulate_box)


def _upkeep(sub: argparse._SubParsersAction[_Parser]) -> None:
    """Starting it, accounts, backups, how it stands."""
    serve = sub.add_parser("serve", help="start the application with your own data")
    serve.add_argument("--port", type=int, default=8420)
    serve.add_argument("--host", default="", help="127.0.0.1 unless TLS stands in front; with --lan all there are")
    serve.add_argument("--lan", action="store_true", help="serve the house network: HTTPS, by a certificate of its own")
    serve.add_argument("--probe-port", type=int, default=0, metavar="PORT",
                       help="with --lan: serve the page that measures without TLS, too, and nothing else")  # fmt: skip
    serve.set_defaults(run=commands.serve)

    user = sub.add_parser("user", help="accounts: list them; make one, change, unlock or remove it")
    user.add_argument("name", nargs="?", default="", help="left out: all of them; a new one is made")
    user.add_argument("--role", choices=("technician", "viewer"), help="technician unless said otherwise")
    user.add_argument("--password", action="store_true", help="a new password, asked for or from standard input")
    user.add_argument("--unlock", action="store_true", help="let it try again after too many failed attempts")
    user.add_argument("--sees", default="", metavar="JOB", help="let it see this job, which is kept to named accounts")
    user.add_argument("--remove", action="store_true", help="nobody signs in with it any more")
    _finish(user, commands.user)

    backup = sub.add_parser("backup", help="a verified copy of the data, made while it is in use")
    backup.add_argument("file", nargs="?", default="", help="where to; left out: among the data folder's backups")
    backup.set_defaults(run=commands.backup)

    restore = sub.add_parser("restore", help="put a backup of the data back")
    restore.add_argument("backup", help="a file from the data folder's backups, or a job pack (.zip)")
    restore.add_argument("--to", default="", metavar="FOLDER", help="into another folder, which must be empty")
    restore.add_argument("--verify", action="store_true", help="only read it back and say whether it is sound")
    restore.add_argument("--job", default="", metavar="UID", help="only this job, as a new one beside the others")
    restore.set_defaults(run=commands.restore)

    state = sub.add_parser("status", help="how this installation stands: data, backups, meters, memory")
    _finish(state, commands.status)
    sound = sub.add_parser(
        "check", help="is the data sound? the file, orphaned rows, the shelf, every history done again"
    )
    _finish(sound, commands.check)


def _job_file(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("file", help="a job file, - for standard input")
    parser.add_argument("--layer", choices=("plan", "found"), default="plan")


def _finish(parser: argparse.ArgumentParser, run: object) -> None:
    parser.add_argument("--json", action="store_true", help="answer as JSON")
    parser.set_defaults(run=run)
