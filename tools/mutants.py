"""`make mutants`: small changes in the core, one at a time; how many of them no core test notices?

A sample of SAMPLE changes is drawn by fixed seeds from every place where a constant, a comparison, a sign or a logical
word stands. Each is run against the tests that run the changed line (of module code: that run the file, or one that
imports it), found by one run with line coverage. Survivors are listed with their place; EQUIVALENT names those that
change nothing.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path

_SURVIVED = r"survived +(?P<file>[\w/.]+):\d+ (?P<function>\S+): (?P<change>.+?)   \(\d+ tests\) \| (?P<text>.*)"
ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "wavilex" / "core"
SAMPLE, SEED, WORKERS = 200, 20, 2
FIRST, MOST_SECONDS = 60, 240  # tests of the first, quick go; the longest a run may take
_COMPARE = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==", ast.Is: "is not",
    ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip
_ARITHMETIC = {ast.Add: "-", ast.Sub: "+", ast.Mult: "+", ast.FloorDiv: "*", ast.Div: "*", ast.Mod: "+"}
EQUIVALENT = ROOT / "tools" / "mutants_equivalent.txt"


@dataclass(frozen=True, slots=True)
class Mutant:
    """One change: the file below core/, the place and length in it, what stands there and what shall."""

    file: str
    line: int
    start: int
    end: int
    old: str
    new: str
    function: str  # qualified name and first line; "" for module code
    text: str  # the line it stands in

    @property
    def key(self) -> str:
        """The change whatever its line's number: as the list of equivalent ones names it."""
        return f"{self.file} {self.function.split('@')[0] or 'module'}: {self.old} → {self.new} | {self.text}"

    def __str__(self) -> str:
        return f"{self.file}:{self.line} {self.function.split('@')[0] or 'module'}: {self.old} → {self.new}"


def mutants_of(path: Path) -> Iterator[Mutant]:
    """Every change that could be made to a file."""
    text = path.read_text(encoding="utf-8")
    lines = [0]
    for line in text.encode().splitlines(keepends=True):
        lines.append(lines[-1] + len(line))
    data, rows = text.encode(), text.splitlines()
    name = str(path.relative_to(CORE))

    def text_at(number: int) -> str:
        return rows[number - 1].strip()

    def at(node: ast.expr | ast.stmt) -> tuple[int, int]:
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        return lines[node.lineno - 1] + node.col_offset, lines[node.end_lineno - 1] + node.end_col_offset

    def between(left: ast.expr, right: ast.expr, new: str, function: str) -> Mutant:
        start, end = at(left)[1], at(right)[0]
        gap = data[start:end].decode()
        sign = gap.strip(" ()\n\\")
        where = start + len(gap[: gap.index(sign)].encode())
        return Mutant(name, left.lineno, where, where + len(sign.encode()), sign, new, function, text_at(left.lineno))

    def visit(node: ast.AST, function: str, prefix: str) -> Iterator[Mutant]:
        if isinstance(node, (ast.FunctionDef, ast.ClassDef)):
            prefix = f"{prefix}{node.name}."
            if isinstance(node, ast.FunctionDef):
                first = min([node.lineno, *(d.lineno for d in node.decorator_list)])
                function = function or f"{prefix[:-1]}@{first}"
                for child in (*node.args.defaults, *filter(None, node.args.kw_defaults), *node.body):
                    yield from visit(child, function, prefix)
                return
            for child in node.body:
                yield from visit(child, function, prefix)
            return
        if isinstance(node, ast.AnnAssign) and node.value is not None:
            yield from visit(node.value, function, prefix)
            return
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARE:
            yield between(node.left, node.comparators[0], _COMPARE[type(node.ops[0])], function)
        if isinstance(node, ast.BinOp) and type(node.op) in _ARITHMETIC and not isinstance(node.left, ast.JoinedStr):
            yield between(node.left, node.right, _ARITHMETIC[type(node.op)], function)
        if isinstance(node, ast.BoolOp):
            new = "or" if isinstance(node.op, ast.And) else "and"
            yield between(node.values[0], node.values[1], new, function)
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.Not)):
            start, _ = at(node)
            inner, _ = at(node.operand)
            old = data[start:inner].decode()
            yield Mutant(
                name, node.lineno, start, inner, old.strip(), "(" * old.count("("), function, text_at(node.lineno)
            )
        if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)):
            start, end = at(node)
            old = data[start:end].decode()
            if isinstance(node.value, bool):
                new = str(not node.value)
            else:
                new = f"({old} + 1)" if isinstance(node.value, int) else f"({old} * 1.1)"
            yield Mutant(name, node.lineno, start, end, old, new, function, text_at(node.lineno))
        if isinstance(node, ast.JoinedStr):
            return  # words for people
        for child in ast.iter_child_nodes(node):
            if isinstance(child, (ast.expr, ast.stmt, ast.comprehension, ast.keyword, ast.withitem,
                                  ast.excepthandler, ast.match_case, ast.arguments)):  # fmt: skip
                yield from visit(child, function, prefix)

    yield from visit(ast.parse(text), "", "")


