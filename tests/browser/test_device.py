"""What is typed is held on the device: past its window, and by a browser that forgets, fails or is full."""

from __future__ import annotations

from .expecting import expect
from .harness import go
from .on_a_wire import BOILER, CHAPEL, OnAWire, keeping
from .screenshots import open_tank


class OnTheDevice(OnAWire):
    def test_it_survives_the_window(self) -> None:
        page = self.page
        tank = self.left_waiting("Quay diesel north", "25 V")
        page.close()
        self.wire.mend()
        again = page.context.new_page()
        # Wherever it is opened again: what waits is sent from any page.
        go(again, "/")
        keeping(again, "all kept")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "25 V")

    def test_a_browser_that_forgets_what_it_holds_takes_nothing_from_the_window(self) -> None:
        page = self.page
        tank = self.left_waiting(BOILER, "27 V")
        # As where a device makes room by itself, or somebody clears what sites have left on it.
        held = {"origin": self.wire.url, "storageTypes": "indexeddb"}
        page.context.new_cdp_session(page).send("Storage.clearDataForOrigin", held)
        self.wire.mend()
        keeping(page, "all kept")
        expect(page.get_by_label("Supply", exact=True)).to_have_value("27 V")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "27 V")

    def test_a_browser_that_ends_its_reading_half_way_takes_nothing_and_throws_nothing(self) -> None:
        page = self.page
        tank = self.left_waiting(BOILER, "28 V")
        page.evaluate("""() => {
            const get = IDBObjectStore.prototype.get;
            IDBObjectStore.prototype.get = function (...asked) {
                IDBObjectStore.prototype.get = get;
                const request = get.apply(this, asked);
                this.transaction.abort();
                return request;
            };
        }""")
        self.wire.mend()
        keeping(page, "all kept")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "28 V")

    def test_a_browser_that_cannot_open_what_it_holds_at_first_is_asked_again(self) -> None:
        page = self.page
        open_tank(page, BOILER, "Wiring")
        newer = "new Promise((done) => { indexedDB.open('newer', 2).onsuccess = () => done() })"
        page.evaluate(newer)
        # Of what is there in a newer version an older one cannot be opened: the first time it is asked for instead.
        page.add_init_script("""
            const open = IDBFactory.prototype.open;
            IDBFactory.prototype.open = function () {
                IDBFactory.prototype.open = open;
                return open.call(this, "newer", 1);
            };
        """)
        page.reload()
        page.get_by_label("Supply", exact=True).fill("29 V")
        keeping(page, "1 draft here")
        page.reload()
        expect(page.get_by_label("Supply", exact=True)).to_have_value("29 V")

    def test_a_device_without_room_says_so_and_keeps_the_field(self) -> None:
        page = self.page
        page.add_init_script(
            "IDBObjectStore.prototype.put = () => { throw new DOMException('full', 'QuotaExceededError') }"
        )
        open_tank(page, CHAPEL, "Wiring")
        page.get_by_label("Supply", exact=True).fill("22 V")
        keeping(page, "no room on this device")
        expect(page.get_by_label("Supply", exact=True)).to_have_value("22 V")
        page.get_by_role("button", name="Keep this wiring").click()
        keeping(page, "all kept")
