"""The made-up app of the demo: Combfield, the pocket log of a hobby beekeeper."""

from importlib.resources import files
from pathlib import Path


def combfield() -> Path:
    """Return the plan file of the demo as it was installed."""
    return Path(str(files(__name__).joinpath("combfield.ladder.yaml")))
