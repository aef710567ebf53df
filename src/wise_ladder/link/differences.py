"""Where an app and its plan differ: what the app tells of itself, held against what the plan says. The rest is left out."""

from __future__ import annotations

from itertools import pairwise, zip_longest
from typing import TYPE_CHECKING

from msgspec import UNSET

from wise_ladder.link import messages, wire
from wise_ladder.plan.values import value_words
from wise_ladder.walks.report_text import beside

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from msgspec import UnsetType


def difference(plan: wire.Report, app: wire.Report) -> str:
    """Say in one line where two reports differ first, nothing if they do not."""
    return next(_differences(plan, app), "")


def _differences(plan: wire.Report, app: wire.Report) -> Iterator[str]:
    if plan.phase != app.phase:
        yield _differs("the app", messages.PHASES[app.phase], messages.PHASES[plan.phase])
        return
    if plan.phase == "outside":
        return
    if app.ladder is not UNSET and plan.ladder is not UNSET:
        yield from _ladders("", plan.ladder, app.ladder)
    yield from _one("the cover", *(UNSET if each is UNSET else messages.COVER[each] for each in (plan.cover, app.cover)))
    yield from _one("the question", plan.asked, app.asked)
    if app.over is not UNSET and plan.over is not UNSET:
        yield from _overlays("the app", plan.over, app.over)
    yield from _facts("", plan.facts, app.facts)
    yield from _one("the bars", _bars(plan.bars), _bars(app.bars))
    yield from _one("the button in the header", plan.header, app.header)
    yield from _one("the address", plan.address, app.address)
    if app.back is not UNSET and plan.back is not UNSET and app.back != plan.back:
        yield messages.BACK_DIFFERS.format(app=_back_words(app.back), plan=_back_words(plan.back))


def _differs(what: str, app: object, plan: object) -> str:
    return messages.DIFFERS.format(what=what, app=app, plan=plan)


def _one(what: str, plan: object, app: object) -> Iterator[str]:
    """Compare one thing, if both tell it."""
    if app is not UNSET and plan is not UNSET and app != plan:
        yield _differs(what, app or "none", plan or "none")


def _bars(bars: tuple[bool, bool] | UnsetType) -> str | UnsetType:
    return UNSET if bars is UNSET else " and ".join("shown" if bar else "hidden" for bar in bars)


def _facts(of: str, plan: object, app: object) -> Iterator[str]:
    """Compare the facts that both know."""
    if isinstance(plan, dict) and isinstance(app, dict):
        for name, value in app.items():
            if name in plan and plan[name] != value:
                yield _differs(f"{name}{of}", value, plan[name])


def _ladders(where: str, plan: Sequence[wire.RungReport], app: Sequence[wire.RungReport]) -> Iterator[str]:
    """Compare two ladders from the lowest rung up; above the first rung that differs nothing is compared."""
    for number, (one, other) in enumerate(zip_longest(plan, app), 1):
        same = one is not None and other is not None and one.screen == other.screen
        if not same or one is None or other is None or (other.values is not UNSET and other.values != one.values):
            yield _differs(f"rung {number}{where}", rung_words(other), rung_words(one))
            return
        yield from _facts(f" of {one.screen}", one.facts, other.facts)
        if other.over is not UNSET:
            yield from _overlays(one.screen, one.over or [], other.over)
        yield from _one(f"the tab of {one.screen} in front", one.tab, other.tab)
        for name, rungs in (other.tabs or {}).items():
            yield from _ladders(f" of the tab {name}", (one.tabs or {}).get(name, ()), rungs)
        if other.inside is not UNSET and one.inside is not UNSET:
            yield from _ladders(f" inside {one.screen}", one.inside, other.inside)


def _overlays(of: str, plan: list[wire.Over], app: list[wire.Over]) -> Iterator[str]:
    names = [[each.name for each in overlays] for overlays in (app, plan)]
    if names[0] != names[1]:
        over_app, over_plan = (", ".join(each) or "nothing" for each in names)
        yield _differs(f"what lies over {of}", over_app, over_plan)
        return
    for one, other in zip(plan, app, strict=True):
        yield from _facts(f" of {one.name}", one.facts, other.facts)


