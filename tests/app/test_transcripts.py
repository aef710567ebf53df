"""What is on the screen after each key of the transcripts: the whole application, without a terminal."""

import unittest

from tests.app.transcripts import FOLDER, read, replay


class Transcripts(unittest.TestCase):
    maxDiff = 4000

    def same(self, name: str) -> None:
        transcript = read(FOLDER / f"{name}.txt")
        for (keys, expected), seen in zip(transcript.steps, replay(transcript), strict=True):
            self.assertEqual("\n".join(seen).rstrip(), "\n".join(expected), f"{name}, after {keys}")

    def test_each_key_of_climb(self) -> None:
        self.same("climb")

    def test_climb_in_a_wide_window(self) -> None:
        self.same("climb-wide")

    def test_each_key_of_crossings(self) -> None:
        self.same("crossings")

    def test_crossings_in_a_wide_window(self) -> None:
        self.same("crossings-wide")

    def test_dialogs_in_80_columns(self) -> None:
        self.same("dialogs")

    def test_the_outline_and_what_can_be_done_there(self) -> None:
        self.same("outline")

    def test_parts_are_climbed_added_edited_and_deleted_from_each_view(self) -> None:
        self.same("parts")

    def test_replies_facts_and_several_moves_to_choose_from(self) -> None:
        self.same("replies")

    def test_counterparts_of_an_edit(self) -> None:
        self.same("counterparts")

    def test_each_key_of_rules(self) -> None:
        self.same("rules")

    def test_rules_whose_states_are_all_met(self) -> None:
        self.same("gate")

    def test_all_views_in_80_columns(self) -> None:
        self.same("gate-narrow")

    def test_rules_in_a_wide_window(self) -> None:
        self.same("rules-wide")

    def test_each_key_of_walks(self) -> None:
        self.same("walks")


if __name__ == "__main__":
    unittest.main()
