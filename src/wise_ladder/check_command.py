"""The command `check`: plans and folders of plans are read, their walks run, the verdicts told for people and machines."""

from __future__ import annotations

import os
import sys
import time
from functools import cache
from itertools import product
from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.errors import LadderError, LinkError, PlanError, UnforeseenError, UsageError, WalkError
from wise_ladder.plan.files import real_path, stamp
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.model import AS_DECLARED
from wise_ladder.plan.plan_files import plan_paths
from wise_ladder.plan.suggest import suggest
from wise_ladder.rules.check_result import CheckResult, check_plan
from wise_ladder.running import stop_code
from wise_ladder.safe import visible
from wise_ladder.walks.report_text import walk_lines
from wise_ladder.walks.running import run_timed

if TYPE_CHECKING:
    import argparse
    from collections.abc import Sequence
    from pathlib import Path

    from wise_ladder.link.session import AppAt
    from wise_ladder.plan import Plan
    from wise_ladder.proofs.cache import ProofCache
    from wise_ladder.rules.sweep import Sweep
    from wise_ladder.rules.verdicts import Verdict
    from wise_ladder.walks import WalkRun
    from wise_ladder.walks.explored import Explored

PATIENCE = 0.5
"""After this many seconds the progress is shown."""
BETWEEN = 0.1
STOPPED = 130
"""From this exit code on, the run was stopped."""
_COLOURS = {"✓": "32", "◕": "32", "✗": "31", "◌": "33"}


def check(call: argparse.Namespace) -> int:
    """Check as a call wants it; return the exit code: 0 all pass, 1 a walk fails or a rule is broken, 130 or 143 stopped."""
    return _watched(call) if call.watch else _once(call)


def _watched(call: argparse.Namespace) -> int:
    """Check again on every change, until stopped."""
    from watchfiles import watch  # noqa: PLC0415

    try:
        while True:
            watched = _watched_paths(call.plans)
            before = [stamp(path) for path in watched]
            if (code := _told(call)) >= STOPPED:
                return code
            # What is missing is waited for, and what was saved meanwhile is checked again.
            while None in [stamp(path) for path in call.plans]:
                time.sleep(BETWEEN)
            if [stamp(path) for path in watched] != before:
                continue
            # By path and not by what the path once was: editors write a new file in the place of the old one.
            next(watch(*watched, debounce=200, step=50, force_polling=True, poll_delay_ms=200), None)
            print(f"\n— {time.strftime('%H:%M:%S')} —")
    except KeyboardInterrupt:
        return stop_code()


def _watched_paths(paths: Sequence[Path]) -> list[Path]:
    """Return the folders that are named and the files of all plans; of one that is missing, the folder where it belongs."""
    files = [file for path in paths for plan in _plans_at(path) for file in plan_paths(plan)]
    there = (next((each for each in (path, *path.parents) if each.exists()), path) for path in files)
    return list(dict.fromkeys([*(path for path in paths if path.is_dir()), *there]))


def _told(call: argparse.Namespace) -> int:
    """Check once, and tell what is wrong with a plan instead of ending with it; return the exit code."""
    try:
        code = _once(call)
    except LadderError as error:
        print(visible(str(error)), file=sys.stderr)
        code = error.exit_code
    sys.stdout.flush()
    return code


def _once(call: argparse.Namespace) -> int:
    say = _Console(quiet=call.format != "text")
    results: list[CheckResult] = []
    known: list[str] = []
    stopped = 0
    plans = read_plans(_wanted(call))
    if call.against or call.against_command:
        if call.rule or call.rules:
            raise UsageError(messages.RULES_NOT_AGAINST)
        call.no_rules = True
    elif call.explore:
        raise UsageError(messages.EXPLORE_NEEDS_APP)
    if call.audit and not call.prove:
        raise UsageError(messages.AUDIT_NEEDS_PROOF)
    if call.rule:
        from wise_ladder.rules.named_rule import rule_called  # noqa: PLC0415
        from wise_ladder.rules.starter import rules_in_force  # noqa: PLC0415

        if call.walk or call.no_rules:
            raise UsageError(messages.RULE_ALONE)
        call.rules = True
        # A name that no plan knows is told before anything is done.
        rule_called([rule for _, plan in plans for rule in rules_in_force(plan)], call.rule)
    try:
        for path, plan in plans:
            known += [walk.name for walk in plan.walks]
            if not _plan_checked(call, path, plan, results, say):
                break
    except KeyboardInterrupt:
        # What was found so far is told, and written where it was to be written.
        stopped = stop_code()
        say.done()
        say.line(messages.STOPPED)
    if call.walk and not stopped and not any(each.results for each in results):
        raise WalkError(messages.NO_SUCH_WALK.format(name=call.walk, instead=suggest(call.walk, known)))
    _write(call, results)
    return stopped or (1 if _failed(results) else 0)


