"""Print what the interface is told about a works at a fixed time; run as a module."""

import json
import os
import sys
from datetime import UTC, datetime
from unittest.mock import patch

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
django.setup()

from django.test import Client  # noqa: E402  (Django must be set up first)

from verifyloop.accounts.models import User  # noqa: E402

#: the day on which the works was made
NOW = datetime(2026, 11, 25, 10, 30, tzinfo=UTC)


def answers():
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(User.objects.get(username="pia"))

    def get(path):
        # What was written down of old has addresses without a number.
        said = client.get(path.replace("/api/", "/api/v1/", 1))
        if said.status_code != 200:
            raise SystemExit(f"{path}: {said.status_code} {said.content[:300]!r}")
        return said.json()

    today = get("/api/today")
    for page in range(2, today.get("pages", 1) + 1):
        for area in get(f"/api/today?page={page}")["areas"]:
            if area["name"] == today["areas"][-1]["name"]:
                today["areas"][-1]["due"] += area["due"]
            else:
                today["areas"].append(area)
    found = {"/api/today": today, "/api/kit/sensors": get("/api/kit/sensors")["sensors"]}
    # A page was longer when they were written down.
    found["/api/instruments"] = get("/api/instruments?per_page=60")
    for line in found["/api/instruments"]["found"]:
        path = f"/api/instruments/{line['tag']}"
        found[path] = get(path)
    for page in range(1, 4):
        path = f"/api/records?page={page}"
        found[path] = get(path)
        for record in found[path]["records"]:
            path = f"/api/records/{record['job']}/certificate.json"
            found[path] = get(path)
    return found


if __name__ == "__main__":
    with patch("django.utils.timezone.now", return_value=NOW):
        json.dump(answers(), sys.stdout, ensure_ascii=False, sort_keys=True)
