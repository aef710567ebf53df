"""What each rule means: for each clause of its sentence two plans one edit apart, one that breaks it and one that holds."""

import unittest
from typing import NamedTuple

from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.rule import Rule
from wise_ladder.plan.rules import RULES
from wise_ladder.rules.sweep import Sweep
from wise_ladder.rules.verdicts import Bounds, Verdict

ASK = "ask: {text: Leave?, answers: [{no: stay}, {yes: go on}]}"
FORM = "form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: set draft edited}"


class Clause(NamedTuple):
    """A clause of a rule's sentence, a plan that breaks it in so many steps by a place, and the edit after which it holds."""

    says: str
    rule: str
    plan: str
    mend: tuple[str, str]
    steps: int
    place: str


CLAUSES = [
    # What lies on the ladder
    Clause(
        "under another rung", "{rule: never beneath, screens: intro}",
        "start: intro\nscreens: {intro: {moves: [{when: tap go, do: push hives}]}, hives: }", ("push", "replace"),
        2, "intro, tap go"),
    Clause(
        "under another rung, on a hidden tab", "{rule: never beneath, screens: diary}",
        "start: home\nflows: {home: {tabs: {hives: hives, diary: diary},"
        " moves: [{when: tap diary, do: switch diary}, {when: tap hives, do: switch hives}]}}\n"
        "screens: {hives: {moves: [{when: tap tour, do: push tour on app}]}, diary: , tour: }",
        ("push tour on app", "push tour"), 4, "hives, tap tour"),
    Clause(
        "once left: not before it was seen on top", "{rule: never beneath, screens: hives, once left: yes}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: }", ("push hive", "replace hive"),
        2, "hives, tap hive"),
    Clause(
        "equal neighbours", "no twins",
        "start: hives\nscreens: {hives: {moves: [{when: tap hives, do: push hives}]}}", ("push hives", "push hives once"),
        2, "hives, tap hives"),
    Clause(
        "any arguments", "{rule: no twins, any arguments: yes}",
        "start: hive(id=1)\nscreens: {hive: {takes: {id: whole number}, moves: [{when: tap next, do: push hive(id=2)}]}}",
        ("push", "replace"), 2, "hive, tap next"),
    Clause(
        "double taps", "{rule: no twins, double taps: yes}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: }", ("push hive", "push hive once"),
        2, "hives, tap hive"),
    Clause(
        "a round that can be repeated for ever", "no pile-up",
        "start: hives\nscreens: {hives: {moves: [{when: tap more, do: push hives}]}}", ("push", "replace"),
        2, "hives, tap more"),
    Clause(
        "a bounded chain holds, whatever the bound", "no pile-up",
        "start: hives\nscreens: {hives: {moves: [{when: tap more, do: push hives}]}}",
        ("{when: tap more, ", "{when: tap more, if: not depth over 7, "), 2, "hives, tap more"),
    Clause(
        "a round may go by replies", "no pile-up",
        "start: hives\ncalls: {load: {ok: 1s}}\nscreens: {hives: {moves: [{when: tap more, do: call load}, "
        "{when: load gives ok, do: push hives}]}}", ("push", "replace"), 3, "hives, load gives ok"),
    Clause(
        "a loop may go by answers", "no pile-up",
        "start: hives\nscreens: {hives: {moves: [{when: tap more, do: push hives}], guards: [{name: sure, watches: what is put over it, "
        "ask: {answers: [{stay: stay}, {more: go on}]}}]}}", ("push", "replace"), 3, "hives, tap more"),
    Clause(
        "a loop may go by timers", "no pile-up",
        "start: hives\nscreens: {hives: {moves: [{when: 1s on ladder, do: push hives}]}}", ("push", "replace"),
        2, "hives, 1s on ladder"),
    Clause(
        "what only the end of the app stops is a pile-up", "no pile-up",
        "start: hives\nmemory: {dies: 30MB}\nscreens: {hives: {weight: 10MB, moves: [{when: tap more, do: push hives}]}}",
        ("push", "replace"), 2, "hives, tap more"),
    Clause(
        "so many one under the other", "{rule: depth at most, rungs: 2}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {moves: [{when: tap comb, do: push comb}]}, "
        "comb: }", ("push comb", "replace comb"), 3, "hive, tap comb"),
    Clause(
        "so many of these screens", "{rule: at most, rungs: 1, screens: hive}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {moves: [{when: tap comb, do: push comb}]}, "
        "comb: {moves: [{when: tap hive, if: depth over 2, do: push hive}]}}", ("push hive}]}}", "reach hive}]}}"),
        4, "comb, tap hive"),
    Clause(
        "all rungs together weigh", "{rule: memory at most, size: 15MB}",
        "start: hives\nscreens: {hives: {moves: [{when: tap comb, do: push comb}]}, comb: {weight: 10MB, "
        "moves: [{when: tap more, if: not depth over 2, do: push comb}]}}", ("push comb}]}}", "replace comb}]}}"), 3, "comb, tap more"),
    # Where Back leads
    Clause(
        "system Back lands", "{rule: never land on, screens: sign in}",
        "start: sign in\nscreens: {sign in: {moves: [{when: tap go, do: push hives}]}, hives: {header: none}}",
        ("push", "replace"), 3, "sign in, tap go"),
    Clause(
        "system Back lands, which the fix leaves nothing to go back to", "{rule: never land on, screens: sign in}",
        "start: sign in\nscreens: {sign in: {moves: [{when: tap go, do: [push help, push hives]}]}, help: {header: none}, "
        "hives: {header: none}}", ("[push help, push hives]", "[clear, push help, push hives]"), 4, "sign in, tap go"),
    Clause(
        "the header lands", "{rule: never land on, screens: sign in}",
        "start: sign in\npolicies: {system back: no}\nscreens: {sign in: {moves: [{when: tap go, do: push hives}]}, hives: }",
        ("push", "replace"), 3, "sign in, tap go"),
    Clause(
        "a pop of the app lands", "{rule: never land on, screens: sign in, if: depth over 0}",
        "start: sign in\nscreens: {sign in: {moves: [{when: tap go, do: push hives}]}, hives: {header: none, "
        "moves: [{when: 5s shown, do: pop}], guards: [{name: stay, ways: [system], block: yes}]}}",
        ("do: pop", "do: []"), 3, "sign in, tap go"),
    Clause(
        "system Back to another tab lands", "{rule: never land on, screens: week}",
        "start: home\npolicies: {tab back: last used}\nflows: {home: {tabs: {diary: week, yard: hives}, moves: ["
        "{when: tap yard, do: switch yard}]}}\nscreens: {week: , hives: }",
        ("last used", "outwards"), 3, "hives"),
    Clause(
        "the header lands where it leads", "{rule: never land on, screens: week}",
        "start: hives\npolicies: {system back: no}\nscreens: {hives: {moves: [{when: tap entry, do: push entry}]}, "
        "entry: {arrow: to week}, week: }", ("arrow: to week", "arrow: to hives"), 3, "entry"),
    Clause(
        "while the condition holds", "{rule: never land on, screens: sign in, if: session is valid}",
        "start: sign in\nfacts: {session: [none, valid]}\nscreens: {sign in: {moves: [{when: tap go, do: [set session valid, "
        "push hives]}]}, hives: }", ("set session valid, ", ""), 3, "sign in, tap go"),
    Clause(
        "a tap on a tab is no way back", "{rule: never land on, screens: week}",
        "start: home\npolicies: {tab back: outwards}\nflows: {home: {tabs: {diary: week, yard: hives}, moves: ["
        "{when: tap diary, do: switch diary}, {when: tap yard, do: switch yard}]}}\n"
        "screens: {week: {moves: [{when: tap entry, do: push entry}]}, hives: , entry: }",
        ("push entry", "replace entry"), 3, "week, tap entry"),
    Clause(
        "lands on one of these", "{rule: back lands, from: comb, lands on: hive}",
        "start: hives\nscreens: {hives: {moves: [{when: tap comb, do: push comb}, {when: tap hive, do: push hive}]}, "
        "hive: {moves: [{when: tap comb, do: push comb}]}, comb: }", ("{when: tap comb, do: push comb}, ", ""), 3, "comb"),
    Clause(
        "or leaves the app", "{rule: back lands, from: hives, lands on: the ground}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {moves: [{when: tap all, do: push hives}]}}",
        ("push hives", "reach hives"), 4, "hive, tap all"),
    Clause(
        "by this way", "{rule: back lands, from: comb, ways: header, lands on: hive}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {moves: [{when: tap comb, do: push comb}]}, "
        "comb: {arrow: to hives}}", ("arrow: to hives", "arrow: to hive"), 4, "comb"),
    Clause(
        "leaves only from these", "{rule: leaves only from, screens: hives}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: [clear, push hive]}]}, hive: }", ("clear, ", ""),
        3, "hives, tap hive"),
    Clause(
        "also where a guard answers Back with leave", "{rule: leaves only from, screens: hives}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {guards: [{name: out, ways: [system], "
        "do: leave}]}}", ("do: leave", "do: pop"), 3, "hive"),
    Clause(
        "also where an answer leaves", "{rule: leaves only from, screens: hives}",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {guards: [{name: out, ways: [system], "
        "ask: {text: Leave?, answers: [{no: stay}, {yes: leave}]}}]}}", ("{yes: leave}", "{yes: pop}"), 4, "hive"),
    Clause(
        "not because nothing is on the ladder", "{rule: leaves only from, screens: hives}",
        "start: hives\nscreens: {hives: {moves: [{when: tap all, do: pop to hives and drop it}]}}", (" and drop it", ""),
        2, "hives, tap all"),
    Clause(
        "some number of Backs gets out", "no traps",
        "start: hives\nscreens: {hives: {guards: [{name: stay, block: yes}]}}", ("block: yes", "do: leave"), 2, "hives"),
    Clause(
        "questions are answered", "no traps",
        f"start: hives\nscreens: {{hives: {{guards: [{{name: stay, {ASK.replace('go on', '[]')}}}]}}}}", ("{yes: []}", "{yes: go on}"),
        2, "hives"),
    Clause(
        "or the root where the phone stays there", "no traps",
        "start: hives\npolicies: {back at root: leave}\nscreens: {hives: {guards: [{name: stay, block: yes}]}}",
        ("root: leave", "root: stay"), 2, "hives"),
    Clause(
        "a silent call opens nothing", "no traps",
        "start: hives\nfacts: {busy: no}\ncalls: {send: {ok: 1s}}\nscreens: {hives: {moves: [{when: tap send, do: [set busy yes, "
        "call send]}, {when: send gives ok, do: set busy no}], guards: [{name: busy, if: busy is yes, block: yes}]}}",
        ("{ok: 1s}", "{ok: 1s, never silent: yes}"), 3, "hives"),
    Clause(
        "the header or a tap of its own", "way back without system",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {header: none}}",
        ("header: none", "header: none, moves: [{when: tap done, do: pop}]"), 2, "hive"),
    Clause(
        "a tap that puts the same screen is no way back", "way back without system",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {header: none, moves: ["
        "{when: tap anew, do: replace hive}]}}", ("do: replace hive", "do: pop"), 2, "hive"),
    Clause(
        "two looks that replace each other are none, one with an arrow is", "way back without system",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {header: none, moves: ["
        "{when: tap frames, do: replace frames}]}, frames: {header: none, moves: [{when: tap hive, do: replace hive}]}}",
        ("frames: {header: none", "frames: {header: arrow"), 2, "hive"),
    Clause(
        "the lowest rung needs none", "way back without system",
        "start: hives\nscreens: {hives: {moves: [{when: tap hive, do: push hive}]}, hive: {header: none}}", ("push hive", "replace hive"),
        2, "hive"),
    # Guards and protection
    Clause(
        "by the header", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}], guards: [{{name: unsaved, "
        f"if: draft is edited, ways: [system, in-app, aside], {ASK}}}]}}}}", ("[system, in-app, aside]", "[system, header, in-app, aside]"),
        4, "form"),
    Clause(
        "by a tap of its own", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}, {{when: tap out, do: pop}}], "
        f"guards: [{{name: unsaved, if: draft is edited, ways: [system, header, aside], {ASK}}}]}}}}",
        ("[system, header, aside]", "[system, header, in-app, aside]"), 4, "form, tap out"),
    Clause(
        "aside", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}], guards: [{{name: unsaved, "
        f"if: draft is edited, ways: [system, header, in-app], {ASK}}}]}}}}\nanywhere: [{{when: tap home, do: [pop to root]}}]",
        ("[system, header, in-app]", "[system, header, in-app, aside]"), 4, "anywhere, tap home"),
    Clause(
        "by itself", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}, {{when: 30s shown, do: pop}}], "
        f"guards: [{{name: unsaved, if: draft is edited, {ASK}}}]}}}}",
        ("name: unsaved", "name: unsaved, ways: [system, header, in-app, aside, by itself]"), 4, "form, 30s shown"),
    Clause(
        "or the ways listed", "{rule: guarded, screens: form, if: draft is edited, ways: [system, header]}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}, {{when: tap out, do: pop}}], "
        f"guards: [{{name: unsaved, if: draft is edited, ways: [system], {ASK}}}]}}}}", ("ways: [system], ", "ways: [system, header], "),
        4, "form"),
    Clause(
        "by itself, also when memory is low", "{rule: guarded, screens: form}",
        "start: hives\nscreens: {hives: {moves: [{when: tap form, do: push form}]}, form: {moves: [{when: low memory, do: pop}], guards: ["
        "{name: g, ways: [system, header, in-app, aside], block: yes}]}}",
        ("[system, header, in-app, aside]", "[system, header, in-app, aside, by itself]"), 3, "form, low memory"),
    Clause(
        "a guard that acts instead is enough", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}], guards: [{{name: unsaved, "
        "if: draft is edited, ways: [header, in-app, aside], do: pop}]}}", ("[header, in-app, aside]", "[system, header, in-app, aside]"),
        4, "form"),
    *(
        Clause(
            f"what a move sets after the screen went by a {name} does not count",
            "{rule: guarded, screens: form, if: session is valid}",
            "start: hives\nfacts: {session: [valid, none]}\nscreens: {hives: {moves: [{when: tap form, do: push form}]}, form: {header: none, "
            f"moves: [{{when: tap out, do: [{operation}, set session none]}}], guards: [{{name: g, ways: [system], block: yes}}]}}}}",
            (f"[{operation}, set session none]", f"[set session none, {operation}]"), 3, "form, tap out")
        for name, operation in (("pop", "pop"), ("replace", "replace hives"))
    ),
    Clause(
        "nor what is set once the app was left", "{rule: guarded, screens: hives, if: session is valid}",
        "start: hives\nfacts: {session: {values: [valid, none], kept: disk}}\nscreens: {hives: {moves: [{when: left, do: set session none}]}}",
        ("start: hives", "start: hives\npolicies: {back at root: stay}"), 2, "hives, left"),
    Clause(
        "left unasked in a tab that is not seen breaks it too", "{rule: guarded, screens: form}",
        "start: home\nfacts: {away: [no, yes]}\nflows: {home: {tabs: {diary: week, yard: hives}, moves: [{when: tap yard, "
        "do: [set away yes, switch yard]}]}}\nscreens: {week: {moves: [{when: tap form, do: push form}]}, hives: , "
        "form: {moves: [{when: tap note, do: push note}], guards: [{name: g, ways: [system, header, in-app, aside, by itself], block: yes}]}, "
        "note: {moves: [{when: 30s on ladder, if: away is yes, do: pop to week}]}}",
        ("do: pop to week", "do: pop"), 5, "note, 30s on ladder"),
    Clause(
        "left unasked breaks it too", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}, {{when: tap help, do: push help}}], "
        f"guards: [{{name: unsaved, if: draft is edited, {ASK}}}]}}, help: {{moves: [{{when: tap quit, do: leave}}]}}}}",
        ("do: leave", "do: pop"), 5, "help, tap quit"),
    Clause(
        "what is saved on the way out is not thrown away", "{rule: guarded, screens: form, if: draft is edited}",
        f"start: hives\nscreens: {{hives: {{moves: [{{when: tap form, do: push form}}]}}, {FORM}, {{when: tap save, do: [pop]}}], "
        f"guards: [{{name: unsaved, if: draft is edited, ways: [system, header, aside], {ASK}}}]}}}}",
        ("[pop]", "[set draft clean, pop]"), 4, "form, tap save"),
    Clause(
        "never seen", "{rule: protected, screens: log, if: session is valid}",
        "start: hives\nfacts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: tap log, do: push log}]}, log: }",
        ("{when: tap log, ", "{when: tap log, if: session is valid, "), 2, "hives, tap log"),
    Clause(
        "nor once it is seen already and a fact changes", "{rule: protected, screens: hives, if: session is valid}",
        "start: hives\nfacts: {session: [valid, none]}\nscreens: {hives: {moves: [{when: tap out, do: set session none}]}, log: }",
        ("set session none", "[set session none, replace log]"), 2, "hives, tap out"),
    Clause(
        "nor while it gets other arguments", "{rule: protected, screens: hive, if: id is 7}",
        "start: hive(id=7)\nscreens: {hive: {takes: {id: {type: whole number, samples: [7, 12]}}, moves: [{when: tap next, do: reach hive(id=12)}]}}",
        ("hive(id=12)", "hive(id=7)"), 2, "hive, tap next"),
    # Taps, waits, results
    Clause(
        "does something", "no dead taps",
        "start: hives\nscreens: {hives: {moves: [{when: tap up, do: pop to week}, {when: tap week, do: push week}]}, week: }",
        ("pop to week", "pop to week else push week"), 2, "hives"),
    Clause(
        "no cover for ever: a call may be silent", "waiting ends",
        "start: hives\ncover: {until: session is valid}\nfacts: {session: [unknown, valid]}\ncalls: {check: {valid: 1s}}\nanywhere: ["
        "{when: launched, do: call check}, {when: check gives valid, do: set session valid}]\nscreens: {hives: }",
        ("{valid: 1s}", "{valid: 1s, never silent: yes}"), 1, "anywhere, launched"),
    Clause(
        "no cover for ever: its longest time ends it", "waiting ends",
        "start: hives\ncover: {until: session is valid}\nfacts: {session: [unknown, valid]}\ncalls: {check: {valid: 1s}}\nanywhere: ["
        "{when: launched, do: call check}, {when: check gives valid, do: set session valid}]\nscreens: {hives: }",
        ("is valid}\nfacts", "is valid, most: 5s}\nfacts"), 1, "anywhere, launched"),
    Clause(
        "no wait overlay that stops Back", "waiting ends",
        "start: hives\ncalls: {send: {ok: 1s}}\noverlays: {sending: {kind: wait}}\nscreens: {hives: {moves: [{when: tap send, do: ["
        "open sending, call send]}, {when: send gives ok, do: close sending}]}}", ("{kind: wait}", "{kind: wait, back: closes}"),
        2, "hives, tap send"),
    Clause(
        "what a tap takes off does not wait for ever", "waiting ends",
        "start: hives\ncalls: {send: {ok: 1s}}\noverlays: {sending: {kind: wait}}\nscreens: {hives: {moves: [{when: tap send, do: ["
        "open sending, call send]}, {when: send gives ok, do: close sending}]}}",
        ("{kind: wait}", "{kind: wait, moves: [{when: tap give up, do: close}]}"), 2, "hives, tap send"),
    Clause(
        "none is lost", "results come back",
        "start: hives\nscreens: {hives: {moves: [{when: tap pick, do: push picker awaiting mark}, {when: mark comes back, do: []}, "
        "{when: mark is cancelled, do: []}]}, picker: {gives: {mark: [white]}, moves: [{when: tap white, do: [return white, leave]}]}}",
        ("[return white, leave]", "return white"), 3, "picker, tap white"),
    Clause(
        "none comes that nobody awaits", "results come back",
        "start: hives\nscreens: {hives: {moves: [{when: tap pick, do: push picker}]}, picker: {gives: {mark: [white]}, moves: ["
        "{when: tap white, do: return white}]}}", ("push picker", "push picker awaiting mark"), 3, "picker, tap white"),
    Clause(
        "ends once, also where a tap is quick", "results come back, {rule: no twins, screens: base, double taps: yes}",
        "start: base\nscreens: {base: {moves: [{when: tap hives, do: push hives}]}, hives: {moves: [{when: tap pick, do: push picker "
        "awaiting mark}, {when: mark comes back, do: []}, {when: mark is cancelled, do: []}]}, picker: {gives: {mark: [white]}, "
        "moves: [{when: tap white, do: return white}]}}\npolicies: {taps in transition: taken}",
        ("taps in transition: taken", "taps in transition: ignored"), 4, "picker, tap white"),
    Clause(
        "no chain comes round", "redirects end",
        "start: hives\nscreens: {hives: , week: }\nredirects: [{to: hives, send to: week}, {to: week, send to: hives}]",
        (", {to: week, send to: hives}", ""), 1, "redirect of week to hives"),
    # Flashes, links, death
    Clause(
        "seen for less than so long", "{rule: no flash, time: 300ms}",
        "start: intro\nscreens: {intro: {moves: [{when: 100ms on ladder, do: replace hives}]}, hives: }", ("100ms", "400ms"),
        2, "intro"),
    Clause(
        "a wait that opens over it ends what is seen of it", "{rule: no flash, time: 300ms}",
        "start: start\nscreens: {start: {moves: [{when: tap go, do: push hive}]}, hive: {moves: [{when: 100ms shown, do: open busy}]}, "
        "hives: }\noverlays: {busy: {kind: wait, moves: [{when: 1s on ladder, do: [close, replace hives]}]}}", ("100ms", "400ms"),
        3, "hive"),
    Clause(
        "Back lands in the app", "links have a way back",
        "start: hives\nscreens: {hives: , hive: }\nlinks: [{address: 'x://hive', build: [hive]}]", ("[hive]", "[hives, hive]"),
        1, "x://hive"),
    Clause(
        "also after a question", "links have a way back",
        f"start: hives\nscreens: {{hives: , hive: {{guards: [{{name: stay, {ASK}}}]}}}}\nlinks: [{{address: 'x://hive', build: [hive]}}]",
        ("[hive]", "[hives, hive]"), 1, "x://hive"),
    Clause(
        "what the app begins with may stand alone", "links have a way back",
        "start: hives\nscreens: {hives: {moves: [{when: tap week, do: push week}]}, week: }\nlinks: [{address: 'x://week', build: [week]}]",
        ("build: [week]", "build: [hives]"), 1, "x://week"),
    Clause(
        "the same is seen", "survives death",
        "start: hives\nfacts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: tap log, do: [set session valid, push log]}]}, "
        "log: , sign in: }\nredirects: [{to: log, if: session is none, send to: sign in}]",
        ("session: [none, valid]", "session: {values: [none, valid], kept: disk}"), 3, "log"),
    Clause(
        "what it held", "survives death",
        "start: form\nscreens: {form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: set draft edited}]}}",
        ("[clean, edited]", "{values: [clean, edited], kept: ladder}"), 3, "form"),
    Clause(
        "what rungs beneath held", "survives death",
        "start: form\nscreens: {form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: [set draft edited, push help]}]}, "
        "help: {header: none, guards: [{name: stay, block: yes}]}}", ("[clean, edited]", "{values: [clean, edited], kept: ladder}"),
        3, "form"),
    Clause(
        "overlays", "survives death",
        "start: hives\noverlays: {menu: {kind: sheet}}\nscreens: {hives: {moves: [{when: tap menu, do: open menu}]}}",
        ("kind: sheet", "kind: notice, for: 2s"), 3, "hives"),
    Clause(
        "awaited results", "survives death",
        "start: hives\nscreens: {hives: {moves: [{when: tap pick, do: push picker awaiting mark}, {when: mark comes back, do: []}, "
        "{when: mark is cancelled, do: []}]}, picker: {gives: {mark: [white]}, moves: [{when: tap white, do: return white}]}}",
        (" awaiting mark", ""), 3, "hives"),
    Clause(
        "what the phone promises to lose does not count", "survives death",
        "start: form\nscreens: {form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: set draft edited}]}}\n"
        "policies: {restore: all}", ("restore: all", "restore: nothing"), 3, "form"),
    # Gestures, remaking, addresses
    Clause(
        "what was shown is what happens", "back keeps its promise",
        "start: hives\npolicies: {back gesture: yes}\nfacts: {called: {values: [no, yes], from outside: [no to yes]}}\n"
        "screens: {hives: {moves: [{when: tap week, do: push week}]}, week: , day: }\nanywhere: [{when: called becomes yes, do: push day}]",
        ("do: push day", "do: []"), 4, "day"),
    Clause(
        "what it held", "survives remaking",
        "start: form\nscreens: {form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: set draft edited}]}}",
        ("[clean, edited]", "{values: [clean, edited], kept: memory}"), 3, "form"),
    Clause(
        "what a rung beneath held", "survives remaking",
        "start: form\nscreens: {form: {holds: {draft: [clean, edited]}, moves: [{when: tap write, do: [set draft edited, push help]}]}, "
        "help: }", ("[clean, edited]", "{values: [clean, edited], kept: ladder}"), 3, "form"),
    Clause(
        "awaited results, where the phone loses them", "survives remaking",
        "start: hives\nscreens: {hives: {moves: [{when: tap pick, do: push picker awaiting mark}, {when: mark comes back, do: []}, "
        "{when: mark is cancelled, do: []}]}, picker: {gives: {mark: [white]}, moves: [{when: tap white, do: return white}]}}\n"
        "policies: {pending when remade: is lost}", ("is lost", "goes on"), 3, "hives"),
    Clause(
        "the same is seen", "survives remaking",
        "start: hives\nfacts: {welcomed: no}\nscreens: {hives: {moves: [{when: shown, if: welcomed is yes, do: push week}, "
        "{when: tap go, do: set welcomed yes}]}, week: }", ("when: shown, if", "when: first shown, if"), 3, "hives"),
    Clause(
        "nothing is called twice", "survives remaking",
        "start: hives\ncalls: {fetch: {again: restart, ok: 1s}}\nscreens: {hives: {moves: [{when: shown, do: call fetch}, {when: fetch gives ok, do: []}]}}",
        ("when: shown", "when: first shown"), 2, "hives, shown"),
    Clause(
        "nothing opens again", "survives remaking",
        "start: hives\noverlays: {hint: {kind: dialog}}\nscreens: {hives: {moves: [{when: shown, do: open hint}]}}",
        ("when: shown", "when: first shown"), 3, "hives, shown"),
    Clause(
        "the address shows the same screen", "addresses lead back",
        "start: hives\nscreens: {hives: {moves: [{when: tap week, do: push week}]}, week: , day: }\nlinks: [{address: 'x://week', build: [hives, week]}]\n"
        "redirects: [{to: week, if: depth over 1, send to: day}]", ("depth over 1", "depth over 9"), 1, "x://week"),
    Clause(
        "and has a way back", "addresses lead back",
        "start: hives\nscreens: {hives: {moves: [{when: tap week, do: push week}]}, week: }\nlinks: [{address: 'x://week', build: [week]}]",
        ("build: [week]", "build: [hives, week]"), 1, "x://week"),
    Clause(
        "these screens have one", "{rule: addresses lead back, screens: week}",
        "start: hives\nscreens: {hives: {moves: [{when: tap week, do: push week}]}, week: , day: }\nlinks: [{address: 'x://week', build: [hives, day]}]",
        ("[hives, day]", "[hives, week]"), 2, "week"),
    # States
    Clause(
        "known before it is pressed", "forecast is known",
        "start: hives\nfacts: {picking: no}\nscreens: {hives: {guards: [{name: pick, decides: at the press, do: set picking yes}]}}",
        ("decides: at the press", "if: picking is no"), 1, "pick"),
    Clause(
        "in every state", "{rule: in every state, if: session is none}",
        "start: hives\nfacts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: tap go, do: set session valid}]}}",
        ("set session valid", "set session none"), 2, "hives, tap go"),
    Clause(
        "where these screens are seen", "{rule: in every state, screens: hive, if: session is none}",
        "start: hives\nfacts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: tap go, do: set session valid}, "
        "{when: tap hive, do: push hive}]}, hive: }", ("{when: tap hive, ", "{when: tap hive, if: session is none, "),
        3, "hives, tap hive"),
    Clause(
        "in no state", "{rule: in no state, if: session is valid}",
        "start: hives\nfacts: {session: [none, valid]}\nscreens: {hives: {moves: [{when: tap go, do: set session valid}]}}",
        ("set session valid", "set session none"), 2, "hives, tap go"),
]  # fmt: skip


def decided(plan: str, rule: str) -> Verdict:
    sweep = Sweep(read_plan_text(f"app: Combfield\n{plan}\nrules: [{rule}]\n"), Bounds(depth=14, seconds=20))
    sweep.run()
    verdict, *_ = sweep.verdicts()
    return verdict


class Meaning(unittest.TestCase):
    def test_each_clause_is_broken_in_so_many_steps_by_one_place_and_one_edit_mends_it(self) -> None:
        for clause in CLAUSES:
            mended = clause.plan.replace(*clause.mend)
            with self.subTest(f"{clause.rule}: {clause.says}"):
                self.assertNotEqual(mended, clause.plan)
                broken, holds = decided(clause.plan, clause.rule), decided(mended, clause.rule)
                found = [(each.steps, each.place.words) for each in broken.counterexamples]
                self.assertEqual(found, [(clause.steps, clause.place)])
                self.assertEqual(holds.status, "holds", [each.tape.as_steps() for each in holds.counterexamples] or holds.words)

    def test_every_rule_has_a_clause(self) -> None:
        told = {read.name for clause in CLAUSES for read in read_plan_text(
            f"app: Combfield\n{clause.plan}\nrules: [{clause.rule}]\n").rules if isinstance(read, Rule)}  # fmt: skip
        self.assertEqual(set(RULES) - told, {"everything is used"})
