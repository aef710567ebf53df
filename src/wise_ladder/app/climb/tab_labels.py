"""How the tabs of a rung are written on its board."""

from __future__ import annotations

from rich.cells import cell_len

from wise_ladder.app.canvas import cut


def tab_labels(names: list[str], rungs: list[int], front: int, room: int) -> list[str]:
    """Write each tab with a mark for each of its rungs; if they do not fit, with numbers, then cut, the front one last."""
    labels = [f" {name} {'▮' * min(count, 5)}".rstrip() + " " for name, count in zip(names, rungs, strict=True)]
    if sum(map(cell_len, labels)) <= room:
        return labels
    marks = [f" {count}" if count > 1 else "" for count in rungs]
    labels = [f" {name}{mark} " for name, mark in zip(names, marks, strict=True)]
    if sum(map(cell_len, labels)) <= room:
        return labels
    share = max(room - cell_len(labels[front]), 0) // max(len(names) - 1, 1)
    short = [f" {cut(name, share - 2 - len(mark))}{mark} " for name, mark in zip(names, marks, strict=True)]
    return [*short[:front], labels[front], *short[front + 1 :]]
