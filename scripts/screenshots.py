"""Take the screenshots of docs/screenshots/ from a running Bustle with the demo on its shelf.

.venv/bin/python scripts/screenshots.py [FOLDER] [NAME …]
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ADDRESS = f"http://127.0.0.1:{os.environ.get('BUSTLE_PORT', '8737')}"
FLAGS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking"]
FLAGS += ["--disable-component-update", "--disable-sync"]

VIEWS = {
    "shelf": "/",
    "frame": "Fennel/frame?motion=Forward&leg=L1",
    "new-walker": "/",
    "servos": "Fennel/servos?motion=Forward&leg=L1",
    "joint-check": "Fennel/servos?motion=Forward&leg=L1&job=check",
    "at-the-bench": "Fennel/servos?motion=Forward&job=bench&step=map",
    "load": "Sorrel/load?motion=Forward&leg=FR&t=0.9&view=front",
    "leg": "Fennel/leg?motion=Forward&leg=L2",
    "compare": "Sorrel/compare?motion=Forward",
    "stride": "Sorrel/stride?motion=Forward&leg=FR&t=0.55",
    "motions": "Fennel/motions?motion=Aisle+round&leg=L2&t=9.5",
    "set": "Fennel/motions?motion=Forward&job=set",
    "timing": "Fennel/timing?motion=Sideways+left&leg=R2&t=0.40",
    "balance": "Fennel/balance?motion=Forward&leg=L1&t=0.37",
    "balance-flaw": "Sorrel/balance?motion=Hose+step&leg=FL",
    "balance-soles": "Bramble/balance?motion=Forward&leg=L&t=0.30",
    "table": "Fennel/table?motion=Hurry&leg=L1&t=0.62",
    "trials": "Fennel/trials?motion=Forward",
    "orbit": "Fennel/balance?motion=Forward&leg=L1&view=orbit&t=0.3",
}


def shelf(page: Page) -> dict[str, int]:
    walkers = page.request.get(f"{ADDRESS}/api/walkers").json()["walkers"]
    return {w["name"]: w["id"] for w in walkers}


def main() -> None:
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else Path(__file__).parents[1] / "docs" / "screenshots")
    wanted = sys.argv[2:] or list(VIEWS)
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on("console", lambda m: print("console:", m.text) if m.type in ("error", "warning") else None)
        page.on("pageerror", lambda e: print("pageerror:", e))
        ids = shelf(page)
        for name in wanted:
            name_, _, rest = VIEWS[name].partition("/")
            page.goto(ADDRESS + (VIEWS[name] if not name_ else f"/walkers/{ids[name_]}/{rest}"))
            page.wait_for_timeout(9000 if name in ("stride", "shelf") else 4500)
            if name == "leg":
                page.locator(".fold").get_by_role("button", name="Show the working").click()
                page.wait_for_timeout(500)
            if name == "new-walker":
                page.get_by_role("button", name="New walker").click()
                page.get_by_label("I have my own numbers").check()
                page.wait_for_timeout(500)
            if name == "set":
                page.get_by_role("button", name="Find the strides").click()
                page.wait_for_selector(".set-table", timeout=60_000)
            if name == "compare":
                page.get_by_role("button", name="Put another beside it").click()
                page.wait_for_timeout(2500)
            if name == "balance-soles":
                page.get_by_role("button", name="Run it").click()
                page.locator(".dry-run").wait_for(timeout=60_000)
                page.locator(".dry-run li").last.scroll_into_view_if_needed()
                page.wait_for_timeout(600)
            if name == "trials":
                page.get_by_role("button", name="Open the trace of trial 5").click()
                page.wait_for_timeout(900)
            if name == "balance-flaw":
                page.get_by_role("button", name="Try").first.click()
                page.wait_for_timeout(600)
            page.screenshot(path=str(folder / f"{name}.png"))
        browser.close()


if __name__ == "__main__":
    main()
