"""Handle dragged to picture redrawn, in headless Chromium against a running Bustle: median and 95th percentile,
alone and beside a search in the pool.

./start            in one terminal
.venv/bin/python bench/dragging.py
"""

from __future__ import annotations

import os

import numpy as np
from playwright.sync_api import Page, sync_playwright

ADDRESS = f"http://127.0.0.1:{os.environ.get('BUSTLE_PORT', '8737')}"
MOVES = 200

# From each pointer move to the frame that follows the next real change of the chosen leg's line: a redraw of the
# plan that was there before changes nothing and does not count.
WATCH = """() => {
  window.delays = []; let moved = null;
  const line = document.querySelector('.main-view .m-leg.chosen .m-links');
  let last = line.getAttribute('d');
  addEventListener('pointermove', () => { moved ??= performance.now(); }, true);
  new MutationObserver(() => {
    if (moved === null || line.getAttribute('d') === last) return;
    last = line.getAttribute('d');
    const from = moved; moved = null;
    requestAnimationFrame(() => window.delays.push(performance.now() - from));
  }).observe(line, { attributes: true });
}"""


# A set of motions is looked for all the while, by whoever has a worker of the pool.
SEARCH = """async (project) => {
  window.searched = 0;
  const asked = { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ project }) };
  for (;;) { await (await fetch('/api/fresh-set', asked)).arrayBuffer(); window.searched++; }
}"""


def redraws(page: Page) -> np.ndarray:
    """ms of each of a foot's moves to and fro."""
    page.evaluate(WATCH)
    box = page.locator('[data-grip="neutral"]').bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for k in range(MOVES):
        page.mouse.move(x + 12 * np.sin(k / 9), y + 18 * np.cos(k / 13) - 18)
        page.wait_for_timeout(60)
    page.mouse.up()
    return np.array(page.evaluate("window.delays"))


def tell(what: str, delays: np.ndarray) -> None:
    middle, late = np.percentile(delays, [50, 95])
    print(f"{what}: {len(delays)} redraws, median {middle:.0f} ms, 95th percentile {late:.0f} ms (aim: 60)")


def main() -> None:
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-quic"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        body = {"shape": "six_sprawled", "name": "Drag bench", "leg_length_mm": 200}
        for what in ("alone", "beside a running set"):
            made = page.request.post(f"{ADDRESS}/api/walkers", data=body).json()
            page.goto(f"{ADDRESS}/walkers/{made['id']}/stride?view=plan&leg=L2")
            page.locator('[data-grip="neutral"]').wait_for()
            page.wait_for_timeout(6000)  # let the sound bands be swept first
            if what != "alone":
                page.evaluate(f"(project) => void ({SEARCH})(project)", made["project"])
            tell(what, redraws(page))
            page.request.put(f"{ADDRESS}/api/walkers/{made['id']}/archive")
        print(f"sets found meanwhile: {page.evaluate('window.searched')}")
        browser.close()


if __name__ == "__main__":
    main()
