"""Random and hostile messages to both sides of the wire: no crash, no hang, clear errors, bounded memory."""

import asyncio
import json
import tracemalloc
import unittest
from random import Random
from typing import Any

from tests.link.pairs import PLAINLY, standing_in, two_ends
from tests.plans import COMBFIELD, plan_of
from wise_ladder.errors import LinkError
from wise_ladder.link import wire
from wise_ladder.link.against import Stand
from wise_ladder.link.app_link import AppLink
from wise_ladder.link.lines import MAX_LINE, Lines
from wise_ladder.link.stand_in import StandIn, serve
from wise_ladder.plan import events
from wise_ladder.semantics import initial_state, step

MESSAGES = 5_000
"""To each side."""
WORDS = ("hello", "begin", "do", "where", "advance", "happened", "tap", "launch", "\x1b[2J", "../../etc", "\u202e", "")


def value(random: Random, depth: int = 0) -> Any:
    """Draw anything that JSON can say."""
    kind = random.randrange(9 if depth < 4 else 6)
    if kind < 6:
        return (
            None,
            True,
            random.randrange(-(10**20), 10**20),
            random.random() * 1e308,
            random.choice(WORDS),
            "x" * random.randrange(99),
        )[kind]
    if kind == 6:
        return [value(random, depth + 1) for _ in range(random.randrange(4))]
    return {
        random.choice((*WORDS, "event", "name", "with", "by", "facts")): value(random, depth + 1)
        for _ in range(random.randrange(5))
    }


def message(random: Random) -> bytes:
    """Draw a line: half of them look like messages, the rest is nothing of the kind."""
    kind = random.randrange(12)
    if kind == 0:
        return random.randbytes(random.randrange(200)).replace(b"\n", b"") + b"\n"
    if kind == 1:
        return b"[" * random.randrange(5_000) + b"\n"
    if kind == 2:
        return b'{"jsonrpc": "2.0", "method": "do", "params": {"event": "tap", "na\n'
    if kind == 3:
        return b"\n"
    if kind == 4:
        return json.dumps([value(random)]).encode() + b"\n"
    if kind == 5:
        return b'{"a":' * 2_000 + b"1" + b"}" * 2_000 + b"\n"
    said = {
        "jsonrpc": "2.0",
        "id": random.choice((1, 2, None, "x", [])),
        random.choice(("method", "result", "error")): value(random),
    }
    if random.random() < 0.7:
        said = {"jsonrpc": "2.0", "id": random.randrange(9), "method": random.choice(WORDS), "params": value(random)}
    if random.random() < 0.2:
        said.pop(random.choice(list(said)))
    return json.dumps(said).encode() + b"\n"


async def drained(lines: Lines, answers: list[str]) -> None:
    """Read until the last question is answered; keep the last answers."""
    while (line := await lines.read()) is not None and '"id": 77' not in line:
        answers.append(line)
        del answers[:-50]


class ToTheStandIn(unittest.TestCase):
    def test_it_goes_on_answering(self) -> None:
        async def run() -> list[str]:
            async with two_ends() as (ours, theirs):
                serving = asyncio.create_task(serve(StandIn(COMBFIELD), theirs, PLAINLY))
                answers = list[str]()
                reading = asyncio.create_task(drained(ours, answers))
                random = Random(5)
                for _ in range(MESSAGES):
                    ours._writer.write(message(random))
                    await ours._writer.drain()
                ours._writer.write(b"x" * (MAX_LINE + 5) + b"\n")
                await ours.write('{"jsonrpc": "2.0", "id": 77, "method": "where"}')
                async with asyncio.timeout(60):
                    await reading
                serving.cancel()
                return answers

        tracemalloc.start()
        answers = asyncio.run(run())
        _, most = tracemalloc.get_traced_memory()
        tracemalloc.stop()
        self.assertLess(most, 60_000_000)
        for answer in answers:
            self.assertEqual(json.loads(answer)["jsonrpc"], "2.0")
            self.assertNotIn("Traceback", answer)

    def test_errors_say_what_is_wrong(self) -> None:
        async def asked(*lines: str) -> list[Any]:
            async with two_ends() as (ours, theirs):
                serving = asyncio.create_task(serve(StandIn(COMBFIELD), theirs, PLAINLY))
                for line in lines:
                    await ours.write(line)
                answers = [json.loads(await ours.read() or "") for _ in lines]
                serving.cancel()
                return answers

        wrong = asyncio.run(asked(
            "no json", '{"jsonrpc": "2.0", "id": 1}', '{"jsonrpc": "2.0", "id": 2, "method": "fly"}',
            '{"jsonrpc": "2.0", "id": 3, "method": "advance", "params": {"by": "long"}}',
            '{"jsonrpc": "2.0", "id": 4, "method": "do", "params": {"event": "dance"}}',
        ))  # fmt: skip
        self.assertEqual([each["error"]["code"] for each in wrong], [-32700, -32600, -32601, -32602, -32602])
        self.assertIn("Expected `int`, got `str` - at `$.by`", wrong[3]["error"]["message"])


