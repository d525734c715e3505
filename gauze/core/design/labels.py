"""What a thing on the shelf comes to by its label, against the catalogue; or why it cannot be."""

from gauze.core.design.limits import check_limits
from gauze.core.errors import CatalogueError, DesignError
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import (
    Label,
    ModuleLabel,
    ProfileStock,
    SheetStock,
    Statement,
    StripLabel,
    Thing,
)


def read_label(thing: Thing, catalogue: Catalogue) -> tuple[Statement, ...]:
    """Check a thing and return what its label comes to, each figure with where it is from.

    Raises
    ------
    DesignError
        With the entry at fault as its ``field``: outside its limits, contradicting another, or like nothing of the catalogue.
    """
    if not thing.name.strip():
        raise DesignError("name", "Give it a name.")
    try:
        check_limits(thing, "")
    except DesignError as error:
        raise DesignError.of(error.field.lstrip("."), error) from None
    try:
        return _statements(thing, catalogue)
    except CatalogueError as error:
        raise DesignError.of("like", error) from None


def _statements(thing: Thing, catalogue: Catalogue) -> tuple[Statement, ...]:
    if isinstance(thing, StripLabel):
        return thing.statements(catalogue.strip(thing.like))
    if isinstance(thing, ModuleLabel):
        return thing.statements(catalogue.module(thing.like))
    if isinstance(thing, ProfileStock):
        return thing.statements(catalogue.profile(thing.like))
    if isinstance(thing, SheetStock):
        catalogue.diffuser(thing.like)
    return thing.statements()


def likes_of(kind: type[Label], catalogue: Catalogue) -> dict[str, str]:
    """Return the ids and names of the rows of the catalogue that a thing of a kind can be like; none for most kinds."""
    if kind is StripLabel:
        return {key: row.name for key, row in catalogue.strips.items()}
    if kind is ModuleLabel:
        return {key: row.name for key, row in catalogue.modules.items()}
    if kind is ProfileStock:
        return {key: row.name for key, row in catalogue.profiles.items()}
    return {key: row.name for key, row in catalogue.diffusers.items()} if kind is SheetStock else {}
