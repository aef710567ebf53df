"""Proofs that are kept: what was proved of a plan need not be proved again while nothing changes on which it depends.

A proof depends on the plan as it runs on one phone with one given, on its rule, and on the program. It does not depend on
walks, comments, or where in the file something stands. A file that cannot be read, or holds something else, is as good as none.
"""

from __future__ import annotations

from contextlib import suppress
from hashlib import sha256
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from wise_ladder import __version__
from wise_ladder.errors import WriteError
from wise_ladder.plan.events import Event
from wise_ladder.plan.files import save_bytes
from wise_ladder.plan.rule import Rule
from wise_ladder.proofs.changed_moves import bare, bare_plan
from wise_ladder.proofs.proof import Prover
from wise_ladder.proofs.task import Proved
from wise_ladder.rules.actions import Elapse, Stay
from wise_ladder.rules.titles import short_names
from wise_ladder.rules.verdicts import Proof
from wise_ladder.rules.violations import counterexample_of
from wise_ladder.semantics.state import initial_state
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.plan import Plan
    from wise_ladder.proofs.task import ProofTask
    from wise_ladder.rules.verdicts import Counterexample

MOST_FILES = 500
"""Of more files than this the oldest go."""
NEARLY = 0.9
"""What was tried for this part of the time need not be tried again: it would come to the same."""
_SEMANTICS = ("plan", "semantics", "rules", "proofs")
"""The packages that a proof depends on."""


class KeptRun(Struct, frozen=True, forbid_unknown_fields=True):
    """What is kept of a run that breaks a rule: what happens, and in how many steps; what is refused at the end."""

    events: tuple[Event, ...]
    steps: int
    refused: Event | None
    shortest: bool


class KeptProof(Struct, frozen=True, forbid_unknown_fields=True):
    """What is kept of one rule: its proof, and why there was none after so many seconds, or none without a condition."""

    tried: float
    states: int = 0
    """Of the proof; 0: there is none."""
    seconds: float = 0.0
    why: str = ""
    as_long_as: tuple[str, ...] = ()
    """The rules that must hold for the proof, each as all that matters of it."""
    left_out: tuple[str, ...] = ()
    run: KeptRun | None = None


class ProofCache:
    """The proofs in a folder, a file for each plan."""

    def __init__(self, folder: Path) -> None:
        """Use a folder, which need not be there yet."""
        self.folder, self._prover = folder, Prover()

    def prove(
        self, task: ProofTask, goes_on: Callable[[], bool] = lambda: True, show: Callable[[Proved], None] = lambda _: None
    ) -> Proved:
        """Try to prove rules, as `Prover` does, but for those of which it is known what comes of it in so many seconds."""
        plan, rules, seconds, broken = task
        path = self.folder / f"{_digest(plan)}.json"
        kept = _read(path)
        names = [_rule_name(rule) for rule in rules]
        called = dict(zip(names, short_names(rules), strict=True))
        known, settled = Proved({}, {}, {}, {}, []), {*broken}
        for number, name in enumerate(names):
            of_rule = kept.get(name)
            if of_rule is None or not called.keys() >= {*of_rule.as_long_as}:
                continue
            if of_rule.states:
                condition = tuple(called[other] for other in of_rule.as_long_as)
                known.proofs[number] = Proof(of_rule.states, of_rule.seconds, condition, of_rule.left_out)
            if of_rule.run is not None:
                run = _found(plan, rules[number], of_rule.run)
                if run is not None:
                    known.found[number] = run
                    if run.shortest or of_rule.tried >= seconds * NEARLY:
                        settled.add(number)
            elif of_rule.states and not of_rule.as_long_as:
                settled.add(number)
            elif of_rule.tried >= seconds * NEARLY:
                known.reasons[number] = of_rule.why
                settled.add(number)
        if known.proofs or known.reasons or known.found:
            show(known)
        rest = task._replace(broken=frozenset(settled))
        found = self._prover.prove(rest, goes_on, lambda found: show(_merged(known, found)))
        merged = _merged(known, found)
        content = {short: name for name, short in called.items()}
        more = {names[number]: _kept(number, merged, content) for number in found.tried}
        if more:
            self._keep(path, kept | more)
        return merged

    def _keep(self, path: Path, kept: dict[str, KeptProof]) -> None:
        """Write what is known of a plan; a folder that cannot be written keeps nothing."""
        with suppress(OSError, WriteError):
            self.folder.mkdir(parents=True, exist_ok=True)
            save_bytes(path, msgspec.json.encode(kept))
            files = sorted(self.folder.glob("*.json"), key=lambda each: each.stat().st_mtime)
            for old in files[:-MOST_FILES]:
                old.unlink(missing_ok=True)


def _merged(known: Proved, found: Proved) -> Proved:
    shorter = {
        number: run
        for number, run in found.found.items()
        if number not in known.found or run.steps <= known.found[number].steps
    }
    return found._replace(
        proofs=known.proofs | found.proofs, reasons=known.reasons | found.reasons, found=known.found | shorter
    )


def _found(plan: Plan, rule: Rule, run: KeptRun) -> Counterexample | None:
    """Do again what is kept of a run; None if it breaks the rule no more."""
    tape = Tape(plan, initial_state(plan)).rerun_on(plan, events=run.events)
    found = None if tape.rest else counterexample_of(rule, tape, run.steps, run.refused)
    return None if found is None else found._replace(shortest=run.shortest)


def _kept(number: int, known: Proved, content: dict[str, str]) -> KeptProof:
    """Return what is to be kept of a rule; `content`: all that matters of each rule, by its name."""
    kept = KeptProof(known.tried[number], why=known.reasons.get(number, ""))
    proof, found = known.proofs.get(number), known.found.get(number)
    if found is not None and not isinstance(found.refused, Elapse | Stay):
        run = KeptRun(tuple(entry.event for entry in found.tape.entries), found.steps, found.refused, found.shortest)
        return replace(kept, run=run)
    if proof is None:
        return kept
    condition = tuple(content[name] for name in proof.as_long_as)
    return replace(kept, states=proof.states, seconds=proof.seconds, as_long_as=condition, left_out=proof.left_out)


def _read(path: Path) -> dict[str, KeptProof]:
    try:
        return msgspec.json.decode(path.read_bytes(), type=dict[str, KeptProof])
    except (OSError, msgspec.MsgspecError):
        return {}


def _digest(plan: Plan) -> str:
    """Return the digest of all that proofs of a plan depend on, besides the rule."""
    twice = any(rule.twice for rule in plan.rules if isinstance(rule, Rule))
    content = msgspec.json.encode((bare_plan(plan), twice), order="sorted")
    return sha256(content + _program()).hexdigest()[:32]


def _rule_name(rule: Rule) -> str:
    return msgspec.json.encode(bare(msgspec.to_builtins(rule)), order="sorted").decode()


def _program() -> bytes:
    """Return a digest of the program: its version, and the code that proofs depend on."""
    digest, root = sha256(__version__.encode()), Path(__file__).parents[1]
    for package in _SEMANTICS:
        for path in sorted((root / package).glob("*.py")):
            digest.update(path.read_bytes())
    return digest.digest()
