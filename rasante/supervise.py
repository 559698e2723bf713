"""Processes beside the server: begun again when they fall over, ended when it ends, and one of a kind at a time."""

from __future__ import annotations

import fcntl
import socket
import subprocess
import sys
import threading
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import IO

#: How long a process has to end by itself [s]; and how long is waited before it is begun anew, at least and at most.
_ENDS_S, _RESTS_S = 15, (1.0, 30.0)
#: What a process answers that is not to be begun anew.
NOT_AGAIN = 3


class Busy(Exception):
    """Another process listens already."""


def free_port() -> int:
    """A port that nobody has now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def hold_lock(data: Path) -> IO[str]:
    """Hold the lock that lets one process listen.

    Raises
    ------
    Busy
        If another holds it.
    """
    held = (data / "listen.lock").open("a")
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        held.close()
        raise Busy("another process listens to this installation already") from None
    return held


class Supervised:
    """One process beside the server.

    Parameters
    ----------
    command : sequence of str
        What follows ``python -m``.
    environment : mapping of str to str
        Its environment.
    folder : Path, optional
        Where it runs.
    """

    def __init__(self, command: Sequence[str], environment: Mapping[str, str], folder: Path | None = None) -> None:
        self.command = [sys.executable, "-m", *command]
        self.environment, self.folder = dict(environment), folder
        self.process: subprocess.Popen[bytes] | None = None
        self.stopping = threading.Event()
        self.lock = threading.Lock()
        self.thread = threading.Thread(target=self._watch, name=command[0], daemon=True)

    def start(self) -> None:
        """Begin it."""
        self._begin()
        self.thread.start()

    def _begin(self) -> None:
        with self.lock:
            if not self.stopping.is_set():
                # Its standard input is the rope that it hangs on: when this process is gone, it ends.
                self.process = subprocess.Popen(
                    self.command, stdin=subprocess.PIPE, env=self.environment, cwd=self.folder
                )

    def _watch(self) -> None:
        rest = _RESTS_S[0]
        while not self.stopping.is_set() and self.process is not None:
            try:
                code = self.process.wait(30)
            except subprocess.TimeoutExpired:
                # It has stood for a while: the next fall is a new one.
                rest = _RESTS_S[0]
                continue
            if code == NOT_AGAIN or self.stopping.wait(rest):
                return
            rest = min(rest * 2, _RESTS_S[1])
            self._begin()

    def stop(self) -> None:
        """End it, and wait until it has ended."""
        self.stopping.set()
        with self.lock:
            process = self.process
        if process is None or process.poll() is not None:
            return
        if process.stdin is not None:
            process.stdin.close()
        try:
            process.wait(_ENDS_S)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()
