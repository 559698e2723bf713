"""The real commands, begun from a process that has read the libraries already: a server starts sooner.

The standard library's fork server reads them once; what is begun from it reads the settings, and all that hangs on
them, by itself as any start does.
"""

from __future__ import annotations

import json
import multiprocessing
import os
import sys
from collections.abc import Callable, Mapping
from multiprocessing.process import BaseProcess
from pathlib import Path

#: Everything that the server reads whatever its settings are.
_LIBRARIES = (
    "numpy", "scipy.interpolate", "scipy.optimize", "scipy.stats", "CoolProp.CoolProp", "jsonschema", "orjson",
    "reportlab.platypus", "reportlab.graphics", "xlsxwriter", "segno", "requests", "pymodbus.client", "waitress",
    "django.core.management", "django.db.models", "rasante.cli",
)  # fmt: skip


def _libraries() -> list[str]:
    root = Path(__file__).resolve().parents[2]
    core = sorted(file for file in (root / "rasante" / "core").rglob("*.py") if "migrations" not in file.parts)
    return [*_LIBRARIES, *(".".join(file.relative_to(root).with_suffix("").parts) for file in core)]


_warm = multiprocessing.get_context("forkserver")
_warm.set_forkserver_preload(_libraries())


def begin(run: Callable[[list[str]], object], arguments: list[str], environment: Mapping[str, str]) -> BaseProcess:
    """Begin a command with its arguments in an environment."""
    # Django's own workers may have no children, but these have their servers.
    multiprocessing.current_process()._config["daemon"] = False  # type: ignore[attr-defined]
    process = _warm.Process(target=_run, args=(run, arguments, dict(environment)))
    process.start()
    return process


def _run(run: Callable[[list[str]], object], arguments: list[str], environment: Mapping[str, str]) -> None:
    os.environ.clear()
    os.environ.update(environment)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
    silent = os.open(os.devnull, os.O_WRONLY)
    os.dup2(silent, sys.stdout.fileno())
    run(arguments)


def rasante(arguments: list[str]) -> None:
    """``rasante`` with arguments."""
    from rasante.cli import main

    main(arguments)


def come_in(arguments: list[str]) -> None:
    """Sign somebody in by name and password, and write the cookies of it to a file."""
    import django

    django.setup()
    from django.test import Client

    username, password, file = arguments
    client = Client(SERVER_NAME="127.0.0.1")
    answer = client.post("/api/session/", {"username": username, "password": password}, "application/json")
    assert answer.status_code == 200, answer.content
    found = [
        {"name": one.key, "value": one.value, "domain": "127.0.0.1", "path": "/"} for one in client.cookies.values()
    ]
    Path(file).write_text(json.dumps(found))


def manage(arguments: list[str]) -> None:
    """``manage.py`` with arguments."""
    from django.core.management import execute_from_command_line

    execute_from_command_line(["manage.py", *arguments])
