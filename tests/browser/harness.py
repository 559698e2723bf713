"""The real application in the real browser: a server of its own with the demo data, and headless Chromium."""

from __future__ import annotations

import json
import os
import re
import shutil
import sqlite3
import tempfile
import time
import urllib.error
import urllib.parse
import urllib.request
from contextlib import closing
from functools import cache
from multiprocessing.process import BaseProcess
from multiprocessing.util import Finalize
from pathlib import Path
from typing import Any
from unittest import TestCase

from playwright.sync_api import Browser, BrowserContext, Error, Page, Playwright, Request, sync_playwright

from rasante.supervise import free_port
from tests.prepared import COOKIES, copy_of, prepared
from tests.warm import begin, rasante

from .expecting import PATIENCE

ROOT = Path(__file__).resolve().parents[2]
#: The shell without windows where there is one: it needs about half of what the whole browser does.
CHROMIUM = next(
    (path for path in ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium") if Path(path).exists()),
    "/usr/bin/chromium",
)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    # What is drawn without one is drawn in the browser's own process: nothing is handed over.
    "--in-process-gpu",
    # And in one piece as large as the window: of many small ones nearly all are drawn anew each time.
    "--default-tile-width=1280",
    "--default-tile-height=800",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # One process draws all pages of a window: none is begun for each.
    "--disable-site-isolation-trials",
    "--renderer-process-limit=1",
    # What is compiled stays so: it is not given up and compiled anew.
    "--js-flags=--no-flush-bytecode",
]
DESK = {"width": 1280, "height": 800}
PHONE = {"width": 390, "height": 844}


@cache
def signed_in(username: str = "tech") -> list[Any]:
    """The cookies of one of the demo's people, who is in."""
    cookies: dict[str, list[Any]] = json.loads((prepared("demo").parent / COOKIES).read_text())
    return cookies[username]


class Server:
    """``rasante demo`` on a port of its own, with its data in a folder of its own.

    Parameters
    ----------
    kind : str
        Of which data, as they are prepared.
    live : bool
        Whether the yard's devices run too, and are listened to.
    """

    def __init__(self, kind: str = "demo", live: bool = False) -> None:
        self.live, self.yard = live, free_port()
        self.data = tempfile.mkdtemp(prefix="rasante-")
        copy_of(kind, self.data)
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.process: BaseProcess | None = None
        self.desk: Desk | None = None

    def start(self) -> None:
        """Start it and wait until it answers."""
        environment = {**os.environ, "RASANTE_DATA": self.data, "TZ": "UTC"}
        beside = ["--yard-port", str(self.yard)] if self.live else ["--no-listen", "--no-yard"]
        self.process = begin(rasante, ["demo", "--port", str(self.port), *beside], environment)
        self._until_it_answers(f"{self.url}/sign-in")
        if self.live:
            self._until_it_answers(f"http://127.0.0.1:{self.yard}/")

    def _until_it_answers(self, url: str) -> None:
        assert self.process is not None
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(url, timeout=10).read()
                return
            except (urllib.error.URLError, OSError):
                if not self.process.is_alive():
                    raise RuntimeError(f"the server ended with {self.process.exitcode}") from None
                time.sleep(0.05)
        raise RuntimeError(f"{url} did not answer within two minutes")

    def kill(self) -> None:
        """End it as a power cut would."""
        assert self.process is not None
        self.process.kill()
        self.process.join()

    def stop(self) -> None:
        """End it and remove its data."""
        if self.process:
            self.process.terminate()
            self.process.join(10)
            if self.process.is_alive():
                self.kill()
                raise RuntimeError("the server did not end within ten seconds of being told to")
        if self.desk:
            self.desk.context.close()
        shutil.rmtree(self.data, ignore_errors=True)

    def _rest(self) -> None:
        """Wait until none of its threads has anything to do: what a page asked for before it went is done."""
        assert self.process is not None
        quiet, deadline = 0, time.monotonic() + PATIENCE / 1000
        while quiet < 5 and time.monotonic() < deadline:
            quiet = quiet + 1 if _at_rest(self.process.pid) else 0
            time.sleep(0.01)

    def renew(self) -> None:
        """Begin again from the demo's data, as if it had been started anew."""
        self._rest()
        name = "rasante.sqlite3"
        with (
            closing(sqlite3.connect(prepared("demo") / name)) as made,
            closing(sqlite3.connect(Path(self.data, name), timeout=PATIENCE / 1000)) as here,
        ):
            made.backup(here)


