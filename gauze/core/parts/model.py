"""Parts in plain values. Lengths in mm in the frame of the build: x right, y up as seen from the front, z to the lid.

Every part has an id that stays as long as no edit concerns it: ``row-6``, ``tile-3/strip-2``, ``wall-left``. Parts that stand
alike in several places (the walls of tiles, the shells of a string) are stated once, with the ids of those places.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from gauze.core.layout.built import Instance
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, Vector
from gauze.core.words import Text

BodyKind = Literal["sheet", "member", "partition", "tube", "shell", "cap", "board", "profile", "lens"]
Use = Literal["back", "wall", "diffuser", "support", "carrier", "divider", "frame", "base", "cover", "shade", "housing"]
End = Literal["start", "end"]
FixingKind = Literal["screw", "standoff", "stand", "hook", "spline"]
JointKind = Literal["supply", "data", "mitre", "butt", "half_lap", "seat"]


@dataclass(frozen=True)
class Placement:
    """Where a part lies: its own origin, and the directions of its own x and y; its own z is their cross product."""

    origin_mm: Vector = (0.0, 0.0, 0.0)
    right: Vector = (1.0, 0.0, 0.0)
    up: Vector = (0.0, 1.0, 0.0)


@dataclass(frozen=True)
class Hole:
    """A hole or a window through a part, at a place in its own plane.

    Round where ``height_mm`` is 0, else ``width_mm`` x ``height_mm``. ``only`` are the places of the part that have it; none for
    all of them.
    """

    id: str
    purpose: Literal["wire", "link", "screw", "stand"]
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float = 0.0
    only: tuple[str, ...] = ()


@dataclass(frozen=True)
class Groove:
    """A slot or a groove in a part, from one place to another in its own plane; ``depth_mm`` None where it goes through.

    Of a board that stands its own plane is its inner face: along it, and up from the back. There ``sheet`` is a groove into which
    a sheet slides, ``rebate`` a step for a sheet or for the end of another board, ``spline`` a slot across a mitre.
    """

    id: str
    purpose: Literal["half_lap", "strip_pass", "sheet", "rebate", "spline"]
    start_mm: tuple[float, float]
    end_mm: tuple[float, float]
    width_mm: float
    depth_mm: float | None = None


@dataclass(frozen=True)
class Mark:
    """A line to be drawn on a part, in its own plane, such as the middle of a row; ``part`` is what is laid there."""

    id: str
    part: str
    start_mm: tuple[float, float]
    end_mm: tuple[float, float]


@dataclass(frozen=True)
class BodyPart:
    """A part of the body.

    ``length_mm`` and ``width_mm`` are its sizes over all; ``thickness_mm`` is None where the builder has not chosen one.
    ``outline_mm`` (n, 2) is its shape in its own plane, counter-clockwise; None for what is cut from a length.
    ``start_cut_deg`` and ``end_cut_deg`` lean the cut of an end away from square; positive where the far long edge (own y up) is
    the longer one. ``material`` is a finish or a sheet of the catalogue, or says that it is the builder's own. ``places`` are the
    ids of where it stands; none for a part that is there once.
    """

    id: str
    kind: BodyKind
    use: Use
    name: str
    length_mm: float
    width_mm: float
    thickness_mm: float | None = None
    material: str = ""
    outline_mm: FloatArray | None = field(default=None, compare=False)
    start_cut_deg: float = 0.0
    end_cut_deg: float = 0.0
    placement: Placement = Placement()
    holes: tuple[Hole, ...] = ()
    grooves: tuple[Groove, ...] = ()
    marks: tuple[Mark, ...] = ()
    places: tuple[str, ...] = ()

    @property
    def count(self) -> int:
        """How many there are."""
        return max(len(self.places), 1)

    def ids(self) -> Iterator[str]:
        """The id of each of them."""
        if not self.places:
            yield self.id
        for place in self.places:
            yield f"{place}/{self.id}"


@dataclass(frozen=True)
class Fixing:
    """What holds parts together or the build up: a screw, a standoff, a thread for a stand, a hook, a spline.

    It goes from ``head_mm`` along ``along`` for ``length_mm``, as thick as ``diameter_mm``, through ``through`` into ``into``
    (ids of parts, empty for none), where a hole of ``pilot_mm`` is drilled first; None where none is.
    """

    id: str
    kind: FixingKind
    name: Text
    through: str
    into: str
    head_mm: Vector
    along: Vector
    length_mm: float
    diameter_mm: float
    pilot_mm: float | None = None

    @property
    def end_mm(self) -> Vector:
        """Where its tip is."""
        (x, y, z), (dx, dy, dz), far = self.head_mm, self.along, self.length_mm
        return x + far * dx, y + far * dy, z + far * dz


@dataclass(frozen=True)
class Joint:
    """Two parts joined: by id, and at which end of each (None where it has none).

    ``first`` of an electrical joint is where supply or data come from: the supply's bus and the controller have ids of their own.
    ``through`` is the hole or the window that it goes through, by the ids of part and hole.
    """

    id: str
    kind: JointKind
    first: str
    first_end: End | None
    second: str
    second_end: End | None
    through: str = ""


@dataclass(frozen=True)
class Parts:
    """All parts of a build.

    ``emitters`` is how many loose emitters light it, known by the numbers of ``emitter_numbers``: they are no pieces of strip and
    no modules. ``instances`` are the places that alike parts stand in.
    """

    pieces: tuple[Piece, ...]
    body: tuple[BodyPart, ...]
    joints: tuple[Joint, ...]
    instances: tuple[Instance, ...] = ()
    emitter_numbers: Sequence[int] = ()
    fixings: tuple[Fixing, ...] = ()

    def ids(self) -> Iterator[str]:
        """The id of every part, places of alike ones counted one by one."""
        for piece in self.pieces:
            yield piece.id
        for part in self.body:
            yield from part.ids()
        for fixing in self.fixings:
            yield fixing.id
        for number in self.emitter_numbers:
            yield f"emitter-{number}"
