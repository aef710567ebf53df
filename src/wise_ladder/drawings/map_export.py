"""A map for other programs: as GraphML and as DOT."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING, Any

from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.plan.map_groups import Group
    from wise_ladder.plan.screen_map import MapLine, ScreenMap


def as_graphml(name: str, drawn: ScreenMap) -> str:
    """Write a map as GraphML; boxes and arrows carry their names, kinds, groups and ways as data."""
    import networkx as nx  # noqa: PLC0415 - slow to import

    graph, names = nx.DiGraph(name=_text(name)), _names(drawn)
    for box in drawn.boxes:
        data = {"kind": box.kind, "label": box.title, "group": " > ".join(box.group), "ways": _ways(box.lines),
                "links": ", ".join(link.words for link in box.links)}  # fmt: skip
        graph.add_node(names[box.key], **{key: _text(value) for key, value in data.items()})
    for arrow in drawn.arrows:
        graph.add_edge(names[arrow.start], names[arrow.end], ways=_text(_ways(arrow.lines)))
    return "\n".join(nx.generate_graphml(graph)) + "\n"


def as_dot(name: str, drawn: ScreenMap) -> str:
    """Write a map in the DOT language, its groups as clusters."""
    import pygraphviz  # noqa: PLC0415 - slow to import

    graph = pygraphviz.AGraph(directed=True, strict=False, name=_text(name))
    graph.node_attr.update(shape="box")
    clusters: dict[Group, Any] = {(): graph}
    names = _names(drawn)
    for box in drawn.boxes:
        for depth in range(1, len(box.group) + 1):
            group = box.group[:depth]
            if group not in clusters:
                clusters[group] = clusters[group[:-1]].add_subgraph(None, f"cluster_{len(clusters)}", label=_label([group[-1]]))
        lines = [link.text for link in box.links] + [box.title] + [line.text for line in box.lines]
        graph.add_node(names[box.key], label=_label(lines))
        clusters[box.group].add_node(names[box.key])
    for arrow in drawn.arrows:
        graph.add_edge(
            names[arrow.start], names[arrow.end], label=_label([line.text for line in arrow.lines]),
            style="dashed" if arrow.dashed else "solid",
        )  # fmt: skip
    return str(graph.string())


def _names(drawn: ScreenMap) -> dict[str, str]:
    """Return plain names, since what a screen is called may mean something to the format."""
    return {box.key: f"box{number}" for number, box in enumerate(drawn.boxes)}


def _ways(lines: Sequence[MapLine]) -> str:
    return "; ".join(f"{line.kind}: {line.words}" for line in lines)


def _text(words: str) -> str:
    return visible(words, lines=False)


def _label(lines: Sequence[str]) -> str:
    """Write lines for a label, in which a backslash, an ampersand and an angle bracket would mean something."""
    return "\\n".join(escape(_text(line)).replace("\\", "\\\\") for line in lines)
