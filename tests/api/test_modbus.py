"""A controller that is asked by Modbus, against a server of the test's own."""

from __future__ import annotations

import asyncio
import contextlib
import struct
import threading
import time
from collections.abc import Callable
from typing import Any

from django.test import SimpleTestCase
from pymodbus.constants import ExcCodes
from pymodbus.server import ModbusTcpServer
from pymodbus.simulator import DataType, SimData, SimDevice

from rasante.core.readings.source_form import Address
from rasante.core.scaling.registers import ORDERS, TYPES, encode
from rasante.readings.models import Channel, Source
from rasante.readings.polling import NoAnswer, blocks, poll
from rasante.supervise import free_port


class Loop:
    """An event loop in a thread of its own, for servers that a test talks to."""

    def __init__(self) -> None:
        self.loop = asyncio.new_event_loop()
        self.thread = threading.Thread(target=self.loop.run_forever, daemon=True)
        self.thread.start()

    def do(self, coroutine: Any) -> Any:
        return asyncio.run_coroutine_threadsafe(coroutine, self.loop).result(20)

    def end(self) -> None:
        async def stop() -> None:
            others = asyncio.all_tasks() - {asyncio.current_task()}
            for task in others:
                task.cancel()
            await asyncio.gather(*others, return_exceptions=True)

        self.do(stop())
        self.loop.call_soon_threadsafe(self.loop.stop)
        self.thread.join(10)


def source_at(port: int, unit: int = 1, timeout: float = 2.0) -> Source:
    return Source(name="controller", kind="modbus", host="127.0.0.1", port=port, unit=unit, timeout_s=timeout)


def channel_of(address: Address, name: str = "one") -> Channel:
    return Channel(name=name, kind="pump", unit="1", address=vars(address))


class Modbus(SimpleTestCase):
    """A controller whose registers 100 on hold every type in every order, one after the other."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.loop, cls.port = Loop(), free_port()
        cls.addClassCleanup(cls.loop.end)
        words = [0] * 200
        cls.there: list[tuple[Address, float]] = []
        at = 100
        for kind, one in TYPES.items():
            for order in ORDERS:
                value = 1234.5 if kind == "float32" else -1234.0 if kind.startswith("int") else 1234.0
                written = encode(value, kind, order)
                words[at : at + len(written)] = written
                cls.there.append((Address("holding", at, kind, order), value))
                at += one.words
        words[50] = 0b0000_0100_0000_0001
        words[60:62] = struct.unpack(">HH", struct.pack(">f", float("nan")))

        async def refuse(function: int, start: int, address: int, *_: Any) -> ExcCodes | None:
            return ExcCodes.DEVICE_BUSY if address == 190 else None

        def device(number: int) -> SimDevice:
            bits = [SimData(0, values=[False, True] * 8, datatype=DataType.BITS)]
            block = [SimData(0, values=list(words), datatype=DataType.REGISTERS)]
            blocks = (bits, [SimData(0, values=[True] * 16, datatype=DataType.BITS)], block, block)
            return SimDevice(number, blocks, action=refuse)

        async def start() -> ModbusTcpServer:
            server = ModbusTcpServer([device(1)], address=("127.0.0.1", cls.port))
            await server.serve_forever(background=True)
            return server

        server = cls.loop.do(start())
        cls.addClassCleanup(lambda: cls.loop.do(server.shutdown()))

    def read(self, *addresses: Address, unit: int = 1, port: int = 0, timeout: float = 2.0) -> list[Any]:
        channels = [channel_of(address, str(number)) for number, address in enumerate(addresses)]
        return asyncio.run(poll(source_at(port or self.port, unit, timeout), channels))

    def test_every_type_in_every_order(self) -> None:
        addresses, values = zip(*self.there, strict=True)
        self.assertEqual([one.value for one in self.read(*addresses)], list(values))
        self.assertEqual(len(self.there), len(TYPES) * len(ORDERS))

    def test_a_word_by_a_client_that_is_not_ours(self) -> None:
        # 1234.5 as IEEE 754, by struct: 449A 5000.
        address = next(one for one, value in self.there if value == 1234.5 and one.order == "ABCD")
        self.assertEqual(self.read(address)[0].words, struct.unpack(">HH", struct.pack(">f", 1234.5)))

    def test_bits_coils_and_inputs(self) -> None:
        read = self.read(
            Address("holding", 50, bit=0), Address("holding", 50, bit=10), Address("input", 50, bit=1),
            Address("coil", 0), Address("coil", 1), Address("discrete", 0),
        )  # fmt: skip
        self.assertEqual([one.value for one in read], [1.0, 1.0, 0.0, 0.0, 1.0, 1.0])

    def test_no_number_and_no_register_are_told(self) -> None:
        nan, missing, there = self.read(
            Address("holding", 60, "float32"), Address("holding", 300), Address("holding", 50)
        )
        self.assertEqual((nan.value, nan.quality), (None, 2))
        self.assertIn("no number", nan.problem)
        self.assertIn("it has no such register (holding 300 to 300, exception 2)", missing.problem)
        self.assertEqual(there.value, 1025.0)

    def test_an_exception_code_has_its_words(self) -> None:
        (busy,) = self.read(Address("holding", 190))
        self.assertIn("it is busy", busy.problem)
        self.assertIn("exception 6", busy.problem)

    def test_one_that_is_not_there(self) -> None:
        with self.assertRaisesRegex(NoAnswer, "cannot be reached: is it on"):
            self.read(Address("holding", 1), port=free_port())

    def answering(self, answer: Callable[[bytes], bytes]) -> int:
        """A port at which whatever is asked gets a raw answer."""

        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            asked = await reader.read(260)
            writer.write(answer(asked))
            await writer.drain()
            with contextlib.suppress(asyncio.CancelledError):
                await asyncio.sleep(3)
            writer.close()

        async def start() -> Any:
            return await asyncio.start_server(serve, "127.0.0.1", 0)

        server = self.loop.do(start())
        self.addCleanup(self.loop.loop.call_soon_threadsafe, server.close)
        return server.sockets[0].getsockname()[1]

    def test_silence_half_a_frame_and_rubbish_are_no_answers(self) -> None:
        for answer in (
            lambda asked: b"",
            lambda asked: asked[:4] + b"\x00\x05\x01\x03\x02",
            lambda asked: b"HTTP/1.1 400 Bad Request\r\n\r\n",
        ):
            began = time.monotonic()
            with self.assertRaises(NoAnswer):
                self.read(Address("holding", 1), port=self.answering(answer), timeout=0.5)
            self.assertLess(time.monotonic() - began, 10)

    def test_requests_are_few(self) -> None:
        near = [Address("holding", at) for at in (0, 2, 10, 18)]
        self.assertEqual(blocks(near), [("holding", 0, 19)])
        far = [Address("holding", 0), Address("holding", 40), Address("input", 0), Address("holding", 41, "int32")]
        self.assertEqual(blocks(far), [("holding", 0, 1), ("holding", 40, 3), ("input", 0, 1)])
        many = blocks([Address("holding", at) for at in range(300)])
        self.assertEqual(sum(count for *_, count in many), 300)
        self.assertTrue(all(count <= 125 for *_, count in many))
