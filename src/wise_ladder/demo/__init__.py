"""The made-up app of the demo, Combfield, and the gallery: tiny plans with one common mistake each, and a fix."""

from importlib.resources import files
from pathlib import Path
from typing import NamedTuple


class GalleryPair(NamedTuple):
    """A common mistake: its name, the plan that has it, and its fix."""

    name: str
    faulty: Path
    fixed: Path


def sentence(path: Path) -> str:
    """Return what a plan of the gallery says of itself: its first line, `about`."""
    with path.open(encoding="utf-8") as file:
        return file.readline().removeprefix("about:").strip().strip('"')


def combfield() -> Path:
    """Return the plan file of the demo as it was installed."""
    return _here() / "combfield.ladder.yaml"


def gallery() -> list[GalleryPair]:
    """List the faults of the gallery by name."""
    folder = _here() / "gallery"
    names = sorted(path.name.removesuffix(".fault.ladder.yaml") for path in folder.glob("*.fault.ladder.yaml"))
    return [GalleryPair(name, folder / f"{name}.fault.ladder.yaml", folder / f"{name}.mended.ladder.yaml") for name in names]


def twin(path: Path) -> Path | None:
    """Return the fixed version of a faulty plan of the gallery, or the faulty one of a fixed one; None for other plans."""
    others = {one: other for pair in gallery() for one, other in ((pair.faulty, pair.fixed), (pair.fixed, pair.faulty))}
    return others.get(path)


def _here() -> Path:
    return Path(str(files(__name__)))
