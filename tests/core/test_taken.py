"""Raw values taken back through a chain, marks that are crossed, loggers' files, and sources as they are typed."""

from __future__ import annotations

from datetime import UTC, datetime
from unittest import TestCase

import numpy as np
from scipy import constants

from rasante.core.quantities.errors import InputError
from rasante.core.readings.alarms import Crossing, Standing, follow, watched_of
from rasante.core.readings.channels import FACTORS, KINDS, MEANINGS, UNIT_NAMES, units_of
from rasante.core.readings.log_file import LogMapping, guess_log, guess_order, moment, read_log
from rasante.core.readings.source_form import Address, read_source
from rasante.core.readings.taken import BAD, DOUBTFUL, GOOD, readable, take
from rasante.core.tanks.chart_mapping import Figure

from .chain_cases import chain, file_of


class Taken(TestCase):
    def setUp(self) -> None:
        self.chain, self.tank = chain("lying"), file_of("lying").tank
        self.levels = np.linspace(*readable(self.chain), 41)[1:-1]

    def test_every_station_leads_back_to_the_level(self) -> None:
        along = self.chain.run(self.levels, exact=False)
        for station in self.chain.stations:
            taken = take(self.chain, self.tank, station, along[station])
            np.testing.assert_allclose(taken.levels, self.levels, atol=1e-9)
            np.testing.assert_allclose(taken.volumes, self.tank.volume(self.levels), rtol=1e-6)
            self.assertTrue((taken.quality == GOOD).all())

    def test_fault_currents_are_no_levels(self) -> None:
        # NAMUR NE 43, from memory: 3.8 to 20.5 mA measures, 3.6 and less or 21 and more is a fault.
        currents = np.array([0.0, 0.0036, 0.0039, 0.012, 0.0205, 0.021, 0.024])
        taken = take(self.chain, self.tank, "arriving", currents)
        self.assertEqual(taken.quality.tolist(), [BAD, BAD, DOUBTFUL, GOOD, DOUBTFUL, BAD, BAD])
        self.assertTrue(np.isnan(taken.levels[[0, 1, 5, 6]]).all())
        self.assertTrue(np.isfinite(taken.volumes[2:5]).all())

    def test_what_its_source_calls_a_fault_is_one(self) -> None:
        taken = take(self.chain, self.tank, "level", np.array([1.0, 1.0, np.nan]), np.array([False, True, False]))
        self.assertEqual(taken.quality.tolist(), [GOOD, BAD, BAD])
        with self.assertRaisesRegex(InputError, "no station moon"):
            take(self.chain, self.tank, "moon", np.array([1.0]))


class Alarms(TestCase):
    def test_a_mark_must_last_and_is_over_only_when_well_past(self) -> None:
        (high,) = watched_of([("high", 2.0), ("safe", 1.9), ("pump_stop", 1.0)], 2.4)
        times = np.arange(0, 400, 10.0)
        levels = np.full(40, 1.95)
        levels[[3, 4]] = 2.01  # ten seconds: a wave
        levels[10:20] = 2.02
        levels[20:25] = 1.995  # back, but not by half a per cent of the height
        levels[25:] = 1.98
        standing, found = follow(high, Standing(), times.tolist(), levels.tolist())
        self.assertEqual(found, [Crossing("high", "opened", 100.0, 2.02), Crossing("high", "closed", 280.0, 1.98)])
        self.assertEqual(standing, Standing())

    def test_it_goes_on_where_the_last_batch_ended(self) -> None:
        (low,) = watched_of([("low", 0.4)], 2.4)
        times, levels = [0.0, 10.0, 20.0, 30.0, 40.0], [0.5, 0.39, 0.39, 0.38, 0.38]
        whole, found = follow(low, Standing(), times, levels)
        standing, pieces = Standing(), []
        for when, level in zip(times, levels, strict=True):
            standing, some = follow(low, standing, [when], [level])
            pieces += some
        self.assertEqual((standing, pieces), (whole, found))
        self.assertEqual([(one.what, one.at_s) for one in found], [("opened", 10.0)])

    def test_where_the_next_reading_is_an_hour_away_it_counts_at_once(self) -> None:
        for period in (30.0, 3600.0, 86_400.0):
            (high,) = watched_of([("high", 2.0)], 2.4, period)
            times = [0.0, period, 2 * period, 3 * period]
            _, found = follow(high, Standing(), times, [1.9, 2.01, 2.02, 1.9])
            self.assertEqual([(one.what, one.at_s) for one in found], [("opened", period), ("closed", 3 * period)])

    def test_a_level_that_ripples_about_its_mark_is_at_it(self) -> None:
        """Five millimetres up and down every ten seconds: it opens after its delay, and rings once."""
        (high,) = watched_of([("high", 2.0)], 2.4, 10.0)
        times = np.arange(0, 1200, 10.0)
        levels = 2.0 + 0.005 * (-1.0) ** np.arange(len(times))
        _, found = follow(high, Standing(), times.tolist(), levels.tolist())
        self.assertEqual([one.what for one in found], ["opened"])
        self.assertLessEqual(found[0].at_s, 40.0)

    def test_a_dip_back_does_not_close_it(self) -> None:
        (high,) = watched_of([("high", 2.0)], 2.4, 10.0)
        levels = [2.01] * 6 + [1.97] + [2.01] * 6
        _, found = follow(high, Standing(), [10.0 * at for at in range(len(levels))], levels)
        self.assertEqual([one.what for one in found], ["opened"])


