"""What the documents say is so: links lead somewhere, named places exist, examples compute."""

import ast
import doctest
import importlib
import inspect
import json
import pkgutil
import re
from pathlib import Path

from django.test import SimpleTestCase

from calibration.engine.method.family import newest_methods
from calibration.kernel.registry import OPERATIONS
from calibration.operations import catalogue

ROOT = Path(__file__).resolve().parents[2]
DOCUMENTS = [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))]
LINK = re.compile(r"\]\(([^)#\s]+)\)")
#: `verifyloop/kit/models.py`, `work/models.py`, `tests/replay/`
PLACE = re.compile(r"`([a-z_]+(?:/[A-Za-z_.<>]+)+/?)(?:: [^`]*)?`")
#: Folders that documents leave out where the text says which part it is about.
WITHIN = ("", "verifyloop", "calibration", "web/src")
MOST_PICTURES = 20
#: What nobody outside its module uses.
SPECIAL = re.compile(r"^(_.*|main)$")
#: Rooms of the core that answer with a figure; the others answer about a job and are replayed.
COMPUTING = (
    "kernel",
    "signals",
    "sensors",
    "gas",
    "measuring",
    "analyzers",
    "decisions",
    "runs",
    "detector",
)
#: What they are given stays known: an example would stand in the product.
REGISTERING = {
    "calibration.kernel.registry.operation",
    "calibration.kernel.registry.picture_of",
    "calibration.runs.cause_rows.table",
}


def modules():
    """Yield the path of every file of the core."""
    yield from sorted((ROOT / "calibration").rglob("*.py"))


class Documents(SimpleTestCase):
    def test_every_link_leads_somewhere(self):
        for document in DOCUMENTS:
            for link in LINK.findall(document.read_text()):
                if not link.startswith("http"):
                    with self.subTest(document=document.name, link=link):
                        self.assertTrue((document.parent / link).exists())

    def test_every_place_that_is_named_exists(self):
        for document in DOCUMENTS:
            for place in PLACE.findall(document.read_text()):
                if "<" in place or "." not in place.rsplit("/", 1)[-1]:
                    continue
                with self.subTest(document=document.name, place=place):
                    self.assertTrue(any((ROOT / within / place).exists() for within in WITHIN))

    def test_every_picture_is_shown_and_there_are_not_too_many(self):
        pictures = sorted((ROOT / "docs/screenshots").iterdir())
        self.assertLess(len(pictures), MOST_PICTURES)
        readme = (ROOT / "README.md").read_text()
        for picture in pictures:
            self.assertEqual(picture.suffix, ".png")
            self.assertIn(f"docs/screenshots/{picture.name}", readme)

    def test_the_readme_counts_the_calculators_right(self):
        said = re.search(r"(\d+) calculators", (ROOT / "README.md").read_text())
        self.assertEqual(int(said[1]), len(catalogue()))

    def test_no_document_names_a_path_of_a_machine(self):
        for document in DOCUMENTS:
            self.assertNotRegex(document.read_text(), r"(?<![\w`])/(work|home|root|tmp|Users)/")


class Sentences(SimpleTestCase):
    def test_every_module_class_and_function_that_others_use_says_what_it_is(self):
        silent = []
        for path in modules():
            tree = ast.parse(path.read_text())
            if not ast.get_docstring(tree):
                silent.append(str(path.relative_to(ROOT)))
            for node in tree.body:
                if not isinstance(node, ast.FunctionDef | ast.ClassDef):
                    continue
                if not SPECIAL.match(node.name) and not ast.get_docstring(node):
                    silent.append(f"{path.relative_to(ROOT)}: {node.name}")
        self.assertEqual(silent, [])

    def test_a_function_that_others_use_names_what_it_refuses_itself(self):
        """Every code that a public function raises on its own lines stands in its docstring."""
        missing = []
        for path in modules():
            for node in ast.parse(path.read_text()).body:
                if not isinstance(node, ast.FunctionDef) or SPECIAL.match(node.name):
                    continue
                text = ast.get_docstring(node) or ""
                for code in self.raised(node):
                    if code not in text and f"{code.split('.')[0]}.*" not in text:
                        missing.append(f"{path.relative_to(ROOT)}: {node.name}: {code}")
        self.assertEqual(missing, [])

    def raised(self, function):
        """Yield the codes of the refusals that stand in a function."""
        for node in ast.walk(function):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Name)
                and node.func.id == "InputError"
                and node.args
                and isinstance(node.args[0], ast.Constant)
            ):
                yield node.args[0].value

    def test_every_example_in_a_docstring_computes(self):
        for name, module in self.rooms("calibration"):
            with self.subTest(module=name):
                self.assertEqual(doctest.testmod(module).failed, 0)

    def test_every_function_of_a_room_that_computes_shows_an_example(self):
        """An operation's example stands in its entry, and is computed for the desk's page."""
        worked = {entry.function for entry in OPERATIONS.values()}
        missing, shown = [], 0
        for room in COMPUTING:
            for name, module in self.rooms(f"calibration.{room}"):
                for said, function in vars(module).items():
                    own = inspect.isfunction(function) and function.__module__ == name
                    if not own or SPECIAL.match(said) or f"{name}.{said}" in REGISTERING:
                        continue
                    examples = ">>>" in (function.__doc__ or "")
                    shown += examples
                    if not examples and function not in worked:
                        missing.append(f"{name}.{said}")
        self.assertEqual(missing, [])
        self.assertGreater(shown, 90)

    def rooms(self, name):
        """Yield every module of a package with its name, the package first."""
        package = importlib.import_module(name)
        yield name, package
        for found in pkgutil.walk_packages(package.__path__, f"{name}."):
            if not found.name.endswith("__main__"):
                yield found.name, importlib.import_module(found.name)


class Words(SimpleTestCase):
    def test_every_step_of_every_method_says_what_to_do_and_why(self):
        for method in newest_methods():
            for step in method.steps:
                with self.subTest(method=method.id, step=step.id):
                    self.assertTrue(step.title)
                    self.assertFalse(step.title.endswith("."))
                    self.assertTrue(step.why or step.instruction or step.caution)

    def test_every_method_names_its_sources(self):
        for method in newest_methods():
            self.assertTrue(method.sources, method.id)

    def test_the_catalogue_is_plain_json(self):
        said = json.loads(json.dumps(catalogue()))
        self.assertEqual(len({e["title"] for e in said}), len(said))
