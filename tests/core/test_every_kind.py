"""What must be true of a tank of any kind: its file, its schema, its table, its ±, its curve and its label."""

from __future__ import annotations

import copy
from typing import Any
from unittest import TestCase

import jsonschema
import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.device_points import fit_device
from rasante.core.tanks.label import read_label, write_label
from rasante.core.tanks.limits import limits_of
from rasante.core.tanks.survey import entries_of, read_survey
from rasante.core.tanks.table import curve_nodes, make_table
from rasante.core.tanks.tank_file import check_document, json_schema, read_tank_file, write_tank_file
from rasante.core.tanks.tolerances import moved, tolerance_keys, tolerances
from rasante.core.tanks.uncertainty import budget_at, volume_uncertainty
from tests.tags import slow

from .every_kind import all_documents
from .test_table import follow

VALIDATOR = jsonschema.Draft202012Validator(json_schema())


def paths(value: Any, where: tuple = ()) -> list[tuple]:
    """Every place in a document, as a path of keys and indices."""
    found = [where] if where else []
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        found += paths(inner, (*where, key))
    return found


def at(document: Any, path: tuple) -> Any:
    for key in path:
        document = document[key]
    return document


class Files(TestCase):
    def test_reader_and_schema_accept_them_and_nothing_is_lost(self) -> None:
        for document in all_documents():
            with self.subTest(document["name"]):
                self.assertEqual(list(VALIDATOR.iter_errors(document)), [])
                again = read_tank_file(write_tank_file(document))
                self.assertEqual(again.document, document)
                self.assertEqual(read_label(write_label(document)).document, document)
                self.assertEqual(read_survey(entries_of(document)).require().document, document)

    def test_reader_and_schema_refuse_the_same_spoiled_ones(self) -> None:
        for document in all_documents():
            for path in paths(document):
                for spoiled_by in ("a word", None, {"kind": "other"}, [["x"]]):
                    spoiled = copy.deepcopy(document)
                    if isinstance(at(spoiled, path), str) and isinstance(spoiled_by, str):
                        continue
                    at(spoiled, path[:-1])[path[-1]] = spoiled_by
                    with self.subTest(f"{document['name']} {path} {spoiled_by}"):
                        self.assertFalse(VALIDATOR.is_valid(spoiled))
                        with self.assertRaises(InputError):
                            check_document(spoiled)

    def test_an_unknown_key_anywhere_is_named(self) -> None:
        for document in all_documents():
            for path in [(), *paths(document)]:
                if isinstance(at(document, path), dict):
                    spoiled = copy.deepcopy(document)
                    at(spoiled, path)["colour"] = 3
                    with self.assertRaises(InputError) as caught:
                        check_document(spoiled)
                    self.assertTrue(any("colour" in p.where for p in caught.exception.problems), path)

    def test_a_required_key_that_is_missing_is_named(self) -> None:
        for document in all_documents():
            for key in document["shape"]:
                if key in ("corner_radius_mm", "bottom", "strapped_at_c", "shell_temperature_c", "between"):
                    continue
                spoiled = copy.deepcopy(document)
                del spoiled["shape"][key]
                if document["shape"]["kind"] == "courses" and key == "bottom":
                    continue
                with self.assertRaises(InputError) as caught:
                    check_document(spoiled)
                self.assertTrue(any(p.where.startswith("shape") for p in caught.exception.problems))