def _plan_checked(call: argparse.Namespace, path: Path, plan: Plan, checked: list[CheckResult], say: _Console) -> bool:
    """Check a plan on each phone that is wanted; return whether to go on with the next plan."""
    for doubt in plan.warnings:
        print(messages.WARNING.format(what=visible(doubt.told)), file=sys.stderr)
    plans = variants(plan, call.phone, call.given, path)
    decided: dict[str, tuple[Verdict, ...]] = {}
    for where, each in plans.items():
        if len(plans) > 1:
            say.line(f"{where}:")
        results: list[tuple[WalkRun, float]] = []
        try:
            if not call.rules:
                _walks(call, str(path), each, results, say)
        finally:
            checked.append(check_plan(str(path), each, where, results, covers=call.coverage and not call.rules))
        if not call.rules:
            _say_walks(each, checked[-1], str(path), say)
        if call.explore and not (call.fail_fast and _failed(checked)):
            checked[-1] = checked[-1]._replace(explored=_explored(call, each, say))
        if not call.walk and not call.no_rules and not (call.fail_fast and _failed(checked)):
            sweep, stop = _swept(call, each, say)
            checked[-1] = checked[-1]._replace(
                verdicts=sweep.verdicts() if stop is not None else _proved(call, each, sweep, say)
            )
            _say_rules(call, each, checked[-1], str(path), say, stopped=stop is not None)
            if stop is not None:
                raise stop
        decided[where] = checked[-1].verdicts
        if call.fail_fast and _failed(checked):
            say.line(messages.STOPPED_AT_FAILURE)
            return False
    if len(plans) > 1 and call.format == "text" and not call.walk:
        _say_what_differs(plans, decided, walks=not call.rules)
    return True


def _walks(call: argparse.Namespace, path: str, plan: Plan, results: list[tuple[WalkRun, float]], say: _Console) -> None:
    """Run the walks that are wanted, and tell what came of each."""
    walks = tuple(walk for walk in plan.walks if not call.walk or walk.name == call.walk)

    def told(result: WalkRun, seconds: float) -> bool:
        results.append((result, seconds))
        for line in walk_lines(result, path, plan):
            say.line(line)
        say.progress(len(results), len(walks))
        return result.passed or not call.fail_fast

    if call.against or call.against_command:
        from wise_ladder.link.session import run_walks  # noqa: PLC0415

        run_walks(plan, walks, _app_at(call), told)
        if walks and not any(result.app is not None and result.app.compared for result, _ in results):
            raise LinkError(messages.NOTHING_COMPARABLE.format(path=path))
    else:
        all(told(result, seconds) for result, seconds in run_timed(plan, walks))
    say.done()


def _explored(call: argparse.Namespace, plan: Plan, say: _Console) -> Explored:
    """Go the tool's own ways through the app, and tell what came of it; a difference is printed as a walk of a plan."""
    from wise_ladder.link.session import run_explorer  # noqa: PLC0415
    from wise_ladder.plan.yaml_text import walk_text  # noqa: PLC0415

    explored = run_explorer(plan, _app_at(call), call.explore, call.seed, lambda done: say.progress(done, call.explore))
    say.done()
    words = messages.EXPLORED.format(steps=explored.steps, moves=explored.moves, of=explored.all_moves, seed=call.seed)
    say.line(f"{'✗' if explored.found else '✓'} {words}")
    if explored.found is not None:
        tape = explored.found.tape
        for line in (explored.found.words, *explored.found.beside):
            say.line(f"    {line}")
        name = messages.EXPLORED_WALK.format(seed=call.seed)
        say.line(f"walks:\n{walk_text('  ', name, tape.as_steps(), tape.given(), tape.phone())}".rstrip())
    return explored


def _app_at(call: argparse.Namespace) -> AppAt:
    from wise_ladder.link.session import AppAt  # noqa: PLC0415

    return AppAt(call.against or "", call.against_command or "", call.patience, call.tolerance)


def _say_walks(plan: Plan, result: CheckResult, path: str, say: _Console) -> None:
    say.line(_summary(plan, result))
    for part in result.parts or ():
        if not part.walks:
            say.line(messages.PART_UNUSED.format(kind=part.kind, name=part.name, place=part.at.within(str(path))))


