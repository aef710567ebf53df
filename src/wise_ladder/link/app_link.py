"""The tool's side of the wire: what the app is asked, and what it says by itself."""

from __future__ import annotations

import asyncio
from itertools import count
from typing import TYPE_CHECKING, Any, TypeVar

import jsonrpcclient
import jsonrpcserver
import msgspec

from wise_ladder import __version__
from wise_ladder.errors import LinkError
from wise_ladder.link import messages, wire
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from wise_ladder.link.lines import Lines
    from wise_ladder.plan.events import Event

MOST_UNASKED = 10_000
"""So many messages may come that are not the answer."""
_Given = TypeVar("_Given", bound=msgspec.Struct)


class AppLink:
    """An app that can be asked; one question at a time. Each method raises LinkError if no usable answer comes."""

    def __init__(self, lines: Lines, seconds: float) -> None:
        """Speak over lines; an answer may take so many seconds."""
        self._lines, self._seconds, self._ids = lines, seconds, count(1)
        self._happened: list[wire.Happened] = []
        self._wrong = ""

    async def hello(self, plan: str) -> wire.Welcome:
        """Ask who the app is; raises LinkError too if it speaks no version that this program speaks."""
        welcome = await self._call("hello", wire.Hello([wire.PROTOCOL], f"wise-ladder {__version__}", plan), wire.Welcome)
        if welcome.protocol != wire.PROTOCOL:
            raise LinkError(messages.NO_COMMON_VERSION.format(theirs=welcome.protocol, ours=wire.PROTOCOL))
        return welcome

    async def begin(self, begin: wire.Begin) -> wire.Begun:
        """Let the app be as if it had never run; what happened before is forgotten."""
        begun = await self._call("begin", begin, wire.Begun)
        self._happened.clear()
        return begun

    async def do(self, event: Event) -> wire.Done:
        """Let an event happen that is not the passing of time."""
        return await self._call("do", wire.as_do(event), wire.Done)

    async def where(self) -> wire.Report:
        """Ask where the app is."""
        return await self._call("where", None, wire.Report)

    async def advance(self, by: int) -> wire.Advanced:
        """Let the app's clock go on by milliseconds."""
        return await self._call("advance", wire.Advance(by), wire.Advanced)

    def happened(self) -> list[wire.Happened]:
        """Return what the app said by itself since this was asked last."""
        told, self._happened = self._happened, []
        return told

    async def _call(self, method: str, params: msgspec.Struct | None, gives: type[_Given]) -> _Given:
        number = next(self._ids)
        asked = jsonrpcclient.request(method, params=msgspec.to_builtins(params) if params is not None else {}, id=number)
        await self._lines.write(msgspec.json.encode(asked).decode())
        try:
            async with asyncio.timeout(self._seconds):
                answer = await self._answer(number)
        except TimeoutError:
            raise LinkError(messages.PEER_SILENT.format(method=method, seconds=self._seconds)) from None
        if isinstance(answer, jsonrpcclient.Error):
            raise LinkError(messages.PEER_SAYS.format(method=method, why=visible(str(answer.message), lines=False)))
        try:
            return msgspec.convert(answer.result, gives)
        except (msgspec.ValidationError, RecursionError) as error:
            raise LinkError(messages.PEER_WRONG_ANSWER.format(method=method, why=visible(str(error), lines=False))) from None

    async def _answer(self, number: int) -> jsonrpcclient.Ok | jsonrpcclient.Error:
        """Read until the answer to a question comes; an answer to another one is passed over."""
        for _ in range(MOST_UNASKED):
            line = await self._lines.read()
            if line is None:
                raise LinkError(messages.PEER_GONE)
            message = _decoded(line)
            if "method" in message:
                await self._take(line)
            elif message.get("id") in (number, None):
                # Without a number it is an error about a question that could not even be read.
                return _parsed(message)
        raise LinkError(messages.PEER_FLOODS.format(most=MOST_UNASKED))

    async def _take(self, line: str) -> None:
        """Take what the app says or asks by itself; what it asks is answered with an error."""
        answer = jsonrpcserver.dispatch(line, methods={"happened": self._take_happened})
        if answer:
            await self._lines.write(answer)
        if self._wrong:
            raise LinkError(messages.PEER_WRONG_NOTICE.format(method="happened", why=visible(self._wrong, lines=False)))

    def _take_happened(self, *listed: object, **params: Any) -> jsonrpcserver.Result:
        try:
            self._happened.append(msgspec.convert(listed or params, wire.Happened))
        except (msgspec.ValidationError, RecursionError) as error:
            self._wrong = str(error)
        return jsonrpcserver.Success()


def _decoded(line: str) -> dict[str, Any]:
    try:
        message = msgspec.json.decode(line)
    except (msgspec.MsgspecError, RecursionError, ValueError):
        message = None
    if not isinstance(message, dict) or message.get("jsonrpc") != "2.0":
        raise LinkError(messages.PEER_WRONG_MESSAGE)
    return message


def _parsed(message: dict[str, Any]) -> jsonrpcclient.Ok | jsonrpcclient.Error:
    try:
        answer = jsonrpcclient.parse(message)
    except (KeyError, TypeError, AttributeError):
        raise LinkError(messages.PEER_WRONG_MESSAGE) from None
    assert isinstance(answer, (jsonrpcclient.Ok, jsonrpcclient.Error))  # noqa: S101 - a map gives one answer
    return answer
