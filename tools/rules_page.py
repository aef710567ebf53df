"""Write docs/rules.md: each rule with its keys, a plan of the gallery that breaks it, and the fix."""

# ruff: noqa: E501 - lines of a page

from __future__ import annotations

import sys
from difflib import unified_diff
from pathlib import Path

from wise_ladder.demo import GalleryPair, gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.rule import Rule
from wise_ladder.plan.rules import RULES
from wise_ladder.rules.report_text import steps_of
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

PAGE = Path(__file__).parent.parent / "docs" / "rules.md"
HEAD = """\
# Rules

A rule is something that must hold on every path a user could take. `wise-ladder check` checks all rules of a plan, and the view
Rules (`R`) shows them; you do not have to think of the path yourself. A broken rule comes with the shortest steps that break it, run with real
times before you see them.

```yaml
app: Combfield
start: hives
screens:
  hives:
    moves:
      - {when: tap hive, do: push hive}
  hive:
    moves:
      - {when: tap frames, do: replace frames}
  frames:
    moves:
      - {when: tap hive look, do: replace hive}
rules:
  - starter
  - {rule: back lands, from: [hive, frames], lands on: hives, note: however often you toggle}
  - {rule: leaves only from, screens: hives}
```

## How far a verdict is known

| words | meaning |
|---|---|
| `holds at every depth (10 states, all there are)` | every state the app can reach was checked |
| `holds for 8 steps (212,904 states)` | everything possible within 8 steps was tried; the 9th may break it |
| `broken in at most 9 steps` | a run of 9 steps breaks the rule; a shorter run may break it, too ([how verdicts are made](how-verdicts-are-made.md)) |
| `broken in 4 steps, 2 violations` | two places of the plan break it, each with a shortest path; what follows from one of them is not counted again |
| `undecided: there was too much to check` | too many screens may take the place of one another; not all of these ways were tried |
| `undecided: 3 never used in 8 steps` | what was not used in 8 steps may be used later |
| `undecided: a rung is put over its equal ...` | the ladder may grow for ever; no loop that does it was found yet |

**The cause** of a violation is the last move, or link, on the path that would avoid it by putting the same screen in another way
(pushed, pushed once, replacing the top, reached, alone on its ladder) while all later steps still apply. If there is none, it is the
move or screen at which the violation shows. So the cause is the sign-in that is pushed instead of replaced, not the screen on which
Back is pressed. `e` in Rules edits it.

What is tried: every tap with every sample of what it carries, the answers to questions, Back, the header, links (each sample of
what they carry at least once, not all combinations), replies and silence of calls, timers, home and reopening, swiping the app away,
killing it in the background or in front, and the changes of facts from outside that the plan lists. Each of these is one step. Time is
ordered, not counted: you may act before or after anything pending, and what falls due does so in an order that some real times allow.
Values are the samples of the plan; others are not tried. `check --steps 6` stops after six steps, `--seconds 20` after that time,
Ctrl-C at once; a million states or 2 GB of memory stop it too. It then reports what it knows, and what stopped it.

## The starter set

If a plan has no `rules`, or lists `starter` among them, the rules that most apps want apply: `no twins`, `no pile-up`, `no
traps`, `waiting ends`, `results come back`, `redirects end`, `links have a way back`, `no flash`, and

- for a **splash** (a screen that only moves on by itself): `never beneath` and `never land on`;
- for a **sign-in** (the target of a redirect that remembers): `never land on` while signed in;
- for the screens behind it (those such a redirect turns away): `protected` while signed out.

Signed out means that the condition of such a redirect holds; signed in means that it does not. A fact that is not known yet is neither: its first value, if nothing
sets that value and moves of screens other than the sign-in set values of both kinds (a `session` that is `unknown` until a call has replied). Also

- `forecast is known`, if a guard decides at the press.

`i` in Rules and `check --format json` show what was recognised, with the conditions. To override it: `{rule: starter, not splash: intro, not sign in: code, not protected: help}`;
`{rule: starter, without: [no flash]}` leaves rules out. A rule of the set that you write yourself replaces it.

## The keys of rules

| key | |
|---|---|
| `screens`, `from` | the screens it is about, one or a list |
| `lands on` | screens; `the ground` means leaving the app |
| `if` | a condition as in moves; facts and arguments of the screens may be named |
| `ways` | `system`, `header`, `in-app`, `aside`, `by itself` |
| `rungs`, `size`, `time` | `3`, `200MB`, `300ms` |
| `once left`, `any arguments`, `double taps` | `yes`: see below |
| `note` | a sentence of yours, shown when it breaks |
| `name` | the rule's own name, unique in the plan. Without it a rule is named by what it says |

`check --rule NAME` checks one rule; `draw` and `report` show what breaks it.

"""
MORE = {
    "never beneath": "`once left: yes` counts a rung only after it was seen on top.",
    "never land on": "A pop of the app's own is anything that removes the visible rung and uncovers the one beneath: by a tap, a reply or a "
    "timer. A tap on a tab is not a way back.",
    "no twins": "`any arguments: yes` also counts two rungs of one screen with different arguments. `double taps: yes` also tries quick double "
    "taps, for all rules of the plan.",
    "no pile-up": "The loop is repeated until the ladder is higher than every number that a condition of the plan compares its height "
    "with or a pop drops by, and at least twice. The weight that the phone bears does not count: a loop that ends only because the phone "
    "kills the app is a pile-up. A loop may consist of taps, answers, replies and timers.",
    "memory at most": "Weights are those of the screens; what low memory frees is not subtracted.",
    "back lands": "`lands on: the ground` allows leaving the app. `ways: header` is about the header button. Closing an overlay does "
    "not count as landing anywhere; nor does a question that opens.",
    "leaves only from": "If a move removes the last rung, the app is left: that breaks it on every screen.",
    "no traps": "A question gets the first answer that goes on. Back may do nothing while a timer is running, or a call that "
    "is `never silent`; that is not a trap.",
    "guarded": "The ways are `system`, `header`, `in-app`, `aside` and `by itself`, or those listed in `ways`. Home, being killed and "
    "being swiped away do not count. The condition is read when the screen goes, after what the move has set, so a move may save a form "
    "and leave it. The rule also breaks if a rung beneath others goes without asking its armed guard, whatever the way.",
    "way back without system": "A tap that only shows the same screen again is not a way back, nor are screens that replace each other, unless "
    "one of them has a way back.",
    "waiting ends": "A reply may never come, unless its call says `never silent: yes`. Then a timer must end the wait (`most` of the "
    "cover, a move such as `10s shown` of the overlay), or the user by Back or a tap.",
    "results come back": "What a kill loses is for `survives death`.",
    "redirects end": "The cause is the redirect that closes the loop.",
    "no flash": "300 ms unless a time is given. It counts only if neither a hasty user nor a late reply causes it.",
    "links have a way back": "A question that Back asks is answered first. The app starts with its start screen, with what redirects make of it, and with "
    "what moves on from there by itself.",
    "addresses lead back": "The rule opens the address of each place in the app as it is then. With `screens`, each of these screens must have an address; "
    "without `screens`, places that have no address are left out. A screen that the app can begin with may stand alone.",
    "survives death": "`screens` may be seen instead. Facts that a screen holds must be `kept: ladder` to survive, on hidden rungs too. "
    "Overlays other than notices count as lost, and so do awaited results. If the phone restores only the top, the rungs beneath are not "
    "missed; if it restores nothing, the rule holds.",
    "survives remaking": "`screens` are left out. The sweep remakes the screens in every state; with the policy `remakes screens: yes` it does so for "
    "the other rules too. A call is a second one if the first has no reply yet.",
    "back keeps its promise": "It is about phones with the policy `back gesture: yes`. Compared is where Back lands, who asks, whether it closes something, is "
    "blocked, or leaves.",
    "everything is used": "It lists what was never used; there is no path to show. Broken only if every state was checked.",
}

