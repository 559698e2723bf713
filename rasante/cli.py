"""The console script ``rasante``: the server, what keeps it well, and its commands by name."""

from __future__ import annotations

import argparse
import gc
import importlib
import os
import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .command import fail
from .supervise import NOT_AGAIN, Busy, Supervised, free_port, hold_lock

#: How long after its start a server reads ahead what it will need: the first pages go before [s].
_IDLE_S = 3.0


@contextmanager
def _reading_in() -> Iterator[None]:
    """What is read in here stays for good: nobody looks through it for waste, now or later."""
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()


@_reading_in()
def _prepare() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
    # What is made from here on is for this user alone.
    os.umask(0o077)
    import django
    from django.core.management import call_command
    from django.db import connection
    from django.db.migrations.executor import MigrationExecutor

    django.setup()
    executor = MigrationExecutor(connection)
    # To go through the motions with nothing to do takes a good part of a start.
    if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return
    if executor.loader.applied_migrations:
        _back_up()
    call_command("migrate", interactive=False, verbosity=0)


def _back_up() -> None:
    """A newer version changes the database: what it was before can be had back."""
    from datetime import UTC, datetime

    from django.db import connection

    from .backup import BackupError, folder_of, make_backup
    from .settings import DATA

    target = folder_of(DATA) / f"before-upgrade-{datetime.now(UTC):%Y%m%d-%H%M%S}.zip"
    connection.close()
    try:
        make_backup(DATA, target)
    except BackupError as error:
        fail(f"the database is to be brought to a newer version, and could not be backed up first: {error}")
    print(f"The database is brought to this version; as it was it lies in {target}", flush=True)


def listen(arguments: argparse.Namespace) -> None:
    """Listen to the sources until stopped; `serve` and `demo` do so in a process beside them."""
    if not arguments.supervised:
        _prepare()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rasante.settings")
    os.umask(0o077)
    import django

    django.setup()
    from .readings.listen import listen as begin
    from .settings import DATA

    try:
        begin(DATA, arguments.supervised)
    except Busy as busy:
        print(f"rasante: {busy}", file=sys.stderr)
        raise SystemExit(NOT_AGAIN) from None


def serve(arguments: argparse.Namespace) -> None:
    """Migrate the database and serve the application until stopped."""
    from .backup import keep_nightlies

    _prepare()
    from .settings import DATA

    if arguments.backup_days > 0:
        keep_nightlies(DATA, arguments.backup_days)
    _serve(arguments, [] if arguments.no_listen else [_listener()])


def backup(arguments: argparse.Namespace) -> None:
    """Back the installation up into one file, while it runs."""
    from .backup import BackupError, make_backup
    from .settings import DATA

    try:
        made = make_backup(DATA, Path(arguments.file).resolve())
    except BackupError as error:
        fail(str(error))
    print(f"{arguments.file}: {sum(made['rows'].values())} rows in {len(made['rows'])} tables, opened and counted.")


def restore(arguments: argparse.Namespace) -> None:
    """Put a backup in the place of an installation that is stopped."""
    from .backup import BackupError, restore_backup
    from .settings import DATA

    try:
        hold_lock(DATA).close()
    except Busy:
        fail("rasante listen writes into this folder: stop it first")
    except OSError:
        # There is no such folder yet: nobody writes into it.
        pass
    try:
        made, aside = restore_backup(Path(arguments.file).resolve(), DATA)
    except BackupError as error:
        fail(str(error))
    print(f"{DATA} holds what was backed up on {made['made_at'][:16].replace('T', ' ')} UTC.")
    if aside:
        print(f"What was there before lies in {aside}")


def _serve(arguments: argparse.Namespace, beside: list[Supervised]) -> None:
    from .backup import BackupError, hold
    from .settings import DATA, PROXY

    with _reading_in():
        from waitress import serve as wait

        from .wsgi import application

        # Whoever asks first does not wait for all that the addresses hang on.
        importlib.import_module("rasante.urls")

    try:
        held = hold(DATA)
    except BackupError as error:
        fail(str(error))
    behind = {"trusted_proxy": PROXY, "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"}}
    # Told to end by whoever runs it, it ends what it started before it goes.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    for one in beside:
        one.start()
    reading = threading.Timer(_IDLE_S, _read_ahead)
    reading.daemon = True
    reading.start()
    print(f"Rasante on http://{arguments.host}:{arguments.port}/ (stop with Ctrl-C)", flush=True)
    try:
        wait(
            application,
            host=arguments.host,
            port=arguments.port,
            threads=8,
            max_request_body_size=12_000_000,
            # What anybody else says of the scheme and of whose address it is counts for nothing.
            clear_untrusted_proxy_headers=True,
            **(behind if PROXY else {}),
        )
    finally:
        for one in beside:
            one.stop()
        held.close()


def _read_ahead() -> None:
    """Read what the first judgements and some ± are worked out by: whoever asks first would wait for it."""
    with _reading_in():
        for name in ("jsonschema", "scipy.interpolate", "scipy.ndimage", "scipy.stats"):
            importlib.import_module(name)


def _listener() -> Supervised:
    return Supervised(["rasante.cli", "listen", "--supervised"], os.environ)


