"""The house: no circle of imports, and no name of a family where the engine asks."""

from __future__ import annotations

import ast
import os
import re
from collections.abc import Iterator
from pathlib import Path

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import FAMILIES, METHODS

ROOT = Path(__file__).resolve().parents[2]
#: Where nobody names a family, a method, a run, a step or an event of a family.
PYTHON = ("calibration/engine", "verifyloop")
WEB = "web/src"
#: Not searched: data of the demo, history of the database, generated types.
LEFT_OUT = ("migrations", "verifyloop/demo", "schema.d.ts")
#: Ids that are plain words, each with what else it means where it stands.
WORDS = {
    "adapter": "what kind of thing is on, for the safety strip",
    "adjust": "the decision to adjust, and the stage",
    "adjusted": "an outcome, and whether something was set",
    "area": "part of the works",
    "as_found": "key of the published format of a certificate",
    "as_left": "key of the published format of a certificate",
    "bypass": "what kind of thing is on, for the safety strip",
    "gas": "what a reference holds; key of the published format of a certificate",
    "kit": "the engine's kind of step; a place of the application",
    "level": "level of a log",
    "liquid": "a word",
    "replace": "the decision to replace; a band of sensor life",
    "sensor": "the hop of a transmitter that is trimmed; what senses temperature",
    "settings": "what is on record of an instrument; a part of the certificate",
    "sign": "the engine's kind of step",
    "smart": "an instrument with a digital value",
    "span": "the end that is set",
    "state": "a word",
    "tell": "a way of asking",
    "wait": "a way of asking",
    "weights": "a word",
    "zero": "the end that is set",
}
QUOTED = re.compile(r'"([^"\n]*)"|\'([^\'\n]*)\'|`([^`$\n]*)`')


def registered() -> dict[str, str]:
    """Return every id of the families with what it is."""
    found: dict[str, str] = {}
    for family in FAMILIES.values():
        found |= {family.id: "family"}
        for what, ids in (
            ("event", family.events),
            ("kind of run", family.runs),
            ("kind of step", family.steps),
            ("reference", family.assets),
        ):
            found |= {id: what for id in ids if id}
    for method in METHODS.values():
        found[method.id] = "method"
        found |= {name: "run" for r in method.runs for name in (r.id, r.again) if name}
        found |= {step.id: "step" for step in method.steps}
    return found


def literals_of_python(source: str) -> Iterator[str]:
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.value


def literals_of_web(source: str) -> Iterator[str]:
    for match in QUOTED.finditer(source):
        yield next(g for g in match.groups() if g is not None)


def named(path: Path, source: str) -> list[str]:
    """Return the ids of families that a file contains as whole literals, plain words aside."""
    read = literals_of_python if path.suffix == ".py" else literals_of_web
    known = registered()
    found = {v for v in read(source) if v in known and v not in WORDS}
    return [f"{path}: '{v}' is a {known[v]}" for v in sorted(found)]


def files() -> Iterator[Path]:
    for place, pattern in (*((p, "*.py") for p in PYTHON), (WEB, "*.ts*")):
        for path in sorted((ROOT / place).rglob(pattern)):
            short = path.relative_to(ROOT)
            if not any(part in short.as_posix() for part in LEFT_OUT):
                yield short


class Names(SimpleTestCase):
    def test_nobody_names_a_family(self):
        found = [line for path in files() for line in named(path, (ROOT / path).read_text())]
        self.assertEqual(found, [])

    def test_a_name_would_be_found(self):
        """The test above can fail: with a name put in, in both languages, it does."""
        for path, source in (
            (Path("calibration/engine/job/job.py"), 'if step.id == "left_judge":\n    pass\n'),
            (Path("web/src/features/job/NowPanel.tsx"), 'if (run.id === "air_left") stop();'),
        ):
            self.assertEqual(len(named(path, source)), 1)

    def test_every_plain_word_is_still_needed(self):
        self.assertEqual(
            sorted(set(WORDS) - set(registered())), sorted({"liquid"} - set(registered()))
        )


def imports(package: str) -> dict[str, set[str]]:
    """Return which module of a package imports which; imports for types and in functions too."""
    modules = {}
    for path in (ROOT / package).rglob("*.py"):
        parts = path.relative_to(ROOT).with_suffix("").parts
        modules[".".join(p for p in parts if p != "__init__")] = path
    graph = {}
    for name, path in modules.items():
        found = set()
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                found |= {alias.name for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module:
                inner = {f"{node.module}.{alias.name}" for alias in node.names}
                found |= inner & set(modules) or {node.module}
        graph[name] = (found & set(modules)) - {name}
    return graph


def page_imports() -> dict[str, set[str]]:
    """Return which file of the page imports which, at once or when it is needed."""
    files = [p for p in (ROOT / WEB).rglob("*.ts*") if not p.name.endswith(".d.ts")]
    modules = {str(p.relative_to(ROOT / WEB).with_suffix("")): p for p in files}
    graph = {}
    for name, path in modules.items():
        said = re.findall(r'(?:from|import)\s*\(?\s*"(\.[^"]+)"', path.read_text())
        there = [os.path.normpath(Path(name).parent / one) for one in said]
        graph[name] = (set(there) & set(modules)) - {name}
    return graph


def circles(graph: dict[str, set[str]]) -> list[list[str]]:
    """Return the strongly connected components larger than one (Tarjan 1972)."""
    index: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[list[str]] = []

    def visit(node: str) -> None:
        index[node] = low[node] = len(index)
        stack.append(node)
        for other in graph[node]:
            if other not in index:
                visit(other)
            if other in stack:
                low[node] = min(low[node], low[other])
        if low[node] == index[node]:
            place = stack.index(node)
            found.append(sorted(stack[place:]))
            del stack[place:]

    for node in graph:
        if node not in index:
            visit(node)
    return [c for c in found if len(c) > 1]


class Imports(SimpleTestCase):
    def test_there_is_no_circle(self):
        for graph in (imports("calibration"), imports("verifyloop"), page_imports()):
            self.assertGreater(sum(map(len, graph.values())), 500)
            self.assertEqual(circles(graph), [])

    def test_a_feature_of_the_page_imports_no_other(self):
        place = re.compile(r"features/(\w+)/")
        found = [
            (name, other)
            for name, others in page_imports().items()
            for other in others
            if (mine := place.match(name)) and (its := place.match(other)) and mine[1] != its[1]
        ]
        self.assertEqual(found, [])

    def test_a_circle_would_be_found(self):
        self.assertEqual(
            circles({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}}), [["a", "b", "c"]]
        )


class Long(SimpleTestCase):
    def test_no_file_is_longer_than_a_reader_holds(self):
        long = [
            (str(p.relative_to(ROOT)), n)
            for place, pattern in (("calibration", "*.py"), ("verifyloop", "*.py"), (WEB, "*.ts*"))
            for p in (ROOT / place).rglob(pattern)
            if "schema.d.ts" not in p.name and (n := len(p.read_text().splitlines())) > 400
        ]
        self.assertEqual(long, [])
