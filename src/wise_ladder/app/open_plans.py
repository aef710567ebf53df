"""The open plans: one is shown, the others wait with their edits and their tapes."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.document import Document
from wise_ladder.app.new_plan import ask_for_new
from wise_ladder.app.recovery import offer_left
from wise_ladder.errors import LadderError
from wise_ladder.plan.files import real_path, typed_path
from wise_ladder.plan.included import PlanText

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from wise_ladder.app.host import Host
    from wise_ladder.app.tape_cursor import Tapes


@dataclass
class OpenPlan:
    """A plan that is open, and its tapes while another plan is shown."""

    document: Document
    tapes: Tapes | None = None


class OpenPlans:
    """All open plans in the order they were opened; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(
        self, host: Host, document: Document, take_up: Callable[[str], None], recent: Callable[[], Sequence[str]]
    ) -> None:
        """Begin with one plan; `take_up` shows the plan in a view, after another was; `recent` lists the plans of before."""
        self.host, self._take_up, self._recent = host, take_up, recent
        self._plans, self._place = [OpenPlan(document)], 0

    @property
    def document(self) -> Document:
        """The plan that is shown."""
        return self._plans[self._place].document

    @property
    def number_words(self) -> str:
        """Say which of the open plans is shown, nothing if it is the only one."""
        return f"  {self._place + 1} of {len(self._plans)}" if len(self._plans) > 1 else ""

    def keep_unsaved(self) -> None:
        """Keep the edits of all plans for the next start."""
        for plan in self._plans:
            plan.document.keep_unsaved()

    def forget_unsaved(self) -> None:
        """Forget what was not saved: the program ends."""
        for plan in self._plans:
            plan.document.forget_unsaved()

    def may_quit(self) -> bool:
        """Whether all plans may close; the first one that has edits is shown, and asks."""
        for place in (self._place, *range(len(self._plans))):
            document: Document = self._plans[place].document
            if document.unsaved and not document.asked_to_close:
                self._go(place)
                return document.may_close()
        return True

    def _go(self, place: int) -> None:
        if place != self._place:
            self._plans[self._place].tapes = self.host.cursor.put_aside()
            self._bring(place, self.host.view_name)

    def _bring(self, place: int, view: str) -> None:
        self._place, plan = place, self._plans[place]
        if plan.tapes is None:
            self.host.cursor.begin(plan.document.plan)
        else:
            self.host.cursor.take_back(plan.tapes)
        self._take_up(view)

    def cmd_next_plan(self) -> None:
        if len(self._plans) == 1:
            self.host.show_message(messages.NO_OTHER_PLAN)
        else:
            self._go((self._place + 1) % len(self._plans))

    def cmd_close_plan(self) -> None:
        if len(self._plans) == 1:
            self.host.show_message(messages.ONLY_PLAN)
        elif self.document.may_close():
            self.document.forget_unsaved()
            del self._plans[self._place]
            self._bring(min(self._place, len(self._plans) - 1), self.host.view_name)

    def cmd_open(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog  # noqa: PLC0415
        from wise_ladder.app.plan_list import about, openable_plans  # noqa: PLC0415

        others = (plan.document for plan in self._plans if plan.document is not self.document and not plan.document.example)
        plans = openable_plans(Path(), self._recent(), [document.path for document in others])
        dialog = ListDialog(messages.WHICH_PLAN, plans, free=messages.FREE_PLAN, more=about, soft=self.host.palette.soft)
        self.host.push_screen(dialog, self._chosen)

    def _chosen(self, path: Path | str | None) -> None:
        from wise_ladder.app.plan_list import NEW, is_example  # noqa: PLC0415

        if path == NEW:
            ask_for_new(self.host, self.open_new)
        elif path is not None:
            path = typed_path(str(path))
            self.open(path, example=is_example(path))

    def open(self, path: Path, *, example: bool) -> str:
        """Show a plan, which is read if it is not open yet; return what is wrong with it, which is shown too."""
        from wise_ladder.plan.loader import read_file  # noqa: PLC0415

        there = self._place_of(path)
        if there is not None:
            self._go(there)
            return ""
        try:
            plan, text = read_file(path)
        except LadderError as error:
            words = str(error).partition("\n")[0]
            self.host.show_message(words, wrong=True)
            return words
        self._add(Document(self.host, plan, path, text, example=example))
        return ""

    def open_new(self, path: Path, text: str) -> str:
        """Open a plan that has no file yet; saving writes it. Return what is wrong with it."""
        from wise_ladder.plan.loader import read_plan_text  # noqa: PLC0415

        try:
            plan = read_plan_text(text, str(path))
        except LadderError as error:
            return str(error).partition("\n")[0]
        if path.exists() or self._place_of(path) is not None:
            return messages.PLAN_EXISTS.format(file=path)
        self._add(Document(self.host, plan, path, PlanText(text), example=False, new=True))
        self.document.keep_unsaved()
        return ""

    def _place_of(self, path: Path) -> int | None:
        wanted = real_path(path)
        return next((place for place, plan in enumerate(self._plans) if real_path(plan.document.path) == wanted), None)

    def _add(self, document: Document) -> None:
        """Show one more plan, in Climb."""
        self._plans[self._place].tapes = self.host.cursor.put_aside()
        self._plans.append(OpenPlan(document))
        self._bring(len(self._plans) - 1, "climb")
        offer_left(self.host, document, lambda: self.document is document)
