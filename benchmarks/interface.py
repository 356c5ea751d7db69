"""The bench as the grower feels it: request to answer, lever to picture, size of the script."""

import gzip
import itertools
import time
from statistics import median

from playwright.sync_api import sync_playwright

from benchmarks.demo_server import ROOT, URL, Session, served

MOVES = 60

Row = tuple[str, str, str]


def _request_ms() -> float:
    """Median time from request to answer while the height moves, over loopback."""
    session = Session()
    run = session.run
    spent = []
    for i in range(MOVES):
        body = {"stage_id": run["stage_id"], "height_cm": 25 + i, "dial_pct": 70, "hours": 12}
        spent.append(session.post(f"runs/{run['id']}/bench", body)[1])
    return median(spent[5:]) * 1000


# key down to the frame after the answer line has changed, in the page's own clock
PROBE = """async (key) => {
  const slider = document.querySelector('[aria-label="Height above the tops"]');
  const line = document.querySelector('h1 + p');
  const before = line.textContent;
  const start = performance.now();
  slider.dispatchEvent(new KeyboardEvent('keydown', {key, bubbles: true}));
  while (line.textContent === before && performance.now() - start < 3000)
    await new Promise(requestAnimationFrame);
  await new Promise(requestAnimationFrame);
  return performance.now() - start;
}"""


def _lever_ms() -> tuple[float, float]:
    """Median time from lever to picture, and time to the first paint of the bench's answer."""
    with sync_playwright() as p:
        browser = p.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        start = time.perf_counter()
        page.goto(f"{URL}/bench")
        page.get_by_text("Brightest spot").first.wait_for()
        first = (time.perf_counter() - start) * 1000
        keys = itertools.cycle(["ArrowUp"] * 10 + ["ArrowDown"] * 10)
        spent = [page.evaluate(PROBE, key) for key in itertools.islice(keys, MOVES)]
        browser.close()
    return median(spent[5:]), first


def _script_kb() -> float:
    """Gzipped size of the scripts the page asks for before the first place opens."""
    page = (ROOT / "web/dist/index.html").read_text()
    names = [part.split('"')[0] for part in page.split('src="/')[1:]]
    names += [
        part.split('"')[0] for part in page.split('href="/')[1:] if ".js" in part.split('"')[0]
    ]
    return sum(len(gzip.compress((ROOT / "web/dist" / n).read_bytes())) for n in names) / 1000


def measure() -> list[Row]:
    """Return rows of what, measured, wanted."""
    with served():
        request = _request_ms()
        lever, first = _lever_ms()
    return [
        ("Moved rail, request to answer, median", f"{request:.1f} ms", "under 25 ms"),
        ("Moved rail, lever to picture, median", f"{lever:.0f} ms", "under 100 ms"),
        ("Opening the bench, first answer painted", f"{first:.0f} ms", "—"),
        ("Initial script, gzipped", f"{_script_kb():.0f} kB", "under 150 kB"),
    ]
