"""The core's statistics and run figures against independent libraries: scipy and numpy."""

import math
from decimal import Decimal

import numpy
from django.test import SimpleTestCase
from scipy import integrate, optimize, stats

from calibration.kernel.distributions import coverage_factor, normal_cdf
from calibration.kernel.errors import InputError
from calibration.kernel.fits import deleted, least_squares, minimax_half_band
from calibration.operations import run


class Distributions(SimpleTestCase):
    def test_coverage_factor(self):
        for dof in (1, 1.5, 2, 3, 4.7, 8, 16, 33.3, 100, 1000, 1e5):
            for p in (0.6827, 0.90, 0.95, 0.9545, 0.99, 0.9973):
                wanted = stats.t.ppf(0.5 + p / 2, dof)
                self.assertAlmostEqual(coverage_factor(dof, p), wanted, delta=1e-6 * wanted)
        self.assertAlmostEqual(
            coverage_factor(math.inf), stats.norm.ppf(0.5 + 0.9545 / 2), delta=1e-6
        )

    def test_normal_probabilities(self):
        for z in numpy.linspace(-8, 8, 81):
            self.assertAlmostEqual(normal_cdf(z), stats.norm.cdf(z), delta=1e-12)

    def test_budget(self):
        rng = numpy.random.default_rng(3)
        for _ in range(20):
            n = int(rng.integers(2, 7))
            u, dof = rng.uniform(0.01, 1, n), rng.integers(1, 40, n)
            said = run(
                "uncertainty.combine",
                {
                    "contributions": [
                        {
                            "name": str(i),
                            "value": float(u[i]),
                            "kind": "type_a",
                            "dof": int(dof[i]),
                        }
                        for i in range(n)
                    ]
                },
            )
            total = math.sqrt((u**2).sum())
            effective = total**4 / ((u**4) / dof).sum()
            k = stats.t.ppf(0.5 + 0.9545 / 2, effective)
            self.assertAlmostEqual(said["effective_dof"], effective, delta=1e-6 * effective)
            self.assertAlmostEqual(said["k"], k, delta=1e-6 * k)
            self.assertAlmostEqual(said["expanded_uncertainty"], k * total, delta=1e-6 * total)

    def test_probability_outside(self):
        for error in (-1.2, -0.4, 0, 0.49, 0.5, 3):
            said = run(
                "decision.assess",
                {"error": error, "limit": 0.5, "expanded_uncertainty": 0.2, "k": 2},
            )
            u = 0.1
            wanted = stats.norm.cdf(-0.5, error, u) + stats.norm.sf(0.5, error, u)
            self.assertAlmostEqual(said["probability_outside"], wanted, delta=1e-9)

    def test_global_risks(self):
        for sigma, t, u, a in (
            (0.25, 0.5, 0.06, 0.5),
            (0.25, 0.5, 0.06, 0.4),
            (1.0, 0.5, 0.3, 0.45),
            (0.05, 1.0, 0.4, 1.0),
            (3.0, 1.0, 0.001, 1.0),
            (0.2, 0.5, 0.5, 0.2),
            (0.01, 1.0, 0.02, 1.1),
        ):
            said = run(
                "decision.risk",
                {
                    "process_sigma": sigma,
                    "tolerance": t,
                    "standard_uncertainty": u,
                    "acceptance_limit": a,
                },
            )

            def accepted(y, sigma=sigma, u=u, a=a):
                inside = stats.norm.cdf(a, y, u) - stats.norm.cdf(-a, y, u)
                return stats.norm.pdf(y, 0, sigma) * inside

            far = t + 12 * sigma
            marks = sorted({p for p in (a - u, a, a + u, a + 5 * u) if t < p < far})
            fa, _ = integrate.quad(accepted, t, far, epsabs=1e-10, limit=500, points=marks or None)
            marks = sorted({p for p in (a - 5 * u, a - u, a, sigma, 4 * sigma) if 0 < p < t})
            ok, _ = integrate.quad(accepted, 0, t, epsabs=1e-10, limit=500, points=marks or None)
            outside = 2 * stats.norm.sf(t, 0, sigma)
            self.assertAlmostEqual(said["false_accept"], 2 * fa, delta=1e-6)
            self.assertAlmostEqual(said["false_reject"], 1 - outside - 2 * ok, delta=1e-6)
            self.assertAlmostEqual(said["outside"], outside, delta=1e-9)

    def test_accepted_share_is_the_normal_of_both_spreads(self):
        # The measured error is normal with σ² + u², so its acceptance needs no integral.
        said = run(
            "decision.risk",
            {"process_sigma": 0.3, "tolerance": 0.5, "standard_uncertainty": 0.1},
        )
        spread = math.hypot(0.3, 0.1)
        self.assertAlmostEqual(said["accepted"], 1 - 2 * stats.norm.sf(0.5, 0, spread), delta=1e-6)

    def test_risk_refusals(self):
        base = {"process_sigma": 0.3, "tolerance": 0.5, "standard_uncertainty": 0.1}
        for field in (*base, "acceptance_limit"):
            with self.assertRaises(InputError) as caught:
                run("decision.risk", {**base, field: 0})
            self.assertEqual(caught.exception.code, f"{field}.not_positive")


