"""Start, time and the world: cover, calls, timers, home and death, links, memory."""

from tests.plans import ladder, plan_of, run
from tests.semantics.cases import Cases
from wise_ladder.plan.events import Killed, Launch, OpenLink, Reopen, Tap
from wise_ladder.semantics import Phase

START = """
cover: {least: 300ms, until: session is not unknown, most: 5s}
start: [{if: session is valid, put: hives}, {put: sign in}]
facts: {session: {values: [unknown, none, valid, expired], kept: disk}}
calls:
  check session: {valid: {takes: 400ms, if: session is not none}, expired: 300ms, offline: 3s}
anywhere:
  - {when: launched, if: session is none, do: []}
  - {when: launched, do: [set session unknown, call check session]}
  - {when: check session gives valid, do: set session valid}
  - {when: check session gives expired, do: set session expired}
screens: {hives: , sign in: }
"""


class Covered(Cases):
    def test_a_start_is_decided_when_the_cover_goes(self) -> None:
        self.hold(
            START,
            "launch; wait 399ms; never saw hives; check session replies valid; see hives; waited at most 400ms; never saw sign in",
            "launch; check session replies expired; see sign in; waited at most 300ms",
            "launch; wait 4999ms; never saw sign in; wait 1ms; see sign in; no findings",
            "launch; wait 100ms; check session replies valid; waited at most 400ms; see hives; session is valid",
        )

    def test_a_reply_that_is_given_comes_by_itself(self) -> None:
        given = START + "walks: {w: {given: [%s], steps: [%s]}}"
        for replies, steps in (
            (
                "check session replies valid",
                "launch, wait 399ms, never saw hives, wait 1ms, see hives, called check session 1 time",
            ),
            ("session is none", "launch, wait 300ms, see sign in, called check session 0 times"),
            ("check session replies offline", "launch, wait 5s, see sign in, waited at most 5s"),
        ):
            with self.subTest(replies):
                self.hold_plan(given % (replies, steps))

    def test_under_the_cover_only_back_home_and_links_apply(self) -> None:
        self.hold(
            "cover: {least: 1s}\nscreens: {hives: {moves: [{when: tap on, do: push diary}, {when: 500ms on ladder, do: push diary}]}, diary: }",
            "launch; back; outside",
            "launch; home; away; wait 2s; reopen; see diary",
            "launch; never saw hives; wait 1s; ladder hives > diary; never saw hives; saw diary at least 0ms",
        )
        self.refused(
            "cover: {least: 1s}\nscreens: {hives: {moves: [{when: tap on, do: pop}]}}", "launch; tap on", "cover is still up"
        )

    def test_a_cover_that_can_never_go_is_a_finding(self) -> None:
        plan = "cover: {least: 1s, until: ready is yes}\nfacts: {ready: no}\nscreens: {hives: }"
        self.hold(plan, "launch; no findings; wait 1s; finding cover never goes")

    def test_cover_gone_is_a_trigger(self) -> None:
        plan = "cover: {least: 1s}\nfacts: {seen: no}\nscreens: {hives: {moves: [{when: cover gone, do: set seen yes}]}}"
        self.hold(plan, "launch; wait 999ms; seen is no; wait 1ms; seen is yes")