BEST = {
    "guarded": "unasked-way",
    "results come back": "nobody-waits",
    "no twins": "twin",
    "no pile-up": "toggle",
    "protected": "private-after-death",
}
"""If several plans break a rule, the one that shows most."""


def page() -> str:
    """Return the text of the page."""
    return HEAD + "\n".join(_section(name) for name in RULES)


def _section(name: str) -> str:
    spec, fault = RULES[name], _fault(name)
    needs = [f"`{key}`" for key in spec.required] + [f"`{key}` (optional)" for key in spec.optional]
    lines = [f"## {name}", "", f"Holds if {spec.meaning}." + (f" Keys: {', '.join(needs)}." if needs else "")]
    if name in MORE:
        lines += ["", MORE[name]]
    plan = read_plan(fault.faulty)
    sweep = Sweep(plan, Bounds(depth=8))
    sweep.run()
    verdict = next(each for each in sweep.verdicts() if each.rule.name == name)
    if verdict.counterexamples:
        steps = " · ".join(steps_of(verdict.counterexamples[0]))
        lines += ["", f"{plan.about} Shown by: {steps}"]
    else:
        lines += ["", f"{plan.about} Never used: {', '.join(place.words for place in verdict.unused)}"]
    return "\n".join([*lines, "", "```diff", *_fix(fault), "```", ""])


def _fault(name: str) -> GalleryPair:
    faults = sorted(gallery(), key=lambda fault: fault.name != BEST.get(name))
    return next(
        fault for fault in faults if any(isinstance(rule, Rule) and rule.name == name for rule in read_plan(fault.faulty).rules)
    )


def _fix(fault: GalleryPair) -> list[str]:
    """Return the plan without its walks, each line of the fix marked."""
    before, after = (path.read_text().partition("walks:\n")[0].splitlines()[1:] for path in (fault.faulty, fault.fixed))
    before = [line.partition(", note: broken")[0] + "}" if ", note: broken" in line else line for line in before]
    return list(unified_diff(before, after, lineterm="", n=100))[3:]


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    sys.stdout.write(f"{PAGE.name} written\n")
