"""What each rule means: what in a step breaks it, and what is guilty.

A judge looks at one step, and at no more of it than it needs: what it does not look at it need not judge again. What depends on
whole ladders or on the way that was come by (pile-ups, traps, depth, weight) is decided by the sweep itself.
"""

from __future__ import annotations

from itertools import chain, pairwise
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias, cast

from msgspec.structs import replace

from wise_ladder.plan import events
from wise_ladder.rules import messages
from wise_ladder.rules.actions import Elapse
from wise_ladder.rules.back_predicates import (
    addresses_lead_back,
    back_lands,
    leaves_only_from,
    links_have_a_way_back,
    never_land_on,
    no_traps,
    way_back_without_system,
)
from wise_ladder.rules.phone_predicates import survives_death, survives_remaking
from wise_ladder.rules.transition import (
    PlanRef,
    Transition,
    Violation,
    answered,
    face_of,
    goes_on_by_itself,
    holds,
    ladders,
    redirect_place,
    screen_place,
    try_event,
)
from wise_ladder.semantics import log
from wise_ladder.semantics.conditions import facts_of
from wise_ladder.semantics.offers import taps
from wise_ladder.semantics.opaque import OpaqueLadder, OpaqueRung
from wise_ladder.semantics.state import Phase, all_rungs, front_ladder, open_layers, visible_path, visible_screens
from wise_ladder.semantics.text import duration_text, rung_text
from wise_ladder.semantics.working_state import WorkingState

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator

    from wise_ladder.plan.model import Guard, Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.transition import Feature
    from wise_ladder.semantics.state import Ladder, Rung, State
    from wise_ladder.semantics.symbolic import SymbolicRungs


Predicate: TypeAlias = "Callable[[Rule, Transition], Iterator[Violation]]"


# What lies on the ladder