class Units(TestCase):
    def test_factors_are_those_of_scipy(self) -> None:
        self.assertEqual(FACTORS["l/min"], constants.liter / 60)
        self.assertAlmostEqual(FACTORS["usgal/min"] / (constants.gallon_US / 60), 1, delta=1e-15)
        self.assertAlmostEqual(FACTORS["psi"], constants.psi, places=6)
        self.assertEqual(set(FACTORS), set(UNIT_NAMES))

    def test_every_kind_has_units_and_words(self) -> None:
        for kind, label in KINDS.items():
            units = units_of(kind, chain("lying"))
            self.assertTrue(label and units, kind)
            self.assertTrue(all(unit in FACTORS for unit in units), kind)
        self.assertEqual(units_of("arriving", chain("lying")), ("ma",))
        self.assertEqual(units_of("level", None)[0], "mm")
        self.assertEqual(units_of("counts", None), ("1",))


def ms(*parts: int) -> int:
    return int(datetime(*parts, tzinfo=UTC).timestamp() * 1000)  # type: ignore[misc,arg-type]


class LogFiles(TestCase):
    def test_times_as_people_and_programs_write_them(self) -> None:
        noon = ms(2025, 6, 3, 12, 30)
        for text, order in (
            ("2025-06-03T12:30:00Z", "ymd"),
            ("2025-06-03 12:30", "ymd"),
            ("2025/06/03 12:30:00.000", "ymd"),
            ("03.06.2025 12:30", "dmy"),
            ("3/6/25 12:30", "dmy"),
            ("6/3/2025 12:30 PM", "mdy"),
            ("2025-06-03T14:30:00+02:00", "ymd"),
            ("2025-06-03 07:00:00 -0530", "ymd"),
        ):
            self.assertEqual(moment(text, order, 0), noon, text)
        self.assertEqual(moment("03.06.2025 14:30", "dmy", 120), noon)
        self.assertEqual(moment("3/6/2025 12:05 am", "dmy", 0), ms(2025, 6, 3, 0, 5))
        # A workbook's day 45811 is 3 June 2025.
        self.assertEqual(moment(Figure(repr(45811 + 12.5 / 24)), "dmy", 0), noon)
        for text in ("", "noon", "31.02.2025 10:00", "13/13/2025", "2025-06-03 25:00", "3/6/2025 13:00 pm"):
            self.assertIsNone(moment(text, "dmy", 0), text)

    def test_the_order_of_day_and_month_is_asked_for_where_it_cannot_be_told(self) -> None:
        self.assertEqual(guess_order(["01/02/2025 10:00", "03/04/2025"]), "")
        self.assertEqual(guess_order(["01/02/2025", "13/02/2025"]), "dmy")
        self.assertEqual(guess_order(["01/02/2025", "02/13/2025"]), "mdy")
        self.assertEqual(guess_order(["2025-01-02"]), "ymd")

    def test_a_file_is_read_by_what_it_says(self) -> None:
        grid = [
            ["Time", "Battery", "Level"],
            ["2025-06-03 10:00", "3.61", "1200.5"],
            ["2025-06-03 10:05", "3.60", ""],
            ["2025-06-03 10:10", "3.60", "1210.0"],
        ]
        mapping = guess_log(grid, ["level"])
        self.assertEqual((mapping.header, mapping.time_column, mapping.columns), (True, 0, (("level", 2),)))
        rows = list(read_log(grid, mapping))
        self.assertEqual(
            [(row.at, row.value) for row in rows], [(ms(2025, 6, 3, 10), 1200.5), (ms(2025, 6, 3, 10, 10), 1210.0)]
        )

    def test_what_cannot_be_told_or_read_is_said(self) -> None:
        grid = [["at", "level"], ["01/02/2025 10:00", "1,250"], ["02/02/2025 10:00", "1,300"]]
        mapping = guess_log(grid, ["level"])
        self.assertEqual(set(mapping.asked), {"order", "decimal"})
        with self.assertRaises(InputError) as raised:
            list(read_log(grid, mapping))
        self.assertEqual({problem.where for problem in raised.exception.problems}, {"order", "decimal"})
        right = LogMapping(True, 0, (("level", 1),), "dmy", ",")
        self.assertEqual([row.value for row in read_log(grid, right)], [1.25, 1.3])
        with self.assertRaisesRegex(InputError, "row 3.*“later” is no time"):
            list(read_log([*grid[:2], ["later", "5"]], right))
        with self.assertRaisesRegex(InputError, "“high” is no number"):
            list(read_log([*grid[:2], ["01/02/2025 11:00", "high"]], right))