def seen_rungs(ladder: Sequence[wire.RungReport]) -> list[wire.RungReport]:
    """Return the rungs of a ladder, flows and tabs looked through: of tabs the ones in front."""
    found: list[wire.RungReport] = []
    for rung in ladder:
        inside = inner_ladder(rung)
        found += [rung] if inside is None else seen_rungs(inside)
    return found


def inner_ladder(rung: wire.RungReport) -> list[wire.RungReport] | None:
    """Return the ladder inside a rung that is seen, None if it holds none or does not tell."""
    if rung.tabs is not UNSET:
        return rung.tabs.get(rung.tab) if rung.tab is not UNSET else None
    return None if rung.inside is UNSET else rung.inside


def rung_words(rung: wire.RungReport | None) -> str:
    """Name a rung for reading, with its arguments."""
    if rung is None:
        return "missing"
    values = [f"{name} {value}" for name, value in (rung.values or {}).items()]
    held = [f"{name} {value}" for name, value in (rung.facts or {}).items()]
    over = [each.name for each in rung.over or []]
    return " ".join([rung.screen, ", ".join(values)]).strip() + "".join(
        f" ({', '.join(each)})" for each in (held, over) if each
    )


def _back_words(back: wire.BackReport) -> str:
    """Say what Back would do."""
    to = rung_words(wire.RungReport(back.screen, back.values)) if back.screen is not UNSET else ""
    return messages.BACK[back.does].format(to=to, asks="" if back.asks is UNSET else back.asks)


def happened_difference(
    plan: Iterable[wire.Happened], app: Iterable[wire.Happened], tells: frozenset[str], tolerance: int
) -> str:
    """Say where what happened in a step differs first, nothing if it does not.

    `tells`: the aspects that the app tells; `tolerance`: by how many milliseconds its times may differ.
    """
    ours, theirs = list(plan), list(app)
    for aspect, kind in (("calls", "called"), ("results", "result")):
        if aspect in tells:
            for one, other in zip_longest(*([each for each in side if each.what == kind] for side in (ours, theirs))):
                if one is None or other is None or (one.name, one.value) != (other.name, other.value):
                    return _differs(f"the next {'call' if kind == 'called' else 'result'}", _happened(other), _happened(one))
    if "shown" in tells:
        for one, other in zip_longest(_stretches(ours), _stretches(theirs)):
            if one is None or other is None or (one.screen, one.waiting) != (other.screen, other.waiting):
                return _differs("what is seen next", _seen(other), _seen(one))
            if abs(one.at - other.at) > tolerance:
                return _differs(f"when {_seen(one)} is seen", f"{other.at} ms", f"{one.at} ms")
    return ""


def _stretches(happened: list[wire.Happened]) -> list[wire.Happened]:
    """Return what is seen, one after the other; what is seen for no time, or goes on, is left out."""
    shown = [each for each in happened if each.what == "shown"]
    lasting = [one for one, other in pairwise(shown) if one.at < other.at] + shown[-1:]
    first = lasting[:1]
    return first + [other for one, other in pairwise(lasting) if (one.screen, one.waiting) != (other.screen, other.waiting)]


def _seen(shown: wire.Happened | None) -> str:
    if shown is None:
        return "nothing new"
    return " ".join(filter(None, [shown.waiting, shown.screen or ("" if shown.waiting else "nothing")]))


def _happened(happened: wire.Happened | None) -> str:
    if happened is None:
        return "none"
    if happened.what == "called":
        return happened.name
    value = tuple(happened.value.items()) if isinstance(happened.value, dict) else happened.value
    return f"{happened.name}, {'cancelled' if value is None else value_words(value)}"


def ladders_beside(plan: wire.Report, app: wire.Report) -> Iterator[str]:
    """Draw the plan's ladder beside the app's, as both are seen."""
    ours, theirs = (seen_rungs(each.ladder or []) for each in (plan, app))
    rows = [
        (
            rung_words(one),
            rung_words(other),
            one is None or other is None or next(_ladders("", [one], [other]), None) is not None,
        )
        for one, other in zip_longest(ours, theirs)
    ]
    yield from beside(("plan", "app"), rows)
