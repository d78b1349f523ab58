"""How much of each station is seen without scrolling: counted on a running Bustle, at 1280×800 and 1024×768.

.venv/bin/python scripts/measure_layout.py

Counted is all that the station edits or shows in its column, what is folded away included: boxes, choices, switches,
sliders and figures. Seen is what lies within the column and is not folded. Cut off is what reaches beyond the page.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright
from screenshots import ADDRESS, FLAGS

ROOT = Path(__file__).parents[1]
SIZES = ((1280, 800), (1024, 768))
STATIONS = ("frame", "servos", "leg", "stride", "timing", "motions", "balance", "load", "table")

COUNT = """() => {
  const column = document.querySelector('.controls');
  const box = column.getBoundingClientRect();
  const seen = (e) => {
    const r = e.getBoundingClientRect();
    return r.width > 0 && r.height > 0 && r.top >= box.top - 1 && r.bottom <= box.bottom + 1;
  };
  const every = [...column.querySelectorAll('input, select, .figure, .s-bar')]
    .filter((e) => !e.classList.contains('visually-hidden'));
  const beyond = [...document.querySelectorAll('.controls *, .findings *, .top-bar *, .rail-nav *')].filter((e) => {
    const r = e.getBoundingClientRect();
    return r.width > 1 && r.height > 1 && !e.closest('.visually-hidden') && r.right > window.innerWidth + 1;
  });
  const mat = document.querySelector('.main-view, .clamp, .table-main, .job-page');
  const mat_px = mat ? Math.round(mat.getBoundingClientRect().width) : 0;
  return { all: every.length, seen: every.filter(seen).length, high: column.scrollHeight,
           room: column.clientHeight, cut: beyond.length, mat: mat_px };
}"""


def walkers(page: Page) -> dict[str, int]:
    demo = json.loads((ROOT / "demo" / "fennel.bustle.json").read_bytes())
    made = {"demo hexapod": {"project": demo}}
    for name, shape in (("caster box", "four_casters"), ("biped", "two_full")):
        made[name] = {"shape": shape, "name": name, "leg_length_mm": 180.0}
    return {name: page.request.post(f"{ADDRESS}/api/walkers", data=body).json()["id"] for name, body in made.items()}


def main() -> None:
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page()
        known = walkers(page)
        for wide, high in SIZES:
            page.set_viewport_size({"width": wide, "height": high})
            print(f"\n{wide}×{high}: fields and figures seen of all, height of the column's contents in its room, mat")
            for name, walker in known.items():
                told = []
                for station in STATIONS:
                    page.goto(f"{ADDRESS}/walkers/{walker}/{station}")
                    page.wait_for_selector(".controls input, .controls select")
                    page.wait_for_timeout(1200)
                    found: dict[str, Any] = page.evaluate(COUNT)
                    share = 100 * found["seen"] / max(1, found["all"])
                    cut = f", {found['cut']} CUT OFF" if found["cut"] else ""
                    told.append(
                        f"{station} {found['seen']}/{found['all']} = {share:.0f} %"
                        f" ({found['high']} in {found['room']} px, mat {found['mat']}{cut})"
                    )
                print(f"  {name}: " + "\n    ".join(told))
        for walker in known.values():
            page.request.put(f"{ADDRESS}/api/walkers/{walker}/archive")
        browser.close()


if __name__ == "__main__":
    main()
