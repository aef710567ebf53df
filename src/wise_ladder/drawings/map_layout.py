"""Where the boxes, arrows and labels of a map stand: a layered layout with groups.

The layout is that of Graphviz's `dot` (Gansner, Koutsofios, North, Vo: A technique for drawing directed graphs, 1993), used
through pygraphviz. The words on an arrow are a box of their own between its ends, so that nothing is drawn over them.
"""

from __future__ import annotations

from itertools import takewhile
from typing import TYPE_CHECKING, Any, Literal, NamedTuple, TypeAlias, cast

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from wise_ladder.plan.map_groups import Group

POINTS = 72.0
"""So many points are an inch."""
BETWEEN_BOXES, BETWEEN_LAYERS, AROUND_GROUP = 12.0, 16.0, 10.0
Direction: TypeAlias = Literal["TB", "LR"]
Point: TypeAlias = tuple[float, float]


class Size(NamedTuple):
    """A width and a height, in points."""

    width: float
    height: float


class Frame(NamedTuple):
    """A rectangle in points: its lower left corner, its width and its height."""

    x: float
    y: float
    width: float
    height: float


class Curve(NamedTuple):
    """A line of Bézier curves: a first point, then three points for each curve; and the tip of its head, None: it has none."""

    points: tuple[Point, ...]
    tip: Point | None


class BoxToPlace(NamedTuple):
    """A box that is to be placed: its size, its group, and whether it stands before or after all others."""

    size: Size
    group: Group
    place: Literal["anywhere", "first", "last"] = "anywhere"


class ArrowToPlace(NamedTuple):
    """An arrow that is to be placed: its ends, the room its label takes, and whether it may pull its ends apart."""

    start: str
    end: str
    label: Size
    pulls: bool = True


class Layout(NamedTuple):
    """The size of a drawing in points, and where everything stands; `labels` and `curves` by the numbers of the arrows."""

    size: Size
    boxes: dict[str, Frame]
    groups: dict[Group, Frame]
    labels: tuple[Frame, ...]
    curves: tuple[tuple[Curve, ...], ...]


def lay_out(
    boxes: Mapping[str, BoxToPlace], titles: Mapping[Group, Size], arrows: Sequence[ArrowToPlace], direction: Direction
) -> Layout:
    """Place boxes, with arrows between them; the first layer is at the top or left.

    `titles` is the room that the name of each group takes, of those around it too.
    """
    import pygraphviz  # noqa: PLC0415 - slow to import

    graph = pygraphviz.AGraph(directed=True, strict=False)
    graph.graph_attr.update(rankdir=direction, nodesep=BETWEEN_BOXES / POINTS, ranksep=BETWEEN_LAYERS / POINTS, splines="true")
    # The engine draws no words: it need not look for fonts, and says nothing about them.
    graph.node_attr.update(shape="box", fixedsize="true", label="")
    graph.edge_attr.update(arrowsize="0.6")
    nodes = {key: f"b{number}" for number, key in enumerate(boxes)}
    labels = [f"l{number}" for number in range(len(arrows))]
    members: dict[Group, list[str]] = {}
    for key, box in boxes.items():
        _add_node(graph, nodes[key], box.size)
        members.setdefault(box.group, []).append(nodes[key])
        if box.place != "anywhere":
            graph.add_subgraph(None, rank="source" if box.place == "first" else "sink").add_node(nodes[key])
    for name, arrow in zip(labels, arrows, strict=True):
        _add_node(graph, name, arrow.label)
        members.setdefault(_common(boxes[arrow.start].group, boxes[arrow.end].group), []).append(name)
        pulls = {} if arrow.pulls else {"constraint": "false"}
        graph.add_edge(nodes[arrow.start], name, key="in", arrowhead="none", **pulls)
        graph.add_edge(name, nodes[arrow.end], key="out", **pulls)
    clusters: dict[Group, str] = {}
    _add_clusters(graph, (), members, titles, clusters)
    graph.layout("dot")
    curves = tuple(
        (_curve(graph.get_edge(nodes[arrow.start], name, "in"), head=False),
         _curve(graph.get_edge(name, nodes[arrow.end], "out"), head=True))
        for name, arrow in zip(labels, arrows, strict=True)
    )  # fmt: skip
    x, y, right, top = _numbers(graph.graph_attr["bb"])
    return Layout(
        Size(right - x, top - y),
        {key: _frame(graph.get_node(name), boxes[key].size) for key, name in nodes.items()},
        {group: _cluster_frame(graph, group, clusters) for group in clusters},
        tuple(_frame(graph.get_node(name), arrow.label) for name, arrow in zip(labels, arrows, strict=True)),
        curves,
    )


def _add_node(graph: Any, name: str, size: Size) -> None:
    graph.add_node(name, width=f"{size.width / POINTS:.4f}", height=f"{size.height / POINTS:.4f}")


def _add_clusters(
    graph: Any, within: Group, members: Mapping[Group, list[str]], titles: Mapping[Group, Size], clusters: dict[Group, str]
) -> None:
    for group, title in titles.items():
        if group[:-1] == within:
            clusters[group] = f"cluster{len(clusters)}"
            room = f'WIDTH="{title.width:.0f}" HEIGHT="{title.height:.0f}"'
            label = f'<<TABLE BORDER="0" FIXEDSIZE="TRUE" {room}><TR><TD></TD></TR></TABLE>>'
            inner = graph.add_subgraph(None, clusters[group], label=label, labeljust="l", margin=AROUND_GROUP)
            for name in members.get(group, ()):
                inner.add_node(name)
            _add_clusters(inner, group, members, titles, clusters)


def _common(one: Group, other: Group) -> Group:
    """Return the innermost group that both are in."""
    same = takewhile(lambda pair: pair[0] == pair[1], zip(one, other, strict=False))
    return tuple(name for name, _ in same)


def _numbers(text: str) -> list[float]:
    return [float(number) for number in text.split(",")]


def _frame(node: Any, size: Size) -> Frame:
    x, y = _numbers(node.attr["pos"])
    return Frame(x - size.width / 2, y - size.height / 2, *size)


def _cluster_frame(graph: Any, group: Group, clusters: Mapping[Group, str]) -> Frame:
    for depth in range(len(group)):
        graph = graph.get_subgraph(clusters[group[: depth + 1]])
    x, y, right, top = _numbers(graph.graph_attr["bb"])
    return Frame(x, y, right - x, top - y)


def _curve(edge: Any, *, head: bool) -> Curve:
    """Read the points of an edge; where its head ends comes first, after an `e`."""
    words = edge.attr["pos"].split()
    ends = [words.pop(0) for _ in range(sum(word[0] == "e" for word in words))]
    points = [cast("Point", tuple(_numbers(word))) for word in words]
    tip = cast("Point", tuple(_numbers(ends[0][2:]))) if ends else None
    return Curve(tuple(points), tip if head else None)
