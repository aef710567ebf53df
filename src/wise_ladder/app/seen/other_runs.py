"""What can be laid over a run: the plan before an edit, another phone, another reply, another walk."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.dialogs.list_dialog import ListItem
from wise_ladder.app.seen.selection import OtherRun
from wise_ladder.demo import twin
from wise_ladder.plan.files import real_path
from wise_ladder.plan.loader import read_plan
from wise_ladder.walks import run_walk
from wise_ladder.walks.reply_branches import replies_of, with_reply
from wise_ladder.walks.tape import Tape

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan import Plan
    from wise_ladder.walks.reply_branches import ReplyOnTape


def other_runs(host: Workplace, tape: Tape, name: str) -> list[ListItem[OtherRun]]:
    """List what can be laid over a run of this name: the same steps elsewhere, then the other walks."""
    runs = [*_same_steps(host, tape), *_replies(tape)]
    walks = [
        ListItem(walk.name, messages.ANOTHER_WALK, _walk(host, walk.name)) for walk in tape.plan.walks if walk.name != name
    ]
    return [*runs, *walks]


def _same_steps(host: Workplace, tape: Tape) -> Iterator[ListItem[OtherRun]]:
    if host.document.compared is not None:
        what, comparison = host.document.compared
        yield ListItem(messages.BEFORE_EDIT, what, _on_plan(messages.BEFORE_EDIT, comparison.plan))
    for phone, _ in tape.plan.phones:
        if phone != tape.plan.phone:
            words = messages.ON_PHONE.format(phone=phone)
            yield ListItem(words, messages.SAME_STEPS, _on_plan(words, tape.plan.on_phone(phone)))
    path = twin(real_path(host.document.path))
    if path is not None:
        words = messages.FAULTY_TWIN if ".fault." in path.name else messages.FIXED_TWIN
        yield ListItem(words, messages.SAME_STEPS, _on_plan(words, read_plan(path)))


def _replies(tape: Tape) -> Iterator[ListItem[OtherRun]]:
    for given in replies_of(tape):
        for outcome in given.others:
            words = messages.OTHER_REPLY.format(call=given.call, outcome=outcome)
            about = messages.INSTEAD_OF.format(outcome=given.outcome)
            yield ListItem(words, about, _with_reply(words, given, outcome))


def _with_reply(name: str, reply: ReplyOnTape, outcome: str) -> OtherRun:
    return OtherRun(name, lambda tape: with_reply(tape, reply, outcome))


def _on_plan(name: str, plan: Plan) -> OtherRun:
    return OtherRun(name, lambda tape: tape.rerun_on(plan))


def _walk(host: Workplace, name: str) -> OtherRun:
    def run(_: Tape) -> Tape | None:
        walk = next((walk for walk in host.plan.walks if walk.name == name), None)
        return None if walk is None else Tape.from_walk(host.plan, run_walk(host.plan, walk))

    return OtherRun(name, run)
