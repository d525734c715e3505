"""What the inner faces of a build send back."""

from gauze.core.design.build import FamilyBuild
from gauze.core.design.strip_panel import finish_of
from gauze.core.layout.cavity import Reflectances
from gauze.core.materials import Catalogue


def inner_faces(build: FamilyBuild, catalogue: Catalogue) -> Reflectances:
    """Return the reflectances; where there is no sheet the lit wall is one of the walls."""
    back, walls = (finish_of(value, catalogue).reflectance for value in (build.back, build.walls))
    return Reflectances(back, walls, catalogue.sheet(build.layers).reflectance if build.layers else walls)
