"""The catalogue: data files that ship with Gauze, read once."""

import functools
import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from importlib import resources
from typing import Any, TypeVar

import msgspec

from gauze.core.errors import CatalogueError, DesignError
from gauze.core.materials.diffuser import Diffuser
from gauze.core.materials.finish import Finish
from gauze.core.materials.labels import Lamp, StripLabel
from gauze.core.materials.matt_sheet import Layer, MattSheet
from gauze.core.materials.module import Module
from gauze.core.materials.own import OwnDiffuser
from gauze.core.materials.profile import Profile
from gauze.core.materials.stack import Stack, stacked
from gauze.core.materials.strip import Strip
from gauze.core.printable import printable
from gauze.core.words import Words, say

T = TypeVar("T")


@dataclass(frozen=True)
class Catalogue:
    """All materials by id, in the order in which trays show them."""

    strips: Mapping[str, Strip]
    diffusers: Mapping[str, Diffuser]
    finishes: Mapping[str, Finish]
    modules: Mapping[str, Module]
    profiles: Mapping[str, Profile]
    supply_ratings_w: tuple[float, ...]
    supply_source: str

    def strip(self, strip_id: str) -> Strip:
        """Return a strip; raises :class:`CatalogueError` when it is unknown."""
        return _look_up(self.strips, strip_id, say("strip"))

    def module(self, module_id: str) -> Module:
        """Return a module; raises :class:`CatalogueError` when it is unknown."""
        return _look_up(self.modules, module_id, say("module"))

    def diffuser(self, diffuser_id: Layer) -> Diffuser:
        """Return a diffuser; raises :class:`CatalogueError` when it is unknown, or its numbers cannot be."""
        if isinstance(diffuser_id, MattSheet):
            try:
                return diffuser_id.diffuser()
            except ValueError as error:
                raise CatalogueError("The sheet is not possible: {error}. Correct it.", error=error) from None
        return _look_up(self.diffusers, diffuser_id, say("diffuser"))

    def sheet(self, layers: Sequence[Layer]) -> Stack:
        """Return layers of diffuser laid on each other, the inner one first; raises :class:`CatalogueError`."""
        return stacked([self.diffuser(layer) for layer in layers])

    def profile(self, profile_id: str) -> Profile:
        """Return a channel profile; raises :class:`CatalogueError` when it is unknown."""
        return _look_up(self.profiles, profile_id, say("profile"))

    def with_own(self, own: Sequence[OwnDiffuser], lamps: Sequence[Lamp] = ()) -> "Catalogue":
        """Return the catalogue with a builder's own sheets, strips and modules after its own rows; the same object for none.

        Raises
        ------
        CatalogueError
            When one of them is like none of the catalogue, or what is said of it cannot be.
        """
        if not own and not lamps:
            return self
        return replace(self, diffusers=self._with_sheets(own), **self._with_lamps(lamps))

    def _with_lamps(self, lamps: Sequence[Lamp]) -> dict[str, Any]:
        strips, modules = dict(self.strips), dict(self.modules)
        for lamp in lamps:
            try:
                if isinstance(lamp, StripLabel):
                    strips[lamp.id] = lamp.strip(self.strip(lamp.like))
                else:
                    modules[lamp.id] = lamp.module(self.module(lamp.like))
            except DesignError as error:
                raise CatalogueError("Label of “{name}”: {error}", name=printable(lamp.name), error=error) from None
        return {"strips": strips, "modules": modules}

    def _with_sheets(self, own: Sequence[OwnDiffuser]) -> Mapping[str, Diffuser]:
        if not own:
            return self.diffusers
        diffusers = dict(self.diffusers)
        for sheet in own:
            like = self.diffuser(sheet.like)
            try:
                diffusers[sheet.id] = sheet.diffuser(like)
                diffusers[sheet.id].split()
            except ValueError as error:
                raise CatalogueError("Measured sheet “{name}”: {error}", name=sheet.name, error=error) from None
        return diffusers

    def finish(self, finish_id: str) -> Finish:
        """Return a finish; raises :class:`CatalogueError` when it is unknown."""
        return _look_up(self.finishes, finish_id, say("finish"))


def _look_up(rows: Mapping[str, T], key: str, noun: Words) -> T:
    try:
        return rows[key]
    except KeyError:
        known = ", ".join(rows)
        raise CatalogueError(
            "There is no {noun} “{key}” in the catalogue. Choose one of: {known}.",
            noun=noun,
            key=printable(key),
            known=known,
        ) from None


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads(resources.files("gauze.core.materials").joinpath("data", name).read_text("utf-8"))


def _rows(table: dict[str, Any], key: str, kind: type[T], **shared: Any) -> dict[str, T]:
    return {row["id"]: msgspec.convert({**shared, **row}, kind) for row in table[key]}


@functools.cache
def load_catalogue() -> Catalogue:
    """Read the shipped catalogue; the same object each time."""
    strips, diffusers = _read("strips.toml"), _read("diffusers.toml")
    finishes, supplies = _read("finishes.toml"), _read("supplies.toml")
    modules, profiles = _read("modules.toml"), _read("profiles.toml")
    strip_shared, module_shared = (
        {key: table[key] for key in ("source", "flux_spread", "power_spread")} for table in (strips, modules)
    )
    return Catalogue(
        strips=_rows(strips, "strip", Strip, **strip_shared),
        diffusers=_rows(diffusers, "diffuser", Diffuser, source=diffusers["source"], spread=diffusers["spread"]),
        finishes=_rows(finishes, "finish", Finish, source=finishes["source"], spread=finishes["spread"]),
        modules=_rows(modules, "module", Module, **module_shared),
        profiles=_rows(profiles, "profile", Profile, source=profiles["source"]),
        supply_ratings_w=tuple(supplies["rated_w"]),
        supply_source=supplies["source"],
    )