class Calls(Cases):
    PLAN = """
    facts: {heard: [nothing, ok, late]}
    calls: {save: {ok: 200ms, late: {takes: 1s, if: heard is nothing}}, load: {again: ignore, ok: 1s}, sync: {again: restart, ok: 1s}}
    screens:
      hives:
        moves:
          - {when: tap form, do: push form}
          - {when: tap load, do: call load}
          - {when: tap sync, do: call sync}
          - {when: tap stop, do: cancel sync}
          - {when: load gives ok, do: push done}
          - {when: sync gives ok, do: push done}
      form:
        moves:
          - {when: tap save, do: [call save, open busy]}
          - {when: tap quietly, do: call save}
          - {when: tap more, do: push done}
          - {when: save gives ok, do: [set heard ok, close busy, push done]}
          - {when: save gives late, do: close busy}
      done:
    overlays: {busy: {kind: wait}}
    """

    def test_a_reply_comes_at_its_least_time_or_later(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap form; tap save; see busy; save replies ok; see done; heard is ok; waited at most 200ms",
            "launch; tap form; tap save; wait 5s; see busy; save replies ok; see done",
            "launch; tap form; tap save; save replies late; see form; waited at most 1s",
        )
        self.refused(self.PLAN, "launch; tap form; save replies ok", "save is not pending")
        self.refused(self.PLAN, "launch; tap form; tap quietly; tap quietly; save replies ok; save replies late", "right now")

    def test_called_twice(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap form; tap quietly twice; save replies ok; save replies ok; ladder hives > form > done > done;"
            " finding acted while hidden; called save 2 times",
            "launch; tap load twice; load replies ok; called load 1 time; depth 2",
            "launch; tap sync; wait 900ms; tap sync; sync replies ok; waited at most 0ms; called sync 2 times; depth 2",
        )
        self.refused(self.PLAN, "launch; tap load twice; load replies ok; load replies ok", "not pending")
        self.refused(self.PLAN, "launch; tap sync; tap stop; sync replies ok", "not pending")

    def test_a_reply_to_who_is_gone_or_hidden(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap form; tap quietly; tap more; save replies ok; finding acted while hidden",
            "launch; tap form; tap quietly; back; save replies ok; finding reply to a gone screen; heard is nothing; see hives",
        )


class Timers(Cases):
    PLAN = """
    screens:
      hives: {moves: [{when: tap on, do: push %s}, {when: tap diary, do: push diary}]}
      ladderly: {moves: [{when: 1s on ladder, do: push done}, {when: tap more, do: push diary}]}
      shownly: {moves: [{when: 1s shown, do: push done}, {when: tap more, do: push diary}]}
      always: {moves: [{when: 1s whatever happens, do: push done}, {when: tap more, do: push diary}]}
      diary:
      done:
    """

    def test_how_long_a_timer_runs(self) -> None:
        self.hold(
            self.PLAN % "ladderly",
            "launch; tap on; wait 1s; see done; no findings",
            "launch; tap on; back; wait 1s; see hives",
            "launch; tap on; tap more; wait 1s; see done; finding acted while hidden",
            "launch; tap on; home; wait 1s; reopen; see done; finding acted while hidden",
        )
        self.hold(
            self.PLAN % "shownly",
            "launch; tap on; wait 1s; see done; no findings",
            "launch; tap on; wait 900ms; tap more; wait 1s; see diary; back; wait 999ms; see shownly; wait 1ms; see done",
            "launch; tap on; home; wait 1s; reopen; wait 999ms; see shownly; wait 1ms; see done; no findings",
        )
        self.hold(
            self.PLAN % "always",
            "launch; tap on; back; tap diary; wait 1s; ladder hives > diary > done; finding acted while hidden",
            "launch; tap on; back; back; outside; wait 1s; outside; no findings",
        )
        self.hold(
            "policies: {leaving ends: screens}\n" + self.dedented(self.PLAN % "always"),
            "launch; tap on; back; back; outside; wait 1s; ladder done; finding acted after leaving",
            "launch; tap on; swiped away; wait 1s; outside; no findings",
        )

    def test_shown_after_the_first_frame_flashes(self) -> None:
        plan = """
        facts: {session: [none, valid]}
        screens:
          hives: {moves: [{when: shown, if: session is none, do: replace sign in}]}
          sign in:
        """
        self.hold(plan, "launch; see sign in; never saw hives")
        late = "policies: {shown acts: after it}\n" + self.dedented(plan)
        self.hold(
            late,
            "launch; see hives; wait 15ms; see hives; wait 1ms; see sign in; saw hives at least 16ms",
            "launch; back; outside; wait 1s",
        )

    def test_what_plays_may_be_cut_short(self) -> None:
        plan = "screens: {hives: {plays: 1500ms, moves: [{when: %s on ladder, do: replace diary}, {when: tap on, do: replace diary}]}, diary: }"
        self.hold(plan % "1400ms", "launch; wait 2s; finding cut short", "launch; wait 1s; tap on; no findings")
        self.hold(plan % "1500ms", "launch; wait 2s; see diary; no findings")


