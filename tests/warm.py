"""The real commands, begun from a process that has read the libraries already: a server starts sooner.

The standard library's fork server reads them once; what is begun from it reads the settings, and all that hangs on
them, by itself as any start does.
"""

from __future__ import annotations

import json
import multiprocessing
import os
import runpy
import sys
import tempfile
from collections.abc import Callable, Mapping
from multiprocessing import forkserver
from multiprocessing.process import BaseProcess
from multiprocessing.reduction import DupFd
from pathlib import Path
from subprocess import CompletedProcess
from typing import Any, BinaryIO

#: What the server reads whatever its settings are.
_LIBRARIES = (
    "numpy", "scipy.interpolate", "scipy.optimize", "scipy.stats", "jsonschema", "orjson",
    "reportlab.platypus", "reportlab.graphics", "xlsxwriter", "segno", "requests", "pymodbus.client", "waitress",
    "csp.middleware", "django.core.management.commands.migrate", "django.core.servers.basehttp",
    "django.db.backends.sqlite3.base", "django.db.models", "django.template.backends.django",
    "django.contrib.auth.password_validation", "rest_framework.settings", "whitenoise.middleware", "rasante.cli",
)  # fmt: skip


def _libraries() -> list[str]:
    root = Path(__file__).resolve().parents[1]
    core = sorted(file for file in (root / "rasante" / "core").rglob("*.py") if "migrations" not in file.parts)
    return [*_LIBRARIES, *(".".join(file.relative_to(root).with_suffix("").parts) for file in core)]


_warm = multiprocessing.get_context("forkserver")
_warm.set_forkserver_preload(_libraries())


def get_ready() -> None:
    """Begin the process that has read the libraries: whoever is forked afterwards has it in common with this one."""
    forkserver.ensure_running()


def _take_it_as_it_is() -> None:
    """A forked worker is not its fork server's parent and cannot ask after it: it takes it as running."""
    server: Any = forkserver._forkserver  # type: ignore[attr-defined]
    if server._forkserver_alive_fd is not None:
        server.ensure_running = lambda: None


os.register_at_fork(after_in_child=_take_it_as_it_is)


def begin(
    run: Callable[[list[str]], object], arguments: list[str], environment: Mapping[str, str],
    streams: tuple[int, ...] = (),
) -> BaseProcess:  # fmt: skip
    """Begin a command with its arguments in an environment; it says nothing, or to the files it is given.

    Parameters
    ----------
    run : callable
        One of a module's own functions: it is found by its name.
    arguments : list of str
        What it is called with.
    environment : mapping of str to str
        The whole of it.
    streams : tuple of int
        Descriptors that stand for its input, output and errors.
    """
    # Django's own workers may have no children, but these have their servers.
    multiprocessing.current_process()._config["daemon"] = False  # type: ignore[attr-defined]
    handed = [DupFd(one) for one in streams]
    process = _warm.Process(target=_run, args=(run, arguments, dict(environment), handed))
    process.start()
    return process


def call(arguments: list[str], environment: Mapping[str, str], given: str = "") -> CompletedProcess[str]:
    """Run ``rasante`` with arguments until it ends, with what is given on its input."""
    with tempfile.TemporaryFile() as told, tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as errors:
        told.write(given.encode())
        told.seek(0)
        process = begin(rasante, arguments, environment, tuple(one.fileno() for one in (told, out, errors)))
        process.join()
        assert process.exitcode is not None
        return CompletedProcess(arguments, process.exitcode, _read(out), _read(errors))


def _read(file: BinaryIO) -> str:
    file.seek(0)
    return file.read().decode()


def _run(
    run: Callable[[list[str]], object], arguments: list[str], environment: Mapping[str, str], streams: list[DupFd]
) -> None:
    os.environ.clear()
    os.environ.update(environment)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
    if not streams:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    for place, one in enumerate(streams):
        os.dup2(one.detach(), place)
    if streams:
        sys.stdin = os.fdopen(0, closefd=False)
    run(arguments)


def rasante(arguments: list[str]) -> None:
    """``rasante`` with arguments."""
    from rasante.cli import main

    main(arguments)


def come_in(arguments: list[str]) -> None:
    """Sign people of the demo in, and write the cookies of each to a file, by name."""
    import django

    django.setup()
    from django.test import Client

    file, *people = arguments
    found = {}
    for username in people:
        client = Client(SERVER_NAME="127.0.0.1")
        body = {"username": username, "password": f"skerrow-{username}"}
        answer = client.post("/api/session/", body, "application/json")
        assert answer.status_code == 200, answer.content
        found[username] = [
            {"name": one.key, "value": one.value, "domain": "127.0.0.1", "path": "/"}
            for one in client.cookies.values()
        ]
    Path(file).write_text(json.dumps(found))


def module(arguments: list[str]) -> None:
    """``python -m`` with a module and its arguments."""
    sys.argv = list(arguments)
    runpy.run_module(arguments[0], run_name="__main__", alter_sys=True)


def manage(arguments: list[str]) -> None:
    """``manage.py`` with arguments."""
    from django.core.management import execute_from_command_line

    execute_from_command_line(["manage.py", *arguments])
