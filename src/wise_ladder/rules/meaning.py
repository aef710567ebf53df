"""What each rule means: what of a step breaks it, and who is guilty.

A judge looks at one step, and at no more of it than it needs: what it does not look at it need not judge again. What hangs on
whole ladders or on the way that was come by (pile-ups, traps, depth, weight) is decided by the sweep itself.
"""

from __future__ import annotations

from itertools import chain, pairwise
from typing import TYPE_CHECKING, NamedTuple, TypeAlias, cast

from wise_ladder.ladder import happenings
from wise_ladder.ladder.deciding import STAYS_AT_ROOT
from wise_ladder.ladder.offers import taps
from wise_ladder.ladder.state import Phase, all_rungs, open_layers, seen_ladder, visible_path
from wise_ladder.ladder.words import face_words, length_words
from wise_ladder.plan import events
from wise_ladder.plan.model import THE_GROUND
from wise_ladder.plan.operations import Push, Reach, Replace
from wise_ladder.rules.doings import LetTime
from wise_ladder.rules.edges import Edge, Place, holds, ladders, link_place, screen_place, seen_rung, what_if
from wise_ladder.rules.shapes import SEEN

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from wise_ladder.ladder.cutting import Cut
    from wise_ladder.ladder.state import Face, Rung, State
    from wise_ladder.plan.model import Guard, Plan, Rule
    from wise_ladder.plan.operations import Operation
    from wise_ladder.rules.edges import Sign


class Guilt(NamedTuple):
    """Who breaks a rule, and how, in a sentence."""

    place: Place
    words: str


Judge: TypeAlias = "Callable[[Rule, Edge], Iterator[Guilt]]"


# What lies on the ladder


