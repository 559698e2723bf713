"""A wire between browser and server that can be cut, or made to answer that the server has failed."""

from __future__ import annotations

import contextlib
import socket
import threading

FAILED = b"HTTP/1.1 500 Internal Server Error\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"


class Wire:
    """Passes bytes on from a port of its own to another; while it is cut, its port refuses connections."""

    def __init__(self, to: int) -> None:
        self.to = to
        self.failing = False
        self._open: set[socket.socket] = set()
        self._listener = self._listen(0)
        self.port: int = self._listener.getsockname()[1]

    @property
    def url(self) -> str:
        """Where the browser finds the server through this wire."""
        return f"http://127.0.0.1:{self.port}"

    def cut(self) -> None:
        """Refuse connections, and end those that stand."""
        # Closing alone leaves the accepting thread in it: shutting down wakes it.
        self._listener.shutdown(socket.SHUT_RDWR)
        self._listener.close()
        for end in list(self._open):
            self._end(end)

    def mend(self) -> None:
        """Take connections again."""
        self._listener = self._listen(self.port)

    def fail(self, failing: bool = True) -> None:
        """Answer 500 to everything from now on, or no longer; what stands is ended, so that it is asked anew."""
        self.failing = failing
        for end in list(self._open):
            self._end(end)

    def close(self) -> None:
        """End for good."""
        if self._listener.fileno() >= 0:
            self.cut()

    def _listen(self, port: int) -> socket.socket:
        listener = socket.socket()
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listener.bind(("127.0.0.1", port))
        listener.listen(64)
        threading.Thread(target=self._accept, args=(listener,), daemon=True).start()
        return listener

    def _accept(self, listener: socket.socket) -> None:
        while True:
            try:
                near, _ = listener.accept()
            except OSError:
                return
            threading.Thread(target=self._serve, args=(near,), daemon=True).start()

    def _serve(self, near: socket.socket) -> None:
        self._open.add(near)
        if self.failing:
            try:
                near.recv(65536)
                near.sendall(FAILED)
            except OSError:
                pass
            self._end(near)
            return
        try:
            far = socket.create_connection(("127.0.0.1", self.to))
        except OSError:
            self._end(near)
            return
        self._open.add(far)
        back = threading.Thread(target=self._pass, args=(far, near), daemon=True)
        back.start()
        self._pass(near, far)

    def _pass(self, source: socket.socket, sink: socket.socket) -> None:
        try:
            while piece := source.recv(65536):
                sink.sendall(piece)
        except OSError:
            pass
        self._end(source)
        self._end(sink)

    def _end(self, end: socket.socket) -> None:
        self._open.discard(end)
        with contextlib.suppress(OSError):
            end.shutdown(socket.SHUT_RDWR)
        end.close()
