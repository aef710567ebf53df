"""The exceptions of Wise Ladder, one tree.

LadderError              anything we raise on purpose; `exit_code` is what the command line ends with
├── PlanError            a plan that cannot be read, or names what does not exist: carries every problem at once
├── WalkError            a walk that is not in the plan
├── QuestionError        a question about a plan that cannot be read
├── RuleError            a rule that is not in the plan, or that nothing breaks
├── WriteError           a file that cannot be written
│   └── ConsentError     it can, but something would be lost by that: ask first
├── UsageError           the command line was called wrongly
└── UnforeseenError      a bug in the program: carries what is known of it
"""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

if TYPE_CHECKING:
    from collections.abc import Sequence


class LadderError(Exception):
    """Anything Wise Ladder raises on purpose; its text is one clear line for the user."""

    exit_code: ClassVar[int] = 2


class PlanError(LadderError):
    """A plan that cannot be used; `messages` are ready to print, one per problem, none left out."""

    def __init__(self, messages: Sequence[str]) -> None:
        """Keep every message; the text of the error is all of them."""
        super().__init__("\n".join(messages))
        self.messages = tuple(messages)


class WalkError(LadderError):
    """A walk that is not in the plan."""


class QuestionError(LadderError):
    """A question about a plan that cannot be read."""


class RuleError(LadderError):
    """There is no rule of a name, or nothing that breaks it."""


class WriteError(LadderError):
    """A file that cannot be written; the old one is still whole."""


class LinkError(LadderError):
    """The running app cannot be reached, or does not say what can be understood."""


class UnforeseenError(LadderError):
    """A bug in the program; the text of the error is for its developer."""

    exit_code = 3


class ConsentError(WriteError):
    """A file that is written only after the user has confirmed it."""


class UsageError(LadderError):
    """The command line was called with what does not fit together."""