class Rebuilding(Cases):
    def test_a_link_followed_inside_tabs_asks_the_guards_around_them_too(self) -> None:
        plan = """
        start: home
        flows: {home: {tabs: {yard: hives, diary: diary}, guards: [{name: sure, ask: {answers: [{no: stay}, {yes: go on}]}}]}}
        screens: {hives: {moves: [{when: tap far, do: follow x://week}]}, diary: , week: }
        links: [{address: x://week, build: [week]}]
        """
        self.hold(plan, "launch; tap far; asked sure; answer yes; ladder week")


class CutShort(Cases):
    def test_a_screen_that_goes_before_it_has_played_unless_the_user_takes_it_away(self) -> None:
        plan = """
        facts: {session: {values: [none, valid], from outside: [none to valid]}}
        calls: {load: {ok: 500ms}}
        screens:
          hives:
            plays: 2s
            moves:
              - {when: first shown, do: call load}
              - {when: load gives ok, do: replace hive}
              - {when: session becomes valid, do: replace hive}
              - {when: tap on, do: replace hive}
              - {when: 1s on ladder, do: replace hive}
          hive:
        """
        for by_itself in ("wait 1s", "wait 500ms; load replies ok", "wait 500ms; set session valid"):
            self.hold(plan, f"launch; {by_itself}; see hive; finding cut short")
        self.hold(plan, "launch; wait 500ms; tap on; see hive; no findings")


LEFT = """
facts: {note: {values: [none, kept], kept: disk}}
screens:
  hives: {moves: [{when: tap form, do: push form}]}
  form: {moves: [{when: tap next, do: push next}, {when: left, do: %s}]}
  next: {moves: [{when: tap done, do: pop to root}, {when: left, do: %s}]}
"""


class Leaving(Cases):
    def test_a_timer_that_outlives_the_app_brings_it_to_the_front_if_it_puts_a_screen(self) -> None:
        plan = """
        policies: {leaving ends: screens}
        screens:
          hives: {moves: [{when: 1s whatever happens, do: %s}]}
          alert:
        """
        for puts in ("push alert", "replace alert", "reach alert", "push alert on app"):
            self.hold(plan % puts, "launch; back; wait 2s; ladder alert; finding acted after leaving")
        self.hold(plan % "pop to root", "launch; back; wait 2s; outside; finding acted after leaving")

    def test_once_a_rung_that_went_has_left_the_app_another_only_sets(self) -> None:
        for first, second in (("leave", "[set note kept, push hives]"), ("[set note kept, push hives]", "leave")):
            with self.subTest(first):
                state = run(plan_of(LEFT % (first, second)), Launch(), Tap("form"), Tap("next"), Tap("done"))
                self.assertEqual((state.phase, ladder(state), state.facts), (Phase.OUTSIDE, "", ("kept",)))


