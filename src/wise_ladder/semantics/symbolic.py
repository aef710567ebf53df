"""Symbolic parts of a state: ladder rows and facts that no code has read yet.

The sweep runs the two halves of `step` on states that leave out all but the head. Reading something that is left out raises
`RefinementNeeded`; that part is put in, and the step runs again. What a step does without reading a part, it does in all states
that differ only in that part, so each decision is made once.
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, Literal, NamedTuple, NoReturn, Self, SupportsIndex, TypeAlias, TypeVar, cast

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.values import Arguments
    from wise_ladder.semantics.state import Ladder, OverlayInstance, PendingCall, Result, Rung, RungData


_T = TypeVar("_T")
UNKNOWN_CALLER = -(1 << 20)
"""The serial of the caller of a call, if it was left out: the mark of the call tells which rung it is."""
RefinementKind: TypeAlias = Literal[
    "fact", "calling", "rung", "rest", "rests", "asker", "sought", "sought anywhere", "ladder", "sought in ladder", "shape"
]
SearchTarget: TypeAlias = "RungData | tuple[str, Arguments] | frozenset[str]"
"""What is sought among rungs: exact data, a screen with these arguments, or any of some screens."""


class RefinementNeeded(Exception):  # noqa: N818 - a question is no error
    """Something left out is looked at.

    A fact, the names of the calls, a hidden ladder, all behind a veil; of a part of a ladder the highest rung, the asker, what
    is sought there, or what can come of it (`StackRest`). The last two are asked of all parts at once first.
    """

    def __init__(self, what: RefinementKind, number: int, mark: int = 0, sought: SearchTarget | None = None) -> None:
        """Name it by the place of the fact, or the number of the cut; `mark`: of which call the asker is; `sought`: what is."""
        super().__init__(what, number, mark, sought)
        self.what, self.number, self.mark, self.sought = what, number, mark, sought


SAVED, PLAIN, SETTLED = 1, 2, 4
"""What can be true of rungs, a bit each; `LeftOut` says what each means."""
QUIET = SAVED | PLAIN | SETTLED
ASKERS = 8
"""The mark that asks which calls the rungs made."""
OF_ALL = 16
"""Added to a mark: the question was asked of all rungs that are left out, and it is not true of all of them."""


class StackRest(NamedTuple):
    """What can come of rungs that are left out."""

    quiet: int
    """Which of `SAVED`, `PLAIN` and `SETTLED` is true of all of them."""
    askers: int
    """The marks of the calls that they made."""

    def answer(self, mark: int) -> RestAnswer:
        """Answer what is asked by a mark."""
        return RestAnswer(mark, self.askers if mark == ASKERS else self.quiet & mark)


class RestAnswer(NamedTuple):
    """What was asked of what can come of rungs, a bit of `QUIET` or `ASKERS`, and the answer."""

    mark: int
    value: int


def answered(answers: tuple[RestAnswer, ...], mark: int) -> int | None:
    """Return the answer to what is asked by a mark, None if nobody asked."""
    return next((each.value for each in answers if each.mark == mark), None)


class StackKnowledge(NamedTuple):
    """What is known of rungs that are left out."""

    rest: tuple[RestAnswer, ...] = ()
    """What can come of them."""
    lacks: frozenset[SearchTarget] = frozenset()
    """What was sought there, and was not found."""
    tried: frozenset[SearchTarget] = frozenset()
    """What was sought in all rungs that are left out, and is in some of them."""
    as_is: bool = True
    """Whether they are as they were; else they are as they are saved."""


NOTHING_KNOWN = StackKnowledge()


class LeftOut:
    """Something that stands for rungs, and answers what can come of them: each answer may need a look."""

    __slots__ = ()

    def _asked(self, mark: int) -> int:
        """Answer what is asked by a mark, or raise RefinementNeeded."""
        raise NotImplementedError

    @property
    def askers(self) -> int:
        """The marks of the calls that they made."""
        return self._asked(ASKERS)

    @property
    def saved(self) -> bool:
        """Whether they are as they would be saved."""
        return bool(self._asked(SAVED))

    @property
    def plain(self) -> bool:
        """Whether nothing happens when they go."""
        return bool(self._asked(PLAIN))

    @property
    def settled(self) -> bool:
        """Whether none of them has a result to deliver, and none stands in for the wanted place."""
        return bool(self._asked(SETTLED))


class SymbolicRungs(LeftOut):
    """Stands in a ladder for rungs that were left out: for one where it is the lowest, else for one or several.

    None of them is known to timers, overlays or guards that come first.
    """

    __slots__ = ("as_is", "lacks", "number", "rest", "serial", "tried", "what")

    cut = True
    inner: tuple[Ladder, ...] = ()
    overlays: tuple[OverlayInstance, ...] = ()
    timed: frozenset[int] = frozenset()

    def __init__(self, number: int, what: RefinementKind, known: StackKnowledge) -> None:
        """Number the cuts of a state from 0; `what` is refined if more must be known. Made only by `cut`."""
        self.number, self.what, self.serial = number, what, -2 - number
        self.rest, self.lacks, self.tried, self.as_is = known

    def _asked(self, mark: int) -> int:
        answer = answered(self.rest, mark)
        if answer is None:
            if answered(self.rest, mark | OF_ALL) is None:
                raise RefinementNeeded("rests", 0, mark)
            raise RefinementNeeded("rest", self.number, mark)
        return answer

    def holds(self, sought: SearchTarget) -> bool:
        """Whether what is sought is there; raises RefinementNeeded if that is not known, and when it is there."""
        if sought in self.lacks:
            return False
        if not self.as_is and not isinstance(sought, frozenset):
            self._look()
        raise self._search(sought)

    def holds_one_of(self, screens: frozenset[str], watched: frozenset[str]) -> bool:
        """Whether one of some screens is there, as `holds` does; `watched`: those that are often asked for, too."""
        if any(isinstance(lacking, frozenset) and screens <= lacking for lacking in self.lacks):
            return False
        raise self._search(screens | watched)

    def _search(self, sought: SearchTarget) -> RefinementNeeded:
        if sought not in self.tried:
            return RefinementNeeded("sought anywhere", 0, sought=sought)
        return RefinementNeeded("sought" if self.what == "rung" else "sought in ladder", self.number, sought=sought)

    def without(self, sought: SearchTarget) -> SymbolicRungs:
        """Return the same, of which it is known that this is not there."""
        return self._with(self._known._replace(lacks=self.lacks | {sought}))

    def with_try(self, sought: SearchTarget) -> SymbolicRungs:
        """Return the same, of which it is known that this is there or in other rungs that are left out."""
        return self._with(self._known._replace(tried=self.tried | {sought}))

    def with_answer(self, answer: RestAnswer) -> SymbolicRungs:
        """Return the same, of which more is known of what can come of it."""
        return self._with(self._known._replace(rest=(*self.rest, answer)))

    def as_saved(self) -> SymbolicRungs:
        """Return what stands for these rungs as they are saved: then no result is on its way, and no call is pending."""
        rest = (*(each for each in self.rest if each.mark not in {SETTLED, ASKERS}), RestAnswer(SETTLED, SETTLED))
        # What they held may be gone, so of exact data nothing is known.
        lacks, tried = (frozenset(each for each in those if isinstance(each, frozenset)) for those in (self.lacks, self.tried))
        return self._with(StackKnowledge((*rest, RestAnswer(ASKERS, 0)), lacks, tried, as_is=False))

    @property
    def _known(self) -> StackKnowledge:
        return StackKnowledge(self.rest, self.lacks, self.tried, self.as_is)

    def _with(self, known: StackKnowledge) -> SymbolicRungs:
        return _cut(self.number, self.what, known)

    @property
    def data(self) -> RungData:
        """Reading it needs a look."""
        self._look()

    @property
    def front(self) -> Ladder:
        """Iterating over it needs a look."""
        self._look()

    @property
    def undelivered(self) -> tuple[Result, ...]:
        """Delivering to it needs a look."""
        self._look()

    def _look(self) -> NoReturn:
        raise RefinementNeeded(self.what, self.number)


class SymbolicLadder(tuple["Rung", ...]):
    """Stands for a whole ladder inside tabs that is not seen, which may be empty: a cut for all its rungs."""

    __slots__ = ()

    def _look(self) -> RefinementNeeded:
        (rung,) = self
        return RefinementNeeded("ladder", cast("SymbolicRungs", rung).number)

    def __len__(self) -> int:
        """Counting its rungs needs a look."""
        raise self._look()

    def __bool__(self) -> bool:
        """Whether it is empty needs a look."""
        raise self._look()

    def __getitem__(self, place: SupportsIndex | slice) -> NoReturn:
        """Indexing it needs a look."""
        raise self._look()


@cache
def _cut(number: int, what: RefinementKind, known: StackKnowledge) -> SymbolicRungs:
    return SymbolicRungs(number, what, known)


@cache
def cut(number: int, lacks: frozenset[SearchTarget] = frozenset()) -> Rung:
    """Return what stands for rungs that were left out: equal ones are one."""
    return cast("Rung", _cut(number, "rung", StackKnowledge(lacks=lacks)))


@cache
def hidden(number: int) -> SymbolicLadder:
    """Return what stands for a whole ladder that was left out: equal ones are one."""
    return SymbolicLadder((cast("Rung", _cut(number, "ladder", NOTHING_KNOWN)),))


def each_cut(ladder: Ladder) -> Iterator[SymbolicRungs]:
    """Go through what stands for the tails of a ladder."""
    for rung in ladder:
        if rung.cut:
            yield cast("SymbolicRungs", rung)
        else:
            for inner in rung.inner:
                yield from each_cut(inner)


def lowest_cuts(ladder: Ladder) -> Iterator[int]:
    """Go through the numbers of the cuts that stand for the lowest rung of a ladder: for that one alone."""
    for place, rung in enumerate(ladder if not isinstance(ladder, SymbolicLadder) else ()):
        if rung.cut and place == 0:
            yield cast("SymbolicRungs", rung).number
        for inner in rung.inner:
            yield from lowest_cuts(inner)


class SymbolicFact(str):
    """Stands for the value of a fact that no code read; it can be kept and replaced, and compared only with itself."""

    __slots__ = ("place",)

    place: int

    def __new__(cls, place: int) -> Self:
        """Stand for the fact at a place."""
        fact = super().__new__(cls, f"\0{place}")
        fact.place = place
        return fact

    def __eq__(self, other: object) -> bool:
        if other is self:
            return True
        raise RefinementNeeded("fact", self.place)

    def __ne__(self, other: object) -> bool:
        return not self == other

    def __bool__(self) -> bool:
        """Whether it is empty needs a look."""
        raise RefinementNeeded("fact", self.place)

    __hash__ = str.__hash__


def looked_at(value: str) -> str:
    """Return the value of a fact; raises RefinementNeeded if it was left out."""
    if isinstance(value, SymbolicFact):
        raise RefinementNeeded("fact", value.place)
    return value


class RepliedCall(NamedTuple):
    """A call that gets a reply, where that is all that is known of what is pending."""

    call: PendingCall
    again: bool
    """Whether others of its name are pending."""


class PendingKnowledge(NamedTuple):
    """What is known of what is pending, where the rest was not looked at."""

    names: frozenset[str] | None = None
    """The names of the calls, None if nobody asked."""
    replied: RepliedCall | None = None
    """The call that gets a reply."""
    over: bool = False
    """Whether it got it, and is pending no more."""
    dropped: frozenset[str] = frozenset()
    """The names of calls that were given up."""
    turned: bool = False
    """Whether something else is seen since."""
    lost: int = 0
    """The marks of calls that were made by rungs that are left out, and are gone since."""


class SymbolicPart:
    """Stands for a part that no code looked at: the wanted place, or what is pending.

    Of what is pending it is known which rungs and overlays it speaks of, and perhaps more.
    """

    __slots__ = ("callers", "known", "place", "timed")

    def __init__(self, place: int, timed: frozenset[int], callers: frozenset[int], known: PendingKnowledge) -> None:
        """Stand in the place after the facts; made by `untold` alone.

        `timed`: the serials of what must stay in sight; `callers`: those of other rungs that made calls.
        """
        self.place, self.timed, self.callers, self.known = place, timed, callers, known

    def look(self) -> RefinementNeeded:
        """Return the question for all of it."""
        return RefinementNeeded("fact", self.place)

    def _look(self, *_: object) -> NoReturn:
        raise self.look()

    def __contains__(self, name: object) -> bool:
        """Whether a call of a name is pending; raises RefinementNeeded if not even that is known."""
        names, replied, over, dropped, *_ = self.known
        if name in dropped:
            return False
        if replied is not None and replied.call.name == name:
            return replied.again or not over
        if names is None:
            raise RefinementNeeded("calling", self.place)
        return name in names

    def taken(self) -> tuple[PendingCall, SymbolicPart]:
        """Return the call that gets a reply, and what stands for the others; raises RefinementNeeded if none is known."""
        if self.known.replied is None:
            raise self.look()
        return self.known.replied.call, untold(self.place, self.timed, self.callers, self.known._replace(over=True))

    def without(self, name: str) -> SymbolicPart:
        """Return what stands for the others when the calls of a name are given up."""
        known = self.known._replace(dropped=self.known.dropped | {name})
        return untold(self.place, self.timed, self.callers, known)

    __bool__ = __len__ = __iter__ = __getattr__ = _look


NOTHING_PENDING_KNOWN = PendingKnowledge()


@cache
def untold(
    place: int,
    timed: frozenset[int] = frozenset(),
    callers: frozenset[int] = frozenset(),
    known: PendingKnowledge = NOTHING_PENDING_KNOWN,
) -> SymbolicPart:
    """Return the placeholder of a part that no code looked at; equal ones are one object."""
    return SymbolicPart(place, timed, callers, known)


def told(under_way: tuple[_T, ...]) -> tuple[_T, ...]:
    """Return what is pending, nothing if it is left out.

    Removing what it refers to needs no look: abstraction notices what is missing.
    """
    return () if isinstance(under_way, SymbolicPart) else under_way


UNREAD = tuple(SymbolicFact(place) for place in range(256))
"""One for each place, so that two states that left out the same fact are equal."""
