"""What is compiled, made ready before anybody waits for it."""

from canopy.light import configuration, kernels, raykernels
from canopy.plan import tripkernels


def warm_up() -> None:
    """Compile every compiled loop, or load it from disk; set-up and the server's start call it."""
    configuration.warm_up()
    kernels.warm_up()
    raykernels.warm_up()
    tripkernels.warm_up()
