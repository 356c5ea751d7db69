"""Names of accounts: as they are shown, and as they are compared."""

import unicodedata
from typing import Any

from django.http import HttpRequest

from server.common.problems import CanopyError

INVISIBLE = frozenset({"Cc", "Cf", "Co", "Cn", "Cs", "Zl", "Zp"})
"""Categories of characters nobody sees."""

BLANK = "ㅤᅟᅠﾠ⠀"
"""Letters that look like none."""


def shown_name(name: str) -> str:
    """Return a name without invisible characters, its blanks as single ones.

    Raises
    ------
    CanopyError
        When nothing of it can be seen.
    """
    seen = "".join(c for c in name if unicodedata.category(c) not in INVISIBLE and c not in BLANK)
    words = " ".join(seen.split())
    if not words:
        raise CanopyError("Nothing of that name can be seen; give it letters.", "name")
    return words


def compared_name(name: str) -> str:
    """Return what a name is known by: two that are read alike are one.

    By compatibility (NFKC) and case folding; invisible characters count for nothing.

    >>> compared_name("ÅDA  Lovelace"), compared_name("Ⅸ")
    ('åda lovelace', 'ix')
    """
    folded = unicodedata.normalize("NFKC", name).casefold()
    folded = unicodedata.normalize("NFKC", folded)
    seen = "".join(c for c in folded if unicodedata.category(c) not in INVISIBLE and c not in BLANK)
    return " ".join(seen.split())


def tried_name(request: HttpRequest | None, credentials: dict[str, Any] | None = None) -> str:
    """Return whose password is tried, by how the name is read."""
    return compared_name(str((credentials or {}).get("username") or ""))
