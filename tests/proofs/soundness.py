"""Whether the abstract states hold all that a sweep meets, and no rule that is broken is proved; with faults planted on request."""

from __future__ import annotations

from collections import Counter
from contextlib import suppress
from typing import TYPE_CHECKING, Any
from unittest.mock import patch

from msgspec.structs import replace

from wise_ladder.plan.loader import read_plan_text
from wise_ladder.proofs import fixpoint, sizes
from wise_ladder.proofs.changed_moves import changed_moves
from wise_ladder.proofs.fixpoint import Fixpoint, TooDeepError
from wise_ladder.proofs.proof import prove
from wise_ladder.proofs.row_looks import RowLooks
from wise_ladder.proofs.sizes import largest
from wise_ladder.proofs.stack_names import StackNames
from wise_ladder.rules.abstraction import BESIDES_FACTS
from wise_ladder.rules.cutting import AS_SAVED
from wise_ladder.rules.graph import StateGraph
from wise_ladder.rules.pending_values import PendingValues
from wise_ladder.rules.predicates import KINDS as RULE_KINDS
from wise_ladder.rules.predicates import Measure
from wise_ladder.rules.rule_checker import RuleChecker
from wise_ladder.rules.starter import rules_in_force
from wise_ladder.rules.sweep import Sweep, successors_for
from wise_ladder.rules.symbolic_stacks import ABSENT, Found
from wise_ladder.rules.titles import short_names
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.rules.violations import breaks
from wise_ladder.semantics.plan_index import PlanIndex
from wise_ladder.semantics.state import all_rungs, visible_screens

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterable, Iterator
    from contextlib import AbstractContextManager
    from random import Random

    from wise_ladder.plan import Plan
    from wise_ladder.plan.rule import Rule
    from wise_ladder.proofs.fixpoint import ExactRows
    from wise_ladder.rules.decision_tree import DecisionLeaf
    from wise_ladder.rules.graph import Judge, StateKey

WITHOUT_TIMES: tuple[ExactRows, ...] = ("none", "seen")
WITH_TIMES: tuple[ExactRows, ...] = ("none", "all")
"""The names of which rows are kept exactly, where facts are not, and where they are."""
DEPTH = Measure(visible_screens, lambda _plan, _rung: 1)
MOST_REACHED = 500
"""About so many states are looked up before breaks of rules, and as many with those after."""


def tabs_plan(random: Random) -> Plan:
    """Return a plan with tabs in which whole ladders are hidden, and come back as they were, go, or lose what they held."""
    does = [
        "push hive",
        "push comb",
        "replace hive",
        "pop",
        "'pop to hives, else pop'",
        "[set seen yes, push comb]",
        "switch diary",
    ]
    diary = [
        "push entry",
        "replace entry",
        "pop",
        "switch hives",
        "switch hives to root",
        "[set seen no, switch hives, push hive]",
    ]
    moves = [", ".join(f"{{when: tap {tap}, do: {random.choice(does)}}}" for tap in "ab") for _ in range(3)]
    more = [", ".join(f"{{when: tap {tap}, do: {random.choice(diary)}}}" for tap in "ab") for _ in range(2)]
    kept = random.choice(["memory", "ladder", "none"])
    text = f"""
        app: Combfield
        start: home
        facts: {{seen: [no, yes]}}
        flows: {{home: {{tabs: {{hives: hives, diary: week}}}}}}
        screens:
          hives: {{moves: [{moves[0]}, {{when: tap hive, do: push hive}}]}}
          hive:
            holds: {{mark: {{values: [no, yes], kept: {kept}}}}}
            moves: [{moves[1]}, {{when: tap mark, do: set mark yes}}]
          comb: {{moves: [{moves[2]}, {{when: left, if: seen is yes, do: set seen no}}]}}
          week: {{moves: [{more[0]}, {{when: tap entry, do: push entry}}]}}
          entry: {{moves: [{more[1]}]}}
        anywhere: [{{when: tap diary, do: switch diary}}, {{when: tap hives, do: switch hives}}]
        """
    return read_plan_text(text)


