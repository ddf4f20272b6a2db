"""``python -m calibration --list`` and ``python -m calibration NAME < in.json``."""

from __future__ import annotations

import json
import sys
from decimal import Decimal
from typing import Any

from calibration.kernel.errors import InputError
from calibration.operations import catalogue, run


def main(arguments: list[str]) -> int:
    """Run the command line; return the exit code (2 for input that cannot be used)."""
    if arguments == ["--list"]:
        print(json.dumps(catalogue(), indent=2, ensure_ascii=False))
        return 0
    try:
        if len(arguments) != 1:
            raise InputError(
                "usage", "arguments", "Give --list, or the name of one computation.", "See --list."
            )
        print(json.dumps(run(arguments[0], _read()), indent=2, ensure_ascii=False))
    except InputError as refusal:
        print(json.dumps({"error": refusal.as_dict()}, ensure_ascii=False))
        return 2
    return 0


def _read() -> dict[str, Any]:
    try:
        payload = json.loads(sys.stdin.read(), parse_float=Decimal)
    except (ValueError, RecursionError) as problem:
        raise InputError(
            "json.invalid", "input", f"This is not JSON: {problem}", "Check quotes and commas."
        ) from None
    if not isinstance(payload, dict):
        raise InputError("json.not_an_object", "input", "Send one JSON object.", "Use {…}.")
    return payload


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
