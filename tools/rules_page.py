"""Write docs/rules.md: each rule with what it is told and a plan of the gallery that breaks it, beside its mend."""

# ruff: noqa: E501 - lines of a page

from __future__ import annotations

import sys
from difflib import unified_diff
from pathlib import Path

from wise_ladder.demo import GalleryPair, gallery
from wise_ladder.plan.loader import read_plan
from wise_ladder.plan.model import Rule
from wise_ladder.plan.rules import RULES
from wise_ladder.rules.report_text import steps_of
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds

PAGE = Path(__file__).parent.parent / "docs" / "rules.md"
HEAD = """\
# Rules

A rule is something that must hold on every path a user could take. `wise-ladder check` decides all rules of a plan, and the view
Rules (`R`) shows them; neither needs you to think of the path. A broken rule comes with the shortest steps that break it, and these
were done for real, with real times, before you see them.

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
  - {rule: back lands, from: [hive, frames], lands on: hives, note: however often one toggles}
  - {rule: leaves only from, screens: hives}
```

## How far a verdict is known

| words | meaning |
|---|---|
| `holds at every depth (10 states, all there are)` | every state the app can come to was looked at |
| `holds to depth 8 (212,904 states)` | whatever can happen in 8 steps was tried; in 9 it may break |
| `broken in 4 steps, 2 guilty places` | two places of the plan are to blame, for each there is a shortest path; what follows from one of them is not counted again |
| `undecided: there was too much to look at` | more looks of a screen than are tried may take its place |
| `undecided: 3 never used to depth 8` | what was not met in 8 steps may still be met later |
| `undecided: a rung comes over its equal ...` | the ladder may grow so for ever; no round that does it was found yet |

**Who is to blame** is the last move, or link, on the path that would avoid the break if it put the same screen in another way
(pushed, pushed once, in the place of another, reached, alone on its ladder) while all later steps still apply; where there is none, the
move or screen at which it shows. So a sign-in that is pushed and should replace is to blame, and not the screen on which Back is pressed.
`e` in Rules edits it.

What is tried: every tap with every sample of what it carries, the answers to questions, Back, the header, links (each sample of
what they carry at least once, not all together), replies and silence of calls, timers, home and reopening, being swiped away, being killed in the background or in front, and the
changes of facts from outside that the plan names. Time is not counted but ordered: you may act before or after each thing that is
under way, and what falls due does so in an order that some real times allow. A step is one of these. Values are the samples of the
plan; others are not tried. `check --depth 6` stops after six steps, `--seconds 20` after that time, Ctrl-C at once; a million states
or 2 GB of memory are the end too. What is known by then is told, and what stopped it.

## The starter set

Where a plan has no `rules`, or lists `starter` among them, the rules that most apps want are in force: `no twins`, `no pile-up`, `no
traps`, `waiting ends`, `results come back`, `redirects end`, `links have a way back`, `no flash`, and

- for a **splash** (a screen that only goes on by itself): `never beneath` and `never land on`;
- for a **sign-in** (where a redirect that remembers sends to): `never land on` while one is signed in;
- for what lies behind it (what such a redirect turns away): `protected` while one is signed out.

Signed out is what such redirects ask for, signed in is the rest. A fact that is not known yet is neither: its first value, where nothing sets that,
and moves of other screens than the sign-in set values of both kinds (a `session` that is `unknown` until a call has replied). Also

- `forecast is known`, where a guard decides at the press.

`i` in Rules and `check --format json` tell what was recognised, with the conditions. To contradict it: `{rule: starter, not splash: intro, not sign in: code, not protected: help}`;
`{rule: starter, without: [no flash]}` leaves rules out. A rule of the set that you write yourself takes its place.

## What rules are told

| key | |
|---|---|
| `screens`, `from` | the screens it is about, one or a list |
| `lands on` | screens; `the ground` for out of the app |
| `if` | a condition as in moves; facts and arguments of the screens may be named |
| `ways` | `system`, `header`, `in-app`, `aside`, `by itself` |
| `rungs`, `size`, `time` | `3`, `200MB`, `300ms` |
| `once left`, `any arguments`, `double taps` | `yes`: see below |
| `note` | a sentence of yours, told when it breaks |
| `name` | what the rule is called; no two are called the same. Without one it is called by what it says |

`check --rule NAME` decides one rule; `draw` and `report` show what breaks it.

"""
MORE = {
    "never beneath": "`once left: yes` counts a rung only after it was seen on top.",
    "never land on": "A pop of the app's own is whatever takes away what is seen, so that what lay beneath is seen again: by a tap, a reply or a "
    "timer. A tap on a tab is no way back.",
    "no twins": "`any arguments: yes` also takes two rungs of one screen with other arguments. `double taps: yes` tries taps twice in quick "
    "succession, for all rules of the plan.",
    "no pile-up": "The round is done again until the ladder is higher than every number that a condition of the plan compares its height "
    "with or a pop drops by, and twice more at least. What the phone bears of weight does not count: a round that only the end of the app "
    "stops is a pile-up. A round may go by taps, answers, replies and timers.",
    "memory at most": "Weights are those of the screens; what low memory frees is not counted off.",
    "back lands": "`lands on: the ground` lets it leave the app. `ways: header` is about the header's button. Closing an overlay does "
    "not count as landing anywhere; nor does a question that opens.",
    "leaves only from": "An app that is left because a move took the last rung away breaks it from every screen.",
    "no traps": "A question is answered with the first answer that goes on. Back may do nothing while a timer is running, or a call that "
    "is `never silent`; that is not a trap.",
    "guarded": "The ways are `system`, `header`, `in-app`, `aside` and `by itself`, or those listed in `ways`. Home, being killed and "
    "being swiped away do not count. The condition is read when the screen goes, after what the move has set, so a move may save a form "
    "and leave it. The rule also breaks if a rung beneath others goes and its armed guard is not asked, whichever the way.",
    "way back without system": "A tap that only shows the same screen anew is no way back, nor are looks that replace each other, unless "
    "one of them has one.",
    "waiting ends": "A reply may never come, unless its call says `never silent: yes`. Then a timer must end the waiting (`most` of the "
    "cover, a move such as `10s shown` of the overlay), or the user by Back or a tap.",
    "results come back": "What death takes is told by `survives death`.",
    "redirects end": "To blame is the redirect that comes round.",
    "no flash": "300 ms where no time is said. It counts only where neither the user's haste nor a late reply is to blame.",
    "links have a way back": "A question that Back asks is answered first. The app begins with its start, with what redirects make of that, and with "
    "what goes on from there by itself.",
    "survives death": "`screens` may be seen instead. Facts that a screen holds must be `kept: ladder` to survive, on hidden rungs too. "
    "Overlays are lost, but for notices, and so is what is awaited. Where the phone restores only the top, what lies beneath is not "
    "missed; where it restores nothing, the rule holds.",
    "everything is used": "It lists what nothing met; there is no path to show. Broken only when every state was looked at.",
}

