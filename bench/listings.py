"""How well listings are read: precision and recall of every field, on texts never tuned to.

Beside them the first frozen half, which has been learned from since, and the open half.
"""

from tests.core.fixture.listing import scores

Row = tuple[str, str, str]


def measure() -> list[Row]:
    """Return a row a field: of the frozen texts, beside those that were learned from."""
    frozen, first, opened = (scores.scored(half) for half in ("frozen-2", "frozen", "open"))
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
                f"{cells[0]}; first thirty {cells[1]}; open {cells[2]}",
                "95% each",
            )
        )
    return rows