def _swept(call: argparse.Namespace, plan: Plan, say: _Console) -> tuple[Sweep, KeyboardInterrupt | None]:
    """Sweep a plan; return what stopped it too, None if nothing did."""
    from wise_ladder.rules.starter import rules_in_force  # noqa: PLC0415
    from wise_ladder.rules.sweep import Sweep  # noqa: PLC0415
    from wise_ladder.rules.verdicts import Bounds  # noqa: PLC0415

    rules = tuple(rule for rule in rules_in_force(plan) if call.rule in {None, rule.called})
    sweep = Sweep(plan, Bounds(seconds=call.seconds, **({"depth": call.depth} if call.depth else {})), rules)
    try:
        while not sweep.finished:
            sweep.run(BETWEEN)
            say.sweeping(sweep)
    except KeyboardInterrupt as stop:
        return sweep, stop
    finally:
        say.done()
    return sweep, None


def _proved(call: argparse.Namespace, plan: Plan, sweep: Sweep, say: _Console) -> tuple[Verdict, ...]:
    """Return the verdicts of a sweep, with what can be proved besides if that is wanted."""
    if not call.prove or (sweep.exhausted and not call.audit):
        return sweep.verdicts()
    from wise_ladder.proofs.proof import Prover, audit  # noqa: PLC0415
    from wise_ladder.proofs.task import ProofTask  # noqa: PLC0415

    verdicts = sweep.verdicts()
    broken = frozenset(number for number, verdict in enumerate(verdicts) if verdict.status == "broken")
    # What is looked up afterwards must be there: then nothing that was kept will do.
    proving = Prover() if call.audit else _proof_cache()
    proved = proving.prove(ProofTask(plan, sweep.rules, call.prove, broken))
    if call.audit:
        looked, lost = audit(proved, call.audit, call.seed)
        if lost is not None:
            raise UnforeseenError(messages.AUDIT_LOST.format(state=lost))
        say.line(messages.AUDITED.format(count=looked) if looked else messages.NOTHING_AUDITED)
    return proved.added(verdicts)


@cache
def _proof_cache() -> ProofCache:
    """Return the proofs that are kept: `--watch` goes on from what was met of a plan before."""
    from wise_ladder.proofs.cache import ProofCache  # noqa: PLC0415
    from wise_ladder.proofs.folder import proof_folder  # noqa: PLC0415

    return ProofCache(proof_folder())


def _say_rules(call: argparse.Namespace, plan: Plan, result: CheckResult, path: str, say: _Console, *, stopped: bool) -> None:
    from wise_ladder.rules.report_text import summary, verdict_lines  # noqa: PLC0415

    for verdict in result.verdicts:
        for line in verdict_lines(verdict, path):
            say.line(line)
    one = messages.ONE_PHONE_CHECKED.format(phone=plan.phone) if len(plan.phones) > 1 and call.phone is None else ""
    one += messages.NO_GIVEN_CHECKED if plan.givens and call.given is None else ""
    say.line(f"{plan.app}: {summary(result.verdicts)}{messages.STOPPED_BY_YOU if stopped else ''}{one}")


def _failed(results: Sequence[CheckResult]) -> bool:
    return any(each.failed for each in results)


def _summary(plan: Plan, checked: CheckResult) -> str:
    count, passed = len(checked.results), sum(result.passed for result in checked.results)
    if not count:
        return f"{plan.app}: no walks yet" if not plan.walks else f"{plan.app}: no such walk"
    unknown = sum(bool(result.not_comparable) for result in checked.results)
    wrong = count - passed - unknown
    failed = f", {wrong} {'fails' if wrong == 1 else 'fail'}" if wrong else ""
    failed += messages.SOME_NOT_COMPARABLE.format(count=unknown) if unknown else ""
    runs = [result.app for result in checked.results if result.app is not None and not result.not_comparable]
    if runs:
        lines, compared = sum(run.lines for run in runs), sum(run.compared for run in runs)
        failed += messages.LINES_COMPARED.format(compared=compared, lines=lines)
    return f"{plan.app}: {passed} of {count} {'walk passes' if count == 1 else 'walks pass'}{failed}"


def _write(call: argparse.Namespace, results: list[CheckResult]) -> None:
    from wise_ladder.plan.files import save_bytes  # noqa: PLC0415

    if call.format == "json":
        from wise_ladder.reports.check_json import as_json  # noqa: PLC0415

        print(as_json(results).decode())
    if call.format == "sarif":
        from wise_ladder.reports.sarif import sarif  # noqa: PLC0415

        print(sarif(results).decode())
    if call.format == "junit" or call.junit:
        from wise_ladder.reports.junit import junit  # noqa: PLC0415

        if call.format == "junit":
            print(junit(results).decode(), end="")
        if call.junit:
            save_bytes(call.junit, junit(results))


