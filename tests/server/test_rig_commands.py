"""A rig's commands: decoded once, and never an old list for a new one."""

from django.test import TestCase

from calibration.kernel.codec import decode
from calibration.simulate.commands import Command
from tests.server import works
from verifyloop.rigs.models import Rig


class Commanded(TestCase):
    def setUp(self):
        self.rig = works.rig(works.instrument())

    def store(self, *commands):
        Rig.objects.filter(pk=self.rig.pk).update(commands=list(commands))
        return Rig.objects.get(pk=self.rig.pk)

    def test_nothing_was_commanded(self):
        self.assertEqual(self.rig.commanded(), [])

    def test_each_is_what_was_stored(self):
        given = [{"t": 1.0, "kind": "apply", "value": 2000}, {"t": 9.5, "kind": "release"}]
        said = self.store(*given).commanded()
        self.assertEqual(said, [decode(Command, one, "command") for one in given])

    def test_another_list_of_the_same_length_is_another_list(self):
        one, other = ({"t": 1.0, "kind": "apply", "value": v} for v in (2000, 3000))
        self.assertEqual(self.store(one).commanded()[0].value, 2000)
        self.assertEqual(self.store(other).commanded()[0].value, 3000)
        self.assertEqual(self.store(other, one).commanded()[1].value, 2000)

    def test_a_list_that_was_handed_out_may_be_changed(self):
        rig = self.store({"t": 1.0, "kind": "apply", "value": 2000})
        rig.commanded().append("spoilt")
        self.assertEqual(len(rig.commanded()), 1)
