"""The process that opens one file of a stranger: ``python -m verifyloop.files.child WHAT NAME``.

The file comes in, plain values and bytes go out; it has no settings and no database.
"""

from __future__ import annotations

import json
import resource
import sys
from collections.abc import Callable
from importlib import import_module
from typing import Any

from calibration.kernel.errors import InputError

Work = Callable[[str, bytes], tuple[Any, bytes]]
#: By what is to be opened: function, processor time [s], memory [MB].
OPENS = {
    "pdf": ("verifyloop.files.pdfs:as_kept", 20, 900),
    "picture": ("verifyloop.files.pictures:as_kept", 20, 600),
    "list": ("verifyloop.lists.sheets:as_plain", 60, 1800),
}


def main(what: str, name: str) -> None:
    """Open what comes in, and write what it is."""
    where, seconds, megabytes = OPENS[what]
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    resource.setrlimit(resource.RLIMIT_AS, (megabytes << 20, megabytes << 20))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    module, _, function = where.partition(":")
    work: Work = getattr(import_module(module), function)
    body = b""
    try:
        plain, body = work(name, sys.stdin.buffer.read())
        said = {"is": plain}
    except InputError as wrong:
        said = {
            "refused": {
                "code": wrong.code,
                "field": wrong.field,
                "message": wrong.message,
                "remedy": wrong.remedy,
            }
        }
    sys.stdout.buffer.write(json.dumps(said).encode() + b"\n" + body)


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2])
