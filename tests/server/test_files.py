"""Attachments: what a file really is, what photos lose, and two hundred hostile files."""

from __future__ import annotations

import io
import random
import tempfile
import zipfile
from importlib import import_module
from pathlib import Path
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from PIL.PngImagePlugin import PngInfo
from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from tests.server.base import ApiCase
from verifyloop.files import apart, child
from verifyloop.files.models import Attachment
from verifyloop.files.services import folder, place_of

JSON = "application/json"


def paper():
    """A page of a PDF, in plain objects."""
    out = io.BytesIO()
    page = Canvas(out, pageCompression=0, invariant=1)
    page.drawString(72, 720, "certificate")
    page.save()
    return out.getvalue()


PDF = paper()
#: So many of the hostile files are opened as a server does; the others in this process, for time.
APART = 24


def opened_here(what, name, content):
    where = child.OPENS[what][0].partition(":")
    return getattr(import_module(where[0]), where[2])(name, content)


GPS, MAKE = 0x8825, 0x010F


def photo(form="JPEG", size=(40, 30), turned=1):
    """A photo that tells where and with what it was taken."""
    picture = Image.new("RGB", size, (200, 30, 30))
    picture.putpixel((0, 0), (0, 0, 255))
    out = io.BytesIO()
    if form == "PNG":
        told = PngInfo()
        told.add_text("Location", "52.1 N 4.3 E")
        picture.save(out, form, pnginfo=told)
    else:
        exif = Image.Exif()
        exif[MAKE], exif[0x0112] = "Camera of Ana", turned
        exif.get_ifd(GPS)[2] = (52.0, 6.0, 0.0)
        picture.save(out, form, exif=exif, comment=b"at home")
    return out.getvalue()


class Beside(ApiCase):
    """What is put beside something lies in a place of its own."""

    def setUp(self):
        super().setUp()
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        beside = self.settings(DATA_DIR=Path(place.name))
        beside.enable()
        self.addCleanup(beside.disable)


class Files(Beside):
    def send(self, content, name="plate.jpg", about="instrument", key="PT-1", client=None, note=""):
        sent = {"file": SimpleUploadedFile(name, content), "note": note}
        return (client or self.ana).post(f"/api/v1/files/{about}/{key}", sent)

    def content(self, one, client=None):
        return (client or self.ana).get(f"/api/v1/files/content/{one['id']}")

    def test_a_photo_keeps_the_picture_and_loses_the_place(self):
        for form, name in (("JPEG", "plate.jpg"), ("PNG", "plate.png")):
            with self.subTest(form):
                one = self.must(self.send(photo(form), name, note="the plate"))[0]
                self.assertEqual(
                    (one["name"], one["note"], one["by"]), (name, "the plate", "Ana Test")
                )
                kept = self.content(one)
                self.assertEqual(kept.status_code, 200)
                for word in (b"Camera", b"Location", b"52.1", b"at home", b"Exif"):
                    self.assertNotIn(word, kept.content)
                with Image.open(io.BytesIO(kept.content)) as drawn:
                    self.assertEqual((drawn.format, drawn.size), (form, (40, 30)))
                    self.assertFalse(dict(drawn.getexif()))

    def test_a_photo_taken_sideways_stands_upright(self):
        one = self.must(self.send(photo(turned=6)))[0]
        with Image.open(io.BytesIO(self.content(one).content)) as drawn:
            self.assertEqual(drawn.size, (30, 40))

    def test_papers_lie_beside_instrument_kit_and_job(self):
        job = self.open()
        for about, key in (("instrument", "PT-1"), ("kit", "R-1"), ("job", job)):
            with self.subTest(about):
                one = self.must(self.send(PDF, "certificate.pdf", about, key))[0]
                answer = self.content(one)
                self.assertEqual(answer.content, PDF)
                self.assertIn("attachment", answer["Content-Disposition"])
                self.assertIn("sandbox", answer["Content-Security-Policy"])
                self.assertEqual(answer["X-Content-Type-Options"], "nosniff")
        for about, key in (("instrument", "none"), ("kit", "none"), ("job", "none"), ("x", "y")):
            self.assertEqual(self.send(PDF, "a.pdf", about, key).status_code, 404)

    def test_two_hundred_hostile_files_are_refused_or_harmless(self):
        chance = random.Random("files")
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as one:
            one.writestr("a.txt", "x")
        hostile = [
            b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>",
            b"<!DOCTYPE html><script>alert(1)</script>",
            b"<?xml version='1.0'?><!DOCTYPE a [<!ENTITY b SYSTEM 'file:///etc/passwd'>]><a>&b;</a>",
            b"  \n<HTML><body onload=alert(1)>",
            b"MZ\x90\x00" + bytes(range(256)),
            b"\x7fELF" + bytes(100),
            packed.getvalue(),
            b"GIF89a" + bytes(40),
            b"\xff\xd8\xff" + b"not a picture at all" * 9,
            b"\x89PNG\r\n\x1a\n" + bytes(60),
            b"%PDF-1.4 and then nothing",
            PDF.replace(b"/Catalog", b"/Catalog /OpenAction << /S /JavaScript /JS (x) >>"),
            PDF.replace(b"/Catalog", b"/Catalog /Launch"),
            PDF.replace(b"/Catalog", b"/Catalog /EmbeddedFile"),
            b"",
            b"\x00" * 1000,
            "naïve".encode("latin-1"),
        ]
        names = ("../../etc/passwd", "a.jpg", "c:\\x\\y.exe", "x\x00.pdf")
        names += ("<b>.svg", "a" * 300, ".hidden", "..jpg")
        good = (photo(), PDF, b"plain text", photo("PNG"))
        taken = 0
        for n in range(200):
            if n < len(hostile) * len(names):
                content = hostile[n % len(hostile)]
            else:
                content = bytearray(chance.choice(good))
                for _ in range(chance.randint(1, 30)):
                    content[chance.randrange(len(content))] = chance.randrange(256)
                content = bytes(content)
            name = names[n % len(names)] or "x"
            way = apart.opened if n < APART else opened_here
            with (
                self.subTest(n=n, name=name[:20], content=content[:12]),
                mock.patch("verifyloop.files.apart.opened", way),
            ):
                answer = self.send(content, name)
                self.assertIn(answer.status_code, (200, 409, 413, 422), answer.content[:200])
                if answer.status_code == 200:
                    taken += 1
                    self.harmless(answer.json()[0])
                else:
                    self.assertTrue(answer.json()["message"])
                    self.assertTrue(answer.json()["remedy"])
        self.assertLess(taken, 200)
        kept = {p.name for p in folder().rglob("*") if p.is_file()} if folder().exists() else set()
        self.assertEqual(kept, {a.digest for a in Attachment.objects.all()})

    def harmless(self, one):
        """Its name is no path, its kind one of four, and a browser runs nothing of it."""
        self.assertNotRegex(one["name"], r"[\\/\x00<>]|^\.")
        self.assertIn(one["kind"], ("jpg", "png", "pdf", "txt"))
        answer = self.content(one)
        self.assertIn("sandbox", answer["Content-Security-Policy"])
        self.assertNotIn("html", answer["Content-Type"])
        self.assertNotIn("svg", answer["Content-Type"])

    def test_too_large_is_refused_before_it_is_opened(self):
        self.assertEqual(
            self.send(b"%PDF-" + b"x" * 16 * 1024 * 1024).json()["code"], "file.too_large"
        )
        out = io.BytesIO()
        Image.new("1", (9000, 9000)).save(out, "PNG")
        self.assertEqual(self.send(out.getvalue()).json()["code"], "file.too_large")

    def test_a_file_is_taken_away_with_a_reason_and_kept(self):
        one = self.must(self.send(PDF, "a.pdf"))[0]
        address = f"/api/v1/files/content/{one['id']}/remove"
        without = self.ana.post(address, {"reason": " "}, content_type=JSON)
        self.assertEqual((without.status_code, without.json()["field"]), (422, "reason"))
        other = self.client_of("ben").post(address, {"reason": "mine"}, content_type=JSON)
        self.assertEqual(other.status_code, 403)
        left = self.must(self.client_of("pia").post(address, {"reason": "old"}, content_type=JSON))
        self.assertEqual(left, [])
        self.assertEqual(self.content(one).status_code, 404)
        row = Attachment.objects.get()
        self.assertEqual((row.removed, row.removed_by), ("old", "Pia Test"))
        self.assertTrue(place_of(row.digest).exists())

    def test_a_content_that_was_changed_on_the_disk_is_not_given_out(self):
        one = self.must(self.send(PDF, "a.pdf"))[0]
        place_of(Attachment.objects.get().digest).write_bytes(PDF + b"more")
        self.assertEqual(self.content(one).json()["code"], "file.lost")

    def test_who_only_reads_adds_nothing(self):
        self.people["ben"].role = "read-only"
        self.people["ben"].save()
        self.assertEqual(self.send(PDF, client=self.client_of("ben")).status_code, 403)


