"""The parts of a state in the middle of a step, its ladders above all, and the head that deciding sees of them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, cast

from wise_ladder.semantics.opaque import LAYERS_BEHIND, OpaqueLadder
from wise_ladder.semantics.paths import exchanged, front_chain, open_path
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.state import (
    COVERED,
    ELSEWHERE,
    HIDDEN,
    OUT_OF_SIGHT,
    VISIBLE,
    Chain,
    Head,
    HeadRung,
    Ladder,
    Rung,
    State,
    open_layers,
    visible_path,
)
from wise_ladder.semantics.symbolic import SymbolicPart

if TYPE_CHECKING:
    from wise_ladder.plan.model import Plan
    from wise_ladder.semantics.opaque import OpaqueRung
    from wise_ladder.semantics.state import OverlayInstance, RungData


class WorkingLadders:
    """A state that is worked on, and the path that is worked on in it."""

    __slots__ = (
        "alive", "armed", "bars", "begun", "calls", "clock", "cover", "deadlines", "facts", "freed", "held_link", "ladder",
        "least", "never_shown", "overlays", "path", "phase", "plan", "question", "restored", "scripted_replies", "seen",
        "tables", "track", "wanted", "way",
    )  # fmt: skip

    def __init__(self, plan: Plan, state: State) -> None:
        """Begin with a state, and with its visible path."""
        self.plan, self.tables = plan, index_of(plan)
        self._set(state)
        self.path = self.track = visible_path(state.ladder)
        """The visible path, and the one that is worked on, from the outside in; never changed in place."""
        self.way: Chain = ()
        """The way to the ladder that is worked on, if it is not on the visible path."""

    def _set(self, state: State) -> None:
        self.phase, self.ladder, self.facts, self.deadlines = state.phase, state.ladder, state.facts, state.deadlines
        self.clock, self.seen, self.overlays = state.clock, state.seen, state.overlays
        self.question, self.wanted, self.armed = state.question, state.wanted, state.armed
        self.never_shown, self.bars, self.cover, self.calls = state.never_shown, state.bars, state.cover, state.calls
        self.scripted_replies, self.held_link, self.freed, self.alive = (
            state.scripted_replies,
            state.held_link,
            state.freed,
            state.alive,
        )
        self.restored, self.least, self.begun = state.restored, state.least, state.begun

    def state(self) -> State:
        """Return the state as it is now."""
        return State(
            phase=self.phase,
            ladder=self.ladder,
            facts=self.facts,
            deadlines=self.deadlines,
            clock=self.clock,
            seen=self.seen,
            overlays=self.overlays,
            question=self.question,
            wanted=self.wanted,
            armed=self.armed,
            never_shown=self.never_shown,
            bars=self.bars,
            cover=self.cover,
            calls=self.calls,
            scripted_replies=self.scripted_replies,
            held_link=self.held_link,
            freed=self.freed,
            alive=self.alive,
            restored=self.restored,
            least=self.least,
            begun=self.begun,
        )

    # What deciding may look at

    def head(self) -> Head:
        """Return all that deciding may look at: the path that is worked on, and what stands over it."""
        path, ladder, layered = self.track, self.ladder, self.overlays != ()
        if isinstance(ladder, OpaqueLadder):
            return self._veiled_head(cast("OpaqueRung", path[0]))
        spots = []
        if path is self.path:
            for rung in path:
                data = rung.data
                spots.append(HeadRung(data, len(ladder) == 1))
                if rung.overlays:
                    layered = True
                if rung.inner:
                    ladder = rung.inner[data.tab_order[-1]]
        else:
            spots = self._hidden_spots()
            layered = layered or any(rung.overlays for rung in path)
        calling = self._calling()
        if not (layered or self.question or self.armed or self.cover or self.held_link or self.restored or self.begun):
            return Head(self.phase, self.facts, tuple(spots), wanted=self.wanted, calling=calling)
        layers = tuple((name, place) for _, name, place in open_layers(self.overlays, path)) if layered else ()
        places = {rung.serial: place for place, rung in enumerate(path)}
        if path is not self.path:
            places = {rung.serial: places.get(rung.serial, ELSEWHERE) for rung in self.path}
        places[0] = -1
        held = _held((*self.overlays, *(layer for rung in path for layer in rung.overlays))) if layered else ()
        armed = tuple((each.guard, places.get(each.serial, OUT_OF_SIGHT - number)) for number, each in enumerate(self.armed))
        question = self.question.guard if self.question else None
        cover = self._cover()
        return Head(
            self.phase, self.facts, tuple(spots), layers, question, self.wanted, armed, cover, calling, self.held_link,
            self.restored, self.begun is not None, held,
        )  # fmt: skip

    def _hidden_spots(self) -> list[HeadRung]:
        spots, visible = [], True
        for place, rung in enumerate(self.track):
            ladder, number = self.ladder_at(place), self._inside(place)
            visible = visible and place < len(self.path) and self.path[place].serial == rung.serial
            stands = VISIBLE if visible else HIDDEN if ladder[-1].serial == rung.serial else COVERED
            tab = number if rung.inner and number != rung.data.tab_order[-1] else -1
            spots.append(HeadRung(rung.data, ladder[0].serial == rung.serial, stands, tab))
        return spots

    def _veiled_head(self, veil: OpaqueRung) -> Head:
        path, layers = cast("tuple[HeadRung, ...]", veil.path), cast("tuple[tuple[str, int], ...]", LAYERS_BEHIND)
        question = self.question.guard if self.question else None
        return Head(
            self.phase,
            self.facts,
            path,
            layers,
            question,
            self.wanted,
            cover=self._cover(),
            calling=self._calling(),
            arriving=self.held_link,
            restored=self.restored,
        )

    def _cover(self) -> Literal["", "least", "up"]:
        if not self.cover:
            return ""
        return "least" if self.least else "up"

    def _calling(self) -> tuple[str, ...]:
        return self.calls if isinstance(self.calls, SymbolicPart) else tuple([call.name for call in self.calls])

    # The ladders

    def turn(self, way: Chain) -> None:
        """Work on the path that leads along a chain and then the tops."""
        self.way = way
        if not way or way == front_chain(self.path)[: len(way)]:
            self.way, self.track = (), self.path
        else:
            self.way, self.track = open_path(self.ladder, way)

    def way_to_level(self, level: int) -> Chain:
        """Return the way to a ladder of the path that is worked on."""
        return tuple((self.track[place].serial, self._inside(place)) for place in range(min(level, len(self.track))))

    def still_there(self, chain: Chain) -> Chain:
        """Return as much of a chain as is still there."""
        return open_path(self.ladder, chain)[0]

    def _inside(self, place: int) -> int:
        """Return which ladder inside the rung of a place the path goes on in; -1 if it holds none."""
        if place < len(self.way):
            return self.way[place][1]
        used = self.track[place].data.tab_order
        return used[-1] if used else -1

    def ladder_at(self, level: int) -> Ladder:
        """Return the ladder of a level of the path that is worked on; empty if there is none."""
        if level == 0:
            return self.ladder
        if level > len(self.track) or not self.track[level - 1].inner:
            return ()
        return self.track[level - 1].inner[self._inside(level - 1)]

    def put_ladder(self, level: int, ladder: Ladder) -> None:
        """Give the ladder of a level other rungs."""
        while level:
            level -= 1
            holder, number, outer = self.track[level], self._inside(level), self.ladder_at(level)
            inner = (*holder.inner[:number], ladder, *holder.inner[number + 1 :])
            holder = Rung(holder.data, holder.serial, inner, holder.overlays)
            if outer[-1].serial == holder.serial:
                ladder = (*outer[:-1], holder)
            else:
                ladder = tuple(holder if rung.serial == holder.serial else rung for rung in outer)
        self._set_ladder(ladder)

    def _set_ladder(self, ladder: Ladder) -> None:
        self.ladder = ladder
        self.path = visible_path(ladder)
        self.turn(self.way)

    def put_rung(self, rung: Rung) -> None:
        """Put a changed rung in the place of the one of its serial, wherever it stands."""
        for place in reversed(range(len(self.track))):
            if self.track[place].serial == rung.serial:
                outer = self.ladder_at(place)
                top = outer[-1].serial == rung.serial
                changed = (*outer[:-1], rung) if top else tuple(rung if o.serial == rung.serial else o for o in outer)
                self.put_ladder(place, changed)
                return
        self._set_ladder(exchanged(self.ladder, rung))

    def set_data(self, rung: Rung, data: RungData) -> None:
        """Give a rung another face."""
        self.put_rung(Rung(data, rung.serial, rung.inner, rung.overlays))


def _held(layers: tuple[OverlayInstance, ...]) -> tuple[tuple[str, tuple[tuple[str, str], ...]], ...]:
    return tuple([(layer.name, layer.facts) for layer in layers if layer.facts])
