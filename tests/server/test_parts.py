"""A page says which parts of a job's state it holds, and is sent the others."""

import gzip

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.api.parts import HOLDS, LENGTH, TOLD


class Parts(ApiCase):
    def setUp(self):
        super().setUp()
        self.job = self.open("PT-1")
        self.path = f"/api/v1/jobs/{self.job}"

    def ask(self, held=""):
        return self.ana.get(self.path, headers={HOLDS: held})

    def write(self, held, *events):
        body = {"expected_seq": self.state(self.job)["seq"], "events": list(events)}
        return self.ana.post(
            f"{self.path}/events", body, content_type="application/json", headers={HOLDS: held}
        )

    def test_what_is_held_with_what_is_sent_is_the_whole_at_every_entry_of_a_job(self):
        first = self.ask()
        held, parts = first.json(), first.headers[TOLD]
        self.assertEqual(len(parts), LENGTH * len(held))
        sizes = []
        events = [*works.prepared(), *works.readings(), *works.returned()]
        for one in events:
            said = self.write(parts, one)
            self.assertEqual(said.status_code, 200, said.content)
            held = {**held, **said.json()}
            parts = said.headers[TOLD]
            whole = self.ask()
            self.assertEqual(held, whole.json(), one["kind"])
            self.assertEqual(parts, whole.headers[TOLD])
            sizes.append(len(gzip.compress(said.content)))
        # Packed, as it goes over the network; the whole is 5 to 7 kB.
        self.assertLess(sorted(sizes)[int(0.95 * len(sizes))], 4096, sizes)

    def test_who_holds_all_of_it_is_sent_nothing(self):
        self.assertEqual(self.ask(self.ask().headers[TOLD]).json(), {})

    def test_who_holds_the_parts_of_another_job_or_says_nonsense_gets_what_is_lacking(self):
        works.instrument("PT-2")
        other = self.ana.get(f"/api/v1/jobs/{self.open('PT-2')}")
        mixed = {**other.json(), **self.ask(other.headers[TOLD]).json()}
        self.assertEqual(mixed, self.ask().json())
        for odd in ("x", "é" * 30, "0" * 100_00, ",", "-" * LENGTH):
            self.assertEqual(self.ask(odd).json(), self.ask().json())

    def test_a_part_is_known_by_its_name_too(self):
        """Two parts that say the same, as an empty list does, do not stand for each other."""
        empty = [name for name, part in self.ask().json().items() if part == []]
        self.assertGreater(len(empty), 1)
        parts = self.ask().headers[TOLD]
        names = list(self.ask().json())
        at = names.index(empty[0]) * LENGTH
        one = parts[at : at + LENGTH]
        self.assertEqual(set(names) - set(self.ask(one).json()), {empty[0]})