BEST = {"no twins": "twin", "no pile-up": "toggle", "protected": "private-after-death"}
"""Of several plans that break a rule the one that tells most."""


def page() -> str:
    """Return the text of the page."""
    return HEAD + "\n".join(_section(name) for name in RULES)


def _section(name: str) -> str:
    told, fault = RULES[name], _fault(name)
    needs = [f"`{key}`" for key in told.required] + [f"`{key}` if you like" for key in told.optional]
    lines = [f"## {name}", "", f"Holds when {told.meaning}." + (f" Told: {', '.join(needs)}." if needs else "")]
    if name in MORE:
        lines += ["", MORE[name]]
    plan = read_plan(fault.faulty)
    sweep = Sweep(plan, Bounds(depth=8))
    sweep.run()
    verdict = next(each for each in sweep.verdicts() if each.rule.name == name)
    if verdict.counterexamples:
        steps = " · ".join(steps_of(verdict.counterexamples[0]))
        lines += ["", f"{plan.about} {verdict.counterexamples[0].steps} steps show it: {steps}"]
    else:
        lines += ["", f"{plan.about} Never used: {', '.join(place.words for place in verdict.unused)}"]
    return "\n".join([*lines, "", "```diff", *_mend(fault), "```", ""])


def _fault(name: str) -> GalleryPair:
    faults = sorted(gallery(), key=lambda fault: fault.name != BEST.get(name))
    return next(
        fault for fault in faults if any(isinstance(rule, Rule) and rule.name == name for rule in read_plan(fault.faulty).rules)
    )


def _mend(fault: GalleryPair) -> list[str]:
    """Return the plan without its walks, each line of the mend marked."""
    before, after = (path.read_text().partition("walks:\n")[0].splitlines()[1:] for path in (fault.faulty, fault.fixed))
    before = [line.partition(", note: broken")[0] + "}" if ", note: broken" in line else line for line in before]
    return list(unified_diff(before, after, lineterm="", n=100))[3:]


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    sys.stdout.write(f"{PAGE.name} written\n")