class _Console:
    """Lines for people, in colours on a terminal; how far it is only on one, and only if it takes its time."""

    def __init__(self, *, quiet: bool) -> None:
        self._quiet = quiet
        self._colours = sys.stdout.isatty() and not os.environ.get("NO_COLOR") and os.environ.get("TERM") != "dumb"
        self._counts = sys.stderr.isatty() and not sys.stdout.isatty()
        self._began = time.perf_counter()
        self._shown, self._next = False, PATIENCE

    def line(self, words: str) -> None:
        if self._quiet:
            return
        words = visible(words)
        mark = words.lstrip()[:1]
        if self._colours and mark in _COLOURS:
            words = f"\x1b[{_COLOURS[mark]}m{words}\x1b[0m"
        print(words)

    def progress(self, number: int, count: int) -> None:
        """Tell how far it is and how long it will take yet; if the lines themselves are seen, they tell it."""
        taken = time.perf_counter() - self._began
        if self._counts and taken > self._next:
            self._next = taken + BETWEEN
            left = taken / number * (count - number)
            print(
                f"\r{messages.WALKS_LEFT.format(number=number, count=count, left=left)} ", end="", file=sys.stderr, flush=True
            )
            self._shown = True

    def sweeping(self, sweep: Sweep) -> None:
        """Tell how far a sweep is."""
        if sys.stderr.isatty() and sweep.seconds > PATIENCE:
            left = max(sweep.bounds.seconds - sweep.seconds, 0)
            words = messages.SWEEPING.format(states=sweep.count, depth=sweep.depth, left=left)
            print(f"\r\x1b[K{words} ", end="", file=sys.stderr, flush=True)
            self._shown = True

    def done(self) -> None:
        if self._shown:
            print("\r\x1b[K", end="", file=sys.stderr, flush=True)
            self._shown = False


def _wanted(call: argparse.Namespace) -> list[Path]:
    """Return the plans that are to be checked: all, or those that changed since a revision."""
    plans = find_plans(call.plans)
    if not call.since:
        return plans
    from wise_ladder.plan.revisions import changed_since  # noqa: PLC0415

    return changed_since(plans, call.since)


def _plans_at(path: Path) -> list[Path]:
    return sorted(each for each in path.rglob("*.ladder.yaml") if not each.is_dir()) if path.is_dir() else [path]


def find_plans(paths: Sequence[Path]) -> list[Path]:
    """Return the plan files that are named, and those in the folders that are; raises UsageError if a folder has none."""
    plans: list[Path] = []
    for path in paths:
        inside = _plans_at(path)
        if not inside:
            raise UsageError(messages.NO_PLAN_IN_FOLDER.format(path=path))
        plans += inside
    # A file that is named twice, perhaps by another path, is read once.
    return list({real_path(path): path for path in reversed(plans)}.values())[::-1]


def read_plans(paths: Sequence[Path]) -> list[tuple[Path, Plan]]:
    """Read every plan; raises PlanError with the problems of all of them together."""
    read: list[tuple[Path, Plan]] = []
    problems: list[str] = []
    for path in paths:
        try:
            read.append((path, read_plan(path)))
        except PlanError as error:
            problems += error.messages
    if problems:
        raise PlanError(problems)
    return read


def variants(plan: Plan, phone: str | None, given: str | None, path: Path) -> dict[str, Plan]:
    """Return the plan on the phone and with the named given that are wanted, or on all and with each; by what is different.

    Raises UsageError if there is no such phone or named given.
    """
    phones = [name for name, _ in plan.phones] if phone == "all" else [phone]
    givens = ["", *(each.name for each in plan.givens)] if given == "all" else [given]
    found: dict[str, Plan] = {}
    for one, other in product(phones or [None], givens):
        words = [f"on {one}"] if len(phones) > 1 else []
        words += [f"given {other}" if other else AS_DECLARED] if len(givens) > 1 else []
        found[", ".join(words)] = variant(plan, one, other, path)
    return found


def variant(plan: Plan, phone: str | None, given: str | None, path: Path) -> Plan:
    """Return the plan on a phone and with a named given; raises UsageError if there is no such phone or named given."""
    phones, givens = [name for name, _ in plan.phones], [each.name for each in plan.givens]
    if phone is not None and phone not in phones:
        raise UsageError(messages.NO_SUCH_PHONE.format(path=path, name=phone, instead=suggest(phone, phones)))
    if given and given not in givens:
        raise UsageError(messages.NO_SUCH_GIVEN.format(path=path, name=given, instead=suggest(given, givens)))
    plan = plan if phone is None else plan.on_phone(phone)
    return plan.with_given(given) if given else plan


def _say_what_differs(plans: dict[str, Plan], verdicts: dict[str, tuple[Verdict, ...]], *, walks: bool) -> None:
    from wise_ladder.rules import report_text  # noqa: PLC0415
    from wise_ladder.walks.phones import differences  # noqa: PLC0415

    lines = [*(differences(plans) if walks else ()), *report_text.differences(verdicts)]
    print("differences:" if lines else "no differences")
    for line in lines:
        print(f"  {line}")
