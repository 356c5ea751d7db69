"""Where this machine can be reached on the home network, and how others are let in."""

import socket
from contextlib import suppress
from dataclasses import dataclass
from ipaddress import ip_address

import segno

EVERYWHERE = ("0.0.0.0", "::", "")  # noqa: S104 - asked for by name
PLAIN_HTTP = (
    "Over plain http anyone on this network could read passwords and take a session over. At home "
    "that may do; docs/running.md has the way to put TLS before it."
)


@dataclass(frozen=True)
class Door:
    """An address others on the network open, and its QR code as an image."""

    url: str
    qr: str


def _outward(family: socket.AddressFamily, target: str) -> str | None:
    """Return the address this machine would speak from to another; nothing is sent."""
    with socket.socket(family, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect((target, 9))
        except OSError:
            return None
        return str(probe.getsockname()[0])


def own_addresses() -> list[str]:
    """Return this machine's addresses on its network, loopback left out."""
    found = [_outward(socket.AF_INET, "10.255.255.255"), _outward(socket.AF_INET, "192.0.2.1")]
    with suppress(OSError):
        found += [str(row[4][0]) for row in socket.getaddrinfo(socket.gethostname(), None)]
    kept = []
    for each in found:
        if each and ":" not in each and not ip_address(each).is_loopback and each not in kept:
            kept.append(each)
    return kept


def host_names() -> list[str]:
    """Return the names this machine may be asked for by on the network."""
    name = socket.gethostname().lower()
    return [name, f"{name}.local"] if name and "." not in name else [name]


def door_of(url: str) -> Door:
    """Return an address with its QR code."""
    return Door(url, segno.make(url, micro=False).svg_data_uri(scale=4, border=4))


def doors(addresses: list[str], port: int) -> list[Door]:
    """Return where others open the application."""
    return [door_of(f"http://{address}:{port}/") for address in addresses]


def as_text(url: str) -> str:
    """Return an address as a QR code a terminal can show."""
    code = segno.make(url, micro=False)
    rows = [[False] * (len(code.matrix[0]) + 4)] * 2
    rows += [[False, False, *(bool(cell) for cell in row), False, False] for row in code.matrix]
    rows += [[False] * (len(code.matrix[0]) + 4)] * (2 + len(rows) % 2)
    signs = {(False, False): "█", (True, False): "▄", (False, True): "▀", (True, True): " "}
    lines = [
        "".join(signs[pair] for pair in zip(upper, lower, strict=True))
        for upper, lower in zip(rows[::2], rows[1::2])
    ]
    return "\n".join(lines)
