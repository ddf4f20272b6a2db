"""Pack the core for the Python that runs in a browser: the same files, always the same bytes."""

import sys
import zipfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def main(target: str) -> None:
    """Write every module of the core into one archive."""
    out = Path(target)
    out.parent.mkdir(parents=True, exist_ok=True)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for module in sorted((ROOT / "calibration").rglob("*.py")):
            name = module.relative_to(ROOT).as_posix()
            archive.writestr(zipfile.ZipInfo(name), module.read_bytes(), zipfile.ZIP_DEFLATED)


main(sys.argv[1])
