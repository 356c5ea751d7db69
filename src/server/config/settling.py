"""What goes on in a server just started, beside its first requests."""

import gc

from server.runs.adapters.bench import load_sun


def settle() -> None:
    """Load what is only needed later, then keep the collector from all that stays for good.

    Its rounds through a million objects would hold every request up for a third of a second.
    """
    # pvlib takes seconds to load and only daylight needs it
    load_sun()
    gc.freeze()