def sample(count: int, seed: int) -> list[Mutant]:
    """The changes drawn: the same for the same source and seed."""
    files = sorted(p for p in CORE.rglob("*.py") if p.name not in ("__init__.py", "shapes.py"))
    every = [m for p in files for m in mutants_of(p)]
    return random.Random(seed).sample(every, min(count, len(every)))


_RECORDER = """
import functools, gc, sys, time
import coverage, pytest
cover = coverage.Coverage(data_file={data!r}, source=[{core!r}], config_file=False)
took = {{}}
remembering, modules = [], 0
cover.start()
# What a test before it worked out, a test must work out again, or the lines it rests on would not be seen; the library
# of starter gear is read once.
def forget():
    global remembering, modules
    if modules != len(sys.modules):
        modules = len(sys.modules)
        every = [o for o in gc.get_objects() if isinstance(o, functools._lru_cache_wrapper)]
        remembering = [o for o in every if o.__module__.startswith("wavilex.core")]
    for o in remembering:
        o.cache_clear()
@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item, nextitem):
    forget()
    cover.switch_context(item.nodeid)
    began = time.perf_counter()
    yield
    took[item.nodeid] = time.perf_counter() - began
def pytest_sessionfinish(session):
    import json, pathlib
    cover.stop()
    cover.save()
    pathlib.Path({took!r}).write_text(json.dumps(took))
"""


@dataclass(frozen=True)
class Record:
    """Which tests run each line of the core, by file and line; and how long each takes, in seconds."""

    by_line: dict[tuple[str, int], list[str]]
    seconds: dict[str, float]

    @cached_property
    def lines_of(self) -> Counter[str]:
        """How many lines each test runs: the fewer, the more special it is."""
        return Counter(t for tests in self.by_line.values() for t in tests)


def record(folder: Path) -> Record:
    """One run of the core's tests with the lines they run written down, by as many workers as there are."""
    files = sorted((ROOT / "tests" / "core").glob("test_*.py"), key=lambda f: f.stat().st_size)
    shares = [files[n::WORKERS] for n in range(WORKERS)]
    with ThreadPoolExecutor(WORKERS) as pool:
        parts = list(pool.map(_record, [folder / f"share{n}" for n in range(WORKERS)], shares))
    whole = Record({}, {})
    for part in parts:
        whole.seconds.update(part.seconds)
        for place, tests in part.by_line.items():
            whole.by_line.setdefault(place, []).extend(tests)
    return whole


def _record(folder: Path, files: list[Path]) -> Record:
    import coverage

    folder.mkdir()
    data, took = str(folder / "lines"), folder / "took.json"
    text = _RECORDER.format(core=str(CORE), data=data, took=str(took))
    (folder / "wavilex_recorder.py").write_text(text, encoding="utf-8")
    env = {**os.environ, "PYTHONPATH": f"{folder}:{ROOT / 'src'}"}
    words = [sys.executable, "-m", "pytest", *map(str, files), "-q", "-p", "wavilex_recorder", "-p", "no:xdist"]
    done = subprocess.run(words, cwd=ROOT, env=env, check=False, capture_output=True, text=True)
    if done.returncode:
        sys.exit(f"the tests fail as they are:\n{done.stdout[-3000:]}{done.stderr[-1000:]}")
    lines = coverage.CoverageData(data)
    lines.read()
    by_line: dict[tuple[str, int], list[str]] = {}
    for file in lines.measured_files():
        for line, contexts in lines.contexts_by_lineno(file).items():
            by_line[str(Path(file).relative_to(CORE)), line] = [c for c in contexts if c]
    return Record(by_line, json.loads(took.read_text(encoding="utf-8")))