def never_beneath(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find screens of the rule that lie under another rung since this step."""
    if not edge.came:
        return
    for ladder in ladders(edge.after.ladder):
        for beneath in ladder[:-1]:
            for rung in all_rungs((beneath,)):
                if _lies_there_now(rule, edge, beneath, rung) and _is_one_of(rule.screens, rung, edge.watched):
                    yield Violation(edge.culprit, messages.BENEATH.format(screen=rung.data.screen, rung=_over(ladder, beneath)))


def _lies_there_now(rule: Rule, edge: Transition, beneath: Rung, rung: Rung) -> bool:
    """Whether this step did it: what lay beneath before does not count."""
    if rule.once_left and (rung.serial in edge.came or not _stands(rung, visible_path(edge.before.ladder))):
        return False
    return beneath.serial in edge.came or not any(_stands(beneath, ladder[:-1]) for ladder in ladders(edge.before.ladder))


def _stands(rung: Rung, among: Iterable[Rung]) -> bool:
    return any(rung.serial == other.serial for other in among)


def _over(ladder: tuple[Rung, ...], beneath: Rung) -> str:
    over = ladder[ladder.index(beneath) + 1]
    return messages.ANOTHER_RUNG if over.cut else rung_text(over.data)


def no_twins(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find two equal neighbours on a ladder, one of which came or got its arguments in this step."""
    # Two that stand upon each other did so before, unless one of them came or got other arguments.
    fresh = {
        *edge.came,
        *(top.serial for top in visible_path(edge.after.ladder)[-1:] if edge.all_of(log.ArgumentsChanged)),
    }
    if not fresh:
        return
    for ladder in ladders(edge.after.ladder):
        for under, over in pairwise(ladder):
            if over.serial not in fresh or (rule.screens and over.data.screen not in rule.screens):
                continue
            same = under.data.screen == over.data.screen if rule.any_arguments else under.data.same_screen(over.data)
            if same:
                yield Violation(edge.culprit, messages.TWIN.format(over=rung_text(over.data), under=rung_text(under.data)))


def at_most(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find more rungs of these screens than the rule allows, where one of them came in this step."""
    if any(rung.data.screen in rule.screens for rung in edge.came.values()):
        count = sum(_is_one_of(rule.screens, rung, frozenset()) for rung in all_rungs(edge.after.ladder))
        if rule.limit is not None and count > rule.limit:
            yield Violation(edge.culprit, messages.TOO_MANY_RUNGS.format(count=count, screens=" and ".join(rule.screens)))


def _is_one_of(screens: tuple[str, ...], rung: Rung, watched: frozenset[str]) -> bool:
    if rung.cut:
        return cast("SymbolicRungs", rung).holds_one_of(frozenset(screens), watched)
    return rung.data.screen in screens


def no_pile_up(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a step that puts a rung over its equal; the sweep then tries whether it can be repeated for ever."""
    top = edge.top_after
    if top is None or not isinstance(edge.action, (events.Tap, events.Answer, events.Reply, events.Wait, Elapse)):
        return
    if all(came.rung.serial != top.serial for came in edge.all_of(log.Came)):
        # What only takes another's place makes nothing grow.
        return
    if rule.screens and top.data.screen not in rule.screens:
        return
    beneath = reversed(front_ladder(edge.after.ladder)[:-1])
    if any(cast("SymbolicRungs", rung).holds(top.data) if rung.cut else rung.data == top.data for rung in beneath):
        yield Violation(edge.culprit, messages.PILE_UP.format(rung=rung_text(top.data)))


# Guards, protection


def guarded(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a screen that goes, while the condition holds, by one of the ways and without anybody asking."""
    for unasked in edge.all_of(log.GuardSkipped):
        if unasked.screen in rule.screens:
            yield Violation(edge.culprit, messages.GUARD_NOT_ASKED.format(screen=unasked.screen, guard=unasked.guard))
    if edge.way not in rule.ways or edge.before.phase is not Phase.OPEN or edge.before.cover or edge.meant is not edge.action:
        return
    veil = edge.before.ladder[-1] if isinstance(edge.before.ladder, OpaqueLadder) else None
    # A guard that asks or blocks undoes the move: then nothing goes.
    if edge.all_of(log.GuardActed) or (isinstance(veil, OpaqueRung) and not veil.watched):
        return
    for place, rung in enumerate(visible_path(edge.before.ladder)):
        if rung.data.screen in rule.screens:
            gone = edge.out or all(other.serial != rung.serial for other in all_rungs(edge.after.ladder))
            if gone and holds(edge.plan, _as_it_went(edge, rung), rule.condition, place):
                words = messages.GOES_BY_ITSELF if edge.way == "by itself" else messages.GOES_UNASKED
                yield Violation(edge.culprit, words.format(rung=rung_text(rung.data), way=edge.way))


def _as_it_went(edge: Transition, rung: Rung) -> State:
    """Return the state before a step with the facts as the step had set them when a rung of it went: a form may be saved."""
    facts, own = list(edge.before.facts), rung.data.facts
    for happening in edge.log:
        match happening:
            case log.Went(gone) | log.Replaced(gone, _):
                match = next((other for other in all_rungs((gone,)) if other.serial == rung.serial), None)
                if match is not None:
                    own = match.data.facts
                    break
            case log.AppLeft():
                break
            case log.FactChanged(name, _, now, own=True):
                own = tuple((held, now if held == name else value) for held, value in own)
            case log.FactChanged(name, _, now):
                facts[edge.plan.fact_index[name]] = now
            case _:
                pass
    doing = WorkingState(edge.plan, replace(edge.before, facts=tuple(facts)))
    doing.set_data(rung, replace(rung.data, facts=own))
    return doing.state()


def protected(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a screen that is seen while the condition does not hold."""
    if edge.top_after is None:
        return
    for place, rung in enumerate(visible_path(edge.after.ladder)):
        if rung.data.screen in rule.screens and not holds(edge.plan, edge.after, rule.condition, place):
            yield Violation(edge.culprit, messages.SEEN_WHILE.format(rung=rung_text(rung.data), facts=_facts_now(rule, edge)))


def _facts_now(rule: Rule, edge: Transition) -> str:
    """Say what the facts are that a condition asks for; if it asks for none, that it does not hold."""
    names = facts_of(rule.condition)
    facts = zip(edge.plan.facts, edge.after.facts, strict=True)
    parts = [f"{fact.name} is {value}" for fact, value in facts if fact.name in names]
    return " and ".join(parts) or messages.DOES_NOT_HOLD.format(condition=rule.condition_text)


# Taps, waits, results, redirects


def no_dead_taps(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a tap that is offered, and does nothing without saying why."""
    top = edge.top_before
    # A finding and no other trace: the move was undone.
    dead = edge.refused or (edge.after == edge.before and edge.all_of(log.Finding))
    meant = top is not None and (not rule.screens or top.data.screen in rule.screens)
    if dead and meant and top is not None and isinstance(edge.action, events.Tap):
        yield Violation(edge.screen_before, messages.DEAD_TAP.format(tap=edge.action.name, rung=rung_text(top.data)))


def waiting_ends(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find what nothing takes off but a reply, which may never come. What a timer does is judged when it is due."""
    after = edge.after
    if after.phase is not Phase.OPEN or (after.question and not after.cover):
        return
    over = () if after.question else open_layers(after.overlays, visible_path(after.ladder))
    waits = [serial for serial, name, _ in over if edge.plan.overlay[name].kind == "wait"]
    if not (waits or after.cover) or goes_on_by_itself(edge.plan, after):
        return
    if after.cover:
        yield Violation(edge.culprit, messages.COVER_STAYS_SILENT if after.calls else messages.COVER_STAYS)
    elif waits and not _can_be_closed(edge, waits[-1]):
        name = next(name for serial, name, _ in over if serial == waits[-1])
        words = messages.OVERLAY_STAYS_SILENT if after.calls else messages.OVERLAY_STAYS
        yield Violation(edge.culprit, words.format(overlay=name))


def _can_be_closed(edge: Transition, serial: int) -> bool:
    """Whether Back or a tap takes an overlay off, perhaps after a question."""
    for event in chain[events.Event]([events.Back()], (tap for tap, _ in taps(edge.plan, edge.after))):
        tried = try_event(edge.plan, edge.after, event)
        if tried is not None:
            after = answered(tried).after
            layers = open_layers(after.overlays, visible_path(after.ladder))
            if after.phase is not Phase.OPEN or all(other != serial for other, _, _ in layers):
                return True
    return False


def no_flash(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find what goes by itself after less than so long: the sweep knows of it, a run with times has it in what was seen."""
    if not isinstance(edge.action, (events.Reply, events.Wait, Elapse)):
        return
    for saw in edge.all_of(log.SeenFor):
        short = rule.limit is not None and saw.until - saw.since < rule.limit and saw.look != "cover"
        if short and saw.data is not None and (not rule.screens or saw.data.screen in rule.screens):
            yield Violation(
                screen_place(edge.plan, saw.data),
                messages.SEEN_TOO_SHORT.format(rung=rung_text(saw.data), time=duration_text(saw.until - saw.since)),
            )


def results_come_back(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a result that is lost, that nothing awaits, or that is awaited although nothing was put."""
    # What death takes belongs to `survives death`; so does what a screen returns whose caller lost its mark that way.
    finding = None if isinstance(edge.action, events.Killed) else edge.finding("result lost", "nobody waits", "awaits nothing")
    if finding is not None and not (finding.name == "nobody waits" and _took_death(edge, finding)):
        yield Violation(edge.culprit, finding.words)


def _took_death(edge: Transition, finding: log.Finding) -> bool:
    """Whether only a kill can have lost the caller: the screen that returned comes only if its result is awaited."""
    before = edge.log[: edge.log.index(finding)]
    went = [happening.rung for happening in before if isinstance(happening, log.Went)]
    return len(went) == 1 and not went[0].cut and went[0].data.screen in edge.plan.only_called


def back_keeps_its_promise(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a gesture of Back that ends otherwise than it showed when it was begun."""
    finding = edge.finding("promise broken")
    if finding is not None:
        yield Violation(edge.screen_before, finding.words)


def redirects_end(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a chain of redirects that comes round."""
    finding = edge.finding("redirects never end")
    if finding is not None:
        sent = edge.all_of(log.Redirected)
        yield Violation(redirect_place(edge.plan, sent[-1].wanted, sent[-1].to) if sent else edge.culprit, finding.words)


# Death, forecast, conditions


def forecast_is_known(_rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a guard that decides at the press and changes what Back does, so that it cannot be forecast."""
    late: dict[str, Guard] = {guard.name: guard for guard in edge.plan.guard.values() if guard.at_press}
    if not late or edge.after.phase is not Phase.OPEN:
        return
    usual = try_event(edge.plan, edge.after, events.Back())
    for name, guard in late.items():
        taken = try_event(edge.plan, edge.after, events.Back(name))
        if usual is not None and taken is not None and usual.log != taken.log:
            yield Violation(
                PlanRef(name, guard.at), messages.DECIDED_AT_PRESS.format(guard=name, rung=rung_text(face_of(edge.top_after)))
            )


def in_every_state(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a state in which the condition does not hold."""
    if _is_about(rule, edge) and not holds(edge.plan, edge.after, rule.condition):
        yield Violation(
            edge.culprit,
            messages.CONDITION_FAILS.format(condition=rule.condition_text, rung=rung_text(face_of(edge.top_after))),
        )


def in_no_state(rule: Rule, edge: Transition) -> Iterator[Violation]:
    """Find a state in which the condition holds."""
    if _is_about(rule, edge) and holds(edge.plan, edge.after, rule.condition):
        yield Violation(
            edge.culprit,
            messages.CONDITION_HOLDS.format(condition=rule.condition_text, rung=rung_text(face_of(edge.top_after))),
        )


def _is_about(rule: Rule, edge: Transition) -> bool:
    top = edge.top_after
    return top is not None and (not rule.screens or top.data.screen in rule.screens)


class Measure(NamedTuple):
    """What a rule limits: a sum over rungs."""

    rungs: Callable[[Ladder], Iterable[Rung]]
    """Which rungs count."""
    size: Callable[[Plan, Rung], int]
    """How much each of them counts."""

    def of(self, plan: Plan, state: State) -> int:
        """Return how much it is in a state."""
        return sum(self.size(plan, rung) for rung in self.rungs(state.ladder))


def _one(_plan: Plan, _rung: Rung) -> int:
    return 1


def _weight(plan: Plan, rung: Rung) -> int:
    return plan.screen[rung.data.screen].weight


def _beneath(rule: Rule, rungs: list[Rung]) -> list[Rung]:
    return [rung for rung in rungs[:-1] if rung.data.screen in rule.screens]


def _named(rule: Rule, rungs: list[Rung]) -> list[Rung]:
    return [rung for rung in rungs if rung.data.screen in rule.screens]


def _like_the_top(_rule: Rule, rungs: list[Rung]) -> list[Rung]:
    return [rung for rung in rungs if rung.data.same_screen(rungs[-1].data)]


def _top(_rule: Rule, rungs: list[Rung]) -> list[Rung]:
    return rungs[-1:]


class RuleKind(NamedTuple):
    """How a rule is decided: by a predicate on each step, by measuring each state, or by what the whole sweep met."""

    predicate: Predicate | None = None
    features: tuple[Feature, ...] = ()
    """A step is judged if it has one of these."""
    state_only: bool = False
    """It looks at the state after a step alone, and at the rest only to find what is guilty."""
    persistent: bool = False
    """A state goes on being wrong: guilty is the step before which it was right."""
    of_the_screen: bool = False
    """It is broken wherever the screen is: putting it in another way does not fix it."""
    needs_loop: bool = False
    """A break is one only if it can be repeated for ever."""
    may_be_refused: bool = False
    """If a fixed plan refuses the last step, the rule is not broken there."""
    rungs: Callable[[Rule, list[Rung]], list[Rung]] = _top
    """Which of the visible rungs of a state, lowest first, break it."""
    measure: Measure | None = None
    """What the rule limits, in rungs or bytes."""
    measured: str = ""
    """How a measure that is too large is told."""
    of_the_plan: bool = False
    """It asks what the whole sweep met."""
    tracks: Literal["", "dead taps", "flashes", "screens that go", "remaking"] = ""
    """What the sweep must distinguish for it that it else would not."""

    @property
    def wrong_since_a_step(self) -> bool:
        """Whether a step breaks it, and all is wrong from then on."""
        return self.persistent and not self.of_each_state

    @property
    def of_each_state(self) -> bool:
        """Whether it can be judged of each state by itself, however that was come by."""
        return self.state_only and self.features in {("any",), ("waits",)}


KINDS: dict[str, RuleKind] = {
    "never beneath": RuleKind(never_beneath, ("came",), rungs=_beneath),
    "never land on": RuleKind(never_land_on, ("moved",), may_be_refused=True),
    "no twins": RuleKind(no_twins, ("came",), rungs=_like_the_top),
    "no pile-up": RuleKind(no_pile_up, ("came",), needs_loop=True, rungs=_like_the_top),
    "back lands": RuleKind(back_lands, ("moved back",)),
    "leaves only from": RuleKind(leaves_only_from, ("out",)),
    "no traps": RuleKind(no_traps, ("back",)),
    "at most": RuleKind(at_most, ("came",), rungs=_named),
    "guarded": RuleKind(
        guarded,
        ("moved", "unasked"),
        tracks="screens that go",
        of_the_screen=True,
    ),
    "way back without system": RuleKind(way_back_without_system, ("any",), state_only=True, of_the_screen=True),
    "no dead taps": RuleKind(no_dead_taps, ("tap",), tracks="dead taps"),
    "waiting ends": RuleKind(waiting_ends, ("waits",), state_only=True, persistent=True, of_the_screen=True),
    "results come back": RuleKind(results_come_back, ("finding",), of_the_screen=True),
    "back keeps its promise": RuleKind(back_keeps_its_promise, ("finding",), of_the_screen=True),
    "redirects end": RuleKind(redirects_end, ("finding",), of_the_screen=True),
    "protected": RuleKind(
        protected,
        ("moved", "facts", "came"),
        state_only=True,
        persistent=True,
    ),
    "no flash": RuleKind(no_flash, ("saw",), tracks="flashes"),
    "links have a way back": RuleKind(links_have_a_way_back, ("arrival",), state_only=True),
    "addresses lead back": RuleKind(addresses_lead_back, ("any",), state_only=True, of_the_screen=True),
    "survives death": RuleKind(survives_death, ("death",), of_the_screen=True),
    "survives remaking": RuleKind(survives_remaking, ("any",), of_the_screen=True, tracks="remaking"),
    "forecast is known": RuleKind(forecast_is_known, ("any",), state_only=True, of_the_screen=True),
    "in every state": RuleKind(in_every_state, ("any",), state_only=True, persistent=True),
    "in no state": RuleKind(in_no_state, ("any",), state_only=True, persistent=True),
    "depth at most": RuleKind(measure=Measure(visible_screens, _one), measured=messages.RUNGS_VISIBLE),
    "memory at most": RuleKind(measure=Measure(all_rungs, _weight), measured=messages.RUNGS_WEIGH),
    "everything is used": RuleKind(of_the_plan=True),
}
"""How each rule is decided."""