class OnPaper(Beside):
    def add(self, content, name, key):
        sent = {"file": SimpleUploadedFile(name, content), "note": "the plate"}
        about = "job" if key.startswith("J") else "instrument"
        return self.must(self.ana.post(f"/api/v1/files/{about}/{key}", sent))[0]

    def put(self, one, on=True, client=None):
        return (client or self.ana).put(
            f"/api/v1/files/content/{one['id']}/paper", {"on": on}, content_type="application/json"
        )

    def text(self, job):
        content = self.ana.get(f"/api/v1/records/{job}/certificate.pdf").content
        return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(content)).pages)

    def test_a_photo_of_a_job_is_shown_behind_its_paper_where_that_is_wanted(self):
        job = self.signed_job()
        one = self.add(photo(), "plate.jpg", job)
        self.assertEqual((one["on_paper"], one["may_be"]), (False, True))
        plain = self.text(job)
        self.assertNotIn("plate.jpg", plain)
        self.assertTrue(self.must(self.put(one))[0]["on_paper"])
        shown = self.text(job)
        digest = Attachment.objects.get().digest
        for said in ("plate.jpg: the plate", "not part of what is sealed", digest[:30]):
            self.assertIn(said, shown)
        # The record itself is as it was sealed.
        self.assertTrue(self.must(self.ana.get(f"/api/v1/records/{job}/seal"))["intact"])
        self.must(self.put(one, on=False))
        self.assertNotIn("plate.jpg", self.text(job))

    def test_a_photo_that_is_not_as_it_was_kept_is_not_shown(self):
        job = self.signed_job()
        one = self.add(photo(), "plate.jpg", job)
        self.must(self.put(one))
        place_of(Attachment.objects.get().digest).write_bytes(photo("PNG"))
        self.assertIn("It is not as it was kept", self.text(job))

    def test_what_is_no_photo_of_a_job_is_not_shown_there(self):
        plate = self.add(photo(), "plate.jpg", "PT-1")
        self.assertEqual(self.must(self.put(plate), 422)["code"], "file.no_photo")
        job = self.open()
        note = self.add(b"plain text", "note.txt", job)
        self.assertEqual(self.must(self.put(note), 422)["code"], "file.no_photo")
