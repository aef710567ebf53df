"""Commands that edit the plan: edit, change an operation, change its counterparts, sketch."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app import messages
from wise_ladder.app.completers import completer
from wise_ladder.errors import LadderError
from wise_ladder.plan.model import Guard, Move, PlanPart, Redirect
from wise_ladder.plan.triggers import TapTrigger
from wise_ladder.plan.world import Link
from wise_ladder.semantics.reasons import redirect_words

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

    from wise_ladder.app.document import Document
    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.plan.completion import Completion
    from wise_ladder.plan.crossings import Crossing
    from wise_ladder.plan.edit_moves import PlanField
    from wise_ladder.semantics.reasons import Reason


USUAL: dict[type[PlanPart], tuple[tuple[str, ...], str]] = {
    Move: (("when", "if", "do"), "do"),
    Guard: (("name", "if"), "if"),
    Redirect: (("to", "if"), "if"),
    Link: (("address", "build", "mode"), "build"),
}
"""The keys that are offered when something is edited, and the one it begins with."""
MOST_SHOWN = 10
"""Completions of a line."""


def thing_words(thing: PlanPart) -> str:
    """Name a move, guard, redirect or link."""
    if isinstance(thing, Move):
        return f"{thing.owner or 'anywhere'}, when {thing.when}"
    if isinstance(thing, Guard):
        return f"guard {thing.name}"
    if isinstance(thing, Link):
        return f"link {thing.address}"
    return f"redirect of {redirect_words(thing)}"


class EditCommands:
    """The commands that change what the plan says; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Host, document: Callable[[], Document], edit_another: Callable[[], None]) -> None:
        """Change the plan of the document that `document` returns; `edit_another` asks for a part where none is selected."""
        self.host, self._document, self._edit_another = host, document, edit_another
        self._counterparts: tuple[Plan | None, str, list[tuple[str | None, int]]] = (None, "", [])
        """The plan after a move was turned, into what, and the place and number of each move that could follow it."""

    @property
    def document(self) -> Document:
        """Where the plan lies."""
        return self._document()

    @property
    def plan(self) -> Plan:
        """The plan as it is now."""
        return self.host.plan

    def cmd_edit(self) -> None:
        things = self.host.selected_parts()
        if len(things) == 1:
            self.edit(things[0])
        elif things:
            self._choose(things)
        else:
            self._edit_another()

    def edit_one_of(self, asked: Iterable[Reason]) -> None:
        """Edit what took it, among those that were asked."""
        taken = (each.thing for each in asked if each.verdict == "took it")
        things = list(dict.fromkeys(thing for thing in taken if isinstance(thing, PlanPart)))
        if len(things) > 1:
            self._choose(things)
        elif things:
            self.edit(things[0])
        else:
            self.host.show_message(messages.NOTHING_DECIDED, wrong=True)

    def _choose(self, things: Sequence[PlanPart]) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

        choices = [ListItem(thing_words(thing), thing.text if isinstance(thing, Move) else "", thing) for thing in things]

        def chosen(thing: PlanPart | str | None) -> None:
            if isinstance(thing, PlanPart):
                self.edit(thing)

        self.host.push_screen(ListDialog(messages.EDIT_WHICH, choices, soft=self.host.palette.soft), chosen)

    def edit(self, thing: PlanPart) -> None:
        """Edit what is written of a move, guard, redirect or link."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.plan.edit_moves import PlanField, fields  # noqa: PLC0415

        try:
            by_key = {field.key: field for field in fields(self.document.text, thing.at)}
        except LadderError as error:
            self.host.show_message(str(error), wrong=True)
            return
        usual, first = USUAL[type(thing)]
        shown = {key: by_key.get(key, PlanField(key, "")) for key in dict.fromkeys((*usual, *by_key))}
        where = thing.owner if isinstance(thing, Move) else thing.id.owner if isinstance(thing, Guard) else None
        carried = thing.trigger.carries if isinstance(thing, Move) and isinstance(thing.trigger, TapTrigger) else ()
        lines = [FormField(key, field.text, completer(self.plan, key, where, carried)) for key, field in shown.items()]

        def take(typed: list[str]) -> str:
            new = {
                key: field._replace(text=text)
                for (key, field), text in zip(shown.items(), typed, strict=True)
                if text.strip() != field.text.strip()
            }
            return self._changed(thing, new)

        hint = messages.EDIT_HINT if "do" in shown else messages.FORM_HINT
        self.host.push_screen(FormDialog(thing_words(thing), lines, take, hint=hint, first=list(shown).index(first)))

    def cmd_turn(self) -> None:
        from wise_ladder.plan.edit_moves import PlanField  # noqa: PLC0415
        from wise_ladder.plan.yaml_text import next_operation  # noqa: PLC0415

        move = next((thing for thing in self.host.selected_parts() if isinstance(thing, Move)), None)
        if move is None:
            self.host.show_message(messages.NO_MOVE_TAKEN, wrong=True)
            return
        try:
            wrong = self._changed(move, {"do": PlanField("do", "; ".join(next_operation(move.phrases)))})
        except LadderError as error:
            wrong = str(error)
        if wrong:
            self.host.show_message(wrong, wrong=True)

    def _changed(self, thing: PlanPart, new: dict[str, PlanField]) -> str:
        """Put other words in the place of a thing's; return what is wrong with them, nothing if they were taken."""
        from wise_ladder.plan.edit_moves import set_fields  # noqa: PLC0415

        # The places of a thing are those of the text it was read from.
        self.document.look_at_file()
        if not any(known is thing or known == thing for known in self.plan.things):
            return messages.PLAN_CHANGED
        before = self.plan
        wrong = self.document.edit_text(lambda text: set_fields(text, thing.at, new), thing_words(thing)) if new else ""
        if not wrong and isinstance(thing, Move) and "do" in new:
            self._look_for_counterparts(before, thing)
        return wrong

    # Counterparts

    def _look_for_counterparts(self, before: Plan, move: Move) -> None:
        """After an operation was turned: find the moves there and back, and those of the same trigger, that are as it was."""
        from wise_ladder.plan.crossings import crossings  # noqa: PLC0415

        now = next((other for other in self.plan.moves if (other.owner, other.number) == (move.owner, move.number)), None)
        was = [crossing for crossing in crossings(before) if crossing.part is move]
        became = [crossing for crossing in crossings(self.plan) if crossing.part is now]
        if now is None or len(was) != 1 or len(became) != 1 or was[0].kind == became[0].kind or was[0].end != became[0].end:
            return

        def follows(crossing: Crossing) -> bool:
            back = (crossing.start, crossing.end) == (was[0].end, was[0].start)
            same = isinstance(crossing.part, Move) and crossing.part.when == move.when and crossing.end == was[0].end
            return crossing.kind == was[0].kind and crossing.part is not now and (back or same)

        parts = [each.part for each in crossings(self.plan) if follows(each)]
        moves = [thing for thing in parts if isinstance(thing, Move)]
        if moves:
            self._counterparts = (self.plan, became[0].kind, [(thing.owner, thing.number) for thing in moves])
            names = "; ".join(f"{thing.owner}, {thing.when}" for thing in moves[:2]) + ("; ..." if len(moves) > 2 else "")
            self.host.status_line.append_message(messages.COUNTERPARTS.format(names=names))

    def cmd_counterpart(self) -> None:
        from wise_ladder.plan.crossings import crossings  # noqa: PLC0415
        from wise_ladder.plan.edit_moves import set_operations  # noqa: PLC0415
        from wise_ladder.plan.yaml_text import next_operation  # noqa: PLC0415

        plan, wanted, places = self._counterparts
        if plan is not self.plan:
            self.host.show_message(messages.NO_COUNTERPARTS, wrong=True)
            return
        for where, number in places:
            for _ in range(4):
                move = next(move for move in self.plan.moves if (move.owner, move.number) == (where, number))
                if any(crossing.kind == wanted for crossing in crossings(self.plan) if crossing.part is move):
                    break
                wrong = self.document.edit_text(
                    lambda text, move=move: set_operations(text, move, next_operation(move.phrases)),  # type: ignore[misc]
                    f"{where or 'anywhere'}, when {move.when}",
                )
                if wrong:
                    self.host.show_message(wrong, wrong=True)
                    return

    # Sketching

    def cmd_add(self) -> None:
        self.sketch(None, climbs=False)

    def add_part(self, where: str | None, line: str, *, climbs: bool = False) -> str:
        """Add the part that a line says; `climbs`: and take its tap. Return what is wrong with it, nothing if it was added."""
        try:
            made = _made(self.plan, self.document.text, where, line)
        except LadderError as error:
            return str(error).partition("\n")[0]
        wrong = self.document.edit_text(lambda text: _made(self.plan, text, where, line).text, made.words)
        if not wrong and climbs and made.tap:
            self.host.take_step(self.host.cursor.first_tap(made.tap))
        if not wrong:
            self.host.status_line.append_message(messages.ADDED.format(what=made.words))
        return wrong

    def complete_part(self, where: str | None, typed: str, first: str = "") -> list[Completion]:
        """List what may come next in a line that adds a part; `first` is the kind of part that is offered first."""
        from wise_ladder.plan.addition import is_addition  # noqa: PLC0415
        from wise_ladder.plan.complete_addition import complete_addition  # noqa: PLC0415
        from wise_ladder.plan.sketch import complete_sketch  # noqa: PLC0415

        offered = complete_addition(self.plan, where, typed, first)
        if where is not None and not is_addition(self.plan, where, typed):
            offered = [*complete_sketch(self.plan, where, typed), *offered]
        return list(dict.fromkeys(offered))[:MOST_SHOWN]

    def sketch(self, where: str | None, *, climbs: bool, first: str = "", text: str = "") -> None:
        """Ask for a new part in one line and add it to the plan: of a place a tap first of all, which `climbs` takes.

        `first` is the kind of part that is offered first, `text` what stands in the line already.
        """
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415

        def take(typed: list[str]) -> str:
            return self.add_part(where, typed[0], climbs=climbs)

        def tell(typed: str) -> str:
            try:
                return _made(self.plan, self.document.text, where, typed).words if typed.strip() else ""
            except LadderError as error:
                return str(error).partition("\n")[0]

        title, hint = messages.NEW[first]
        if where is not None:
            title, hint = messages.NEW_TAP.format(screen=where), messages.NEW_TAP_HINT
        self.host.push_screen(
            FormDialog(
                title, [FormField("", text, lambda typed: self.complete_part(where, typed, first))], take, hint=hint, tell=tell
            )
        )


class _Made(NamedTuple):
    """What a line makes of a plan's text, in words, and the tap that it adds, nothing if it adds none."""

    text: str
    words: str
    tap: str


def _made(plan: Plan, text: str, where: str | None, typed: str) -> _Made:
    """Read a line as a part of any kind, else as a tap. Raises WriteError or PlanError if it can be neither."""
    from wise_ladder.plan.addition import add_typed, is_addition  # noqa: PLC0415
    from wise_ladder.plan.rename import tap_name  # noqa: PLC0415
    from wise_ladder.plan.sketch import add_sketch, parse_sketch  # noqa: PLC0415

    if where is None or is_addition(plan, where, typed):
        added = add_typed(text, where, typed)
        words = ", ".join((added.words, *(f"{each} is new" for each in added.new)))
        return _Made(added.text, words, tap_name(typed.partition(":")[0]))
    drawn = parse_sketch(plan, where, typed)
    return _Made(add_sketch(text, where, drawn), drawn.words, drawn.tap)
