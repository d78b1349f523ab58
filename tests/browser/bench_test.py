"""A browser at the bench: the real server on a scratch database, Debian's Chromium, one page per test."""

from __future__ import annotations

import atexit
import json
import re
import socket
import subprocess
import unittest
from collections.abc import Callable

from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

from bustle.launch import Searches, serve, wait_until_ready
from bustle.web.server import prepare
from tests.projects import ROOT
from tests.scratch import empty_database

FLAGS = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--process-per-site",
]

expect.set_options(timeout=15_000)


class _Shared:
    """Started once for all browser tests of a run."""

    playwright: Playwright | None = None
    browser: Browser | None = None
    server: subprocess.Popen[bytes] | None = None
    searches: Searches | None = None
    port = 0

    @classmethod
    def start(cls) -> None:
        if cls.browser:
            return
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            cls.port = probe.getsockname()[1]
        url = empty_database()
        prepare(url)
        cls.searches = Searches()
        cls.server = serve(url, cls.port, cls.searches)
        wait_until_ready(cls.port, cls.server)
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)

    @classmethod
    def stop(cls) -> None:
        if cls.browser and cls.playwright:
            cls.browser.close()
            cls.playwright.stop()
        if cls.server:
            cls.server.terminate()
            cls.server.wait(15)
        if cls.searches:
            cls.searches.stop()
        cls.browser = cls.server = None


atexit.register(_Shared.stop)


class BrowserTest(unittest.TestCase):
    """Fails also on any error the page reports, and on any request that leaves the machine."""

    context: BrowserContext
    address: str

    @classmethod
    def setUpClass(cls) -> None:
        _Shared.start()
        assert _Shared.browser
        cls.address = f"http://127.0.0.1:{_Shared.port}"
        # One for the class, so that the interface is fetched once; every test has a page of its own in it.
        cls.context = _Shared.browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        cls.addClassCleanup(cls.context.close)
        cls.context.new_page().goto(f"{cls.address}/api/health")

    def setUp(self) -> None:
        self.page = self.open_window()

    def open_window(self, width: int = 1280, height: int = 800) -> Page:
        page = self.context.new_page()
        self.addCleanup(page.close)
        if (width, height) != (1280, 800):
            page.set_viewport_size({"width": width, "height": height})
        self.errors: list[str] = getattr(self, "errors", [])
        page.on("pageerror", lambda error: self.errors.append(str(error)))
        page.on("console", lambda m: self.errors.append(m.text) if m.type == "error" else None)
        page.on("request", self.check_request)
        return page

    def check_request(self, request) -> None:
        if not request.url.startswith((self.address, "data:", "blob:")):
            self.errors.append(f"left the machine: {request.url}")

    def tearDown(self) -> None:
        # A refused draft or save is answered 4xx, which the browser logs; everything else is a fault.
        faults = [e for e in self.errors if "the server responded with a status of 4" not in e]
        self.assertEqual(faults, [])

    def api(self, path: str, body: dict | None = None, method: str | None = None):
        method = method or ("GET" if body is None else "POST")
        answer = self.context.request.fetch(self.address + path, method=method, data=body)
        return answer.json() if answer.body() else None

    def new_walker(self, shape: str = "six_sprawled", name: str = "Bench walker", mm: float = 200.0) -> int:
        return self.kept({"shape": shape, "name": name, "leg_length_mm": mm})

    def demo(self, name: str) -> int:
        """A copy of a demo walker, so that tests do not meet."""
        path = ROOT / "demo" / f"{name.lower()}.bustle.json"
        return self.kept({"project": json.loads(path.read_bytes())})

    def kept(self, body: dict) -> int:
        """A new walker, off the shelf again after the test, where it would be judged for every test to come."""
        walker = self.api("/api/walkers", body)["id"]
        self.addCleanup(self.api, f"/api/walkers/{walker}/archive", {}, "PUT")
        return walker

    def project(self, walker: int) -> dict:
        return self.api(f"/api/walkers/{walker}")["project"]

    def go(self, walker: int, station: str, query: str = "", page: Page | None = None) -> Page:
        page = page or self.page
        page.goto(f"{self.address}/walkers/{walker}/{station}{'?' + query if query else ''}")
        expect(page.get_by_role("heading", name="Findings")).to_be_visible()
        expect(
            page.locator(
                ".main-view svg .m-leg, .floor-main svg, .orbit canvas, .rows tbody tr, .compare tbody tr, .trials h2,"
                " .job-page, .boards"
            ).first
        ).to_be_visible()
        return page

    def fill(self, label: str, value: float):
        field = self.page.get_by_label(label, exact=True).first
        field.fill(str(value))
        field.press("Enter")
        expect(field).to_have_value(re.compile(re.escape(str(value).replace("-", "−"))))

    def saved(self, number: int, page: Page | None = None) -> None:
        """Asked after every change: two made while a slow machine still saves are one revision."""
        expect((page or self.page).get_by_role("button", name=f"saved, revision {number}")).to_be_visible()

    def until(self, holds: Callable[[], bool], what: str, page: Page | None = None) -> None:
        """Waits for what no locator shows: a busy machine takes its time."""
        for _ in range(300):
            if holds():
                return
            (page or self.page).wait_for_timeout(50)
        self.fail(what)

    def drag(self, locator, dx: float, dy: float, steps: int = 6) -> None:
        box = locator.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        mouse = self.page.mouse
        mouse.move(x, y)
        mouse.down()
        for k in range(1, steps + 1):
            mouse.move(x + dx * k / steps, y + dy * k / steps)
        mouse.up()