class Tables(TestCase):
    def test_every_row_is_sound(self) -> None:
        for document in all_documents():
            file = check_document(document)
            table = make_table(file, 0.01)
            with self.subTest(document["name"]):
                self.assertGreaterEqual(float(np.diff(table.volume_m3).min()), 0.0)
                self.assertTrue(np.all(np.isfinite(table.u95_m3)) and np.all(table.u95_m3 >= 0))
                self.assertLessEqual(float(table.volume_ratio.max()), 1 + 1e-12)
                np.testing.assert_allclose(table.ullage_m + table.innage_m, file.tank.reference_height_m)
                # A level found from a volume gives that volume again.
                for row in (3, len(table) // 2, len(table) - 3):
                    level = file.tank.level(float(table.volume_m3[row]))
                    self.assertAlmostEqual(level, float(table.innage_m[row]), places=5)

    def test_the_curve_that_screens_follow(self) -> None:
        for document in all_documents():
            tank = check_document(document).tank
            levels = np.linspace(0, tank.inside_height, 3001)
            drawn = follow(*curve_nodes(tank), levels)
            self.assertLess(
                float(np.max(np.abs(drawn - tank.volume(levels)))), 1e-6 * tank.capacity, document["name"]
            )

    def test_limits_are_in_order(self) -> None:
        for document in all_documents():
            tank = check_document(document).tank
            found = limits_of(tank)
            self.assertLessEqual(found.safe_m3, found.brim_m3)
            self.assertLessEqual(found.safe_level_m, found.brim_level_m + 1e-12)
            self.assertAlmostEqual(found.usable_m3 + found.unpumpable_m3, found.safe_m3)
            seen = float(tank.volume(tank.inside_height)) - float(tank.volume(0.0))
            self.assertAlmostEqual(found.below_gauge_m3 + seen + found.above_gauge_m3, tank.capacity, places=9)

    @slow
    def test_a_device_is_never_worse_off_than_by_even_spacing(self) -> None:
        for document in all_documents():
            fitted = fit_device(check_document(document).tank, 10, 0.002)
            self.assertLessEqual(fitted.on_curve.error_m3, fitted.even.error_m3 * (1 + 1e-9), document["name"])
            self.assertLessEqual(fitted.free.error_m3, fitted.on_curve.error_m3 * (1 + 1e-9), document["name"])


@slow
class Tolerances(TestCase):
    def test_each_key_moves_the_tank_and_only_so_far(self) -> None:
        for document in all_documents():
            file = check_document(document)
            level = 0.6 * file.tank.inside_height
            for key in tolerance_keys(document):
                with self.subTest(f"{document['name']} {key}"):
                    up, down = (check_document(moved(document, key, by)).tank for by in (0.5, -0.5))
                    here = float(file.tank.volume(level))
                    change = float(up.volume(level) - down.volume(level))
                    self.assertTrue(np.isfinite(change))
                    self.assertLess(abs(change), 0.05 * file.tank.capacity)
                    self.assertAlmostEqual(float(up.volume(level) + down.volume(level)) / 2, here, delta=1e-3 * here)

    def test_a_half_width_twice_as_wide_is_twice_the_share(self) -> None:
        for document in all_documents():
            file = check_document({**document, "measured": {}, "uncertainty": {}})
            level = np.array([0.45 * file.tank.inside_height])
            for tolerance in tolerances(file.document):
                if tolerance.key in ("slope_mm_per_m", "gauge_position_mm") or "knuckle" in tolerance.key:
                    continue
                one, two = (
                    volume_uncertainty(check_document({**file.document, "uncertainty": {tolerance.key: half}}), level)
                    for half in (0.5, 1.0)
                )
                self.assertAlmostEqual(float(two[0]), 2 * float(one[0]), delta=0.01 * float(one[0]) + 1e-12)

    def test_budgets_add_up_and_name_a_way_to_better_them(self) -> None:
        for document in all_documents():
            file = check_document({**document, "uncertainty": {}, "measured": {"all": "data_plate"}})
            budget = budget_at(file, 0.5 * file.tank.inside_height)
            self.assertAlmostEqual(sum(share for _, share in budget.shares), 1.0)
            self.assertFalse([one.key for one in budget.unstated if one.unit not in ("L", "%")])
            self.assertIsNotNone(budget.better_mm, document["name"])
            self.assertLess(budget.better_u95_m3, budget.u95_m3)
            self.assertTrue(budget.better_by)