def never_beneath(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    if not edge.came:
        return
    for ladder in ladders(edge.after.ladder):
        for beneath in ladder[:-1]:
            for rung in all_rungs((beneath,)):
                if not rung.cut and rung.face.screen in rule.screens and _lies_there_now(rule, edge, beneath, rung):
                    yield Guilt(edge.culprit, f"{rung.face.screen} lies beneath {_over(ladder, beneath)}")


def _lies_there_now(rule: Rule, edge: Edge, beneath: Rung, rung: Rung) -> bool:
    """Whether it is this step's fault: what lay beneath before is nobody's."""
    already = any(beneath.serial == other.serial for ladder in ladders(edge.before.ladder) for other in ladder[:-1])
    seen = not rule.once_left or any(rung.serial == other.serial for other in visible_path(edge.before.ladder))
    return seen and not already


def _over(ladder: tuple[Rung, ...], beneath: Rung) -> str:
    over = ladder[ladder.index(beneath) + 1]
    return "another rung" if over.cut else face_words(over.face)


def no_twins(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    # Two that stand upon each other did so before, unless one of them came or got other arguments.
    fresh = {*edge.came, *(top.serial for top in visible_path(edge.after.ladder)[-1:] if edge.all_of(happenings.Handed))}
    if not fresh:
        return
    for ladder in ladders(edge.after.ladder):
        for under, over in pairwise(ladder):
            if over.serial not in fresh or (rule.screens and over.face.screen not in rule.screens):
                continue
            same = under.face.screen == over.face.screen if rule.any_arguments else under.face.same_place(over.face)
            if same:
                yield Guilt(edge.culprit, f"{face_words(over.face)} stands on {face_words(under.face)}")


def at_most(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    if any(rung.face.screen in rule.screens for rung in edge.came.values()):
        count = sum(_is_one_of(rule.screens, rung) for rung in all_rungs(edge.after.ladder))
        if rule.limit is not None and count > rule.limit:
            yield Guilt(edge.culprit, f"{count} rungs of {' and '.join(rule.screens)} are on the ladder")


def _is_one_of(screens: tuple[str, ...], rung: Rung) -> bool:
    if rung.cut:
        return any(cast("Cut", rung).holds((screen, ())) for screen in screens)
    return rung.face.screen in screens


# Where Back leads


def never_land_on(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_after
    if top is None or not edge.moved or edge.top_before is None or top.face.screen not in rule.screens:
        return
    back = isinstance(edge.meant, (events.Back, events.HeaderBack))
    popped = isinstance(edge.meant, events.Tap) and top.serial not in edge.came
    if (back or popped) and holds(edge.plan, edge.after, rule.condition):
        yield Guilt(edge.screen_before, f"Back from {face_words(edge.top_before.face)} lands on {face_words(top.face)}")


def back_lands(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_before
    if edge.way not in rule.ways or top is None or top.face.screen not in rule.screens or not edge.moved:
        return
    if isinstance(edge.meant, (events.Back, events.HeaderBack)) and holds(edge.plan, edge.before, rule.condition):
        after = edge.top_after
        where = THE_GROUND if after is None else after.face.screen
        if where not in rule.lands:
            lands = "leaves the app" if after is None else f"lands on {face_words(after.face)}"
            yield Guilt(edge.screen_before, f"Back from {face_words(top.face)} {lands}")


def leaves_only_from(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_before
    if top is None or not edge.out:
        return
    left = edge.all_of(happenings.LeftApp)
    if left and left[0].how == "because nothing is on its ladder":
        yield Guilt(edge.culprit, "the app is left because nothing is on its ladder")
    by_back = isinstance(edge.meant, events.Back) and (not left or left[0].how == "by Back")
    if by_back and not any(rung.face.screen in rule.screens for rung in visible_path(edge.before.ladder)):
        yield Guilt(edge.screen_before, f"Back leaves the app from {face_words(top.face)}")


def links_have_a_way_back(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_after
    if top is None or not edge.arrives or _begins(edge, top):
        return
    back = what_if(edge.plan, edge.after, events.Back())
    if back is None or not back.moved:
        return
    address = edge.all_of(happenings.LinkFollowed)[-1].address
    place = link_place(edge.plan, address)
    landed = seen_rung(back.after)
    if landed is None:
        yield Guilt(place, f"after {address} Back leaves the app")
    elif rule.lands and landed.face.screen not in rule.lands:
        yield Guilt(place, f"after {address} Back lands on {face_words(landed.face)}")


def _begins(edge: Edge, top: Rung) -> bool:
    """Whether a screen is one that the app begins with, so that leaving from there is right."""
    names = {name for choice in edge.plan.start for name in edge.plan.opens_on(choice.target.screen)}
    holders = [screen for screen in edge.plan.screens if screen.inside]
    names |= {first.screen for screen in holders for _, first in screen.inside}
    alone = all(rung.inner for rung in visible_path(edge.after.ladder)[:-1])
    return alone and top.face.screen in names


def way_back_without_system(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_after
    if top is None or edge.after.question is not None or (rule.screens and top.face.screen not in rule.screens):
        return
    path = visible_path(edge.after.ladder)
    around = (edge.after.ladder, *(rung.front for rung in path[:-1]))
    if all(len(ladder) == 1 for ladder in around) or any(
        edge.plan.overlay[name].modal for _, name, _ in open_layers(edge.after.layers, path)
    ):
        return
    # Most often the header is enough.
    for event in chain[events.Event]([events.HeaderBack()], (tap for tap, _ in taps(edge.plan, edge.after))):
        tried = what_if(edge.plan, edge.after, event)
        if tried is None:
            continue
        gone = tried.moved and (
            tried.after.phase is not Phase.OPEN or all(r.serial != top.serial for r in all_rungs(tried.after.ladder))
        )
        if gone or (tried.after.question is not None):
            return
    yield Guilt(edge.screen_after, f"{face_words(top.face)} has no way back of its own")


MOST_BACKS = 64


def no_traps(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Follow Back as long as nothing is left or closed by it: what comes round so, or never moves, is a trap.

    Where a Back takes something away, the state it leads to is judged by itself.
    """
    if edge.choice != events.Back() or edge.before.phase is not Phase.OPEN or edge.before.question is not None:
        return
    hop, met = _answered(edge), {edge.before}
    while len(met) <= MOST_BACKS:
        if hop.after.phase is not Phase.OPEN or _less(edge.before, hop.after):
            return
        if STAYS_AT_ROOT in hop.happened:
            # On such a phone the root is as far as Back gets.
            return
        if hop.after.pending or _under_way(hop.after):
            # Something is under way that may open it; whether waiting ends is another rule.
            return
        if hop.after in met:
            yield Guilt(edge.screen_before, f"no number of Backs gets out from {face_words(_face(edge.top_before))}")
            return
        met.add(hop.after)
        tried = what_if(edge.plan, hop.after, events.Back())
        if tried is None:
            return
        hop = _answered(tried)


def _answered(edge: Edge) -> Edge:
    """Answer what a Back asks, and what is asked upon that, by the first answer that goes on, as long as there is one."""
    for _ in edge.plan.guard:
        question = edge.after.question
        answers = edge.plan.guard[question.guard].answers if question is not None else ()
        onward = next((answer.name for answer in answers if not answer.stays), None)
        done = what_if(edge.plan, edge.after, events.Answer(onward)) if onward is not None else None
        if done is None:
            break
        edge = Edge(edge.plan, edge.before, edge.choice, done.after, done.happened, done.taken)
    return edge


def _less(before: State, after: State) -> bool:
    """Whether something went from the ladders or over them, and nothing came instead."""
    was, now = list(all_rungs(before.ladder)), list(all_rungs(after.ladder))
    rungs = {rung.serial for rung in was} - {rung.serial for rung in now}
    came = {rung.serial for rung in now} - {rung.serial for rung in was}
    if len(rungs) != len(came):
        return len(rungs) > len(came)
    overlays = len(before.layers) + sum(len(rung.layers) for rung in was)
    return len(after.layers) + sum(len(rung.layers) for rung in now) < overlays


def no_pile_up(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Find who puts a rung over its equal; whether that can be done again and again the sweep finds out by doing it."""
    top = edge.top_after
    if top is None or not isinstance(edge.choice, events.Tap):
        return
    if all(came.rung.serial != top.serial for came in edge.all_of(happenings.Came)):
        # What only takes another's place makes nothing grow.
        return
    if rule.screens and top.face.screen not in rule.screens:
        return
    beneath = reversed(seen_ladder(edge.after.ladder)[:-1])
    if any(cast("Cut", rung).holds(top.face) if rung.cut else rung.face == top.face for rung in beneath):
        yield Guilt(edge.culprit, f"{face_words(top.face)} comes over and over, and none goes")


# Guards, protection


def guarded(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    for unasked in edge.all_of(happenings.LeftUnasked):
        if unasked.screen in rule.screens:
            yield Guilt(edge.culprit, f"{unasked.screen} goes and {unasked.guard} is not asked")
    if edge.way not in rule.ways or edge.before.phase is not Phase.OPEN or edge.before.cover or edge.meant is not edge.choice:
        return
    stopped = (happenings.Asked, happenings.Blocked, happenings.DidInstead)
    if any(isinstance(happening, stopped) for happening in edge.happened):
        return
    for place, rung in enumerate(visible_path(edge.before.ladder)):
        if rung.face.screen in rule.screens and holds(edge.plan, edge.before, rule.condition, place):
            gone = edge.out or all(other.serial != rung.serial for other in all_rungs(edge.after.ladder))
            if gone:
                yield Guilt(edge.culprit, f"{face_words(rung.face)} goes by the way {edge.way} and nobody asks")


def protected(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    if edge.top_after is None:
        return
    for place, rung in enumerate(visible_path(edge.after.ladder)):
        if rung.face.screen in rule.screens and not holds(edge.plan, edge.after, rule.condition, place):
            yield Guilt(edge.culprit, f"{face_words(rung.face)} is seen although not {rule.condition_text or 'allowed'}")


# Taps, waits, results, redirects


def no_dead_taps(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    top = edge.top_before
    # A finding and no other trace: the move was undone.
    dead = edge.refused or (edge.after == edge.before and edge.all_of(happenings.Finding))
    meant = top is not None and (not rule.screens or top.face.screen in rule.screens)
    if dead and meant and top is not None and isinstance(edge.choice, events.Tap):
        yield Guilt(edge.screen_before, f"{edge.choice.name} does nothing on {face_words(top.face)}, and does not say why")


def waiting_ends(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    after = edge.after
    if after.phase is not Phase.OPEN or (after.question and not after.cover):
        return
    over = () if after.question else open_layers(after.layers, visible_path(after.ladder))
    waits = [name for _, name, _ in over if edge.plan.overlay[name].kind == "wait"]
    if not (waits or after.cover) or after.pending or _under_way(after):
        return
    if waits:
        yield Guilt(edge.culprit, f"{waits[-1]} is open and nothing is under way that could end it")
    if after.cover:
        yield Guilt(edge.culprit, "the cover is up and nothing is under way that could take it off")


def _under_way(state: State) -> bool:
    return any(call.name != SEEN for call in state.calls)


def no_flash(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    """Find what goes by itself after less than so long: the sweep knows of it, a run with times has it in what was seen."""
    if not isinstance(edge.choice, (events.Reply, events.Wait, LetTime)):
        return
    for saw in edge.all_of(happenings.Saw):
        short = rule.limit is not None and saw.until - saw.since < rule.limit and saw.look != "cover"
        if short and saw.face is not None and (not rule.screens or saw.face.screen in rule.screens):
            yield Guilt(
                screen_place(edge.plan, saw.face), f"{face_words(saw.face)} is seen for {length_words(saw.until - saw.since)}"
            )


def results_come_back(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    # Death eats whatever is awaited; that is what `survives death` is about.
    found = None if isinstance(edge.choice, events.Killed) else edge.finding("result lost", "nobody waits", "awaits nothing")
    if found is not None and not (
        found.name == "nobody waits" and edge.top_before and _only_called(edge.plan, edge.top_before)
    ):
        yield Guilt(edge.culprit, found.words)


def _only_called(plan: Plan, rung: Rung) -> bool:
    """Whether a screen comes only where its result is awaited, so that only death can have eaten that."""
    done = [operation for move in plan.moves for operation in move.operations]
    done += [operation for guard in plan.guard.values() for operation in guard.operations]
    done += [operation for guard in plan.guard.values() for answer in guard.answers for operation in answer.operations]
    while nested := [getattr(operation, "operation", None) or getattr(operation, "otherwise", None) for operation in done]:
        puts = [operation for operation in done if _puts(operation, rung.face.screen)]
        if any(not getattr(operation, "awaiting", "") for operation in puts):
            return False
        done = [operation for operation in nested if operation is not None]
    others = [*(choice.target for choice in plan.start), *(target for link in plan.links for target in link.build)]
    others += [target for screen in plan.screens for _, target in screen.inside]
    others += [redirect.target for redirect in plan.redirects]
    return all(target.screen != rung.face.screen for target in others)


def _puts(operation: Operation, screen: str) -> bool:
    return isinstance(operation, (Push, Replace, Reach)) and operation.target.screen == screen


def redirects_end(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    found = edge.finding("redirects never end")
    if found is not None:
        yield Guilt(edge.culprit, found.words)


# Death, forecast, conditions


def survives_death(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    before = edge.top_before
    if not isinstance(edge.choice, events.Killed) or before is None:
        return
    lost = edge.finding("result lost")
    if lost is not None:
        yield Guilt(edge.screen_before, lost.words)
    reopened = what_if(edge.plan, edge.after, events.Reopen())
    after = seen_rung(reopened.after) if reopened is not None else None
    if after is None or after.face.screen in rule.screens:
        return
    killed = f"killed on {face_words(before.face)}"
    if not after.face.same_place(before.face):
        yield Guilt(edge.screen_before, f"{killed}, the app comes back with {face_words(after.face)}")
    elif after.face.own != before.face.own:
        held = [f"{name} {value}" for name, value in before.face.own if (name, value) not in after.face.own]
        yield Guilt(edge.screen_before, f"{killed}, {' and '.join(held)} is lost")


def forecast_is_known(_rule: Rule, edge: Edge) -> Iterator[Guilt]:
    late: dict[str, Guard] = {guard.name: guard for guard in edge.plan.guard.values() if guard.at_press}
    if not late or edge.after.phase is not Phase.OPEN:
        return
    usual = what_if(edge.plan, edge.after, events.Back())
    for name, guard in late.items():
        taken = what_if(edge.plan, edge.after, events.Back(name))
        if usual is not None and taken is not None and usual.happened != taken.happened:
            yield Guilt(
                Place(name, guard.at), f"{name} decides at the press what Back does on {face_words(_face(edge.top_after))}"
            )


def _face(rung: Rung | None) -> Face | None:
    return None if rung is None else rung.face


def in_every_state(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    if _is_about(rule, edge) and not holds(edge.plan, edge.after, rule.condition):
        yield Guilt(edge.culprit, f"not {rule.condition_text} on {face_words(_face(edge.top_after))}")


def in_no_state(rule: Rule, edge: Edge) -> Iterator[Guilt]:
    if _is_about(rule, edge) and holds(edge.plan, edge.after, rule.condition):
        yield Guilt(edge.culprit, f"{rule.condition_text} on {face_words(_face(edge.top_after))}")


def _is_about(rule: Rule, edge: Edge) -> bool:
    top = edge.top_after
    return top is not None and (not rule.screens or top.face.screen in rule.screens)


JUDGES: dict[str, tuple[Judge, frozenset[Sign]]] = {
    "never beneath": (never_beneath, frozenset(["came"])),
    "never land on": (never_land_on, frozenset(["moved back"])),
    "no twins": (no_twins, frozenset(["came"])),
    "no pile-up": (no_pile_up, frozenset(["came"])),
    "back lands": (back_lands, frozenset(["moved back"])),
    "leaves only from": (leaves_only_from, frozenset(["out"])),
    "no traps": (no_traps, frozenset(["back"])),
    "at most": (at_most, frozenset(["came"])),
    "guarded": (guarded, frozenset(["moved", "went"])),
    "way back without system": (way_back_without_system, frozenset(["moved", "facts", "came"])),
    "no dead taps": (no_dead_taps, frozenset(["tap"])),
    "waiting ends": (waiting_ends, frozenset(["waits"])),
    "results come back": (results_come_back, frozenset(["finding"])),
    "redirects end": (redirects_end, frozenset(["finding"])),
    "protected": (protected, frozenset(["moved", "facts", "came"])),
    "no flash": (no_flash, frozenset(["saw"])),
    "links have a way back": (links_have_a_way_back, frozenset(["arrival"])),
    "survives death": (survives_death, frozenset(["death"])),
    "forecast is known": (forecast_is_known, frozenset(["any"])),
    "in every state": (in_every_state, frozenset(["any"])),
    "in no state": (in_no_state, frozenset(["any"])),
}
"""Who judges single steps, and of which signs a step must bear one to be of interest; the sweep decides the other rules."""
AFTERWARDS = {
    "way back without system", "forecast is known", "links have a way back", "protected", "waiting ends", "in every state",
    "in no state",
}  # fmt: skip
"""Rules that look at nothing but the state after a step, and at the rest only to tell who is guilty."""
LASTING = {"protected", "waiting ends", "in every state", "in no state"}
"""Rules of states that go on being wrong: guilty is the step before which it was right."""
