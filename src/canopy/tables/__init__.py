"""Data with provenance: linings, the starter shelf of lamps and the starter crops."""

import json
from importlib.resources import files
from typing import Any


def table(name: str) -> Any:
    """Return the parsed content of the JSON table ``name`` (without its ending).

    Raises
    ------
    FileNotFoundError
        When no such table ships with the package.
    """
    return json.loads(files(__name__).joinpath(f"{name}.json").read_text(encoding="utf-8"))
