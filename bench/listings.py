"""How well listings are read: precision and recall of every field, on texts never tuned to."""

from tests.core.fixture.listing import scores

Row = tuple[str, str, str]


def measure() -> list[Row]:
    """Return a row a field: of the frozen half, beside the open one."""
    frozen, opened = scores.scored("frozen"), scores.scored("open")
    rows = []
    for field in [*sorted(set(frozen[0]) | set(frozen[1]) | set(frozen[2])), ""]:
        cells = []
        for hits, misses, wrong, _ in (frozen, opened):
            h, m, w = (
                counter[field] if field else sum(counter.values())
                for counter in (hits, misses, wrong)
            )
            cells.append(f"{scores.precision(h, w):.1%} and {scores.recall(h, m):.1%} of {h + m}")
        rows.append((field or "all fields", f"{cells[0]}; open half {cells[1]}", "95% each"))
    return rows
