"""The JSON Schema of plan files says what the reading says."""

import unittest
from collections.abc import Callable
from typing import Any
from unittest.mock import patch

import jsonschema
import yaml
from msgspec.structs import fields

from tests.test_docs import samples
from wise_ladder.demo import combfield, gallery
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.map_reader import MapReader
from wise_ladder.plan.policies import Policies
from wise_ladder.plan.schema import SCHEMA

PLANS = [combfield().read_text(), *(path.read_text() for fault in gallery() for path in (fault.faulty, fault.fixed))]
PLANS += [text for _, text in samples()]
VALIDATOR = jsonschema.Draft202012Validator(SCHEMA)


def read(text: str) -> Any:
    return yaml.load(text, yaml.CSafeLoader)


def maps(schema: Any) -> dict[str, set[str]]:
    """Find the keys of each map of the schema by what it is called."""
    found: dict[str, set[str]] = {}
    if isinstance(schema, dict):
        if isinstance(schema.get("description"), str) and "properties" in schema:
            found[schema["description"].rstrip(".").lower()] = set(schema["properties"])
        for inner in schema.values():
            found |= maps(inner)
    elif isinstance(schema, list):
        for inner in schema:
            found |= maps(inner)
    return found


class ASchema(unittest.TestCase):
    def test_it_is_one(self) -> None:
        jsonschema.Draft202012Validator.check_schema(SCHEMA)

    def test_every_plan_of_ours_fits(self) -> None:
        for text in PLANS:
            with self.subTest(text[:60]):
                VALIDATOR.validate(read(text))

    def test_it_finds_what_is_no_plan(self) -> None:
        for text in (
            "{app: a, start: b}",
            "{app: a, start: b, screens: {b: {move: []}}}",
            "{app: a, start: b, screens: {b: {moves: [{do: pop}]}}}",
            "{app: a, start: b, screens: {b: }, overlays: {o: {kind: popup}}}",
            "{app: a, start: b, screens: {b: }, policies: {back at root: never}}",
            "{app: a, start: b, screens: {b: {weight: heavy}}}",
        ):
            with self.subTest(text):
                self.assertFalse(VALIDATOR.is_valid(read(text)))

    def test_it_knows_every_policy(self) -> None:
        known = SCHEMA["properties"]["policies"]["properties"]
        self.assertEqual({key.replace(" ", "_") for key in known}, {field.name for field in fields(Policies)})

    def test_it_has_the_keys_that_are_read_and_no_others(self) -> None:
        asked: dict[str, set[str]] = {}

        def noting(section: MapReader, *elsewhere: Callable[[str], str]) -> None:
            asked.setdefault(section.what, set()).update(section.asked)
            done(section, *elsewhere)

        done = MapReader.report_unknown_keys
        with patch.object(MapReader, "report_unknown_keys", noting):
            for text in PLANS:
                read_plan_text(text)
        known = maps(SCHEMA)
        known["a plan"] = set(SCHEMA["properties"])
        compared = asked.keys() & known.keys()
        self.assertGreaterEqual(len(compared), 14, sorted(asked.keys() - known.keys()))
        for what in compared:
            with self.subTest(what):
                self.assertEqual(asked[what], known[what])
