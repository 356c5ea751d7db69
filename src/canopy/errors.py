"""Errors a grower can read."""


class CanopyError(ValueError):
    """Something the grower gave cannot be used.

    Parameters
    ----------
    sentence : str
        What is wrong and what to do, as a grower would say it.
    field : str
        Dotted name of the field concerned; empty when it is the whole.
    """

    def __init__(self, sentence: str, field: str = "") -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field