def _at_rest(process: int | None) -> bool:
    """Whether all threads of a process sleep: one that waits for a processor does not."""
    try:
        threads = [(one / "stat").read_text() for one in Path(f"/proc/{process}/task").iterdir()]
    except FileNotFoundError:
        # One has ended just now.
        return False
    return all(one.rpartition(") ")[2].startswith("S") for one in threads)


@cache
def _idle() -> list[Server]:
    """The servers of this process that no class of tests uses now; they end with it."""
    servers: list[Server] = []

    def stop() -> None:
        while servers:
            servers.pop().stop()

    Finalize(None, stop, exitpriority=3)
    return servers


def take_server(live: bool = False) -> Server:
    """A server that runs on the demo's data; to be given back."""
    if _idle() and not live:
        return _idle().pop()
    server = Server(live=live)
    server.start()
    return server


def give_back(server: Server) -> None:
    """Have a server back for the next class of tests; one that fell, or whose yard has done something, ends."""
    if server.live or not server.process or not server.process.is_alive():
        server.stop()
    else:
        server.renew()
        _idle().append(server)


@cache
def browser() -> Browser:
    """The browser of all tests of this process."""
    # Its driver stands in a loop of its own, in which Django else refuses the database.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    driver = sync_playwright()
    found = launch(driver.__enter__())
    Finalize(None, driver.__exit__, (None, None, None), exitpriority=2)
    return found


def launch(playwright: Playwright) -> Browser:
    return playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)


def open_context(browser: Browser, url: str, size: dict[str, int], **options) -> BrowserContext:
    # What a test holds back or breaks is between the page and the server: nothing of the browser stands between.
    options.setdefault("service_workers", "block")
    context = browser.new_context(base_url=url, viewport=size, accept_downloads=True, **options)
    context.set_default_timeout(2 * PATIENCE)
    return context


def open_page(browser: Browser, url: str, size: dict[str, int], **options) -> Page:
    return open_context(browser, url, size, **options).new_page()


#: Goes to an address in the app as Back and Forward do. A page that does not exist stands between: whatever is shown
#: afterwards is of the address, not of what was open.
_GO = """async (address) => {
    const to = (where) => {
        history.pushState(null, "", where);
        dispatchEvent(new PopStateEvent("popstate"));
    };
    const until = (so) => new Promise((done) => {
        if (so()) return done();
        const watch = new MutationObserver(() => {
            if (!so()) return;
            watch.disconnect();
            done();
        });
        watch.observe(document.body, { childList: true, subtree: true, characterData: true });
    });
    const between = () => document.querySelector("main h1")?.textContent === "There is no such page";
    if (!document.querySelector("nav.places")) return false;
    to("/between");
    await until(between);
    to(address);
    await until(() => !between());
    return true;
}"""


def go(page: Page, address: str) -> None:
    """Go to an address: within the app where it is open, or else by loading it.

    What the app asked for in the last seconds is not asked anew; where a test has changed that behind the app's back,
    it loads the page.
    """
    if not page.evaluate(_GO, address):
        page.goto(address)


class Traffic:
    """What a page asks for from now on."""

    def __init__(self, page: Page) -> None:
        self._page, self._under_way = page, set[Request]()
        self._last = time.monotonic()
        page.on("request", self._begin)
        page.on("requestfinished", self._end)
        page.on("requestfailed", self._end)

    def _begin(self, request: Request) -> None:
        self._under_way.add(request)
        self._last = time.monotonic()

    def _end(self, request: Request) -> None:
        self._under_way.discard(request)
        self._last = time.monotonic()

    def rest(self) -> None:
        """Wait until it has asked for nothing for half a second, as after loading, and waits for no answer."""
        while self._under_way or time.monotonic() < self._last + 0.5:
            left = self._last + 0.5 - time.monotonic()
            self._page.wait_for_timeout(50 if self._under_way else max(left, 0.001) * 1000)


