"""By which names and addresses this machine is reached in the house."""

from __future__ import annotations

import contextlib
import ipaddress
import socket
from dataclasses import dataclass

_NOBODY = ("192.0.2.1", 9)  # documentation range (RFC 5737): asking the way there sends nothing
_NOBODY_6 = ("2001:db8::1", 9)


@dataclass(frozen=True, slots=True)
class Here:
    """names: as a browser may write them; addresses: numbers, those of the house first."""

    names: tuple[str, ...]
    addresses: tuple[str, ...]

    @property
    def hosts(self) -> tuple[str, ...]:
        """What a request may call this machine; IPv6 in brackets, as addresses have it."""
        return (*self.names, *(f"[{a}]" if ":" in a else a for a in self.addresses))

    @property
    def best(self) -> str:
        """What to type: an address of the house, else this machine's own."""
        return next((a for a in self.addresses if _of_a_house(a)), self.addresses[0])


def _of_a_house(address: str) -> bool:
    found = ipaddress.ip_address(address)
    return found.version == 4 and found.is_private and not found.is_loopback and not found.is_link_local


def here() -> Here:
    """Names and addresses of this machine. Nothing is sent to find them."""
    name = socket.gethostname().lower()
    short = name.partition(".")[0]
    found = [_outward(socket.AF_INET, _NOBODY), _outward(socket.AF_INET6, _NOBODY_6)]
    with contextlib.suppress(OSError):
        found += [str(info[4][0]) for info in socket.getaddrinfo(name, None)]
    numbers = [a.partition("%")[0] for a in found if a]
    kept = [a for a in dict.fromkeys(numbers) if not ipaddress.ip_address(a).is_link_local]
    kept.sort(key=lambda a: not _of_a_house(a))
    names = [n for n in dict.fromkeys((name, f"{short}.local", "localhost")) if n]
    return Here(tuple(names), tuple(dict.fromkeys((*kept, "127.0.0.1", "::1"))))


def _outward(family: socket.AddressFamily, to: tuple[str, int]) -> str:
    """The address this machine would use to go out; "" where it has none of that kind."""
    try:
        with socket.socket(family, socket.SOCK_DGRAM) as probe:
            probe.connect(to)
            return str(probe.getsockname()[0])
    except OSError:
        return ""
