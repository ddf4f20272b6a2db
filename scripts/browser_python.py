"""Pack the core for the Python that runs in a browser, below a folder named by what is in it.

The name says which rules are meant: after an upgrade no browser finds the old ones in its cache.
"""

import hashlib
import json
import sys
import zipfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def pack(target: Path) -> None:
    """Write every module of the core into one archive: the same files, always the same bytes."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for module in sorted((ROOT / "calibration").rglob("*.py")):
            name = module.relative_to(ROOT).as_posix()
            archive.writestr(zipfile.ZipInfo(name), module.read_bytes(), zipfile.ZIP_DEFLATED)


def main(python: Path) -> None:
    """Pack into the folder ``new``, and give it its name."""
    made = python / "new"
    pack(made / "core.zip")
    told = hashlib.sha256()
    for part in sorted(made.iterdir()):
        told.update(part.name.encode() + hashlib.sha256(part.read_bytes()).digest())
    folder = told.hexdigest()[:16]
    made.rename(python / folder)
    (python / "where.json").write_text(json.dumps({"folder": folder}) + "\n")


main(Path(sys.argv[1]))
