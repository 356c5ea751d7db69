"""A lamp's layout as JSON, shared by scene and fixture files."""

from typing import Any

from canopy.errors import CanopyError
from canopy.formats.reader import Fields, number
from canopy.light.sources import Bars, Board, Layout, Listed, PointSource, Ring

SIDE_CM = (20.0, 1000.0)
MOST_BARS = 40
MOST_EMITTERS = 20_000
SHARE_SLACK = 1e-6


def _bars(fields: Fields, length: float, axes: tuple[float, ...] | int) -> Bars:
    count = axes if isinstance(axes, int) else len(axes)
    share = None
    if "bar_share" in fields:
        share = fields.numbers("bar_share", 0, 1, MOST_BARS)
        where = fields.name_of("bar_share")
        if len(share) != count:
            raise CanopyError(f"{where} has {len(share)} shares for {count} bars.", where)
        _sum_to_one(share, where)
    density = fields.number("end_density", 0, 100, default=1)
    if isinstance(axes, int):
        spread = fields.number("spread_cm", 0, SIDE_CM[1])
        return Bars.even(axes, length, spread, share, density)
    return Bars(axes, length, share, density)


def _sum_to_one(shares: tuple[float, ...], where: str) -> None:
    total = sum(shares)
    if abs(total - 1) > SHARE_SLACK:
        raise CanopyError(f"The shares in {where} sum to {total:.6g}; they should sum to 1.", where)


def _listed(fields: Fields) -> Listed:
    rows, where = [], fields.name_of("emitters")
    for i, row in enumerate(fields.items("emitters", MOST_EMITTERS)):
        if not isinstance(row, list) or len(row) != 4:
            raise CanopyError(
                f"{where}[{i}] should be a list of x_cm, y_cm, z_cm and share.", f"{where}[{i}]"
            )
        place = [number(v, f"{where}[{i}][{k}]", -1e4, 1e4) for k, v in enumerate(row[:3])]
        rows.append((*place, number(row[3], f"{where}[{i}][3]", 0, 1)))
    _sum_to_one(tuple(row[3] for row in rows), where)
    return Listed(tuple((a, b, c, d) for a, b, c, d in rows))


def _point(fields: Fields) -> PointSource:
    if fields.raw("point") is not True:
        raise CanopyError(f"{fields.name_of('point')} should be true.", fields.name_of("point"))
    return PointSource()


def read_layout(fields: Fields) -> Layout:
    """Return the layout in a JSON object; docs/formats/scene.md has the grammar.

    Raises
    ------
    CanopyError
        With the field's name.
    """
    kinds = ("bars", "bar_x_cm", "board_x_cm", "ring_cm", "point", "emitters")
    given = [kind for kind in kinds if kind in fields]
    if len(given) != 1:
        said = "none of them" if not given else " and ".join(given)
        raise CanopyError(
            f"{fields.path} should have one of {', '.join(kinds)}; it has {said}.", fields.path
        )
    layout: Layout
    match given[0]:
        case "bars":
            count = fields.whole("bars", 1, MOST_BARS)
            layout = _bars(fields, fields.number("bar_length_cm", 0, SIDE_CM[1], above=True), count)
        case "bar_x_cm":
            axes = fields.numbers("bar_x_cm", -SIDE_CM[1], SIDE_CM[1], MOST_BARS)
            layout = _bars(fields, fields.number("bar_length_cm", 0, SIDE_CM[1], above=True), axes)
        case "board_x_cm":
            layout = Board(
                fields.number("board_x_cm", 0, SIDE_CM[1], above=True),
                fields.number("board_y_cm", 0, SIDE_CM[1], above=True),
            )
        case "ring_cm":
            layout = Ring(fields.number("ring_cm", 0, SIDE_CM[1], above=True))
        case "point":
            layout = _point(fields)
        case _:
            layout = _listed(fields)
    fields.done()
    return layout


def layout_document(layout: Layout) -> dict[str, Any]:
    """Return a layout as the JSON object that :func:`read_layout` reads."""
    match layout:
        case Bars():
            found: dict[str, Any] = {
                "bar_x_cm": list(layout.bar_x_cm),
                "bar_length_cm": layout.bar_length_cm,
                "end_density": layout.end_density,
            }
            if layout.bar_share is not None:
                found["bar_share"] = list(layout.bar_share)
            return found
        case Board():
            return {"board_x_cm": layout.x_cm, "board_y_cm": layout.y_cm}
        case Ring():
            return {"ring_cm": layout.diameter_cm}
        case PointSource():
            return {"point": True}
        case Listed():
            return {"emitters": [list(row) for row in layout.rows]}
    raise CanopyError("This layout cannot be written.", "layout")
