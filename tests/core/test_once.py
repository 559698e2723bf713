"""What takes long is worked out once for all who ask for it, however close together."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event
from unittest import TestCase, mock

import numpy as np

from rasante.core.quantities.once import once
from rasante.core.tanks import uncertainty
from rasante.core.tanks.tank_file import check_document

from .samples import example

WAIT_S = 60


class OnceForAll(TestCase):
    def test_whoever_asks_meanwhile_waits_for_it(self) -> None:
        worked, begun, go, ready = [], {3: Event(), 4: Event()}, Event(), Barrier(7)

        @once(8)
        def double(number: int) -> int:
            worked.append(number)
            begun[number].set()
            go.wait(WAIT_S)
            return 2 * number

        def ask(number: int) -> int:
            ready.wait(WAIT_S)
            return double(number)

        with ThreadPoolExecutor(6) as pool:
            asked = [pool.submit(ask, number) for number in (3, 3, 3, 3, 3, 4)]
            ready.wait(WAIT_S)
            # Other arguments are another answer, and hold nobody up.
            self.assertTrue(all(one.wait(WAIT_S) for one in begun.values()))
            go.set()
            self.assertEqual([one.result(WAIT_S) for one in asked], [6, 6, 6, 6, 6, 8])
        self.assertEqual(sorted(worked), [3, 4])
        double(3)
        self.assertEqual(sorted(worked), [3, 4])

    def test_an_error_is_told_to_all_and_kept_for_nobody(self) -> None:
        begun, go, ready, well = Event(), Event(), Barrier(5), Event()

        @once(8)
        def refuse(number: int) -> int:
            begun.set()
            go.wait(WAIT_S)
            if not well.is_set():
                raise ValueError("not yet")
            return number

        def ask() -> int:
            ready.wait(WAIT_S)
            return refuse(5)

        with ThreadPoolExecutor(4) as pool:
            asked = [pool.submit(ask) for _ in range(4)]
            ready.wait(WAIT_S)
            self.assertTrue(begun.wait(WAIT_S))
            go.set()
            for one in asked:
                self.assertIsInstance(one.exception(WAIT_S), ValueError)
        well.set()
        self.assertEqual(refuse(5), 5)

    def test_what_was_asked_for_longest_ago_goes_first(self) -> None:
        worked = []

        @once(2)
        def same(number: int) -> int:
            worked.append(number)
            return number

        for number in (1, 2, 1, 3, 1, 2):
            same(number)
        self.assertEqual(worked, [1, 2, 3, 2])
        same.cache_clear()
        same(2)
        self.assertEqual(worked, [1, 2, 3, 2, 2])


class UncertaintyOfATank(TestCase):
    def test_it_is_worked_out_once_for_all_parts_of_a_page_that_ask_at_once(self) -> None:
        document = example(name="Asked for by many", uncertainty={"diameter_mm": 4.25})
        files = [check_document(document) for _ in range(6)]
        levels = np.linspace(0, files[0].tank.inside_height, 9)
        right = uncertainty._propagated(files[0], levels)
        began = Barrier(len(files))

        def ask(file):
            began.wait(WAIT_S)
            return uncertainty.volume_uncertainty(file, levels)

        with (
            mock.patch.object(uncertainty, "_propagated", wraps=uncertainty._propagated) as worked,
            ThreadPoolExecutor(len(files)) as pool,
        ):
            found = list(pool.map(ask, files))
        self.assertEqual(worked.call_count, 1)
        for one in found:
            np.testing.assert_array_equal(one, right)
        # What is said of another is its own.
        wider = check_document({**document, "uncertainty": {"diameter_mm": 8.5}})
        again = uncertainty.volume_uncertainty(wider, levels)
        self.assertGreater(float(np.max(again - right)), 0)
