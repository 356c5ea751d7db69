"""What is compiled, made ready before anybody waits for it."""

from canopy.light import kernels, raykernels
from canopy.plan import tripkernels


def warm_up() -> None:
    """Compile every compiled loop, or load it from disk; set-up and the server's start call it."""
    kernels.warm_up()
    raykernels.warm_up()
    tripkernels.warm_up()
