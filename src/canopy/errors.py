"""Errors a grower can read."""

from canopy.words import Said, plain, worded


class CanopyError(ValueError):
    """Something the grower gave cannot be used.

    Parameters
    ----------
    what : Said or str
        What is wrong and what to do, as a grower would say it; a code of the catalogue where it
        holds figures with a unit.
    field : str
        Dotted name of the field concerned; empty when it is the whole.
    """

    def __init__(self, what: Said | str, field: str = "") -> None:
        self.said = plain(what) if isinstance(what, str) else what
        self.sentence = worded(self.said)
        self.field = field
        super().__init__(self.sentence)

    def at(self, field: str) -> "CanopyError":
        """Return the same of another field."""
        return CanopyError(self.said, field)