class Fits(SimpleTestCase):
    def test_least_squares(self):
        rng = numpy.random.default_rng(5)
        for _ in range(30):
            x = rng.uniform(-100, 100, int(rng.integers(3, 20)))
            y = rng.normal(0, 3, len(x)) + rng.uniform(-2, 2) * x
            slope, at_zero = numpy.polyfit(x, y, 1)
            line = least_squares(list(x), list(y))
            self.assertAlmostEqual(line.slope, slope, delta=1e-9)
            self.assertAlmostEqual(line.at_zero, at_zero, delta=1e-7)

    def test_minimax_as_a_linear_programme(self):
        rng = numpy.random.default_rng(7)
        for _ in range(30):
            n = int(rng.integers(3, 12))
            x, y = numpy.sort(rng.uniform(0, 100, n)), rng.normal(0, 1, n)
            ones = numpy.ones(n)
            above = numpy.column_stack([-x, -ones, -ones])
            below = numpy.column_stack([x, ones, -ones])
            solved = optimize.linprog(
                [0, 0, 1],
                A_ub=numpy.vstack([above, below]),
                b_ub=numpy.concatenate([-y, y]),
                bounds=[(None, None)] * 3,
            )
            self.assertAlmostEqual(minimax_half_band(list(x), list(y)), solved.fun, delta=1e-8)

    def test_leaving_one_out_is_a_fit_without_it(self):
        rng = numpy.random.default_rng(9)
        for _ in range(20):
            x = rng.uniform(0, 100, int(rng.integers(4, 20)))
            y = rng.normal(0, 1, len(x))
            for i, one in enumerate(deleted(list(x), list(y))):
                rest_x, rest_y = numpy.delete(x, i), numpy.delete(y, i)
                slope, at_zero = numpy.polyfit(rest_x, rest_y, 1)
                spread = numpy.sqrt(((rest_y - at_zero - slope * rest_x) ** 2).mean())
                self.assertAlmostEqual(one.off, abs(y[i] - at_zero - slope * x[i]), delta=1e-7)
                self.assertAlmostEqual(one.rest_rms, spread, delta=1e-7)
        # Where all others stand at one place, their line is flat through their mean.
        alone = deleted([0.0, 0.0, 0.0, 5.0], [1.0, 2.0, 3.0, 9.0])[3]
        self.assertAlmostEqual(alone.off, 7.0)
        self.assertAlmostEqual(alone.rest_rms, (2 / 3) ** 0.5)