def left_out(plan: Plan, depth: int, *, states: int = 4_000, seconds: float = 3.0) -> Iterator[tuple[str, int]]:
    """Sweep a plan, take its states together in each way; tell what is not held, and how many states were looked up.

    Once without the rules that ask since when something is seen: only then may replies be decided by themselves.
    """
    rules = rules_in_force(plan)
    timeless = tuple(rule for rule in rules if RULE_KINDS[rule.name].tracks != "flashes")
    for some, exact in ((timeless, False), (rules, True)):
        sweep = Sweep(plan, Bounds(depth=depth, states=states, seconds=10), some, goals_of=lambda _: ())
        sweep.run()
        met = [(core, bundle) for level in sweep.by_depth for core, bundles in level.items() for bundle in bundles]
        for rows in WITH_TIMES if exact else WITHOUT_TIMES:
            places = range(len(plan.facts) + BESIDES_FACTS) if exact else ()
            whole = Fixpoint(sweep.graph, places, rows, timeless=not exact)
            with suppress(TooDeepError):
                whole.run(seconds)
            if whole.done:
                yield _outside(whole, met)
                yield _larger(plan, whole, met), 0
    held = [number for number, rule in enumerate(timeless) if RULE_KINDS[rule.name].wrong_since_a_step]
    if held:
        yield from _held_back(plan, timeless, held, depth, seconds)


def _held_back(plan: Plan, rules: tuple[Rule, ...], held: list[int], depth: int, seconds: float) -> Iterator[tuple[str, int]]:
    """Look up the states that come before any break of some rules, then those after breaks too."""
    graph = StateGraph(successors_for(plan, rules), _judge(plan, rules))
    whole = Fixpoint(graph, (), "seen", timeless=True, held=held)
    with suppress(TooDeepError):
        whole.run(seconds)
        if not whole.done or not any(whole.held.values()):
            return
        yield _outside(whole, _reached(graph, depth, held))
        for rule in held:
            whole.release(rule)
        whole.run(seconds)
        if whole.done:
            yield _outside(whole, _reached(graph, depth, ()))


def _outside(whole: Fixpoint, states: Collection[StateKey]) -> tuple[str, int]:
    lost = [at for at in states if not whole.holds(at)]
    told = f"{len(lost)} of {len(states)} states are in no abstract one, as {whole.graph.state(lost[0])}" if lost else ""
    return told, len(states)


def _larger(plan: Plan, whole: Fixpoint, states: Collection[StateKey]) -> str:
    """Tell of a measure of states that is larger than it can be, as the abstract ones say; each screen weighs one byte."""
    for measure in (DEPTH, Measure(all_rungs, lambda _plan, _rung: 1)):
        limit = largest(whole, measure)
        size = max(measure.of(plan, whole.graph.state(at)) for at in states)
        if limit is not None and size > limit:
            return f"{size} is more than {limit}"
    return ""


def _reached(graph: StateGraph, depth: int, held: Collection[int]) -> set[StateKey]:
    """Return the states that so many steps lead to of which none breaks one of these rules."""
    found, last = {graph.first}, {graph.first}
    for _ in range(depth):
        last = {after for at in last for leaf, after in graph.edges(at) if leaf.breaks(held) is None} - found
        found |= last
        if len(found) > MOST_REACHED:
            break
    return found


def changed(plan: Plan, random: Random) -> Plan:
    """Return a plan with one move changed at random, if it has any: what it does, or on which condition."""
    if not plan.moves:
        return plan
    which = random.choice(plan.moves)
    without = [move.operations for move in plan.moves if not getattr(move.trigger, "carries", ())]
    other = random.choice(
        [
            replace(which, operations=which.operations[:-1]),
            replace(which, operations=random.choice(without) if without else ()),
            replace(which, condition=None),
        ]
    )
    return plan.with_moves(lambda move: other if move.id == which.id else move)


