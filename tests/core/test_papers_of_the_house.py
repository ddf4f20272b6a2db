"""What the documents say is so: links lead somewhere, named places exist, examples compute."""

import ast
import doctest
import importlib
import json
import pkgutil
import re
from pathlib import Path

from django.test import SimpleTestCase

import calibration
from calibration.engine.method.family import newest_methods
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
        tried, shown = 0, 0
        for found in pkgutil.walk_packages(calibration.__path__, "calibration."):
            if found.name.endswith("__main__"):
                continue
            module = importlib.import_module(found.name)
            said = doctest.testmod(module)
            self.assertEqual(said.failed, 0, found.name)
            tried += said.attempted
            shown += sum(bool(one.examples) for one in doctest.DocTestFinder().find(module))
        # So many have an example; the number may only grow.
        self.assertGreaterEqual(shown, 22)
        self.assertGreaterEqual(tried, 22)


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
