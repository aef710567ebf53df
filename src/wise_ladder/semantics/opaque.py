"""Opaque ladders: phone and outside events often depend on no rung, so they are decided once for all ladders.

Of what is behind a veil it is known only that something is there, and in what it stands in nobody's way. Whoever looks
closer is stopped by `RefinementNeeded`, as with all that is left out (`symbolic`).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple, NoReturn, SupportsIndex

from wise_ladder.semantics.symbolic import ASKERS, LeftOut, RefinementNeeded, answered

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Guard, Redirect
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

    __slots__ = ("_guards", "_hazy", "redirects")

    def __init__(self, guards: tuple[Guard, ...], hazy: frozenset[Way], redirects: tuple[Redirect, ...]) -> None:
        """Take the guards on it and on the overlays over it that depend on facts of the app, and the ways that others see.

        `redirects`: those that may turn a put of the screen on top away.
        """
        self._guards, self._hazy, self.redirects = guards, hazy, redirects

    def asked(self, way: Way) -> tuple[Guard, ...]:
        """Return the guards that are asked when all of it is left, inside out."""
        return _look() if way in self._hazy else self._guards

    def __bool__(self) -> bool:
        return True


class VeilKnowledge(NamedTuple):
    """What is known of all rungs behind a veil."""

    quiet: int
    """Which of `SAVED`, `PLAIN` and `SETTLED` is true of the rungs that the shape keeps."""
    path: OpaquePath
    timed: frozenset[int]
    """The serials that timers speak of."""
    wakes: bool
    """Whether something that is seen reacts when it comes to be seen."""
    layered: bool
    """Whether there are overlays over rungs."""
    watched: bool
    """Whether a screen is seen that must not go without being asked."""
    rest: tuple[RestAnswer, ...]
    """What can come of the rungs that the shape leaves out."""


class OpaqueRung(Opaque, LeftOut):
    """Stands for all rungs, and says what can come of them."""

    __slots__ = ("_known", "layered", "path", "timed", "wakes", "watched")

    cut = True
    serial = OPAQUE_SERIAL
    inner: tuple[Ladder, ...] = ()
    undelivered: tuple[Result, ...] = ()

    def __init__(self, known: VeilKnowledge) -> None:
        """Say what is known of them."""
        self._known, self.path, self.timed = known, known.path, known.timed
        self.wakes, self.layered, self.watched = known.wakes, known.layered, known.watched

    def _asked(self, mark: int) -> int:
        if mark != ASKERS and not self._known.quiet & mark:
            return 0
        answer = answered(self._known.rest, mark)
        if answer is None:
            raise RefinementNeeded("rests", 0, mark)
        return answer

    def as_saved(self) -> OpaqueRung:
        """Return what stands for all rungs as they are saved, if that makes no difference."""
        return self if self.saved else _look()

    def with_answer(self, answer: RestAnswer) -> OpaqueRung:
        """Return the same, of which more is known of what can come of the rungs that shapes leave out."""
        return OpaqueRung(self._known._replace(rest=(*self._known.rest, answer)))

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