class ToTheTool(unittest.TestCase):
    def test_each_answer_is_used_or_refused_with_a_line(self) -> None:
        """Each question is answered by one hostile line; what the tool cannot use ends in an error of its own."""

        async def run() -> tuple[int, int]:
            random, used, refused = Random(6), 0, 0
            for _ in range(MESSAGES // 10):
                async with two_ends() as (ours, theirs):
                    link = AppLink(ours, 5.0)
                    theirs._writer.write(b"".join(message(random) for _ in range(10)))
                    await theirs._writer.drain()
                    theirs._writer.write_eof()
                    try:
                        await random.choice(
                            (link.where, lambda link=link: link.do(events.Back()), lambda link=link: link.hello("x"))
                        )()
                        used += 1
                    except LinkError as error:
                        self.assertEqual(len(str(error).splitlines()), 1)
                        refused += 1
            return used, refused

        used, refused = asyncio.run(run())
        self.assertEqual(used + refused, MESSAGES // 10)
        self.assertGreater(refused, 100)

    def refused(self, *lines: bytes, seconds: float = 5.0) -> str:
        async def run() -> str:
            async with two_ends() as (ours, theirs):
                for line in lines:
                    theirs._writer.write(line)
                if seconds == 5.0:
                    theirs._writer.write_eof()
                try:
                    await AppLink(ours, seconds).where()
                except LinkError as error:
                    return str(error)
                return ""

        return asyncio.run(run())

    def test_what_is_wrong_is_said(self) -> None:
        answer = b'{"jsonrpc": "2.0", "id": 1, "result": {"phase": "open"}}\n'
        notice = b'{"jsonrpc": "2.0", "method": "happened", "params": {"what": "shown", "at": 1}}\n'
        for lines, words in (
            ((b'{"jsonrpc": "2.0", "id": 9, "result": 1}\n', notice, answer), ""),
            ((b"x" * (MAX_LINE + 1) + b"\n",), "the app sent a line of more than 1000000 bytes"),
            ((b"\xff\n",), "the app sent a line that is not UTF-8 text"),
            ((b"{}\n",), "the app sent what is no message of JSON-RPC 2.0"),
            ((answer[:-9],), "the app ended the connection"),
            ((answer.replace(b"open", b"\\u001b[2J"),), "the app's answer to where cannot be read: Invalid enum value '\\x1b[2J'"),
            ((answer.replace(b"open", b"flying"),), "the app's answer to where cannot be read: Invalid enum value 'flying'"),
            ((b'{"jsonrpc": "2.0", "id": 1, "error": {"code": 1, "message": "no idea"}}\n',), "the app answers where with an error: no idea"),
            ((b'{"jsonrpc": "2.0", "id": 1, "error": 7}\n',), "the app sent what is no message of JSON-RPC 2.0"),
            ((notice.replace(b'"at": 1', b'"at": "noon"'),), "the app's message happened cannot be read: Expected `int`"),
            ((notice * 10_001, answer), "the app sends too much: more than 10000 messages that nobody asked for"),
        ):  # fmt: skip
            with self.subTest(words):
                said = self.refused(*lines)
                self.assertTrue(said.startswith(words) if words else said == "", said)

    def test_an_app_of_another_version_is_told(self) -> None:
        async def run() -> None:
            async with two_ends() as (ours, theirs):
                await theirs.write('{"jsonrpc": "2.0", "id": 1, "result": {"protocol": 7, "app": "x"}}')
                await AppLink(ours, 5.0).hello("x")

        with self.assertRaisesRegex(LinkError, "the app speaks version 7 of the protocol, this program only 1"):
            asyncio.run(run())

    def test_what_an_app_says_is_never_shown_raw(self) -> None:
        async def run() -> str:
            plan = plan_of("screens: {hives: {moves: [{when: tap x, do: push hive}]}, hive: }")
            async with standing_in(plan) as app:
                state = initial_state(plan)
                done = step(plan, state, events.Launch())
                await app.begin(plan, (), ())
                app.link.where = lambda: answered(wire.Report("open", ladder=[wire.RungReport("a\x1b[2J\nb\u202e")]))  # type: ignore[method-assign]
                words = await app.follow(Stand(plan, state), events.Launch(), done)
                return "\n".join((words, *app.beside(Stand(plan, done.state))))

        async def answered(report: wire.Report) -> wire.Report:
            return report

        said = asyncio.run(run())
        self.assertIn("a\\u001b[2J\\u000ab\\u202e", said)
        self.assertNotRegex(said, "[\x1b\u202e]")

    def test_silence_ends(self) -> None:
        self.assertEqual(self.refused(seconds=0.1), "the app did not answer where within 0.1 s")