def wrong_after_change(plan: Plan, now: Plan, depth: int, *, seconds: float = 3.0) -> Iterator[tuple[str, int]]:
    """Take the states of a plan together, change the plan and go on; tell what is wrong then, and how much was looked at.

    What is kept must come to the same as what is found out anew: states, what seems to break a rule, and the abstract states.
    """
    rules = tuple(rule for rule in rules_in_force(plan) if RULE_KINDS[rule.name].tracks != "flashes")
    moves = changed_moves(plan, now)
    if moves is None:
        return
    graph, fresh = (StateGraph(successors_for(each, rules), _judge(each, rules)) for each in (plan, now))
    whole = Fixpoint(graph, (), "seen", timeless=True)
    with suppress(TooDeepError):
        whole.run(seconds)
        if not whole.done:
            return
        whole.change_to(now, _judge(now, rules), moves)
        whole.run(seconds)
    if whole.done:
        kept, anew = _reached(graph, depth, ()), _reached(fresh, depth, ())
        same = {graph.state(at) for at in kept} == {fresh.state(at) for at in anew}
        yield "" if same else "what is kept leads to other states than what is found out anew", len(anew)
        leaves = [leaf for at in anew for leaf, _ in fresh.edges(at)] if len(anew) <= MOST_REACHED else []
        lost = _suspects(leaves) - _suspects(whole.suspects)
        yield f"it is forgotten that {sorted(lost)} may be broken" if lost else "", len(leaves)
        yield _outside(whole, kept)


def _judge(plan: Plan, rules: tuple[Rule, ...]) -> Judge:
    return RuleChecker(plan, rules, lambda _: (), states_apart=True).judge


def _suspects(leaves: Iterable[DecisionLeaf]) -> set[tuple[int, str]]:
    return {(suspect.rule, suspect.guilt.words) for leaf in leaves for suspect in leaf.candidates}


def proved_and_broken(plan: Plan, depth: int, *, seconds: float = 3.0) -> list[str]:
    """List the rules that are proved and broken all the same: by a run that breaks none of those which must hold for the proof."""
    rules = rules_in_force(plan)
    sweep = Sweep(plan, Bounds(depth=depth, states=4_000, seconds=10), rules)
    sweep.run()
    names = dict(zip(short_names(rules), rules, strict=True))
    wrong: list[str] = []
    for number, proof in prove(plan, rules, seconds).proofs.items():
        others = [names[name] for name in proof.as_long_as]
        runs = [found.tape for found in sweep.found[number]]
        if any(not any(breaks(other, tape) for other in others) for tape in runs):
            wrong.append(rules[number].called)
    return wrong


# Faults


def first_only(of: Callable[..., Any]) -> Callable[..., Any]:
    """Return what hands on only the first of several things."""

    def told(*given: Any, **named: Any) -> Any:
        return list(of(*given, **named))[:1]

    return told


def _one_answer(of: Callable[..., Any]) -> Callable[..., Any]:
    """Return what hands on only the highest of several answers."""
    return lambda *given, **named: sorted(of(*given, **named))[-1:]


