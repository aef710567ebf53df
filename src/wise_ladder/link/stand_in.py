"""The stand-in for an app: it behaves as a plan says and speaks over the wire; it can be slow, silent, or vanish."""

from __future__ import annotations

import asyncio
import time
from typing import TYPE_CHECKING, Any, NamedTuple

import jsonrpcserver
import msgspec

from wise_ladder import __version__
from wise_ladder.errors import LinkError
from wise_ladder.link import wire
from wise_ladder.link.lines import Lines, connected, listening, standard_streams
from wise_ladder.link.report import happenings_of, report_of
from wise_ladder.plan import events
from wise_ladder.semantics import initial_state, step

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.link.address import Address
    from wise_ladder.plan import Event, Plan
    from wise_ladder.semantics import State

WRONG_PARAMS = -32602
_SECONDS = 10.0


class Manner(NamedTuple):
    """How the stand-in speaks: so many seconds before each answer, never an answer to a method, gone after so many answers."""

    slow: float = 0.0
    silent: str = ""
    drop_after: int = 0
    own_clock: bool = False
    """Whether its clock runs by itself, and cannot be advanced."""


class StandIn:
    """One app, which the other side drives."""

    def __init__(self, plan: Plan, *, own_clock: bool = False) -> None:
        """Begin outside, as the plan says; `own_clock`: time passes as it really does, and cannot be advanced."""
        self._whole = self._plan = plan
        self._own_clock, self._began = own_clock, time.monotonic()
        self._state: State = initial_state(plan)
        self.notices: list[wire.Happened] = []
        """What happened since the last answer."""
        self.methods: dict[str, Callable[..., jsonrpcserver.Result]] = {
            "hello": self._method(wire.Hello, self._hello),
            "begin": self._method(wire.Begin, self._begin),
            "do": self._method(wire.Do, self._do),
            "where": self._method(None, self._where),
            "advance": self._method(wire.Advance, self._advance),
        }

    @staticmethod
    def _method(
        takes: type[msgspec.Struct] | None, does: Callable[[Any], msgspec.Struct]
    ) -> Callable[..., jsonrpcserver.Result]:
        """Return what takes the parameters of a method, checks them, and returns its result or says what is wrong with them."""

        def answer(*listed: object, **named: object) -> jsonrpcserver.Result:
            try:
                params = msgspec.convert(listed or named, takes) if takes is not None else None
            except (msgspec.ValidationError, RecursionError) as error:
                return jsonrpcserver.Error(WRONG_PARAMS, str(error))
            return jsonrpcserver.Success(msgspec.to_builtins(does(params)))

        return answer

    def _hello(self, _hello: wire.Hello) -> wire.Welcome:
        screens = [screen.name for screen in self._plan.screens]
        return wire.Welcome(
            wire.PROTOCOL, self._plan.app, f"stand-in {__version__}", screens, list(wire.EVENT_NAMES), list(wire.ASPECTS),
            begins=True, advances=not self._own_clock,
        )  # fmt: skip

    def _begin(self, begin: wire.Begin) -> wire.Begun:
        plan, lacks = self._whole, list[str]()
        if begin.phone in {name for name, _ in plan.phones}:
            plan = plan.on_phone(begin.phone)
        elif begin.phone:
            lacks.append(begin.phone)
        known = {fact.name: fact.values for fact in plan.facts}
        facts = tuple((name, value) for name, value in begin.facts.items() if value in known.get(name, ()))
        replies = [(call, each.outcome) for call, coming in begin.replies.items() for each in coming]
        there = tuple((call, name) for call, name in replies if call in plan.call and plan.call[call].outcome(name) is not None)
        lacks += [name for name in begin.facts if name not in dict(facts)]
        lacks += [call for call, name in replies if (call, name) not in there]
        self._plan, self._state, self._began = plan, initial_state(plan, facts, there), time.monotonic()
        self.notices.clear()
        return wire.Begun(lacks)

    def _where(self, _nothing: None) -> wire.Report:
        self._catch_up()
        return report_of(self._plan, self._state)

    def _catch_up(self) -> None:
        """Let the time pass that really did."""
        passed = round((time.monotonic() - self._began) * 1000) - self._state.clock
        if self._own_clock and passed > 0:
            self._step(events.Wait(passed))

    def _do(self, do: wire.Do) -> wire.Done:
        self._catch_up()
        refused = self._step(wire.as_event(do))
        return wire.Done(refused is None, refused or "")

    def _advance(self, advance: wire.Advance) -> wire.Advanced:
        if not self._own_clock:
            self._step(events.Wait(max(advance.by, 0)))
        return wire.Advanced(self._state.clock)

    def _step(self, event: Event) -> str | None:
        done = step(self._plan, self._state, event)
        if done.refused is None:
            self.notices += happenings_of(self._state, done)
            self._state = done.state
        return done.refused


async def serve(stand_in: StandIn, lines: Lines, manner: Manner) -> None:
    """Answer the peer until it is gone, or until the stand-in has given as many answers as `manner` allows."""
    given = 0
    while True:
        try:
            line = await lines.read()
        except LinkError:
            # What is too long or no text cannot be answered; the next line may be.
            line = ""
        if line is None:
            return
        answer = jsonrpcserver.dispatch(line, methods=stand_in.methods, deserializer=msgspec.json.decode)
        notices, stand_in.notices = stand_in.notices, []
        for notice in notices:
            told = {"jsonrpc": "2.0", "method": "happened", "params": msgspec.to_builtins(notice)}
            await lines.write(msgspec.json.encode(told).decode())
        if not answer or (manner.silent and f'"{manner.silent}"' in line):
            continue
        if manner.slow:
            await asyncio.sleep(manner.slow)
        await lines.write(answer)
        given += 1
        if given == manner.drop_after:
            return


async def stand_in_at(plan: Plan, address: Address | None, manner: Manner, told: Callable[[str], None]) -> None:
    """Stand in for an app at an address, on and on if it listens there, or else over the standard streams.

    `told`: is given the address once somebody can connect. Raises LinkError if the other side cannot be reached.
    """
    if address is None:
        await serve(StandIn(plan, own_clock=manner.own_clock), await standard_streams(), manner)
        return
    if not address.listens:
        async with connected(address, _SECONDS) as lines:
            await serve(StandIn(plan, own_clock=manner.own_clock), lines, manner)
        return

    async def take(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        lines = Lines(reader, writer)
        try:
            await serve(StandIn(plan, own_clock=manner.own_clock), lines, manner)
        finally:
            await lines.close()

    async with await listening(address, take) as server:
        host, port = server.sockets[0].getsockname()[:2] if not address.path else ("", 0)
        told(address._replace(host=host, port=port).words)
        await server.serve_forever()
