"""Which link an address belongs to."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.plan import messages
from wise_ladder.plan.addresses import values_in
from wise_ladder.plan.values import parse_value

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.values import Value
    from wise_ladder.plan.world import Link


class LinkMatch(NamedTuple):
    """The link that an address belongs to and the values it brings; or why there is none."""

    link: Link | None
    values: dict[str, Value]
    why: str = ""


def match_link(links: Iterable[Link], address: str) -> LinkMatch:
    """Return the first link whose address matches with values of the right types."""
    why = messages.NO_LINK_MATCHES.format(address=address)
    for link in links:
        captured = values_in(link.address, address)
        if captured is None:
            continue
        values: dict[str, Value] = {}
        for parameter in link.carries:
            value = parameter.default if parameter.name not in captured else parse_value(parameter, captured[parameter.name])
            if value is None:
                text = captured[parameter.name]
                why = messages.NOT_A_VALUE_OF.format(text=text, name=parameter.name, kind=parameter.kind)
                break
            values[parameter.name] = value
        else:
            return LinkMatch(link, values)
    return LinkMatch(None, {}, why)
