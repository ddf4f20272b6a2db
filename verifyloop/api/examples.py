"""Examples in the API's description; a test holds each against its schema."""

from __future__ import annotations

from typing import Any

EXAMPLES: dict[str, dict[str, Any]] = {
    "signIn": {"request": {"username": "ana", "password": "three quiet words"}},
    "openJob": {
        "request": {"tag": "PT-4107"},
        "answer": {"job": "J26-00042"},
    },
    "addEvents": {
        "request": {
            "expected_seq": 12,
            "events": [
                {
                    "id": "6f1c2a52-7f5a-4b0e-9d35-0c2a1f6f4c11",
                    "kind": "reading_taken",
                    "data": {
                        "run": "as_found",
                        "point": 0,
                        "applied": "0.0",
                        "reading": "4.003",
                    },
                }
            ],
        }
    },
    "moveDueDate": {
        "request": {
            "due": "2026-12-14",
            "reason": "shutdown was moved",
            "version": "0d9e3c1b7a55f210",
        }
    },
    "newToken": {
        "request": {
            "name": "archive",
            "scope": "records",
            "days": 365,
            "password": "three quiet words",
        }
    },
    "checkSeal": {
        "answer": {
            "intact": True,
            "text": "40 events, every seal fits",
            "fingerprint": "1.5c2f",
        }
    },
}
