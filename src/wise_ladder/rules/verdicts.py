"""What is known of a rule, and how far; and the shortest steps that break it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple

if TYPE_CHECKING:
    from wise_ladder.plan.model import Rule
    from wise_ladder.rules.blaming import Blame
    from wise_ladder.rules.choices import Choice
    from wise_ladder.rules.edges import Guilt, Place
    from wise_ladder.walks.tape import Tape

Status = Literal["holds", "broken", "undecided"]


class Bounds(NamedTuple):
    """Where a sweep stops: after so many steps, so many seconds, at so many states, where it has taken so many bytes."""

    depth: int = 1_000
    seconds: float = 10.0
    states: int = 1_000_000
    memory: int = 2_000_000_000


class Known(NamedTuple):
    """How far a sweep got: all that can happen in so many steps, so many states; `whole`: there are no others."""

    depth: int
    states: int
    whole: bool
    stopped: str
    seconds: float

    @property
    def words(self) -> str:
        """Say it in a few words."""
        return "at every depth" if self.whole else f"to depth {self.depth}"

    @property
    def figures(self) -> str:
        """Say how many states that is."""
        return f"{self.states:,} states, all there are" if self.whole else f"{self.states:,} states"


class Counterexample(NamedTuple):
    """The shortest steps that break a rule, run with real times: where and how it shows, and who is to blame."""

    guilt: Guilt
    tape: Tape
    steps: int
    round_begins: int | None = None
    """Of a pile-up: after how many steps of the tape the round begins that can be repeated."""
    refused: Choice | None = None
    """What does nothing at the end, where that is the fault."""
    blame: Blame | None = None
    """The move or link that is to blame, where it is another one than where it shows."""

    @property
    def place(self) -> Place:
        """The guilty place: who is to blame, else where it shows."""
        return self.guilt.place if self.blame is None else self.blame.place


class Verdict(NamedTuple):
    """What is known of a rule: every guilty place with a shortest path to it, shortest first."""

    rule: Rule
    known: Known
    guilty: tuple[Counterexample, ...]
    unused: tuple[Place, ...] = ()
    """Of `everything is used`: what nothing met."""
    doubt: str = ""
    """Why it may be broken all the same: what was found and could not be proved."""

    @property
    def status(self) -> Status:
        """Whether it holds as far as is known."""
        if self.guilty:
            return "broken"
        if self.unused:
            return "broken" if self.known.whole else "undecided"
        if self.doubt or (self.known.depth == 0 and not self.known.whole):
            return "undecided"
        return "holds"

    @property
    def words(self) -> str:
        """Say the verdict with how far it is known."""
        if self.guilty:
            steps = min(counterexample.steps for counterexample in self.guilty)
            places = f", {len(self.guilty)} guilty places" if len(self.guilty) > 1 else ""
            return f"broken in {steps} step{'s' if steps != 1 else ''}{places}"
        if self.unused:
            count = f"{len(self.unused)} never used"
            return f"broken: {count} {self.known.words}" if self.known.whole else f"undecided: {count} {self.known.words}"
        if self.doubt:
            return f"undecided: {self.doubt}"
        if self.status == "undecided":
            return "undecided: nothing was looked at yet"
        return f"holds {self.known.words} ({self.known.figures})"
