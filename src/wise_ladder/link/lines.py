"""Lines of text to and from the other side: over TCP on this machine, a Unix socket, or the standard streams of a command."""

from __future__ import annotations

import asyncio
import os
import shlex
import socket
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.errors import LinkError, UsageError
from wise_ladder.link import messages
from wise_ladder.safe import visible

if TYPE_CHECKING:
    from collections.abc import AsyncIterator

    from wise_ladder.link.address import Address

MAX_LINE = 1_000_000
"""Bytes of a line; nothing that is said is that long."""
_MOST_WORDS = 2_000
_GRACE = 2.0
"""So many seconds a command has to end once nobody speaks to it any more."""


class Lines:
    """Two streams as lines of UTF-8 text."""

    def __init__(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Take streams over; they are closed by `close`."""
        self._reader, self._writer = reader, writer

    async def read(self) -> str | None:
        """Return the next line, None at the end; a line without its end at the end of the stream is none.

        Raises LinkError for a line that is too long, which is skipped, or is not UTF-8 text.
        """
        too_long = False
        while True:
            try:
                line = await self._reader.readuntil(b"\n")
            except asyncio.LimitOverrunError as error:
                too_long = True
                await self._reader.read(error.consumed or 1)
                continue
            except (asyncio.IncompleteReadError, OSError):
                return None
            if too_long:
                raise LinkError(messages.PEER_LINE_TOO_LONG.format(most=MAX_LINE))
            try:
                return line.decode().rstrip("\r\n")
            except UnicodeDecodeError:
                raise LinkError(messages.PEER_NOT_UTF8) from None

    async def write(self, text: str) -> None:
        """Send a line; nothing happens if the other side is gone, which reading will say."""
        with suppress(OSError):
            self._writer.write(text.encode() + b"\n")
            await self._writer.drain()

    async def close(self) -> None:
        """Close both streams."""
        with suppress(OSError):
            self._writer.close()
            await self._writer.wait_closed()


@asynccontextmanager
async def connected(address: Address, seconds: float) -> AsyncIterator[Lines]:
    """Connect to an address, or wait there for somebody, at most so many seconds; raises LinkError if nothing comes of it."""
    lines = await (_awaited(address, seconds) if address.listens else _reached(address, seconds))
    try:
        yield lines
    finally:
        await lines.close()


async def _reached(address: Address, seconds: float) -> Lines:
    try:
        async with asyncio.timeout(seconds):
            if address.path:
                return Lines(*await asyncio.open_unix_connection(address.path, limit=MAX_LINE))
            return Lines(*await asyncio.open_connection(address.host, address.port, limit=MAX_LINE))
    except (OSError, ValueError) as error:
        why = os.strerror(error.errno) if isinstance(error, OSError) and error.errno else str(error) or "no answer"
        raise LinkError(messages.CANNOT_CONNECT.format(address=address.words, why=why)) from None


async def _awaited(address: Address, seconds: float) -> Lines:
    came: asyncio.Future[Lines] = asyncio.get_running_loop().create_future()

    async def take(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if came.done():
            writer.close()
        else:
            came.set_result(Lines(reader, writer))

    server = await listening(address, take)
    try:
        async with asyncio.timeout(seconds):
            return await came
    except TimeoutError:
        raise LinkError(messages.NOBODY_CAME.format(address=address.words, seconds=seconds)) from None
    finally:
        server.close()


async def listening(address: Address, take: object) -> asyncio.Server:
    """Wait for connections at an address, and hand each to `take`, a coroutine function of two streams.

    A Unix socket that nobody listens at any more is replaced. Raises LinkError if nobody can listen there.
    """
    try:
        if address.path:
            _clear_dead_socket(address.path)
            return await asyncio.start_unix_server(take, address.path, limit=MAX_LINE)  # type: ignore[arg-type]
        return await asyncio.start_server(take, address.host, address.port, limit=MAX_LINE)  # type: ignore[arg-type]
    except (OSError, ValueError) as error:
        why = (isinstance(error, OSError) and error.strerror) or str(error)
        raise LinkError(messages.CANNOT_LISTEN.format(address=address.words, why=why)) from None


def _clear_dead_socket(path: str) -> None:
    """Remove the file of a socket that nobody listens at; without that nobody can listen there again."""
    if Path(path).is_socket():
        with socket.socket(socket.AF_UNIX) as tried:
            if tried.connect_ex(path):
                Path(path).unlink(missing_ok=True)


@asynccontextmanager
async def command(words: str) -> AsyncIterator[Lines]:
    """Run a command and speak with it over its standard streams; afterwards it is ended.

    Raises LinkError if the command cannot be run, UsageError if `words` cannot be split into a command and its arguments.
    """
    try:
        parts = shlex.split(words)
    except ValueError as error:
        raise UsageError(messages.CANNOT_RUN.format(command=words, why=error)) from None
    if not parts:
        raise UsageError(messages.CANNOT_RUN.format(command=words, why="it is empty"))
    try:
        process = await asyncio.create_subprocess_exec(
            *parts,
            stdin=asyncio.subprocess.PIPE,
            stdout=asyncio.subprocess.PIPE,
            stderr=asyncio.subprocess.PIPE,
            limit=MAX_LINE,
        )
    except (OSError, ValueError) as error:
        why = (isinstance(error, OSError) and error.strerror) or str(error)
        raise LinkError(messages.CANNOT_RUN.format(command=parts[0], why=why)) from None
    assert process.stdin is not None  # noqa: S101 - as asked for
    assert process.stdout is not None  # noqa: S101
    assert process.stderr is not None  # noqa: S101
    lines, said = Lines(process.stdout, process.stdin), asyncio.create_task(_last_words(process.stderr))
    try:
        yield lines
    except LinkError as error:
        with suppress(TimeoutError):
            async with asyncio.timeout(_GRACE):
                if words := await asyncio.shield(said):
                    raise LinkError(messages.LAST_WORDS.format(why=error, words=words)) from None
        raise
    finally:
        await lines.close()
        with suppress(TimeoutError):
            async with asyncio.timeout(_GRACE):
                await process.wait()
        if process.returncode is None:
            process.kill()
            await process.wait()
        said.cancel()


async def _last_words(errors: asyncio.StreamReader) -> str:
    """Read what a command says on its error stream to the end; return the last line, made visible."""
    kept = b""
    while read := await errors.read(MAX_LINE):
        kept = (kept + read)[-_MOST_WORDS:]
    lines = kept.decode(errors="replace").split("\n")
    return visible(next((line.strip() for line in reversed(lines) if line.strip()), ""), lines=False)


async def standard_streams() -> Lines:
    """Return this process's own standard streams as lines; raises LinkError if they are files."""
    loop = asyncio.get_running_loop()
    reader = asyncio.StreamReader(limit=MAX_LINE)
    try:
        # Copies, since the loop closes what it is given.
        coming, going = os.fdopen(os.dup(0), "rb"), os.fdopen(os.dup(1), "wb")
        await loop.connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), coming)
        transport, protocol = await loop.connect_write_pipe(asyncio.streams.FlowControlMixin, going)
    except (OSError, ValueError) as error:
        raise LinkError(messages.STREAMS_ARE_FILES.format(why=error)) from None
    return Lines(reader, asyncio.StreamWriter(transport, protocol, reader, loop))
