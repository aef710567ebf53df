"""`wise-ladder path`: the shortest paths to a state."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.check_command import variant
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.steps import event_phrase
from wise_ladder.rules.path_query import answer
from wise_ladder.rules.path_question import parse_question
from wise_ladder.rules.verdicts import Bounds
from wise_ladder.safe import visible

if TYPE_CHECKING:
    import argparse


def path(call: argparse.Namespace) -> int:
    """Print the shortest paths to what is asked for; exit code 1 says that none was found."""
    plan = variant(read_plan(call.plan), call.phone, call.given, call.plan)
    question = parse_question(plan, call.question)
    found = answer(plan, question, Bounds(seconds=call.seconds, **({"depth": call.depth} if call.depth else {})))
    phone = f" {plan.where}" if plan.where else ""
    if not found.paths:
        extent, words = found.extent, messages.PATH_DOUBT if found.doubt else messages.PATH_NONE
        told = words.format(app=plan.app, phone=phone, doubt=found.doubt, extent=extent.words, figures=extent.figures)
        print(visible(told))
        if found.nearest:
            print(messages.PATH_NEAREST)
    else:
        print(visible(messages.PATH_TITLE.format(app=plan.app, phone=phone, question=question.words)))
    for each in found.paths or found.nearest:
        if each.words:
            print(visible(messages.PATH_WORDS.format(words=each.words)))
        steps = " · ".join(event_phrase(entry.event) for entry in each.tape.entries)
        words = messages.PATH_OF_STEP if each.steps == 1 else messages.PATH_OF_STEPS
        print(visible(words.format(count=each.steps, path=steps)))
        print(visible(messages.PATH_LADDER.format(ladder=each.ladder or "the ground")))
    return 0 if found.paths else 1