class Death(Cases):
    PLAN = """
    policies: {restore: %s}
    facts:
      session: {values: [none, valid], kept: disk}
      chosen: {values: [no, yes], kept: ladder}
      filter: [none, old]
    screens:
      hives: {moves: [{when: tap in, do: [set session valid, set chosen yes, set filter old]}, {when: tap form, do: push form awaiting mark}]}
      form:
        gives: {mark: [white]}
        holds: {draft: {values: [clean, edited], kept: ladder}, focus: [none, text]}
        moves: [{when: tap write, do: [set draft edited, set focus text]}, {when: 1s on ladder, do: pop}, {when: tap white, do: return white}]
    """

    def test_what_comes_back(self) -> None:
        way = "launch; tap in; tap form; tap write; home; killed; wait 5s; reopen; "
        self.hold(
            self.PLAN % "all",
            way + "ladder hives > form; draft is edited; focus is none; session is valid; chosen is yes; filter is none",
            way + "see form; finding result lost; tap white; finding nobody waits",
            # The timer of a screen that came back starts anew.
            way + "wait 999ms; see form; wait 1ms; see hives",
            "launch; tap in; tap form; tap write; killed; reopen; ladder hives > form; draft is edited",
        )
        self.hold(self.PLAN % "top", way + "ladder form; draft is edited; chosen is yes; back; outside")
        self.hold(self.PLAN % "nothing", way + "ladder hives; session is valid; chosen is no; filter is none")

    def test_what_came_back_waits_for_nothing_once_it_is_there(self) -> None:
        plan = plan_of("screens: {hives: , hive: }\nlinks: [{address: 'x://hive', mode: on top, build: [hive]}]")
        for back in (Reopen(), OpenLink("x://hive")):
            state = run(plan, Launch(), Killed(), back)
            self.assertEqual((state.restored, state.held_link), (False, ""))

    def test_what_a_fresh_start_sets_back_has_not_turned(self) -> None:
        plan = """
        policies: {restore: nothing}
        facts: {chosen: {values: [no, yes], kept: ladder}, told: no}
        screens: {hives: {moves: [{when: tap in, do: set chosen yes}]}}
        anywhere: [{when: chosen becomes no, do: set told yes}]
        """
        self.hold(plan, "launch; tap in; home; killed; reopen; chosen is no; told is no")

    def test_the_ways_to_end(self) -> None:
        self.hold(
            self.PLAN % "all",
            "launch; tap in; swiped away; outside; session is valid; filter is none; launch; ladder hives",
            "launch; home; swiped away; outside",
            "launch; home; killed; swiped away; outside; launch; see hives",
        )
        self.refused(self.PLAN % "all", "killed", "is not running")
        self.refused(self.PLAN % "all", "launch; killed; launch", "already runs")
        self.refused(self.PLAN % "all", "launch; killed; tap in", "killed")

    def test_what_comes_back_goes_through_the_redirects(self) -> None:
        plan = """
        facts: {session: [none, valid]}
        screens: {hives: {moves: [{when: tap in, do: set session valid}, {when: tap log, do: push log}]}, log: {moves: [{when: tap more, do: push log}]}, sign in: }
        redirects: [{to: log, if: session is none, send to: sign in, remember: yes}]
        """
        self.hold(plan, "launch; tap in; tap log; home; killed; reopen; ladder sign in; back; outside")

    def test_launched_is_a_trigger_of_each_start(self) -> None:
        plan = "calls: {sync: {ok: 1s}}\nanywhere: [{when: launched, do: call sync}]\nscreens: {hives: }"
        self.hold(plan, "launch; home; reopen; called sync 1 time; home; killed; reopen; called sync 2 times")


