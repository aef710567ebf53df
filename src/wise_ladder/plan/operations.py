"""Operations: what the phrases of a move do, as plain data."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal, NamedTuple, TypeAlias, get_args

from msgspec import Struct

from wise_ladder.plan.values import Arguments, Value

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator


class Variable(Struct, frozen=True, tag=True):
    """`$id` in a phrase: the argument of that name where the move stands, or one that its tap carries."""

    name: str


class FactValue(Struct, frozen=True, tag=True):
    """`$draft` in what is returned: the value of a fact when that is done; `own`: of the place that the move stands on."""

    name: str
    own: bool


ResultPart: TypeAlias = Value | Variable | FactValue
NamedParts: TypeAlias = tuple[tuple[str, ResultPart], ...]


# Operations


class Target(Struct, frozen=True, tag=True):
    """A screen with the arguments it is to get."""

    screen: str
    arguments: tuple[tuple[str, Value | Variable], ...] = ()

    @property
    def fixed(self) -> Arguments:
        """The arguments that are no variables: all of them once variables were filled in."""
        return tuple((name, value) for name, value in self.arguments if isinstance(value, (str, int)))


CrossingKind: TypeAlias = Literal[
    "push", "replace", "clear, then push", "reach", "pop", "pop to", "return", "redirect", "leave", "switch", "stay"
]


class OperationRecord(NamedTuple):
    """What is known of all operations of a kind: what a plan says for them, and what they do, as far as others must know."""

    begins: tuple[str, ...]
    """The words that a phrase may begin with; none: no phrase says it."""
    more: tuple[str, ...]
    """The words that may come later in a phrase."""
    crossing: CrossingKind
    """How the table of crossings draws it: to its target, or to what is beneath; `stay`: not at all."""
    drops: bool = False
    """Whether rungs of its ladder go; a move does that at most once on a ladder."""
    puts: bool = False
    """Whether it puts a rung on its ladder."""
    shows: bool = False
    """Whether it brings a screen."""
    quiet: bool = False
    """Whether its effect is invisible."""
    ends_flow: bool = False
    """Whether a flow may go with what it drops."""


class Push(Struct, frozen=True, tag=True):
    """A new rung on top; `once`: nothing if it would stand on its twin; `awaiting`: the caller waits for this result."""

    record: ClassVar = OperationRecord(("push",), ("once", "awaiting"), "push", puts=True, shows=True)

    target: Target
    once: bool = False
    awaiting: str = ""


class Replace(Struct, frozen=True, tag=True):
    """The top rung goes and the new one takes its place."""

    record: ClassVar = OperationRecord(("replace",), (), "replace", puts=True, shows=True)

    target: Target


class Pop(Struct, frozen=True, tag=True):
    """So many rungs go, one after the other; `otherwise` is done at the lowest of the ladder."""

    record: ClassVar = OperationRecord(("pop",), ("else",), "pop", drops=True, ends_flow=True)

    rungs: int = 1
    fallback: Operation | None = None


class PopTo(Struct, frozen=True, tag=True):
    """Down to the nearest rung of the screen, given arguments compared; `drop`: that one goes too. Looks beneath."""

    record: ClassVar = OperationRecord(("pop to",), ("and drop it", "else"), "pop to", drops=True, ends_flow=True)

    target: Target
    drop: bool = False
    fallback: Operation | None = None


class PopToRoot(Struct, frozen=True, tag=True):
    """All rungs of this ladder but the lowest go."""

    record: ClassVar = OperationRecord(("pop to root",), (), "pop to", drops=True)


class Clear(Struct, frozen=True, tag=True):
    """All rungs of this ladder go."""

    record: ClassVar = OperationRecord(("clear",), (), "stay", drops=True)


class Reach(Struct, frozen=True, tag=True):
    """Back to the nearest rung of the screen, which gets the arguments; a push if there is none. Looks beneath."""

    record: ClassVar = OperationRecord(("reach",), ("exactly",), "reach", puts=True, shows=True)

    target: Target
    exactly: bool = False


class SetFact(Struct, frozen=True, tag=True):
    """A fact of the app gets a value."""

    record: ClassVar = OperationRecord(("set",), (), "stay", quiet=True)

    name: str
    value: str | Variable


class SetRungFact(Struct, frozen=True, tag=True):
    """A fact of the rung the move stands on gets a value."""

    record: ClassVar = OperationRecord(("set",), (), "stay", quiet=True)

    name: str
    value: str | Variable


class TakeBack(Struct, frozen=True, tag=True):
    """Facts get the values back that they had before the move that opened this overlay."""

    record: ClassVar = OperationRecord(("take back",), (), "stay", quiet=True)


class Leave(Struct, frozen=True, tag=True):
    """The app is left by its own code."""

    record: ClassVar = OperationRecord(("leave",), (), "leave")


class Return(Struct, frozen=True, tag=True):
    """The top rung goes and hands a value to the rung uncovered; `flow`: the whole flow of that name ends with it."""

    record: ClassVar = OperationRecord(("return",), ("from",), "return", drops=True, ends_flow=True)

    value: ResultPart | NamedParts
    flow: str = ""


class CloseFlow(Struct, frozen=True, tag=True):
    """A flow goes with all inside; of no name, the one at the level."""

    record: ClassVar = OperationRecord(("close",), (), "pop", ends_flow=True)

    flow: str


class Open(Struct, frozen=True, tag=True):
    """An overlay opens on the nearest place outwards that it belongs to."""

    record: ClassVar = OperationRecord(("show", "open"), ("awaiting",), "stay")

    overlay: str
    awaiting: str = ""


class Close(Struct, frozen=True, tag=True):
    """The overlay opened last closes, perhaps with a value; `overlay` names another."""

    record: ClassVar = OperationRecord(("close",), ("with",), "stay")

    value: ResultPart | NamedParts = ""
    """Nothing: without a value."""
    overlay: str = ""


class Switch(Struct, frozen=True, tag=True):
    """A tab comes to the front; `to_root`: and shrinks to its lowest rung. The rest of the move acts on its ladder."""

    record: ClassVar = OperationRecord(("switch",), ("to root",), "switch")

    tab: str
    to_root: bool = False
    going_back: bool = False
    """Whether it is Back that does it; no phrase says this."""


class Remember(Struct, frozen=True, tag=True):
    """What is seen becomes the wanted place."""

    record: ClassVar = OperationRecord(("remember this place",), (), "stay")


class GoToWanted(Struct, frozen=True, tag=True):
    """The top rung is replaced by the wanted place; `otherwise` is done if there is none."""

    record: ClassVar = OperationRecord(("go to wanted",), ("else",), "stay", puts=True, shows=True)

    fallback: Operation | None = None


class StartCall(Struct, frozen=True, tag=True):
    """A request is sent; the place that sends it gets the reply."""

    record: ClassVar = OperationRecord(("call",), (), "stay", quiet=True)

    call: str


class CancelCall(Struct, frozen=True, tag=True):
    """Requests of this name are cancelled: no reply comes any more."""

    record: ClassVar = OperationRecord(("cancel",), (), "stay", quiet=True)

    call: str


class StartTimer(Struct, frozen=True, tag=True):
    """A timer of the app begins, or begins anew."""

    record: ClassVar = OperationRecord(("start",), (), "stay", quiet=True)

    timer: str


class StopTimer(Struct, frozen=True, tag=True):
    """A timer of the app stops, and does not run out."""

    record: ClassVar = OperationRecord(("stop",), (), "stay", quiet=True)

    timer: str


class Follow(Struct, frozen=True, tag=True):
    """A link is followed from inside; `{id}` in the address stands for an argument. `whole`: its whole path is built."""

    record: ClassVar = OperationRecord(("follow",), (), "push", shows=True)

    address: str
    whole: bool = False


class OnFlow(Struct, frozen=True, tag=True):
    """An operation on the ladder inside a flow or tabs around the place, or on that of the `app`."""

    record: ClassVar = OperationRecord((), ("on", "app"), "stay")

    place: str
    operation: Operation


LeaveCause: TypeAlias = Literal["back", "pop", "own code", "empty", "swiped away"]
"""Why the app is left; `empty`: nothing is on its ladder."""


class LeaveByBack(Struct, frozen=True, tag=True):
    """Back or a pop at the root: the app is left or goes away, as the phone does it. No phrase says this."""

    record: ClassVar = OperationRecord((), (), "stay")

    away: bool = False
    cause: LeaveCause = "back"


class ChooseGoal(Struct, frozen=True, tag=True):
    """System Back looks for what it takes. No phrase says this; it is what Back is made of."""

    record: ClassVar = OperationRecord((), (), "stay")


class FillEmpty(Struct, frozen=True, tag=True):
    """A move left a ladder without rungs: a flow goes, a tab gets its first rung, the app is left. No phrase says this."""

    record: ClassVar = OperationRecord((), (), "stay")


class RecheckRedirects(Struct, frozen=True, tag=True):
    """A saved ladder comes back: its top goes through the redirects. No phrase says this; the phone does it."""

    record: ClassVar = OperationRecord((), (), "stay")


Operation: TypeAlias = (
    Push
    | Replace
    | Pop
    | PopTo
    | PopToRoot
    | Clear
    | Reach
    | SetFact
    | SetRungFact
    | TakeBack
    | Leave
    | Return
    | CloseFlow
    | Open
    | Close
    | Switch
    | Remember
    | GoToWanted
    | StartCall
    | CancelCall
    | StartTimer
    | StopTimer
    | Follow
    | OnFlow
    | LeaveByBack
    | ChooseGoal
    | FillEmpty
    | RecheckRedirects
)


OPERATIONS: tuple[type[Operation], ...] = get_args(Operation)
"""Every kind of operation."""


def inner(operation: Operation) -> Operation:
    """Return an operation without the ladder it names."""
    return inner(operation.operation) if isinstance(operation, OnFlow) else operation


def all_of(operations: Iterable[Operation]) -> Iterator[Operation]:
    """Go through operations and those inside them: on another ladder, and instead where one cannot be done."""
    for operation in operations:
        yield operation
        inside = operation.operation if isinstance(operation, OnFlow) else fallback_of(operation)
        yield from all_of([inside] if inside is not None else [])


def fallback_of(operation: Operation) -> Operation | None:
    """Return what is done instead where an operation cannot be done."""
    return operation.fallback if isinstance(operation, Pop | PopTo | GoToWanted) else None


Put: TypeAlias = Push | Replace | Reach
"""The operations that name a screen to be put."""


def puts(operations: Iterable[Operation]) -> Iterator[Put]:
    """Go through the operations that name a screen to be put, those inside others too."""
    return (operation for operation in all_of(operations) if isinstance(operation, Put))
