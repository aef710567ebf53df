"""A small plan to start from, as text, with walks that pass."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan.steps import quoted
from wise_ladder.plan.yaml_text import scalar

if TYPE_CHECKING:
    from collections.abc import Sequence


def plan_template(app: str, *, splash: bool = False, sign_in: bool = False, tabs: Sequence[str] = ()) -> str:
    """Write a plan for an app: a list with details, behind a splash or a sign-in or in tabs if these are wanted."""
    first = "home" if tabs else "list"
    inner = tabs[0] if tabs else "list"
    start = "splash" if splash else first
    lines = [
        f"app: {_name(app)}",
        f"start: {start}",
        "",
    ]
    if sign_in:
        lines += ["facts:", "  session: {values: [none, valid], kept: disk, from outside: [valid to none]}", ""]
    if tabs:
        lines += ["flows:", f"  home: {{tabs: {{{', '.join(f'{_name(tab)}: {_name(tab)}' for tab in tabs)}}}}}", ""]
    lines += ["screens:"]
    if splash:
        lines += ["  splash:", "    moves:", f"      - {{when: 1200ms on ladder, do: replace {first}}}"]
    for tab in tabs or ("list",):
        lines += [f"  {_name(tab)}:", "    moves:", "      - {when: tap details(id), do: push details(id=$id)}"]
        lines += [f"      - {{when: tap {quoted(other)}, do: switch {quoted(other)}}}" for other in tabs if other != tab]
        if sign_in and tab == inner:
            lines += ["      - {when: tap sign out, do: [set session none, clear on app, push sign in on app]}"]
    lines += ["  details:", "    takes: {id: {type: whole number, samples: [1, 2]}}", "    moves:"]
    lines += ["      - {when: tap next, do: replace details(id=2)}"]
    if sign_in:
        lines += ["  sign in:", "    moves:"]
        lines += [
            f"      - {{when: tap sign in, do: [set session valid, 'go to wanted, else replace {first}']}}",
            "",
            "anywhere:",
            f"  - {{when: session becomes none, except: [{'splash, ' if splash else ''}sign in], do: [clear, push sign in]}}",
            "",
            "redirects:",
        ]
        private = ", ".join([first, *(_name(tab) for tab in tabs), "details"])
        lines += [f"  - {{to: [{private}], if: session is none, send to: sign in, remember: yes}}"]
    return "\n".join([*lines, "", "walks:", *_walks(splash=splash, sign_in=sign_in, first=inner), ""])


def minimal_plan(app: str, first: str) -> str:
    """Write a plan of one screen, to be sketched on."""
    return f"app: {scalar(app)}\nstart: {scalar(first)}\n\nscreens:\n  {scalar(first)}:\n"


def file_name(app: str) -> str:
    """Return the name of the file for the plan of an app."""
    kept = "".join(char if char.isalnum() else "-" for char in app.lower())
    return f"{kept}.ladder.yaml"


def _walks(*, splash: bool, sign_in: bool, first: str) -> list[str]:
    begin = ["launch", *(["wait 1200ms"] if splash else [])]
    steps = ["tap details(id=1)", "tap next", f"ladder {quoted(first)} > details(id=2)", "back", f"see {quoted(first)}"]
    given = ["    given: [session is valid]"] if sign_in else []
    lines = [
        "  Back from the details:",
        *given,
        "    steps:",
        *(f"      - {step}" for step in (*begin, *steps, "back", "outside")),
    ]
    if sign_in:
        signing = [*begin, "see sign in", "tap sign in", f"see {quoted(first)}", "back would leave"]
        lines += ["  no Back to the sign-in:", "    steps:", *(f"      - {step}" for step in signing)]
    return lines


def _name(name: str) -> str:
    return scalar(name, flow=True)
