"""A small part of Combfield as plain Python: an app with a back stack of its own, which knows nothing of plans.

`bugs` switches faults on: "toggle stacks", "form forgets to ask", "cancelled mark counts".
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass
class Screen:
    """A screen on the back stack, with what it was opened with and what it remembers."""

    name: str
    given: dict[str, Any] = field(default_factory=dict)
    keeps: dict[str, str] = field(default_factory=dict)
    waits_for: str = ""


class CombfieldApp:
    """The app: `stack` is its back stack, `question` the dialog that is open, `told` collects what it wants to report."""

    def __init__(self, bugs: frozenset[str] = frozenset()) -> None:
        """Begin as if it had just been installed."""
        self.bugs = bugs
        self.session = "none"
        self.running = False
        self.stack: list[Screen] = []
        self.question = ""
        self.leaving: Any = None
        self.wanted = False
        self.told: list[tuple[str, Any]] = []

    @property
    def top(self) -> Screen:
        """The screen that is seen."""
        return self.stack[-1]

    @property
    def has_arrow(self) -> bool:
        """Whether the header has a button that leads back."""
        return not self.question and len(self.stack) > 1 and self.top.name not in {"hives", "sign in"}

    def start(self) -> None:
        """The user taps the icon."""
        self.running, self.stack, self.question, self.wanted = True, [], "", False
        self.open("hives")

    def open(self, name: str, waits_for: str = "", **given: Any) -> None:
        """Open a screen over the one that is seen; without a session most lead to the sign-in."""
        if self.session == "none" and name in {"hives", "hive"}:
            name, given, self.wanted = "sign in", {}, True
        keeps = {"draft": "clean", "queen": "unmarked"} if name == "inspection" else {}
        if waits_for:
            self.top.waits_for = waits_for
        self.stack.append(Screen(name, given, keeps))

    def close(self, result: str | None = None) -> None:
        """Close the screen that is seen, and give its result to the one beneath."""
        self.stack.pop()
        if self.stack and self.top.waits_for:
            name, self.top.waits_for = self.top.waits_for, ""
            self.told.append((name, result))
            if name == "mark" and (result or "cancelled mark counts" in self.bugs):
                self.top.keeps.update(draft="edited", queen="marked")

    def back(self) -> None:
        """Back of the phone, or of the header: a form asks first, the last screen leaves the app."""
        if self.question:
            self.answer("keep writing")
        elif self.top.keeps.get("draft") == "edited" and "form forgets to ask" not in self.bugs:
            self.question = "unsaved inspection"
        elif len(self.stack) == 1:
            self.running, self.stack = False, []
        else:
            self.close()

    def answer(self, name: str) -> None:
        """Answer the dialog."""
        self.question = ""
        if name == "discard":
            self.close()

    def tap(self, name: str, **given: Any) -> bool:
        """Tap something on the screen that is seen; return whether it was there."""
        does = getattr(self, f"_{self.top.name}_{name}".replace(" ", "_").replace("'", ""), None)
        if does is None or self.question:
            return False
        return does(**given) is not False

    def _hives_hive(self, id: int) -> None:  # noqa: A002 - as the app calls it
        self.open("hive", id=id)

    def _hives_sign_out(self) -> None:
        self.session = "none"
        self.stack = []
        self.open("sign in")

    def _hive_frames(self) -> None:
        given = self.top.given
        if "toggle stacks" not in self.bugs:
            self.stack.pop()
        self.open("frames", **given)

    def _frames_hive_look(self) -> None:
        given = self.stack.pop().given
        self.open("hive", **given)

    def _hive_inspect(self) -> None:
        self.open("inspection", waits_for="saved", **self.top.given)

    def _hive_all_hives(self) -> None:
        while self.top.name != "hives":
            self.close()

    def _inspection_write(self) -> bool:
        was, self.top.keeps["draft"] = self.top.keeps["draft"], "edited"
        return was == "clean"

    def _inspection_queens_mark(self) -> None:
        self.open("mark picker", waits_for="mark")

    def _inspection_save(self) -> bool:
        if self.top.keeps["draft"] == "clean":
            return False
        self.close("yes")
        return True

    def _mark_picker_white(self) -> None:
        self.close("white")

    def _mark_picker_red(self) -> None:
        self.close("red")

    def _sign_in_sign_in(self) -> None:
        self.session, self.wanted = "valid", False
        self.stack.pop()
        self.open("hives")