def check(arguments: argparse.Namespace) -> None:
    """Look for rows that hold what cannot be shown, and mend them where that is asked for."""
    _prepare()
    from .check import bad_rows, mend
    from .seals.services import broken_seals, head

    found = list(bad_rows())
    for row in found:
        print(f"{row.model._meta.label} {row.pk}, {row.field}{row.place}: a sign that cannot be kept")
    left = [row for row in found if not mend(row)] if arguments.mend else found
    if arguments.mend and found:
        from .board.keeping import forget_all

        forget_all()
        print(f"{len(found) - len(left)} of {len(found)} mended: such signs are \ufffd now.")
    broken = list(broken_seals())
    for what in broken:
        print(what)
    count, link = head()
    print(f"{count} records are sealed; the last seal is {link[:16]}.")
    if left:
        why = (
            ": signed and issued records are never changed" if arguments.mend else "; rasante check --mend mends them"
        )
        fail(f"{len(left)} rows hold signs that cannot be kept{why}")
    if broken:
        fail("what must never change has changed: compare with a backup before anything else is done")
    print("Every row can be read and shown, and every sealed record is as it was.")


def person(arguments: argparse.Namespace) -> None:
    """Make a person who may sign in; the password is asked for, or read from standard input."""
    from getpass import getpass

    _prepare()
    from .accounts.services import make_person
    from .core.quantities.errors import InputError

    password = getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    try:
        make_person(arguments.username, arguments.name, password, arguments.role, checked=True)
    except InputError as error:
        fail(" ".join(problem.what for problem in error.problems))
    print(f"{arguments.name} may sign in as {arguments.username}, {arguments.role}.")


def demo(arguments: argparse.Namespace) -> None:
    """As serve, with the demo data and its people."""
    _prepare()
    from django.core.management import call_command

    call_command("load_demo")
    beside = [] if arguments.no_listen else [_listener()]
    if not arguments.no_yard:
        beside.append(_yard(arguments))
    _serve(arguments, beside)


def _yard(arguments: argparse.Namespace) -> Supervised:
    """The outside devices of the demo, on ports of their own."""
    from .demo.yard import point_sources

    page, modbus = arguments.yard_port or free_port(), free_port()
    point_sources(modbus)
    print(f"The yard, to play the outside world: http://127.0.0.1:{page}/", flush=True)
    push = f"http://127.0.0.1:{arguments.port}/api/push/"
    command = ["django", "run_yard", "--modbus", str(modbus), "--page", str(page), "--push", push]
    return Supervised(command, {**os.environ, "DJANGO_SETTINGS_MODULE": os.environ["DJANGO_SETTINGS_MODULE"]})


def table(arguments: argparse.Namespace) -> None:
    """Print a tank's volume table."""
    from .tank_commands import table as run

    run(arguments)


def level(arguments: argparse.Namespace) -> None:
    """Print the innage at which a tank holds a volume."""
    from .tank_commands import level as run

    run(arguments)


def diagnose(arguments: argparse.Namespace) -> None:
    """Say what a case's findings tell."""
    from .case_command import diagnose as run

    run(arguments)


def main(argv: list[str] | None = None) -> None:
    """Run the console script."""
    parser = argparse.ArgumentParser(prog="rasante", description="Volume tables, and the Rasante server.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    one = commands.add_parser("table", help="print the volume table of a tank file")
    one.add_argument("file", help="a rasante.tank/1 file, or - for standard input")
    one.add_argument("--step", default="10mm", help="step of innage: mm, cm, m, in or ft (10mm)")
    one.add_argument("--format", choices=["csv", "json"], default="csv")
    one.add_argument("--points", type=int, help="only the N rows whose straight lines come closest to the table")
    one.set_defaults(run=table)

    one = commands.add_parser("level", help="print the innage at which a tank holds a volume")
    one.add_argument("file", help="a rasante.tank/1 file, or - for standard input")
    one.add_argument("--volume", required=True, help="for instance 3500L, 3.5 m3 or 900 US gal")
    one.set_defaults(run=level)

    one = commands.add_parser("diagnose", help="say what a case's findings tell, and what to test next")
    one.add_argument("file", help="a rasante.case/1 file, or - for standard input")
    one.add_argument("--format", choices=["text", "json"], default="text")
    one.add_argument("--units", choices=["metric", "us"], default="metric", help="what a bare number means (metric)")
    one.set_defaults(run=diagnose)

    for name, run, words in (
        ("serve", serve, "migrate and serve the application"),
        ("demo", demo, "serve the application with the demo data"),
    ):
        one = commands.add_parser(name, help=words)
        one.add_argument("--host", default="127.0.0.1")
        one.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8000")))
        if name == "serve":
            one.add_argument(
                "--backup-days", type=int, default=14, help="how long nightly backups are kept; 0 for none (14)"
            )
        else:
            one.add_argument("--no-yard", action="store_true", help="without the simulated outside devices")
            one.add_argument("--yard-port", type=int, default=0, help="port of the yard's page (any that is free)")
        one.add_argument("--no-listen", action="store_true", help="without listening: `rasante listen` does it apart")
        one.set_defaults(run=run)

    for name, run, words in (
        ("backup", backup, "back the installation up into one file, while it runs"),
        ("restore", restore, "put a backup in the place of an installation that is stopped"),
    ):
        one = commands.add_parser(name, help=words)
        one.add_argument("file", help="the backup, a .zip")
        one.set_defaults(run=run)

    one = commands.add_parser("listen", help="listen to the sources of readings, apart from a server")
    one.add_argument("--supervised", action="store_true", help=argparse.SUPPRESS)
    one.set_defaults(run=listen)

    one = commands.add_parser("check", help="look for rows that cannot be shown")
    one.add_argument("--mend", action="store_true", help="replace what cannot be kept by \ufffd")
    one.set_defaults(run=check)

    one = commands.add_parser("person", help="make a person who may sign in")
    one.add_argument("username")
    one.add_argument("--name", required=True, help="the full name, as it stands on signed records")
    one.add_argument("--role", choices=["technician", "lead"], default="technician")
    one.set_defaults(run=person)

    arguments = parser.parse_args(argv)
    arguments.run(arguments)


if __name__ == "__main__":
    main()