def sign_in(page: Page, username: str = "tech", password: str = "skerrow-tech") -> None:
    page.goto("/sign-in")
    page.get_by_label("Name").fill(username)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Needs a person").wait_for()


class Desk:
    """A window at the desk that tests share, one after another: each finds the files read, and else nothing."""

    def __init__(self, browser: Browser, url: str) -> None:
        self.url = url
        self.context = open_context(browser, url, DESK)
        # While one page stays open, so does the process that draws them all.
        self.stays = self.context.new_page()
        self.stays.goto("/mark.svg")
        self.storage = self.context.new_cdp_session(self.stays)

    def page(self) -> Page:
        """A page of somebody who has never been here."""
        self.context.clear_cookies()
        return self.context.new_page()

    def clear(self) -> None:
        """Forget whatever a test left behind; what cannot be forgotten is the test's fault."""
        # A clock is its context's, for every page that is opened in it later.
        assert not any(map(_clocked, self.context.pages)), "a test stopped the clock of a window that others use"
        for page in self.context.pages:
            if page is not self.stays:
                page.unroute_all(behavior="ignoreErrors")
                page.close()
        kept = "local_storage,indexeddb,cache_storage,websql,file_systems"
        self.storage.send("Storage.clearDataForOrigin", {"origin": self.url, "storageTypes": kept})


def _clocked(page: Page) -> bool:
    """Whether a page has a clock of a test's; not where it is just on its way from one document to another."""
    try:
        return not page.evaluate("/native code/.test(setTimeout)")
    except Error:
        return False


class BrowserTest(TestCase):
    """Tests that share a server and a browser; each gets a page of its own, signed in as a technician."""

    server: Server
    browser: Browser
    #: Whether the yard's devices run, and are listened to.
    live = False
    #: Whether each test begins with a browser that has read no file of the server yet.
    unread = False

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.server = take_server(cls.live)
        cls.addClassCleanup(give_back, cls.server)
        cls.browser = browser()

    @property
    def url(self) -> str:
        """Where the pages find the server."""
        return self.server.url

    def setUp(self) -> None:
        self.errors: list[str] = []
        if self.unread:
            self.page = self.window()
            return
        self.server.desk = desk = self.server.desk or Desk(self.browser, self.server.url)
        self.addCleanup(desk.clear)
        self.page = self._watched(desk.page())
        self.page.context.add_cookies(signed_in())

    def window(self, username: str | None = "tech", size: dict[str, int] = DESK, **options: Any) -> Page:
        """A page in a browser's window of its own, of one of the demo's people who is in, or of nobody."""
        page = self._watched(open_page(self.browser, self.url, size, **options))
        self.addCleanup(page.context.close)
        self.addCleanup(self.leave, page)
        if username:
            page.context.add_cookies(signed_in(username))
        return page

    def phone(self, username: str = "tech", **options: Any) -> Page:
        """A page on a phone of one of the demo's people, who is in."""
        return self.window(username, PHONE, has_touch=True, is_mobile=True, **options)

    def _watched(self, page: Page) -> Page:
        page.on("pageerror", lambda error: self.errors.append(str(error)))
        return page

    def play(self, action: str, **fields: str) -> str:
        """Press a button on the yard's page; returns what it says."""
        data = urllib.parse.urlencode(fields).encode()
        with urllib.request.urlopen(f"http://127.0.0.1:{self.server.yard}/{action}", data, timeout=30) as answer:
            page = answer.read().decode()
        return " ".join(re.findall(r'role="status">([^<]*)<', page))

    @staticmethod
    def leave(page: Page) -> None:
        """Let go of what a test held back of a page's network."""
        if not page.is_closed():
            page.unroute_all(behavior="ignoreErrors")

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [], "the page threw errors")