class Sources(TestCase):
    def read(self, **entries: str):
        there = {"kind": "modbus", "name": "yard", "host": "10.0.0.5", **entries}
        typed = {key.replace("c0_", "channels[0]."): text for key, text in there.items()}
        return read_source(typed, lambda _: chain("lying"), {"1": "Yard: Tank"}, "metric")

    def problems(self, **entries: str) -> dict[str, str]:
        return {problem.where: problem.what for problem in self.read(**entries).form.problems}

    def test_the_longest_and_the_largest_that_are_taken(self) -> None:
        for field, most, beyond in (
            # A host's name has 253 characters at most (RFC 1035, 2.3.4, as it is written).
            ("host", "h" * 253, "h" * 254), ("name", "n" * 80, "n" * 81), ("unit", "255", "256"),
            ("port", "65535", "65536"), ("timeout", "60 s", "61 s"), ("timeout", "0.05 s", "0.04 s"),
        ):  # fmt: skip
            self.assertNotIn(field, self.problems(**{field: most}))
            self.assertIn(field, self.problems(**{field: beyond}), field)

    def test_one_that_is_right(self) -> None:
        found = self.read(
            c0_name="level", c0_tank="1", c0_kind="words", c0_register="100", c0_type="float32", c0_order="CDAB",
            period="2 s", unit="7",
        )  # fmt: skip
        self.assertEqual(found.form.problems, [])
        self.assertEqual((found.port, found.unit, found.period_s, found.timeout_s), (502, 7, 2.0, 3.0))
        self.assertEqual(found.channels[0].address, Address("holding", 100, "float32", "CDAB"))
        self.assertEqual(found.channels[0].address.words, 2)

    def test_what_is_wrong_is_said_at_its_field(self) -> None:
        level = {"c0_name": "level", "c0_tank": "1", "c0_kind": "level"}
        for entries, where in (
            ({"name": " "}, "name"),
            ({"host": "http://x"}, "host"),
            ({"port": "70000"}, "port"),
            ({"unit": "1.5"}, "unit"),
            ({"period": "0.01"}, "period"),
            ({"c0_name": "level"}, "channels[0].kind"),
            ({**level, "c0_tank": ""}, "channels[0].tank"),
            ({**level, "c0_tank": "9"}, "channels[0].tank"),
            ({**level, "c0_unit": "bar"}, "channels[0].unit"),
            ({**level, "c0_register": "70000"}, "channels[0].register"),
            ({**level, "c0_register": "65535", "c0_type": "int32"}, "channels[0].register"),
            ({**level, "c0_type": "int32", "c0_bit": "3"}, "channels[0].bit"),
            ({**level, "channels[1].name": "level", "channels[1].kind": "pump"}, "channels[1].name"),
            ({"kind": "mqtt", **level, "c0_topic": "a/#"}, "channels[0].topic"),
        ):
            self.assertIn(where, self.problems(**entries), entries)

    def test_a_station_asks_for_a_chain_that_has_it(self) -> None:
        typed = {
            "kind": "push",
            "name": "x",
            "channels[0].name": "a",
            "channels[0].tank": "1",
            "channels[0].kind": "counts",
        }
        without = read_source(typed, lambda _: None, {"1": "T"}, "metric")
        self.assertIn("no chain yet", without.form.problems[0].what)
        self.assertEqual(len(MEANINGS), 10)
