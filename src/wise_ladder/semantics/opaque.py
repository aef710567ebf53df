"""Opaque ladders: phone and outside events often depend on no rung, so they are decided once for all ladders.

Of what is behind a veil it is known only that something is there, and in what it stands in nobody's way. Whoever looks
closer is stopped by `RefinementNeeded`, as with all that is left out (`symbolic`).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NoReturn, SupportsIndex

from wise_ladder.semantics.symbolic import ASKERS, PLAIN, SAVED, SETTLED, RefinementNeeded, answered

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Guard
    from wise_ladder.plan.policies import Way
    from wise_ladder.semantics.state import Ladder, OverlayInstance, Result, Rung
    from wise_ladder.semantics.symbolic import RestAnswer

OPAQUE_SERIAL = -2
"""The serial of the rung that stands for all that is behind a veil."""


def _look(*_: object) -> NoReturn:
    raise RefinementNeeded("shape", 0)


class Opaque:
    """Anything that is behind a veil."""

    __slots__ = ()
    __len__ = __iter__ = __contains__ = __getitem__ = __reversed__ = __getattr__ = _look

    def __bool__(self) -> bool:  # noqa: PLE0304 - it never returns
        _look()


LAYERS_BEHIND = Opaque()
"""Stands for the overlays in a head."""


class OpaquePath(Opaque):
    """Stands for the visible path in a head: it is not empty."""

    __slots__ = ("_guards", "_hazy")

    def __init__(self, guards: tuple[Guard, ...], hazy: frozenset[Way]) -> None:
        """Take the guards on it and on the overlays over it that depend on facts of the app, and the ways that others see."""
        self._guards, self._hazy = guards, hazy

    def asked(self, way: Way) -> tuple[Guard, ...]:
        """Return the guards that are asked when all of it is left, inside out."""
        return _look() if way in self._hazy else self._guards

    def __bool__(self) -> bool:
        return True


class OpaqueRung(Opaque):
    """Stands for all rungs, and says what cannot come of them, as `SymbolicRungs` does.

    `quiet` and `askers` are those of the rungs that shapes keep, `rest` those of the rungs that they leave out. `wakes`:
    whether something that is seen reacts when it comes to be seen; `layered`: whether there are overlays over rungs;
    `watched`: whether a screen is seen that must not go without being asked.
    """

    __slots__ = ("layered", "path", "quiet", "rest", "timed", "wakes", "watched")

    cut = True
    serial = OPAQUE_SERIAL
    inner: tuple[Ladder, ...] = ()
    undelivered: tuple[Result, ...] = ()

    def __init__(  # noqa: PLR0913 - what is known of all rungs
        self,
        quiet: int,
        path: OpaquePath,
        timed: frozenset[int],
        *,
        wakes: bool,
        layered: bool,
        watched: bool,
        rest: tuple[RestAnswer, ...],
    ) -> None:
        """Say what is known of them."""
        self.quiet, self.path, self.timed, self.wakes, self.layered, self.rest = quiet, path, timed, wakes, layered, rest
        self.watched = watched

    def _asked(self, mark: int) -> int:
        answer = answered(self.rest, mark)
        if answer is None:
            raise RefinementNeeded("rests", 0, mark)
        return answer

    def _cannot(self, what: int) -> bool:
        return bool(self.quiet & what) and bool(self._asked(what))

    @property
    def askers(self) -> int:
        """The marks of the calls that rungs made that shapes leave out."""
        return self._asked(ASKERS)

    @property
    def saved(self) -> bool:
        """Whether they are as they would be saved."""
        return self._cannot(SAVED)

    @property
    def plain(self) -> bool:
        """Whether nothing happens when they go."""
        return self._cannot(PLAIN)

    @property
    def settled(self) -> bool:
        """Whether no result is to be delivered to them, and none of them stands in another's stead."""
        return self._cannot(SETTLED)

    def as_saved(self) -> OpaqueRung:
        """Return what stands for all rungs as they are saved, if that makes no difference."""
        return self if self.saved else _look()

    def with_answer(self, answer: RestAnswer) -> OpaqueRung:
        """Return the same, of which more is known of what can come of the rungs that shapes leave out."""
        rest = (*self.rest, answer)
        known = self.quiet, self.path, self.timed
        return OpaqueRung(*known, wakes=self.wakes, layered=self.layered, watched=self.watched, rest=rest)

    def __bool__(self) -> bool:
        return True

    @property
    def overlays(self) -> tuple[OverlayInstance, ...]:
        """Looking at them needs a look, unless there are none."""
        return _look() if self.layered else ()


class OpaqueLadder(tuple["Rung", ...]):
    """Stands for the app's ladder, which is not empty: its only rung, and its top, is a veil."""

    __slots__ = ()

    def __bool__(self) -> bool:
        return True

    def __len__(self) -> int:  # noqa: PLE0303 - it never returns
        """Counting its rungs needs a look."""
        _look()

    def __reversed__(self) -> Iterator[Rung]:
        return iter(self)

    def __getitem__(self, place: SupportsIndex | slice) -> Any:
        """Return the top, or all or nothing; anything else needs a look."""
        if place == -1:
            return next(iter(self))
        if place == slice(0, None):
            return self
        return () if place == slice(None, 0) else _look()
