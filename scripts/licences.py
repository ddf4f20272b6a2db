"""Gather the licences of everything that is shipped into one text beside the built interface."""

import json
import re
import sys
from importlib.metadata import PackageNotFoundError, distribution
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
RULE = "\n" + 78 * "-" + "\n"
#: Parts whose packages carry no text of their own: named with where it stands.
NAMED = {
    "pyodide": "MPL-2.0, https://www.mozilla.org/MPL/2.0/",
    "CPython and its library, in pyodide": "PSF-2.0, https://docs.python.org/3/license.html",
}


def interface(dist: Path) -> str:
    """Return what the build says of the packages that went into the scripts."""
    made = dist / "licences.md"
    text = made.read_text()
    made.unlink()
    return text


def fonts() -> str:
    """Return the licences of the fonts."""
    found = []
    for place in sorted((ROOT / "web/node_modules/@fontsource").iterdir()):
        version = json.loads((place / "package.json").read_text())["version"]
        found.append(f"@fontsource/{place.name} {version}\n\n{(place / 'LICENSE').read_text()}")
    return RULE.join(found)


def python() -> str:
    """Return the licences of the server's packages, by the list that is installed."""
    found = []
    for name in re.findall(r"^([\w.-]+)\S*==", (ROOT / "requirements.txt").read_text(), re.M):
        try:
            package = distribution(name)
        except PackageNotFoundError:
            # A package for another platform only.
            continue
        about = package.metadata
        said = about.get("License-Expression") or about.get("License") or ""
        kinds = [c for c in about.get_all("Classifier") or [] if c.startswith("License")]
        texts = [
            Path(str(f.locate())).read_text(errors="replace")
            for f in package.files or []
            if f.name.upper().startswith(("LICEN", "COPYING", "NOTICE")) and f.suffix != ".py"
        ]
        kind = said.splitlines()[0] if said else ", ".join(kinds)
        found.append("\n\n".join([f"{name} {package.version}: {kind}", *texts]))
    return RULE.join(found)


def main(dist: Path) -> None:
    """Write the text."""
    named = "\n".join(f"{what}: {licence}" for what, licence in NAMED.items())
    own = "Verify Loop: Apache-2.0, see LICENSE."
    parts = [own, interface(dist), fonts(), named, python()]
    (dist / "licences.txt").write_text(RULE.join(parts))


main(Path(sys.argv[1]))
