"""Every answer says what a browser may do with it and how long it may keep it."""

from __future__ import annotations

import re
from pathlib import Path

from django.conf import settings
from django.test import Client, override_settings

from tests.server.base import ApiCase
from tests.server.document import DOCUMENT
from verifyloop.edge.headers import NOTHING, PAGE, PYTHON, WORKER
from verifyloop.edge.release import release

YEAR = "max-age=315360000, public, immutable"
#: What stands in the place of a part of an address.
PARTS = {"tag": "PT-1", "number": "J26-00001", "asset": "R-1", "id": "1", "about": "job"}
JOB_STATE_MOST, FIRST_SCREEN_MOST = 6_000, 100_000


def files() -> list[str]:
    """Return the address of every file that is served."""
    dist = settings.WEB_DIST
    every = [p for p in dist.rglob("*") if p.is_file() and p.suffix not in (".gz", ".br")]
    return sorted(f"/{p.relative_to(dist).as_posix()}" for p in every)


class Headers(ApiCase):
    def looked_at(self, path, answer, policy=NOTHING, kept="no-store"):
        said = answer.headers
        wanted = {
            "Content-Security-Policy": policy,
            "Cache-Control": kept,
            "X-Content-Type-Options": "nosniff",
            "Referrer-Policy": "same-origin",
            "Cross-Origin-Opener-Policy": "same-origin",
            "Cross-Origin-Resource-Policy": "same-origin",
            "Verify-Loop-Release": release(),
        }
        found = {name: said.get(name) for name in wanted}
        self.assertEqual(found, wanted, path)
        self.assertIn("camera=(self)", said["Permissions-Policy"])
        self.assertRegex(said["X-Request-ID"], r"^[\w-]{8,}$")
        self.assertTrue(said.get("Content-Type") or not b"".join(answer), path)

    def test_every_file(self):
        client = Client()
        self.assertGreater(len(files()), 30)
        for path in files():
            if path == "/index.html":
                continue
            named = path.startswith("/assets/") or re.match(r"/python/[0-9a-f]{16}/", path)
            script = path.endswith((".js", ".mjs"))
            policy = PYTHON if path.startswith("/python/") else WORKER if script else NOTHING
            self.looked_at(path, client.get(path), policy, YEAR if named else "no-cache")

    def test_the_rules_for_the_browser_are_kept_by_a_name_of_their_own_only(self):
        lying = [p for p in files() if p.endswith("core.zip")]
        self.assertEqual(len(lying), 1)
        self.assertRegex(lying[0], r"^/python/[0-9a-f]{16}/core\.zip$")

    def test_every_way_of_asking(self):
        """Whoever asks, whatever is answered: refusals too."""
        job = self.signed_job("PT-1")
        for path, ways in DOCUMENT["paths"].items():
            address = re.sub(r"{(\w+)}", lambda m: {**PARTS, "number": job}.get(m[1], "1"), path)
            for way in ways:
                for client in (self.client_of("pia"), Client()):
                    ask = getattr(client, way)
                    answer = ask(address, data={}, content_type="application/json")
                    self.looked_at(f"{way} {address}", answer)
                    self.assertIn(str(answer.status_code), ways[way]["responses"], address)

    def test_pages_and_what_is_not_there(self):
        client = Client()
        for path in ("/", "/kit", "/jobs/J26-00001"):
            self.looked_at(path, client.get(path), PAGE, "no-cache")
        for path in ("/health/alive", "/health/ready", "/api/v1/none", "/api/v2/jobs", "/api/x"):
            self.looked_at(path, client.get(path))
        for path, policy in (("/assets/none.js", PAGE), ("/python/none", PYTHON)):
            self.looked_at(path, client.get(path), policy)

    def test_asked_for_its_head_alone_it_sends_no_body(self):
        for path in ("/", "/health/alive"):
            answer = Client().head(path)
            self.assertEqual((answer.status_code, answer.content), (200, b""), path)

    def test_a_policy_of_the_page_allows_no_foreign_script(self):
        self.assertNotRegex(PAGE, r"script-src|unsafe-eval|\*|https?:")
        self.assertIn("default-src 'self'", PAGE)

    def test_an_id_that_a_proxy_gives_is_kept_and_one_that_is_none_is_not(self):
        for given, kept in (("f" * 32, True), ("a\nb", False), ("<script>", False)):
            answer = self.ana.get("/health/alive", headers={"X-Request-ID": given})
            self.assertEqual(answer["X-Request-ID"] == given, kept)


class Small(ApiCase):
    """What goes over the line."""

    def packed(self, path):
        answer = self.ana.get(path, headers={"Accept-Encoding": "gzip, br"})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer["Content-Encoding"], "gzip")
        return len(answer.content)

    def test_the_state_of_a_job(self):
        job = self.signed_job("PT-1")
        self.assertLessEqual(self.packed(f"/api/v1/jobs/{job}"), JOB_STATE_MOST)

    def test_the_first_screen(self):
        page = Client().get("/").content.decode()
        sent = Client(headers={"Accept-Encoding": "gzip, br"}).get("/").content
        names = re.findall(r"\./(assets/[\w.-]+\.(?:js|css))", page)
        self.assertGreaterEqual(len(names), 2)
        sizes = [Path(settings.WEB_DIST / f"{n}.br").stat().st_size for n in names]
        self.assertLessEqual(sum(sizes) + len(sent), FIRST_SCREEN_MOST)

    @override_settings(ALLOWED_HOSTS=["loops.works.example"])
    def test_a_foreign_host_name_is_refused_everywhere(self):
        for path in ("/", "/api/v1/session", "/health/alive"):
            self.assertEqual(Client().get(path).status_code, 400, path)
