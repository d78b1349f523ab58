"""Opening a walker's page to its first drawn leg, in headless Chromium against a running Bustle (cold cache).

Also what that page loads, compressed, from the production build.
"""

from __future__ import annotations

import gzip
import os
import statistics
from pathlib import Path

from playwright.sync_api import sync_playwright

ADDRESS = f"http://127.0.0.1:{os.environ.get('BUSTLE_PORT', '8737')}"
ROUNDS = 7
ASSETS = Path(__file__).parents[1] / "ui" / "dist" / "assets"


def main() -> None:
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-quic"])
        times = []
        for _ in range(ROUNDS):
            context = browser.new_context(viewport={"width": 1280, "height": 800})
            page = context.new_page()
            walker = page.request.get(f"{ADDRESS}/api/walkers").json()["walkers"][0]["id"]
            page.add_init_script(
                """new MutationObserver((_, watch) => {
                  if (!document.querySelector('.main-view .m-links[d]')) return;
                  window.drawn = performance.now(); watch.disconnect();
                }).observe(document, { subtree: true, childList: true, attributes: true })"""
            )
            page.goto(f"{ADDRESS}/walkers/{walker}/balance")
            page.locator(".main-view .m-links[d]").first.wait_for()
            times.append(page.evaluate("window.drawn"))
            context.close()
        browser.close()
    size = sum(len(gzip.compress(path.read_bytes())) for path in ASSETS.glob("index-*"))
    print(f"bundle: {size / 1e3:.0f} kB gzipped, the orbit view not counted (aim: 450)")
    print(f"first picture: median {statistics.median(times):.0f} ms, worst {max(times):.0f} ms (aim: 1500)")


if __name__ == "__main__":
    main()