def _nothing(_of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda *_given, **_named: None


def _first_pending(of: Callable[..., Any]) -> Callable[..., Any]:
    def end_pending(self: Any, at: Any, known: Any, bits: int) -> Any:
        pending = bits & self._bits.all_at(frozenset([self._pending]))
        return of(self, at, known, pending & -pending)

    return end_pending


def _nothing_later(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, watch, bits: () if watch.seen else of(self, watch, bits)


def _one_stopped_move(of: Callable[..., Any]) -> Callable[..., Any]:
    def told(self: Any, watch: Any, bits: int) -> Any:
        ways = list(of(self, watch, bits))
        return ways[:1] if watch.way.node.look.number == self.graph.successors.shaping.stopped else ways

    return told


def _only_the_first(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda shaping, under_way, **_any_first: of(shaping, under_way, any_first=False)


def _lower_rows_only(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, leaf, at, rows: of(self, leaf, at, tuple(frozenset(sorted(row)[:1]) for row in rows))


def _nothing_absent(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, row, mark: (each for each in of(self, row, mark) if each.seen is not ABSENT)


def _only_absent(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, row, mark: (each for each in of(self, row, mark) if each.seen is ABSENT)


def _nothing_between(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, row, mark: (each._replace(upper=0) for each in of(self, row, mark))


class _Leaf:
    """A leaf of which something is not so."""

    def __init__(self, leaf: Any, **instead: Any) -> None:
        self._leaf = leaf
        vars(self).update(instead)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._leaf, name)


def _facts_stay(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, leaf, *at, **kept: of(self, _Leaf(leaf, facts=()), *at, **kept)


def _no_caller_goes(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, leaf, *at, **kept: of(self, _Leaf(leaf, pending=leaf.pending._replace(lost=0)), *at, **kept)


def _still_pending(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, leaf, *at, **kept: of(self, _Leaf(leaf, pending=leaf.pending._replace(replied=None)), *at, **kept)


def _never_saved(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, row, base, part=0: of(self, row, base, part & ~AS_SAVED)


def _marks_stay(of: Callable[..., Any]) -> Callable[..., Any]:
    return lambda self, row, base, part=0: of(self, row, base, part & AS_SAVED)


def _found(anywhere: bool) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    def only(of: Callable[..., Any]) -> Callable[..., Any]:
        def sought(self: Any, way: Any, at: Any, look: Any) -> Any:
            told = self._graph.with_found(way.node, look.sought, Found(anywhere))
            return (each for each in of(self, way, at, look) if each.node is told)

        return sought

    return only


CHANGES = "what a move does is not noted as read", "what a changed plan forgot is not gone through again"
"""Those of the faults that only a changed plan can show."""


def planted() -> dict[str, Callable[[], AbstractContextManager[Any]]]:
    """Return the faults by their names, each to be planted with `with`."""

    def instead(owner: Any, name: str, made: Callable[[Callable[..., Any]], Any]) -> Callable[[], AbstractContextManager[Any]]:
        return lambda: patch.object(owner, name, made(getattr(owner, name)))

    return {
        "a join that drops what is new": instead(Fixpoint, "_flow", _nothing),
        "what a step does not look at does not pass": instead(Fixpoint, "_pass_on", _nothing),
        "names of rows that are new do not pass": instead(Fixpoint, "_let_rows_in", _nothing),
        "what is new opens no step": instead(Fixpoint, "_told", _nothing_later),
        "a call that got a reply is pending still": instead(Fixpoint, "_arrive", _still_pending),
        "only the call that was made first gets a reply": instead(fixpoint, "endings", _only_the_first),
        "a pop that keeps the first row only": instead(StackNames, "tops", first_only),
        "nothing that is sought is ever lacking": instead(StackNames, "split", _nothing_absent),
        "nothing that is sought is ever there": instead(StackNames, "split", _only_absent),
        "what is over what is sought is lost": instead(StackNames, "split", _nothing_between),
        "the first name of each row only": instead(RowLooks, "rebuilt", _lower_rows_only),
        "what is pending never ends": instead(Fixpoint, "_end_pending", _nothing),
        "only the first of what may be pending": instead(Fixpoint, "_end_pending", _first_pending),
        "one value of each fact": instead(Fixpoint, "_told", first_only),
        "facts that stay as they were": instead(Fixpoint, "_arrive", _facts_stay),
        "what all rows can do is never so of some": instead(RowLooks, "_answers", _one_answer),
        "what is sought anywhere is never there": instead(RowLooks, "_sought", _found(anywhere=False)),
        "what is sought anywhere is always there": instead(RowLooks, "_sought", _found(anywhere=True)),
        "rows are saved as they are": instead(StackNames, "rebuilt", _never_saved),
        "rows keep the marks of calls that are over": instead(StackNames, "rebuilt", _marks_stay),
        "callers that go are there still": instead(Fixpoint, "_arrive", _no_caller_goes),
        "an answer goes on with one move only": instead(Fixpoint, "_told", _one_stopped_move),
        "of many calls that are alike one is left": instead(PendingValues, "with_more_alike", lambda _: lambda *_given: []),
        CHANGES[0]: instead(PlanIndex, "reading", lambda _: lambda _self, moves: iter(moves)),
        CHANGES[1]: instead(StateGraph, "change_to", lambda of: lambda *given: (set(), of(*given)[1])),
        "only what stands in a shape is counted": instead(sizes, "_largest_rows", lambda _: lambda _names, _size: Counter()),
        "what was held back never goes on": instead(Fixpoint, "release", _nothing),
        "rows that grow are not looked into again": instead(RowLooks, "_reads", lambda _: lambda *_given: None),
    }
