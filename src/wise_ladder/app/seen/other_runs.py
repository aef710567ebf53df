"""What can be laid over a run: the plan before an edit, another phone, another named given, another reply, another walk."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from wise_ladder.app.dialogs.list_dialog import ListItem
from wise_ladder.app.seen import messages
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


def other_runs(host: Workplace, tape: Tape, name: str) -> list[ListItem[OtherRun]]:
    """List what can be laid over a run of this name: the same steps elsewhere, then the other walks.

    Each is made anew from the run as it is then, of the same plan file.
    """
    document = host.document

    def of_this_file(item: ListItem[OtherRun]) -> ListItem[OtherRun]:
        run = item.value
        return item._replace(value=OtherRun(run.name, lambda tape: run.of(tape) if host.document is document else None))

    walks = [
        ListItem(walk.name, messages.ANOTHER_WALK, _walk(host, walk.name)) for walk in tape.plan.walks if walk.name != name
    ]
    return [of_this_file(item) for item in (*_same_steps(host, tape), *_replies(tape), *walks)]


def _same_steps(host: Workplace, tape: Tape) -> Iterator[ListItem[OtherRun]]:
    if host.document.compared is not None:
        what, _ = host.document.compared
        yield ListItem(messages.BEFORE_EDIT, what, OtherRun(messages.BEFORE_EDIT, lambda tape: _before_edit(host, tape)))
    for where in tape.plan.others():
        yield ListItem(where, messages.SAME_STEPS, OtherRun(where, partial(_elsewhere, where=where)))
    path = twin(real_path(host.document.path))
    if path is not None:
        words, plan = messages.FAULTY_TWIN if ".fault." in path.name else messages.FIXED_TWIN, read_plan(path)
        yield ListItem(words, messages.SAME_STEPS, OtherRun(words, lambda tape: tape.rerun_on(plan)))


def _before_edit(host: Workplace, tape: Tape) -> Tape | None:
    return tape.rerun_on(host.document.compared[1].plan) if host.document.compared is not None else None


def _elsewhere(tape: Tape, where: str) -> Tape | None:
    plan = tape.plan.others().get(where)
    return None if plan is None else tape.rerun_on(plan)


def _replies(tape: Tape) -> Iterator[ListItem[OtherRun]]:
    for given in replies_of(tape):
        for outcome in given.others:
            words = messages.OTHER_REPLY.format(call=given.call, outcome=outcome)
            about = messages.INSTEAD_AT if given.step else messages.INSTEAD_OF
            told = {"outcome": given.outcome} | ({"step": given.step} if given.step else {})
            yield ListItem(words, about.format(**told), OtherRun(words, partial(with_reply, reply=given, outcome=outcome)))


def _walk(host: Workplace, name: str) -> OtherRun:
    def run(_: Tape) -> Tape | None:
        walk = next((walk for walk in host.plan.walks if walk.name == name), None)
        return None if walk is None else Tape.from_walk(host.plan, run_walk(host.plan, walk))

    return OtherRun(name, run)
