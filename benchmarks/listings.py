"""How well listings are read: precision and recall of every field, on texts never tuned to.

Beside them the thirty frozen before, not tuned to either, and the open half.
"""

from contextlib import suppress

from benchmarks.machine import median_ms
from canopy.errors import CanopyError
from canopy.fixture.listing import read_listing
from canopy.fixture.listing.text import MOST_CHARACTERS
from tests.core.fixture.listing import scores
from tests.core.fixture.listing.test_time import FRAGMENTS, sparse

Row = tuple[str, str, str]


def measure() -> list[Row]:
    """Return a row a field: of the frozen texts, beside those learned from; then the slowest."""
    frozen, first, opened = (scores.scored(half) for half in ("frozen-3", "frozen-2", "open"))
    rows = []
    for field in [*sorted(set(frozen[0]) | set(frozen[1]) | set(frozen[2])), ""]:
        cells = []
        for hits, misses, wrong, _ in (frozen, first, opened):
            h, m, w = (
                counter[field] if field else sum(counter.values())
                for counter in (hits, misses, wrong)
            )
            cells.append(f"{scores.precision(h, w):.1%} and {scores.recall(h, m):.1%} of {h + m}")
        rows.append(
            (
                field or "all fields",
                f"{cells[0]}; the thirty before {cells[1]}; open {cells[2]}",
                "95% each",
            )
        )
    return [*rows, _slowest()]


def _slowest() -> Row:
    """Return the row of the fragment that takes longest when it is all there is."""

    def read(text: str) -> None:
        with suppress(CanopyError):
            read_listing(text)

    spent = {}
    for fragment in FRAGMENTS:
        for fill in ("", "good light ", "lamp. "):
            text = f"x{sparse(fragment, fill) * MOST_CHARACTERS}"[:MOST_CHARACTERS]
            spent[fragment, fill] = median_ms(lambda text=text: read(text), 3)
    worst = max(spent, key=lambda key: spent[key])
    what = f"{MOST_CHARACTERS:,} characters of one fragment, the slowest ({worst[0].strip()!r})"
    return what, f"{spent[worst]:.0f} ms", "200 ms"