class Links(Cases):
    PLAN = """
    start: home
    facts: {session: {values: [none, valid], from outside: [none to valid]}}
    flows: {home: {tabs: {hives: hives, diary: week}}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive(id=1)}, {when: tap shelf, do: follow combfield://shelf}, {when: tap odd, do: follow combfield://odd}]}
      hive:
        takes: {id: whole number, look: {type: [plain, frames], default: plain}}
        holds: {draft: [clean, edited]}
        moves: [{when: tap write, do: set draft edited}, {when: tap twin, do: 'follow combfield://hives/{id}'}]
        guards: [{name: unsaved, if: draft is edited, ask: {text: Leave?, answers: [{stay: stay}, {leave: go on}]}}]
      week:
      entry:
      shelf:
      log:
      sign in: {moves: [{when: tap done, do: [set session valid, go to wanted]}]}
      lost path: {takes: {address: text}}
    redirects: [{to: log, if: session is none, send to: sign in, remember: yes}]
    unknown address: lost path(address=$address)
    links:
      - {address: 'combfield://hives/{id}{?look}', build: [home, hives, hive(id=$id look=$look)]}
      - {address: 'combfield://today', build: [home, week, entry]}
      - {address: 'combfield://shelf', build: [shelf], mode: on top}
      - {address: 'combfield://top/{id}', build: [hive(id=$id)], mode: reach}
      - {address: 'combfield://log', build: [home, hives, log]}
    """.replace("$id look", "$id, look").replace(
        "build: [home, hives, hive(id=$id, look=$look)]", "build: [home, hives, 'hive(id=$id, look=$look)']"
    )

    def test_in_every_phase(self) -> None:
        there = "ladder home[hives: hives > hive(id=7)]; back; back; outside"
        self.hold(
            self.PLAN,
            f"link combfield://hives/7; {there}",
            f"launch; link combfield://hives/7; {there}",
            f"launch; home; link combfield://hives/7; {there}",
            f"launch; home; killed; link combfield://hives/7; {there}",
            "link combfield://hives/7?look=frames; see hive(id=7 look=frames)".replace("7 look", "7, look"),
            "launch; link combfield://today; ladder home[diary: week > entry]; back; see week; back; see hives",
        )

    def test_modes(self) -> None:
        self.hold(
            self.PLAN,
            "launch; link combfield://shelf; ladder home[hives: hives > shelf]",
            "link combfield://shelf; ladder shelf",
            "launch; tap hive; link combfield://top/7; ladder home[hives: hives > hive(id=7)]",
            "launch; tap shelf; ladder hives > shelf; no findings",
            "launch; tap hive; tap twin; ladder home[hives: hives > hive(id=1)]",
        )

    def test_an_address_that_leads_nowhere(self) -> None:
        self.hold(
            self.PLAN,
            'link combfield://nowhere; ladder lost path(address="combfield://nowhere")',
            "launch; link combfield://hives/seven; see lost path; back; see hives",
            "launch; tap odd; ladder hives > lost path",
        )
        self.refused("screens: {hives: }", "link x://a", "no link matches x://a, and there is no screen for unknown addresses")

    def test_guards_and_questions_meet_a_link(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap hive; tap write; link combfield://today; asked unsaved; answer leave; see entry",
            "launch; tap hive; tap write; back; asked unsaved; link combfield://today; asked unsaved; answer stay; see hive",
        )

    def test_a_link_behind_a_redirect_stands_alone_and_is_remembered_whole(self) -> None:
        self.hold(
            self.PLAN,
            "link combfield://log; ladder sign in; tap done; ladder home[hives: hives > log]",
            "launch; set session valid; link combfield://log; ladder home[hives: hives > log]",
        )

    def test_under_a_cover(self) -> None:
        plan = "cover: {least: 1s}\nstart: [{if: ready is yes, put: shelf}, {put: hives}]\nfacts: {ready: no}\nscreens: {hives: , shelf: , log: }\nlinks: [{address: 'x://log', build: [hives, log]}]\n"
        self.hold(
            plan,
            "link x://log; never saw log; wait 1s; ladder hives > log",
            "launch; link x://log; wait 1s; ladder hives > log",
            "launch; wait 1s; ladder hives",
        )


class Memory(Cases):
    PLAN = """
    memory: {warn: 50MB, dies: 60MB}
    screens:
      hives: {weight: 5MB, moves: [{when: tap comb, do: push comb}]}
      comb: {weight: 24MB, hidden: 4MB, moves: [{when: tap next, do: push comb}, {when: tap swap, do: replace comb}, {when: low memory, do: push note}]}
      note:
    """

    def test_what_weighs_and_what_is_freed(self) -> None:
        self.hold(
            self.PLAN,
            "launch; tap comb; tap next; memory at most 53MB; finding memory warning",
            "launch; tap comb; tap swap; tap swap; memory at most 29MB; no findings",
            "launch; tap comb; tap next; tap next; finding out of memory",
        )

    def test_low_memory_frees_what_is_not_visible_until_it_is(self) -> None:
        freed = self.dedented(self.PLAN).replace(", {when: low memory, do: push note}", "")
        self.hold(
            freed,
            "launch; tap comb; low memory; tap next; finding memory warning",
            "launch; tap comb; tap next; low memory; tap next; memory at most 57MB; back; back; see comb",
        )
        self.hold(self.PLAN, "launch; tap comb; low memory; ladder hives > comb > note")
        self.refused(self.PLAN, "low memory", "is not running")
