"""What a broker passes on by MQTT, against Debian's own broker."""

from __future__ import annotations

import shutil
import socket
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from django.test import SimpleTestCase

from rasante.readings.models import Channel, Source
from rasante.readings.mqtt import Broker, value_in
from rasante.supervise import free_port

MOSQUITTO = shutil.which("mosquitto", path="/usr/sbin:/usr/bin:/usr/local/sbin")


class Payloads(SimpleTestCase):
    def test_numbers_bare_and_in_json(self) -> None:
        self.assertEqual(value_in(b"12.5", ""), (12.5, None))
        self.assertEqual(
            value_in(b'{"tank": {"level": 1200}, "at": "2025-06-01T00:00:00Z"}', "tank.level")[0], 1200.0
        )
        self.assertEqual(value_in(b'{"tank": {"level": 1200}, "at": 1748736000}', "tank.level")[1], 1_748_736_000_000)
        self.assertEqual(value_in(b"[1, [2, 3]]", "1.0"), (2.0, None))
        self.assertEqual(value_in(b'{"value": "7"}', ""), (7.0, None))
        self.assertEqual(value_in(b'{"a": null}', "a"), (None, None))
        for payload, path in ((b"", ""), (b"full", ""), (b'{"a": 1}', "b"), (b'"x"', ""), (b"[1]", "5"), (b"1", "a")):
            with self.assertRaises((ValueError, KeyError, IndexError, TypeError)):
                value_in(payload, path)


class Mqtt(SimpleTestCase):
    def setUp(self) -> None:
        self.assertIsNotNone(MOSQUITTO, "no mosquitto here: make broker")
        self.port = free_port()
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder, True)
        (folder / "broker.conf").write_text(f"listener {self.port} 127.0.0.1\nallow_anonymous true\n")
        self.folder = folder
        self.begin()

    def begin(self) -> None:
        command = [str(MOSQUITTO), "-c", str(self.folder / "broker.conf")]
        self.broker = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, self.broker)
        until = time.monotonic() + 20
        while time.monotonic() < until:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            time.sleep(0.05)
        self.fail("the broker did not start")

    @staticmethod
    def end(process: subprocess.Popen[bytes]) -> None:
        if process.poll() is None:
            process.terminate()
            process.wait(10)

    def test_what_is_published_is_heard_and_a_broker_that_comes_back_is_heard_again(self) -> None:
        from paho.mqtt import publish

        heard: list[tuple[str, float | None]] = []
        lost: list[str] = []
        source = Source(pk=1, name="broker", kind="mqtt", host="127.0.0.1", port=self.port)
        channels = [
            Channel(name="bare", address={"topic": "quay/north"}),
            Channel(name="json", address={"topic": "quay/south", "path": "tank.level"}),
        ]
        broker = Broker(
            source, channels, lambda channel, at, value, _: heard.append((channel.name, value)), lost.append
        )
        broker.start()
        self.addCleanup(broker.stop)

        def until(there: Callable[[], bool]) -> None:
            end = time.monotonic() + 30
            while not there() and time.monotonic() < end:
                # What is published before the subscription stands is nobody's: it is sent again until it is heard.
                try:
                    publish.single("quay/north", "1201.5", hostname="127.0.0.1", port=self.port)
                    publish.single("quay/south", '{"tank": {"level": 7}}', hostname="127.0.0.1", port=self.port)
                except OSError:
                    pass
                time.sleep(0.2)
            self.assertTrue(there())

        until(lambda: ("bare", 1201.5) in heard and ("json", 7.0) in heard)
        publish.single("quay/north", "full", hostname="127.0.0.1", port=self.port)
        until(lambda: any("has no number" in words for words in lost))
        self.end(self.broker)
        end = time.monotonic() + 30
        while not any("cannot be reached" in words for words in lost) and time.monotonic() < end:
            time.sleep(0.1)
        self.assertTrue(any("cannot be reached" in words for words in lost))
        heard.clear()
        self.begin()
        until(lambda: len(heard) > 1)