class Runs(SimpleTestCase):
    """Random runs, summed up again with numpy."""

    POINTS = (0, 25, 50, 75, 100)

    def random_run(self, rng, cycles):
        rows = []
        for cycle in range(1, cycles + 1):
            for way in ("up", "down"):
                for p in self.POINTS:
                    applied = 40 * p + float(rng.normal(0, 2))
                    output = 4 + 16 * applied / 4000 + float(rng.normal(0, 0.02))
                    rows.append((p, round(applied, 3), round(output, 4), way, cycle))
        return rows

    def test_summary(self):
        rng = numpy.random.default_rng(11)
        for cycles in (1, 2, 3):
            for _ in range(8):
                rows = self.random_run(rng, cycles)
                said = run(
                    "run.evaluate",
                    {
                        "input_lower": 0,
                        "input_upper": 4000,
                        "output_lower": 4,
                        "output_upper": 20,
                        "tolerance": {"percent_of_span": "0.25"},
                        "readings": [
                            {
                                "nominal_percent": p,
                                "applied": str(a),
                                "reading": str(o),
                                "direction": way,
                                "cycle": c,
                            }
                            for p, a, o, way, c in rows
                        ],
                    },
                )["summary"]
                self.check(rows, said)

    def check(self, rows, said):
        nominal = numpy.array([r[0] for r in rows])
        applied = numpy.array([r[1] for r in rows])
        error = 100 * (numpy.array([r[2] for r in rows]) - 4 - 16 * applied / 4000) / 16
        way = numpy.array([r[3] for r in rows])
        near = {"delta": 1e-9}
        self.assertAlmostEqual(abs(float(said["max_error_percent"])), abs(error).max(), **near)
        slope, at_zero = numpy.polyfit(applied / 40, error, 1)
        self.assertAlmostEqual(said["zero_shift_percent"], at_zero, **near)
        self.assertAlmostEqual(said["span_error_percent"], 100 * slope, delta=1e-7)
        gaps, spreads, places, means = [], [], [], []
        for p in self.POINTS:
            here = nominal == p
            up, down = here & (way == "up"), here & (way == "down")
            gaps.append(abs(error[up].mean() - error[down].mean()))
            spreads += [numpy.ptp(error[up]), numpy.ptp(error[down])]
            places.append((applied[here] / 40).mean())
            means.append(error[here].mean())
        self.assertAlmostEqual(float(said["hysteresis_percent"]), max(gaps), **near)
        if said["repeatability_percent"] is None:
            self.assertEqual(max(spreads), 0, "none is said of a single cycle only")
        else:
            self.assertAlmostEqual(float(said["repeatability_percent"]), max(spreads), **near)
        ends = numpy.interp(places, [places[0], places[-1]], [means[0], means[-1]])
        self.assertAlmostEqual(
            said["nonlinearity_terminal_percent"], abs(means - ends).max(), **near
        )

    def test_the_tolerance_never_depends_on_the_unit(self):
        """The same run in kPa, bar and Pa: every percent and every verdict is the same."""
        rng = numpy.random.default_rng(13)
        rows = self.random_run(rng, 1)
        answers = []
        for factor in (Decimal(1), Decimal("0.01"), Decimal(1000)):
            said = run(
                "run.evaluate",
                {
                    "input_lower": 0,
                    "input_upper": 4000 * factor,
                    "output_lower": 4,
                    "output_upper": 20,
                    "tolerance": {"percent_of_span": "0.1", "absolute": str(2 * factor)},
                    "readings": [
                        {
                            "nominal_percent": p,
                            "applied": Decimal(str(a)) * factor,
                            "reading": str(o),
                            "direction": way,
                        }
                        for p, a, o, way, _ in rows
                    ],
                },
            )
            answers.append(
                [
                    (round(Decimal(p["error_percent_of_span"]), 20), p["within"], p["near"])
                    for p in said["points"]
                ]
            )
        self.assertEqual(answers[0], answers[1])
        self.assertEqual(answers[0], answers[2])
