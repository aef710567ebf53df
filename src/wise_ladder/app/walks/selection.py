"""What Walks is about, without a screen: the walks of a plan, their results, which are shown, and what is chosen."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wise_ladder.plan import Plan, Walk
    from wise_ladder.walks import LineRun, WalkRun


class WalkSelection:
    """The walks that are shown, in the order of the file; `in_steps`: whether one moves among the steps of the chosen one."""

    def __init__(self, plan: Plan) -> None:
        """Begin with all walks shown, the first chosen."""
        self.begin(plan)

    def begin(self, plan: Plan) -> None:
        """Begin with another plan."""
        self.plan = plan
        self.results: Mapping[str, WalkRun] = {}
        self.on_app: dict[str, WalkRun] | None = None
        """What came of the walks on the running app, as far as they were run there; None: the plan's results are shown."""
        self.turned: set[str] = set()
        """The walks whose verdict changed and that were not looked at since."""
        self.wanted, self.failed_only, self.in_steps = "", False, False
        self.name, self.step = "", 0
        self._choose(0)

    def take_up(self, plan: Plan, results: Mapping[str, WalkRun]) -> None:
        """Show another plan, or other results; verdicts that changed are marked."""
        before = {name: result.passed for name, result in self.results.items()}
        self.turned |= {name for name, result in results.items() if before.get(name, result.passed) != result.passed}
        place = self.place
        if plan is not self.plan:
            self.on_app = None
        self.plan, self.results = plan, results
        self.turned &= {walk.name for walk in plan.walks}
        if all(walk.name != self.name for walk in self.shown):
            self._choose(place)
        if self.result is not None:
            self.step = min(self.step, max(len(self.played) - 1, 0))

    @property
    def shown(self) -> list[Walk]:
        """The walks that have every word looked for, and where it is wanted those that fail."""
        words = self.wanted.lower().split()
        walks = [walk for walk in self.plan.walks if all(word in walk.name.lower() for word in words)]
        return [walk for walk in walks if not self.failed_only or self.fails(walk.name)]

    def fails(self, name: str) -> bool:
        """Whether a walk was run and fails."""
        result = self.result_of(name)
        return result is not None and result.failed is not None

    def result_of(self, name: str) -> WalkRun | None:
        """Return what came of a walk, on the app if that is shown; None if it was not run yet."""
        return (self.results if self.on_app is None else self.on_app).get(name)

    @property
    def place(self) -> int:
        """The place of the chosen walk among those shown."""
        return next((place for place, walk in enumerate(self.shown) if walk.name == self.name), 0)

    @property
    def result(self) -> WalkRun | None:
        """What came of the chosen walk; None if it was not run yet."""
        return self.result_of(self.name)

    @property
    def played(self) -> tuple[LineRun, ...]:
        """The steps of the chosen walk as they went."""
        return self.result.played if self.result is not None else ()

    def _choose(self, place: int) -> None:
        shown, before = self.shown, self.name
        self.name = shown[min(max(place, 0), len(shown) - 1)].name if shown else ""
        self.in_steps = self.in_steps and self.name == before
        self.step = self.result.failed or 0 if self.result is not None else 0

    def choose(self, place: int) -> None:
        """Choose a walk by its place; its verdict is looked at by that."""
        self._choose(place)
        self.turned.discard(self.name)

    def go(self, way: int) -> None:
        """Go to another walk, or to another step of the chosen one."""
        if self.in_steps:
            self.step = min(max(self.step + way, 0), max(len(self.played) - 1, 0))
        elif self.shown:
            self.choose((self.place + way) % len(self.shown))

    def go_failed(self) -> bool:
        """Choose the next walk that fails; False if none does."""
        shown = self.shown
        order = [*range(self.place + 1, len(shown)), *range(min(self.place + 1, len(shown)))]
        failed = next((place for place in order if self.fails(shown[place].name)), None)
        if failed is not None:
            self.choose(failed)
        return failed is not None

    def find(self, wanted: str) -> None:
        """Show the walks only that have all these words in their name."""
        self.wanted = wanted
        if all(walk.name != self.name for walk in self.shown):
            self._choose(0)
