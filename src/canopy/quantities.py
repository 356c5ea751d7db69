"""Identities between PPFD, hours and DLI.

Units throughout: PPFD in umol m-2 s-1, photoperiod in h, DLI in mol m-2 d-1.
"""

from canopy.constants import MOL_PER_UMOL, SECONDS_PER_HOUR

DLI_PER_UMOL_HOUR = SECONDS_PER_HOUR * MOL_PER_UMOL
"""mol m-2 that 1 umol m-2 s-1 delivers in an hour: 0.0036, exact."""


def dli_mol(ppfd_umol_m2_s: float, photoperiod_h: float) -> float:
    """Return the DLI of a steady PPFD.

    >>> round(dli_mol(263, 13), 2)
    12.31
    """
    return ppfd_umol_m2_s * photoperiod_h * DLI_PER_UMOL_HOUR


def hours_for_dli(dli: float, ppfd_umol_m2_s: float) -> float:
    """Return the photoperiod that delivers ``dli`` at a steady PPFD; infinite in the dark.

    >>> round(hours_for_dli(12, 263), 2)
    12.67
    """
    if ppfd_umol_m2_s <= 0:
        return float("inf")
    return dli / (ppfd_umol_m2_s * DLI_PER_UMOL_HOUR)


def ppfd_for_dli(dli: float, photoperiod_h: float) -> float:
    """Return the steady PPFD that delivers ``dli`` in a photoperiod; infinite for no hours.

    >>> round(ppfd_for_dli(20, 12))
    463
    """
    if photoperiod_h <= 0:
        return float("inf")
    return dli / (photoperiod_h * DLI_PER_UMOL_HOUR)


def celsius_of(fahrenheit: float) -> float:
    """Return a temperature in degrees Celsius; exact (NIST SP 811).

    >>> round(celsius_of(77.0), 6)
    25.0
    """
    return (fahrenheit - 32.0) / 1.8
