"""How a phone, and the frame of an app, behave where the moves of a plan leave it open; as plain data."""

from __future__ import annotations

from typing import Literal, TypeAlias

from msgspec import Struct

Way: TypeAlias = Literal["system", "header", "in-app", "aside", "by itself"]
WAYS: tuple[Way, ...] = ("system", "header", "in-app", "aside", "by itself")
DEFAULT_WAYS: tuple[Way, ...] = WAYS[:4]


class Policies(Struct, frozen=True):
    """How the phone and the app's frame behave where the plan's moves leave it open."""

    back_at_root: Literal["leave", "away", "stay"] = "leave"
    pop_at_root: Literal["finding", "nothing", "leave"] = "finding"
    push_of_a_twin: Literal["stack", "nothing"] = "stack"
    tab_back: Literal["first tab, then outwards", "last used", "outwards"] = "first tab, then outwards"
    taps_in_transition: Literal["taken", "ignored"] = "taken"
    pop_meets_overlay: Literal["goes with its rung", "closes instead"] = "goes with its rung"
    bars_left_unsaid: Literal["shown", "as they were"] = "shown"
    guards_see: tuple[Way, ...] = WAYS
    system_back: Literal["yes", "no"] = "yes"
    """Whether the phone has a Back of its own."""
    restore: Literal["all", "top", "nothing"] = "all"
    """What of a saved ladder comes back after the app was killed."""
    leaving_ends: Literal["everything", "screens"] = "everything"
    """`screens`: facts in memory and timers that run whatever happens outlive the app's screens."""
    shown_acts: Literal["before the first frame", "after it"] = "before the first frame"
    """When moves at `shown` are done: after the first frame the user sees what was there before."""
    back_gesture: Literal["no", "yes"] = "no"
    """Whether Back is a gesture that is begun, and then finished or cancelled."""
    results_of_other_apps: Literal["survive death", "are lost"] = "survive death"
    """What becomes of a result that is awaited of another app's screen when our app is killed."""
    remakes_screens: Literal["no", "yes"] = "no"
    """Whether a sweep tries that screens are remade: the phone is turned, the language changes."""
    shown_when_remade: Literal["yes", "no"] = "yes"
    """Whether moves at `shown` are done again."""
    pending_when_remade: Literal["goes on", "is lost"] = "goes on"
    """What becomes of timers, calls and awaited results of a screen that is remade."""
    question_when_remade: Literal["stays", "goes"] = "stays"
    cover_after_death: Literal["yes", "no"] = "yes"
    """Whether the cover is shown while an app that was killed comes back."""