class Bench:
    """A copy of the source in which one change at a time is made and tested."""

    def __init__(self, folder: Path, number: int) -> None:
        self.src = folder / f"bench{number}" / "src"
        shutil.copytree(ROOT / "src", self.src, ignore=shutil.ignore_patterns("web", "fonts", "__pycache__"))

    def noticed(self, m: Mutant, tests: list[str]) -> bool:
        """Does any of the tests fail with the change in place? One that hangs is noticed."""
        file = self.src / "wavilex" / "core" / m.file
        data = file.read_bytes()
        file.write_bytes(data[: m.start] + m.new.encode() + data[m.end :])
        env = {**os.environ, "PYTHONPATH": str(self.src), "PYTHONDONTWRITEBYTECODE": "1"}
        words = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:xdist", "--no-header", *tests]
        try:
            done = subprocess.run(
                words, cwd=ROOT, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, timeout=MOST_SECONDS
            )
        except subprocess.TimeoutExpired:
            return True
        finally:
            file.write_bytes(data)
        return done.returncode != 0


@cache
def importers(file: str) -> tuple[str, ...]:
    """Files of the core that import a file: what its module code is worth is seen there."""
    name = "wavilex.core." + file.removesuffix(".py").replace("/", ".")
    return tuple(
        str(p.relative_to(CORE)) for p in CORE.rglob("*.py") if f"from {name} import" in p.read_text(encoding="utf-8")
    )


def tests_for(m: Mutant, kept: Record) -> list[str]:
    """The tests that run the changed line, quick and special ones first; of module code those that run the file."""
    found = set(kept.by_line.get((m.file, m.line), ()))
    if not found:
        near = {m.file, *importers(m.file)}
        found = {t for (file, _), tests in kept.by_line.items() if file in near for t in tests}
        found |= {t for t in kept.seconds if "test_kept" in t}  # constants a test reads are run by no line of its own
    return sorted(found, key=lambda t: (kept.seconds.get(t, 9.0) > 1, kept.lines_of[t], kept.seconds.get(t, 9.0)))


def _again(log: str) -> list[Mutant]:
    """The changes that a run named as survivors; one whose line reads otherwise by now is none any more."""
    if not log:
        return []
    rows = [re.match(_SURVIVED, line) for line in Path(log).read_text(encoding="utf-8").splitlines()]
    keys = Counter(f"{r['file']} {r['function']}: {r['change']} | {r['text']}" for r in rows if r)
    found: dict[str, list[Mutant]] = {}
    for path in sorted({CORE / r["file"] for r in rows if r}):
        for m in mutants_of(path):
            found.setdefault(m.key, []).append(m)
    return [m for key in keys for m in found.get(key, [])]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sample", type=int, default=SAMPLE)
    parser.add_argument("--seed", type=int, default=SEED)
    parser.add_argument("--only", default="", help="only files whose path holds this")
    parser.add_argument("--again", default="", help="the output of a run: only what survived there, as it stands now")
    words = parser.parse_args()
    known = set(EQUIVALENT.read_text(encoding="utf-8").splitlines()) if EQUIVALENT.exists() else set()
    chosen = [m for m in _again(words.again) or sample(words.sample, words.seed) if words.only in m.file]
    begun = time.monotonic()
    with tempfile.TemporaryDirectory() as temporary:
        folder = Path(temporary)
        kept = record(folder)
        print(
            f"{len(kept.seconds)} tests recorded in {time.monotonic() - begun:.0f} s; {len(chosen)} changes", flush=True
        )
        benches = [Bench(folder, n) for n in range(WORKERS)]
        free = list(benches)
        survivors: list[Mutant] = []
        done: list[Mutant] = []

        def judge(m: Mutant) -> None:
            tests = tests_for(m, kept)
            bench = free.pop()
            try:
                few = tests[:FIRST]
                noticed = bool(few) and (
                    bench.noticed(m, few) or (len(tests) > FIRST and bench.noticed(m, tests[FIRST:]))
                )
            finally:
                free.append(bench)
            if not noticed:
                survivors.append(m)
                word = "equivalent" if m.key in known else "survived  "
                print(f"{word} {m}   ({len(tests)} tests) | {m.text}", flush=True)
            done.append(m)
            if len(done) % 25 == 0:
                print(f"{len(done)} done, {len(survivors)} not noticed", flush=True)

        with ThreadPoolExecutor(WORKERS) as pool:
            list(pool.map(judge, chosen))
    left = [m for m in survivors if m.key not in known]
    share = 100 * len(left) / max(1, len(chosen))
    print(f"{len(chosen)} changes, {len(survivors) - len(left)} equivalent, {len(left)} survived: {share:.1f} %, "
          f"{time.monotonic() - begun:.0f} s")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
