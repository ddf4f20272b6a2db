"""A person who types a visit through what the state of the job offers, by the words on the screen.

It finds a field, a button or a choice by its label among the open tasks, and sends what the ask
under it says is sent. What it cannot find, a person could not have typed either. It knows no
walk, no method and no family.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from contextlib import contextmanager
from datetime import timedelta
from io import BytesIO
from unittest import mock

from django.utils import timezone
from pypdf import PdfReader

from tests.server.works import PASSWORD, event

MOST_STEPS = 80
#: What every visit to an instrument in service has, by the words of its heading.
USUAL = re.compile(
    r"references|for this job|operator|manual|bypass|permit|isolat|plate|serial|back to how"
    r"|back in automatic|put it back|make it ready|connect|adapter|\bsign\b"
    r"|temperature at the device|how it is read|warm|vented|covers|nothing is lost",
    re.I,
)
Fields = Mapping[str, str]


class NotOffered(AssertionError):
    """The screen does not offer what the walk types."""


class Typist:
    """One job on one instrument; ``case`` is the test, with its client."""

    def __init__(self, case, tag, usual=None, shelf=None):
        self.case, self.tag = case, tag
        #: what is answered to a usual question, by words of its label
        self.answers: dict[str, str] = dict(usual or {})
        #: the reference that is taken, by words of what it is for; empty where none is at hand
        self.shelf: dict[str, str] = dict(shelf or {})
        self.now = timezone.now()
        self.act_now = ""
        self.presses = self.fields = self.acts = 0
        self.forced: list[str] = []
        self.refusals: list[str] = []
        with self.at():
            self.job = case.open(tag)
        self.look()

    @contextmanager
    def at(self):
        with mock.patch("django.utils.timezone.now", return_value=self.now):
            yield

    def look(self):
        with self.at():
            self.seen = self.case.state(self.job)
        return self.seen

    def act(self, number):
        """Name the act of the walk that is typed next."""
        self.act_now, self.acts = str(number), self.acts + 1

    def later(self, seconds=0.0, minutes=0.0):
        self.now += timedelta(seconds=seconds, minutes=minutes)
        self.look()

    # What is sent

    def _post(self, *entries, password=""):
        with self.at():
            return self.case.send(self.job, *entries, seq=self.seen["seq"], password=password)

    def _send(self, *entries, password=""):
        """Send what one press sends; it must be taken."""
        self.presses += 1
        answer = self._post(*entries, password=password)
        if answer.status_code != 200:
            said = answer.json()
            self.refusals.append(f"{self.act_now}: {said['message']}")
            raise AssertionError(f"act {self.act_now}: {said['message']} {said.get('remedy', '')}")
        self.seen = answer.json()
        self.now += timedelta(seconds=10)

    def refused(self, words, call, *args, **more):
        """Type something that the walk says is refused, and compare with what is said."""
        before = len(self.refusals)
        try:
            call(*args, **more)
        except AssertionError:
            said = self.refusals[before:]
            del self.refusals[before:]
            self.case.assertEqual(len(said), 1, f"act {self.act_now}: not refused, not offered")
            self.case.assertRegex(said[0], words)
            self.look()
            return
        self.case.fail(f"act {self.act_now}: taken, and should be refused: {words}")

    @staticmethod
    def _of(sends, **more):
        return event(sends["kind"], source=sends["source"], **{**sends["data"], **more})

    # What is found

    def asks(self):
        """Yield every open ask with its task, the next first."""
        for task in self.seen["tasks"]:
            if task["together"]:
                yield task, task["together"]
            for ask in task["asks"]:
                if not ask["said"]:
                    yield task, ask

    def offered(self):
        """Return what a person could press or fill in, in words, for a failure."""
        said = []
        for task, ask in self.asks():
            fields = [v["row"] + v["label"] for v in ask["values"]]
            options = [c["label"] for c in ask["options"]]
            lines = [line["label"] for line in ask["lines"]]
            said.append(f"{task['title']} / {ask['button']}: {fields + options + lines}")
        said += [f"asked: {form['title']}" for form in self.seen["asked"]]
        return "\n".join(said)

    def _missing(self, what):
        return NotOffered(
            f"act {self.act_now}: no {what!r} is offered. There is:\n{self.offered()}"
        )

    @staticmethod
    def _value(ask, label):
        """Return the field of an ask with a label; ``row: label`` where rows share labels."""
        for value in ask["values"]:
            if label in (value["label"], f"{value['row']}: {value['label']}"):
                return value
        return None

    # What is typed

    def reads(self, *rows: Fields, keep=False):
        """Type one reading or setting after another: each a press with its fields by label."""
        for row in rows:
            self.reading(row, keep=keep)

    def reading(self, row: Fields, keep=False):
        for _task, ask in self.asks():
            found = {label: self._value(ask, label) for label in row}
            if ask["way"] in ("read", "set") and all(found.values()):
                data = {found[label]["id"]: said for label, said in row.items() if said != ""}
                self.fields += len(data)
                also = [self._of(sent) for sent in ask["also"]]
                kept = {"kept": True} if keep else {}
                return self._send(self._of(ask["sends"], **data, **kept), *also)
        raise self._missing(sorted(row))

    def tells(self, row: Fields):
        """Fill in fields that stand under one button, and press it."""
        for _task, ask in self.asks():
            found = {label: self._value(ask, label) for label in row}
            if ask["way"] == "tell" and all(found.values()):
                self.fields += len(row)
                for n, (label, said) in enumerate(row.items()):
                    data = {ask["key"]: found[label]["id"], "value": said}
                    self._send(self._of(ask["sends"], **data))
                    self.presses -= n > 0
                return None
        raise self._missing(sorted(row))

    def says(self, words):
        """Press what says something: the main button, one line of a list, or all of them."""
        pattern = re.compile(words, re.I)
        for task, ask in self.asks():
            for line in ask["lines"]:
                if line["sent"] and not line["done"] and pattern.search(line["label"]):
                    return self._send(self._of(line["sent"]))
            if ask["way"] in ("state", "wait", "prove") and (
                pattern.search(ask["button"]) or pattern.search(task["title"])
            ):
                return self._state(ask)
            for push in ask["others"]:
                if pattern.search(push["label"]):
                    return self._send(*(self._of(one) for one in push["events"]))
        raise self._missing(words)

    def _state(self, ask):
        for line in ask["lines"]:
            if line["sent"] and not line["done"]:
                self._send(self._of(line["sent"]))
        sent = [ask["sends"]] if ask["sends"] else []
        if sent or ask["also"]:
            self._send(*map(self._of, (*sent, *ask["also"])))

    def chooses(self, label, why=""):
        """Press one of several choices, with a reason where one is given."""
        for _task, ask in self.asks():
            for option in ask["options"]:
                if option["label"] == label:
                    self.fields += bool(why)
                    self.presses += bool(why)
                    return self._send(self._of(ask["sends"], choice=option["id"], reason=why))
        raise self._missing(label)

    def force(self, way, reason, **said):
        """Have it agreed to that what was refused is forced."""
        for _task, ask in self.asks():
            box = ask["refusal"]
            if box and box["may_force"]:
                if way == "checks" and not box["checks"]:
                    raise self._missing("forcing by checks")
                self.fields += 1 + len(said)
                data = {"step": box["step"], "way": way, "reason": reason, **said}
                return self._send(event(box["kind"], **data))
        raise self._missing("forcing")

    def options(self):
        """Return what may be chosen now: label by whether it is advised."""
        return {
            option["label"]: option["recommended"]
            for _task, ask in self.asks()
            for option in ask["options"]
        }

    def advised(self):
        """Return what is advised now, by label."""
        return [label for label, is_it in self.options().items() if is_it]

    def form(self, button, row: Fields | None = None, state="", line=""):
        """Open an answer in words behind a button, fill it in and send it."""
        forms = [(form, ask) for _task, ask in self.asks() for form in ask["if_not"]]
        forms += [(form, None) for form in (*self.seen["asked"], *self.seen["mishaps"])]
        for form, ask in forms:
            if button not in (form["button"], form["title"]):
                continue
            data = dict(form["data"])
            if form["line"]:
                sent = next(one["sent"] for one in ask["lines"] if line in one["label"])
                data |= sent["data"]
            if form["choices"]:
                data[form["choice"]] = next(c["id"] for c in form["choices"] if c["label"] == state)
            for label, said in (row or {}).items():
                field = next((f for f in form["fields"] if f["label"] == label), None)
                if field is None:
                    raise self._missing(f"{button}: {label}")
                data[field["id"]] = said
            self.fields += len(row or {})
            self.presses += not form["data"] or bool(form["fields"])
            return self._send(event(form["kind"], **data))
        raise self._missing(button)

    # What is usual

    def usual(self, until=""):
        """Answer what every visit asks, up to a heading or a field; count what is more."""
        stop = re.compile(until, re.I) if until else None
        for _ in range(MOST_STEPS):
            if self.seen["status"] != "open":
                return
            task, ask = next(self.asks())
            labels = [v["label"] for v in ask["values"]] + [o["label"] for o in ask["options"]]
            if stop and any(stop.search(said) for said in (task["title"], *labels)):
                return
            if not USUAL.search(f"{task['kicker']} {task['title']}"):
                self.forced.append(f"{self.act_now}: {task['title']}")
            self._usual(task, ask)
        raise AssertionError(f"never comes to {until!r}:\n{self.offered()}")

    def _usual(self, task, ask):
        if ask["way"] == "choose" and ask["key"] == "asset":
            return self._shelf(task, ask)
        if ask["way"] == "tell":
            said = {v["label"]: self._known(v) for v in ask["values"]}
            return self.tells({label: value for label, value in said.items() if value})
        if ask["way"] == "wait" and ask["if_not"]:
            form = ask["if_not"][0]
            return self.form(form["button"], {f["label"]: "powered" for f in form["fields"]})
        if ask["sends"] and ask["sends"]["kind"] == "signed":
            for form in self.seen["asked"]:
                self._follows(form)
            return self.signs()
        if ask["way"] in ("state", "prove"):
            return self._state(ask)
        raise self._missing(f"a usual answer to {task['title']}")

    def _follows(self, form):
        """Answer what is asked once something was found outside, by what is offered first."""
        fields = [f for f in form["fields"] if f["required"]]
        said = {f["label"]: self.answers.get(f["label"]) or f["often"][0] for f in fields}
        state = form["choices"][0]["label"] if form["choices"] else ""
        self.form(form["button"] or form["title"], said, state)

    def _known(self, value):
        for words, said in self.answers.items():
            if re.search(words, value["label"], re.I):
                return said
        if value["required"]:
            raise self._missing(f"an answer to {value['label']}")
        return ""

    def _shelf(self, task, ask):
        if any(re.search(w, ask["label"], re.I) and not a for w, a in self.shelf.items()):
            return self.form(next(f["button"] for f in ask["if_not"] if not f["fields"]))
        with self.at():
            query = {"quantity": ask["quantity"], "role": ask["id"]}
            found = self.case.ana.get(f"/api/v1/jobs/{self.job}/kit", query).json()
        there = [one["asset"] for one in found]
        wanted = (a for w, a in self.shelf.items() if re.search(w, ask["label"], re.I))
        asset = next(wanted, there[0] if len(there) == 1 else None)
        if asset not in there:
            raise self._missing(f"{asset} for {ask['label']} among {there}")
        self._send(self._of(ask["sends"], asset=asset))

    def signs(self):
        """Sign with the person's own password."""
        for _task, ask in self.asks():
            if ask["sends"] and ask["sends"]["kind"] == "signed":
                return self._send(self._of(ask["sends"]), password=PASSWORD)
        raise self._missing("a signature")

    # What is shown

    def run(self, title):
        """Return a run by its title."""
        runs = [self.seen["as_found"], self.seen["as_left"], *self.seen["extra_runs"]]
        return next(run for run in runs if run and run["title"] == title)

    @property
    def _files(self):
        return f"/api/v1/records/{self.job}/certificate"

    def paper(self):
        """Return the certificate of the signed job as data."""
        return self.case.must(self.case.ana.get(f"{self._files}.json"))

    def words(self):
        """Return the words of its PDF."""
        pages = PdfReader(BytesIO(self.case.ana.get(f"{self._files}.pdf").content)).pages
        return " ".join(" ".join(page.extract_text().split()) for page in pages)
