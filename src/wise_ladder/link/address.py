"""Where the app is: an address on this machine, or a command that is run."""

from __future__ import annotations

import ipaddress
from typing import NamedTuple

from wise_ladder.errors import UsageError
from wise_ladder.link import messages

_LISTEN, _UNIX = "listen:", "unix:"


class Address(NamedTuple):
    """A TCP port of a loopback host, or the path of a Unix socket; `listens`: the other side is waited for."""

    host: str
    port: int
    path: str
    listens: bool

    @property
    def words(self) -> str:
        """Write it as it is typed."""
        host = f"[{self.host}]" if ":" in self.host else self.host
        return f"{_UNIX}{self.path}" if self.path else f"{host}:{self.port}"


def parse_address(text: str) -> Address:
    """Read `7400`, `127.0.0.1:7400`, `[::1]:7400` or `unix:PATH`, perhaps after `listen:`.

    Raises UsageError if it is none of these, or not on this machine.
    """
    listens = text.startswith(_LISTEN)
    rest = text.removeprefix(_LISTEN)
    if rest.startswith(_UNIX) and len(rest) > len(_UNIX):
        return Address("", 0, rest.removeprefix(_UNIX), listens)
    host, _, port = rest.rpartition(":")
    host = host.removeprefix("[").removesuffix("]") or "127.0.0.1"
    if not (port.isascii() and port.isdigit()) or int(port) > 65535:
        raise UsageError(messages.ADDRESS_UNREADABLE.format(address=text))
    host = "127.0.0.1" if host == "localhost" else host
    try:
        loopback = ipaddress.ip_address(host).is_loopback
    except ValueError:
        loopback = False
    if not loopback:
        raise UsageError(messages.ADDRESS_NOT_LOOPBACK.format(address=text))
    return Address(host, int(port), "", listens)
