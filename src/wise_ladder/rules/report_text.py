"""Verdicts in lines of text."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from wise_ladder.plan.steps import event_phrase
from wise_ladder.rules import messages
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.titles import named

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from wise_ladder.rules.verdicts import Counterexample, Proof, Verdict

MARKS = {"holds": "✓", "broken": "✗", "undecided": "◌"}


def verdict_glyph(verdict: Verdict) -> str:
    """Return the glyph of a verdict: what holds to a depth alone has one of its own."""
    return "◕" if verdict.status == "holds" and not verdict.every_depth else MARKS[verdict.status]


def steps_of(counterexample: Counterexample) -> list[str]:
    """Write the steps of a counterexample as those of a walk."""
    steps = counterexample.tape.as_steps()[:-1]
    last = counterexample.refused
    return [*steps, event_phrase(last)] if last is not None and not isinstance(last, Elapse | Stay) else steps


def verdict_lines(verdict: Verdict, path: str) -> Iterator[str]:
    """Report a verdict, and of a broken rule every guilty place with a shortest path to it."""
    rule = verdict.rule
    yield f"{verdict_glyph(verdict)} {named(rule)}: {verdict.words}"
    if rule.note and verdict.status == "broken":
        yield f"  {rule.note}"
    for counterexample in verdict.counterexamples:
        place = counterexample.place
        code = counterexample.tape.plan.code_of.get(place.at)
        also = f"; {code.words}" if code is not None else ""
        yield f"  {counterexample.guilt.words}  ({place.within(path)}, {place.words}{also})"
        yield f"    {' · '.join(steps_of(counterexample))}"
        if counterexample.loop_start is not None:
            yield f"    repeats from step {counterexample.loop_start + 1}, adding rungs each time"
    for place in verdict.unused:
        yield f"  never used: {place.words}  ({place.within(path)})"


def differences(verdicts: dict[str, tuple[Verdict, ...]]) -> Iterator[str]:
    """Report each rule whose verdict on a phone differs from that on the first one."""
    (first, usual), *others = verdicts.items()
    for verdict in usual:
        for phone, theirs in others:
            other = next((each for each in theirs if each.rule == verdict.rule), verdict)
            if other.status != verdict.status:
                yield f"{named(verdict.rule)}: {first}: {verdict.words}; {phone}: {other.words}"


def summary(verdicts: Sequence[Verdict]) -> str:
    """Sum up verdicts in a line: how many hold, to which depth, how many are broken, and by how many places of the plan."""
    if not verdicts:
        return "no rules"
    known = verdicts[0].extent
    counts = {status: sum(verdict.status == status for verdict in verdicts) for status in MARKS}
    parts = [f"{counts['holds']} of {len(verdicts)} rules hold {known.words}"] if counts["holds"] else []
    parts += [
        f"{count} of them at every depth{condition and ' '}{condition}" for condition, count in proof_counts(verdicts).items()
    ]
    places = len({each.place for verdict in verdicts for each in verdict.counterexamples})
    by = f" at {places} place{'s' if places > 1 else ''}" if counts["broken"] > 1 and places else ""
    parts += [f"{counts['broken']} broken{by}"] if counts["broken"] else []
    parts += [f"{counts['undecided']} undecided"] if counts["undecided"] else []
    stopped = f", stopped {known.stopped}" if known.stopped else ""
    return f"{', '.join(parts)} ({known.figures}, {known.seconds:.1f} s{stopped})"


def proof_counts(verdicts: Iterable[Verdict]) -> dict[str, int]:
    """Count the rules that are proved, by the condition that goes with it; those without one come first."""
    proofs = (verdict.proof for verdict in verdicts if verdict.proof is not None)
    counts = Counter(proof.condition for proof in proofs)
    return dict(sorted(counts.items()))


def how_known(verdict: Verdict) -> Iterator[str]:
    """Explain how a verdict is known, how far, and why no further."""
    extent, proof = verdict.extent, verdict.proof
    if verdict.counterexamples:
        shortest = min(verdict.counterexamples, key=lambda each: each.steps).shortest
        yield messages.KNOWN_BY_RUN.format(fewer=messages.NOT_IN_FEWER if shortest else messages.PERHAPS_IN_FEWER)
    elif verdict.unused or extent.whole:
        yield (messages.KNOWN_OF_ALL if extent.whole else messages.KNOWN_BY_SWEEP).format(
            extent=extent.words, states=extent.states
        )
    elif verdict.proved and proof is not None:
        yield from _how_proved(proof)
    else:
        yield messages.KNOWN_BY_SWEEP.format(extent=extent.words, states=extent.states)
        if verdict.caveat:
            yield messages.KNOWN_BUT.format(why=verdict.caveat)
        if proof is not None:
            yield from _how_proved(proof)
        if verdict.not_proved:
            yield (messages.NOT_PROVED_BECAUSE if proof is None else messages.NOT_WITHOUT).format(why=verdict.not_proved)
    yield messages.METHOD


def _how_proved(proof: Proof) -> Iterator[str]:
    condition = proof.condition
    how = messages.KNOWN_AS_LONG_AS if condition else messages.KNOWN_BY_PROOF
    yield how.format(states=proof.states, time=proof.took, condition=condition)
    yield messages.WHAT_A_PROOF_SAYS
    if proof.left_out:
        yield messages.LEFT_OUT_OF_PROOF.format(names=", ".join(proof.left_out))
