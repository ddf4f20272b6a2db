"""No default stands for a fact, and one bad thing in the kit stops nobody."""

from __future__ import annotations

from calibration.setup.kit import kit_kind
from tests.server import plant
from tests.server.setting_up import KitForms
from tests.server.test_lists import Lists
from verifyloop.kit.models import Cylinder, Reference

#: A set of weights with a piece that no class knows, and no uncertainty of it.
ODD = {
    "oiml_class": "M1",
    "density": "7850",
    "pieces": [{"nominal_kg": "20", "count": 4}, {"nominal_kg": "118.36", "count": 1}],
}


class Contents(Lists, KitForms):
    def cylinder(self, **more):
        given = {
            "asset": "G-9", "description": "From the supplier", "certificate": "C-9",
            "filled_on": self.before, "expires_on": self.until, "water_l": "10",
            "pressure_bar": "120", "balance": "air", "uncertainty_percent": "2", **more,
        }  # fmt: skip
        return {k: v for k, v in given.items() if v is not None}

    def refused(self, record):
        """Field and remedy by which API and list refuse a cylinder alike."""
        said = self.add_kit("gas", record).json()
        row = self.looked(self.file(record), kind="cylinders")["rows"][0]
        self.assertEqual(row["wrong"][0]["field"], said["field"])
        self.assertFalse(Cylinder.objects.exists())
        return said["field"], said["remedy"]

    def test_a_cylinder_whose_contents_nobody_said_is_no_zero_air(self):
        field, remedy = self.refused(self.cylinder())
        self.assertEqual(field, "parts")
        self.assertIn("clean air", remedy)
        self.assertEqual(self.refused(self.cylinder(balance=None))[0], "balance")
        self.assertEqual(
            self.refused(self.cylinder(uncertainty_percent=None))[0], "uncertainty_percent"
        )

    def test_clean_air_is_said_in_words(self):
        self.must(self.add_kit("gas", self.cylinder(pure=True)))
        self.assertEqual(Cylinder.objects.get().parts, [])
        again = self.must(self.pia.get("/api/v1/kit/things/G-9"))
        self.assertTrue(again["record"]["pure"])

    def test_gases_and_pure_contradict_each_other(self):
        parts = [{"gas": "methane", "value": "2.2", "unit": "% vol"}]
        said = self.add_kit("gas", self.cylinder(pure=True, parts=parts))
        self.assertEqual((said.status_code, said.json()["field"]), (422, "parts"))

    def test_what_must_be_said_is_not_filled_in_by_the_form(self):
        for kind, names in (
            ("gas", ("balance", "uncertainty_percent")),
            ("test_weights", ("oiml_class", "density")),
            ("mixture", ("parts", "balance")),
        ):
            form = self.form_of_kit(kind)
            entries = {e["name"]: e for s in form["sections"] for e in s["entries"]}
            for name in names:
                self.assertTrue(entries[name]["required"], name)
                self.assertFalse(entries[name]["default"], name)


class OddPiece(KitForms):
    def test_it_is_refused_at_the_door_beside_its_field(self):
        record = {**self.typed_kit(self.form_of_kit("test_weights"), "W-9"), "own": ODD}
        said = self.add_kit("test_weights", record)
        self.assertEqual(said.status_code, 422)
        self.assertEqual(said.json()["field"], "own.pieces.1.uncertainty_kg")
        self.assertIn("certificate", said.json()["remedy"])
        odd = {**ODD, "pieces": [{**ODD["pieces"][1], "uncertainty_kg": "0.01"}]}
        self.must(self.add_kit("test_weights", {**record, "own": odd}))

    def test_one_from_before_is_named_and_others_may_be_taken(self):
        plant.shelf()
        Reference.objects.filter(quantity="test_weights").exclude(asset="W-1").delete()
        good = Reference.objects.get(asset="W-1")
        good.pk, good.asset, good.own = None, "W-0", ODD
        good.save()
        plant.instrument("WI-1", "loadcell_weights")
        job = self.open("WI-1")
        query = {"quantity": "test_weights", "role": "weights"}
        found = {o["asset"]: o for o in self.must(self.ana.get(f"/api/v1/jobs/{job}/kit", query))}
        self.assertEqual((found["W-0"]["usable"], found["W-1"]["usable"]), (False, True))
        self.assertIn("Its record is wrong", found["W-0"]["remark"])


class Units(Lists):
    def test_one_function_checks_units_in_list_and_api(self):
        for unit, code, has in (
            ("barg", "unit.spelled", "Write bar"),
            ("Grad C", "unit.spelled", "Write °C"),
            ("foo", "unit.unknown", "list"),
            ("KPA", "unit.spelled", "Write kPa"),
        ):
            with self.subTest(unit):
                row = self.looked(self.file(self.line(input_unit=unit)))["rows"][0]
                self.assertEqual(row["wrong"][0]["field"], "input_unit")
                self.assertIn(has, row["wrong"][0]["remedy"])
                form = self.form("pressure")
                said = self.add(form, {**self.typed(form), "input_unit": unit})
                self.assertEqual((said.status_code, said.json()["code"]), (422, code))
                self.assertIn(has, said.json()["remedy"])

    def test_a_reference_has_a_unit_that_is_known(self):
        self.assertEqual(kit_kind("pressure").unit, "kPa")
        forms = KitForms()
        forms.pia, forms.before, forms.until = self.pia, "2026-01-01", "2027-06-01"
        record = {**forms.typed_kit(forms.form_of_kit("pressure"), "P-9"), "unit": "barg"}
        said = forms.add_kit("pressure", record)
        self.assertEqual((said.status_code, said.json()["field"]), (422, "unit"))
