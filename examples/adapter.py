"""The adapter of the Combfield example: it lets Wise Ladder drive the app, and tells where the app is.

It speaks JSON-RPC 2.0, one message a line, over its standard streams. To carry it over to another language: read a line, take
`method` and `params` out of it, call one of five functions, write a line. See docs/your-app.md.

Run it with `--bug NAME` to switch on a bug of the app, `--port N` to listen there instead.
"""

from __future__ import annotations

import argparse
import json
import socket
import sys
from typing import IO, Any

from combfield_app import CombfieldApp, Screen

SCREENS = ["hives", "hive", "frames", "inspection", "mark picker", "sign in"]
parser = argparse.ArgumentParser()
parser.add_argument("--bug", action="append", default=[])
parser.add_argument("--port", type=int)
options = parser.parse_args()
app = CombfieldApp(frozenset(options.bug))


def hello(**_: Any) -> dict[str, Any]:
    """Say who we are, what we can be told, and what we tell."""
    does = ["launch", "tap", "back", "header back", "answer"]
    tells = ["ladder", "asked", "facts", "results"]
    return {"protocol": 1, "app": "Combfield", "version": "example", "screens": SCREENS, "does": does, "tells": tells,
            "begins": True, "advances": True}  # fmt: skip


def begin(facts: dict[str, str], replies: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Be as if the app had just been installed, but for some facts; list what we cannot set."""
    app.__init__(app.bugs)  # type: ignore[misc]
    app.session = facts.get("session", "none")
    return {"lacks": [name for name in (*facts, *replies) if name != "session"]}


def do(event: str, name: str = "", **more: Any) -> dict[str, Any]:
    """Let something happen; answer when all that follows at once has happened."""
    if event == "launch" and not app.running:
        app.start()
    elif not app.running:
        return {"done": False, "why": "the app is not running"}
    elif event == "tap":
        return {"done": app.tap(name, **more.get("with", {}))}
    elif event == "back" or (event == "header back" and app.has_arrow):
        app.back()
    elif event == "answer" and app.question:
        app.answer(name)
    else:
        return {"done": False, "why": f"{event} does nothing here"}
    return {"done": True}


def where(**_: Any) -> dict[str, Any]:
    """Tell the back stack, the open question, and the facts that we know."""
    if not app.running:
        return {"phase": "outside"}
    return {"phase": "open", "ladder": [rung(screen) for screen in app.stack], "asked": app.question or None,
            "facts": {"session": app.session}}  # fmt: skip


def rung(screen: Screen) -> dict[str, Any]:
    """Write a screen of the stack: its name, what it was opened with, what it remembers."""
    return {"screen": screen.name, "with": screen.given, "facts": screen.keeps}


def advance(by: int, **_: Any) -> dict[str, Any]:
    """Let time pass: nothing in this part of the app waits for it."""
    return {"clock": by}


METHODS = {"hello": hello, "begin": begin, "do": do, "where": where, "advance": advance}


def serve(coming: IO[str], going: IO[str]) -> None:
    """Answer every line, and send what the app told before the answer."""
    for line in coming:
        call = json.loads(line)
        answer: dict[str, Any] = {"jsonrpc": "2.0", "id": call.get("id")}
        try:
            answer["result"] = METHODS[call["method"]](**call.get("params", {}))
        except KeyError:
            answer["error"] = {"code": -32601, "message": f"no method {call.get('method')}"}
        except TypeError as error:
            answer["error"] = {"code": -32602, "message": str(error)}
        for name, value in app.told:
            happened = {"what": "result", "at": 0, "name": name, "value": value}
            print(json.dumps({"jsonrpc": "2.0", "method": "happened", "params": happened}), file=going)
        app.told.clear()
        print(json.dumps(answer), file=going, flush=True)


if options.port:
    with socket.create_server(("127.0.0.1", options.port)) as server:
        while True:
            stream = server.accept()[0].makefile("rw", encoding="utf-8", newline="\n")
            serve(stream, stream)
else:
    serve(sys.stdin, sys.stdout)
