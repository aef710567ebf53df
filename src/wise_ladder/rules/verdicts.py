"""What is known of a rule, and how far; and the shortest steps that break it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple

from wise_ladder.semantics.text import duration_text

if TYPE_CHECKING:
    from wise_ladder.plan.rule import Rule
    from wise_ladder.rules.actions import Action
    from wise_ladder.rules.blame import Blame
    from wise_ladder.rules.transition import PlanRef, Violation
    from wise_ladder.walks.tape import Tape

Status = Literal["holds", "broken", "undecided"]


class Bounds(NamedTuple):
    """The bounds of a sweep: steps, seconds, states, and bytes of memory."""

    depth: int = 1_000
    seconds: float = 10.0
    states: int = 1_000_000
    memory: int = 2_000_000_000


class SweepExtent(NamedTuple):
    """How far a sweep got: all that can happen in so many steps, so many states; `whole`: there are no others."""

    depth: int
    states: int
    whole: bool
    stopped: str
    seconds: float

    @property
    def words(self) -> str:
        """Say it in a few words."""
        return "at every depth" if self.whole else f"for {self.depth} step{'s' if self.depth != 1 else ''}"

    @property
    def figures(self) -> str:
        """Say how many states that is."""
        return f"{self.states:,} states, all there are" if self.whole else f"{self.states:,} states"


class Counterexample(NamedTuple):
    """Steps that break a rule, run with real times: where and how it shows, and what caused it."""

    guilt: Violation
    tape: Tape
    steps: int
    loop_start: int | None = None
    """For a pile-up: after how many steps of the tape the loop begins."""
    refused: Action | None = None
    """What does nothing at the end, if that is the fault."""
    blame: Blame | None = None
    """The move or link that is to blame, where it is another one than where it shows."""
    shortest: bool = True
    """Whether it is known that no shorter steps break the rule."""

    @property
    def steps_words(self) -> str:
        """Say in how many steps it breaks the rule."""
        return f"{'' if self.shortest else 'at most '}{self.steps} step{'s' if self.steps != 1 else ''}"

    @property
    def place(self) -> PlanRef:
        """The guilty place: the cause if known, else where it shows."""
        return self.guilt.place if self.blame is None else self.blame.place


class Proof(NamedTuple):
    """That a rule holds at every depth: over so many abstract states, in so many seconds."""

    states: int
    seconds: float
    as_long_as: tuple[str, ...] = ()
    """The rules that must hold for it: nothing is said of what comes after a step that breaks one of them."""
    left_out: tuple[str, ...] = ()
    """The notices and timers that were left out, since no rule can notice them."""

    @property
    def figures(self) -> str:
        """Say over how many states, and how long it took."""
        return f"proved over {self.states:,} abstract states, in {self.took}"

    @property
    def took(self) -> str:
        """Say how long it took, no more exactly than is of use."""
        digits = 0 if self.seconds >= 10 else 1 if self.seconds >= 1 else 3
        return duration_text(round(round(self.seconds, digits) * 1000))

    @property
    def condition(self) -> str:
        """Say which rules must hold for it, if any."""
        if not self.as_long_as:
            return ""
        return f"as long as {' and '.join(self.as_long_as)} {'holds' if len(self.as_long_as) == 1 else 'hold'}"


class Verdict(NamedTuple):
    """What is known of a rule: every guilty place with a shortest path to it, shortest first."""

    rule: Rule
    extent: SweepExtent
    counterexamples: tuple[Counterexample, ...]
    unused: tuple[PlanRef, ...] = ()
    """For `everything is used`: what was never met."""
    caveat: str = ""
    """Why it may be broken all the same: what was found and could not be proved."""
    proof: Proof | None = None
    """That it holds at every depth, if that was proved apart from the sweep."""
    not_proved: str = ""
    """Why it was not, if that was tried."""

    @property
    def every_depth(self) -> bool:
        """Whether what is said is said of every depth."""
        return self.extent.whole or self.proved

    @property
    def proved(self) -> bool:
        """Whether it is proved whatever other rules say."""
        return self.proof is not None and not self.proof.as_long_as

    @property
    def depth_words(self) -> str:
        """Say how deep it is known."""
        return "at every depth" if self.every_depth else self.extent.words

    @property
    def status(self) -> Status:
        """Whether it holds as far as is known."""
        if self.counterexamples:
            return "broken"
        if self.unused:
            return "broken" if self.extent.whole else "undecided"
        if self.proved:
            return "holds"
        if self.caveat or (self.extent.depth == 0 and not self.extent.whole):
            return "undecided"
        return "holds"

    @property
    def broken_in(self) -> str:
        """Say in how many steps a broken rule is broken, and in how many places."""
        first = min(self.counterexamples, key=lambda each: each.steps)
        places = f", {len(self.counterexamples)} violations" if len(self.counterexamples) > 1 else ""
        return f"broken in {first.steps_words}{places}"

    @property
    def words(self) -> str:
        """Say the verdict with how far it is known."""
        if self.counterexamples:
            return self.broken_in
        if self.unused:
            count = f"{len(self.unused)} never used"
            return f"broken: {count}" if self.extent.whole else f"undecided: {count} in {self.extent.depth} steps"
        if self.proved and self.proof is not None:
            return f"holds at every depth ({self.proof.figures})"
        open_because = f"; not proved: {self.not_proved}" if self.not_proved else ""
        if self.proof is not None:
            open_because = f"; at every depth {self.proof.condition}: {self.proof.figures}"
        if self.caveat:
            return f"undecided: {self.caveat}{open_because}"
        if self.status == "undecided":
            return f"undecided: not checked yet{open_because}"
        return f"holds {self.extent.words} ({self.extent.figures}{open_because})"
