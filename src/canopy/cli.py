"""The command `idle-canopy`: answers without a server. The only place that opens files."""

import argparse
import json
import sys
from pathlib import Path

from canopy.errors import CanopyError
from canopy.formats.fitfile import (
    fit_document,
    lamps_of,
    prediction,
    read_fit_scene,
    read_readings,
)
from canopy.formats.listingfile import listing_document
from canopy.formats.scene import map_document, read_scene
from canopy.light.scene import scene_map
from canopy.measure.fit import fit

MOST_BYTES = 32 * 1024 * 1024


def _text(path: Path) -> str:
    try:
        if path.stat().st_size > MOST_BYTES:
            raise CanopyError(
                f"{path} is larger than {MOST_BYTES // 1024**2} MiB; is it the right file?"
            )
        return path.read_text(encoding="utf-8")
    except OSError as error:
        raise CanopyError(f"{path} cannot be opened: {error.strerror}.") from error
    except UnicodeDecodeError as error:
        raise CanopyError(f"{path} is not text; save it as UTF-8.") from error


def _map(path: Path) -> None:
    scene, ignored = read_scene(_text(path))
    json.dump(map_document(scene, scene_map(scene), ignored), sys.stdout, allow_nan=False)
    sys.stdout.write("\n")


def _fit(path: Path, readings_path: Path, others: list[Path]) -> None:
    scene, quality, ignored = read_fit_scene(_text(path))
    readings = read_readings(_text(readings_path), scene)
    wanted = [read_fit_scene(_text(each)) for each in others] or [(scene, quality, [])]
    found = fit(scene.box, lamps_of(scene, readings), scene.stands, readings, quality)
    maps = [prediction(found, each, names) for each, _, names in wanted]
    json.dump(fit_document(found, maps, ignored), sys.stdout, allow_nan=False)
    sys.stdout.write("\n")


def _read(path: Path) -> None:
    if str(path) == "-":
        try:
            text = sys.stdin.buffer.read(MOST_BYTES + 1).decode()
        except UnicodeDecodeError as error:
            raise CanopyError("What was sent is not text; save it as UTF-8.") from error
    else:
        text = _text(path)
    json.dump(listing_document(text.lstrip("\ufeff")), sys.stdout, allow_nan=False)
    sys.stdout.write("\n")


def main(arguments: list[str] | None = None) -> int:
    """Run the command; return 0, or 2 after one sentence on standard error."""
    parser = argparse.ArgumentParser(prog="idle-canopy", description="Light maps for grow tents.")
    commands = parser.add_subparsers(dest="command", required=True)
    one = commands.add_parser("map", help="compute the light map of a scene file")
    one.add_argument("scene", type=Path, metavar="SCENE.json")
    two = commands.add_parser("fit", help="correct a scene by a few readings")
    two.add_argument("scene", type=Path, metavar="SCENE.json")
    two.add_argument("readings", type=Path, metavar="READINGS.map.csv")
    two.add_argument(
        "--at",
        type=Path,
        action="extend",
        nargs="+",
        default=[],
        metavar="SCENE2.json",
        help="predict the map of these instead",
    )
    three = commands.add_parser("read", help="read the text of a listing or data sheet")
    three.add_argument("text", type=Path, metavar="FILE", help="a text, or - for standard input")
    given = parser.parse_args(arguments)
    try:
        if given.command == "fit":
            _fit(given.scene, given.readings, given.at)
        elif given.command == "read":
            _read(given.text)
        else:
            _map(given.scene)
    except CanopyError as error:
        print(error.sentence, file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
