"""How a build is made: how many of it, how it is cut, and what its stock costs."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.box_frame import BoxFrame
from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError
from gauze.core.words import Number

MOST_STOCKS = 200
LONGEST_KEY = 200
LONGEST_READING, LONGEST_NOTE = 60, 2000
MOST_PICTURES, LONGEST_PATH = 20, 4000  # of a step
MOST_STEPS = 5000
Paper = Literal["a4", "a3", "letter"]
LEAST_CASE_MM, MOST_CASE_MM = 5.0, 500.0
CaseSize = Annotated[float, msgspec.Meta(ge=LEAST_CASE_MM, le=MOST_CASE_MM)]


class StockChoice(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """In which lengths one kind of material is bought, and at what price each; None for what is usual, and not known.

    Of sheets ``length_mm`` and ``width_mm`` are the two sides; with ``grain`` no piece is turned on them, so that the grain, or
    the pattern, runs along the length of the sheet and the width of the build.

    ``key`` names the material, as the lists of lengths do: ``strip:24v-white-120``, ``board:43.5``, ``wire:0.75``.
    """

    key: Annotated[str, msgspec.Meta(max_length=LONGEST_KEY)]
    length_mm: Annotated[float, msgspec.Meta(ge=10, le=1_000_000)] | None = None
    width_mm: Annotated[float, msgspec.Meta(ge=10, le=1_000_000)] | None = None
    price: Annotated[float, msgspec.Meta(ge=0, le=1_000_000)] | None = None
    grain: bool = False


class Printing(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """What is printed, and on what.

    ``bed_x_mm`` and ``bed_y_mm`` are the printer's bed; what is larger is divided. ``wall_mm`` is the thickness of walls and
    floors that the design does not state. ``case_mm`` is the room inside a case for the electronics (along, across, high), None
    for no case; ``foot_deg`` the angle at which feet let a build lean back from upright, None for no feet.
    """

    bed_x_mm: Annotated[float, msgspec.Meta(ge=50, le=2000)] = 220.0
    bed_y_mm: Annotated[float, msgspec.Meta(ge=50, le=2000)] = 220.0
    wall_mm: Annotated[float, msgspec.Meta(ge=0.4, le=20)] = 1.6
    case_mm: tuple[CaseSize, CaseSize, CaseSize] | None = None
    foot_deg: Annotated[float, msgspec.Meta(ge=0, le=60)] | None = None

    @property
    def bed(self) -> tuple[float, float]:
        """Both sizes of the bed."""
        return self.bed_x_mm, self.bed_y_mm


class StepRecord(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """What a builder keeps of one step: whether it is done, what was read, a note, and the paths of pictures."""

    key: Annotated[str, msgspec.Meta(max_length=LONGEST_KEY)]
    done: bool = False
    reading: Annotated[str, msgspec.Meta(max_length=LONGEST_READING)] = ""
    note: Annotated[str, msgspec.Meta(max_length=LONGEST_NOTE)] = ""
    pictures: tuple[str, ...] = ()


class OwnStep(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A step of the builder's own; ``after`` is the key of the step that it follows, empty for the first of all."""

    key: Annotated[str, msgspec.Meta(min_length=1, max_length=40)]
    after: Annotated[str, msgspec.Meta(max_length=LONGEST_KEY)] = ""
    text: Annotated[str, msgspec.Meta(max_length=LONGEST_NOTE)]


class Making(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Choices of the making.

    ``copies`` is how many are built. The saw takes ``kerf_mm`` at every cut and ``trim_mm`` goes off both ends of a bar; strip
    and wire are cut without. ``spare_one_in`` adds a spare piece to every so many, for mistakes; None for none. ``from_shelf``
    says that what lies on the shelf is used first. ``wall_mm`` is the thickness of the boards of which walls are made,
    ``frame`` how these are joined. Sheets are cut straight through, as by a saw or score-and-snap, or ``free``, in any shape,
    as by a laser. ``paper`` is what templates are printed on, ``printing`` what is made by a printer of plastic. Strip is laid
    with its own tape, in clips or with glue, and joined with solder or connectors. Prices are without tax of ``tax_percent``,
    or with it where that is None; ``hours`` are worked on all copies, at ``hour_price`` each. It hangs on so many ``fixings``,
    each of which holds ``fixing_kg`` by its label; None where that is not known. ``records`` are what is kept of the steps,
    ``own_steps`` those that the builder added.
    """

    copies: Annotated[int, msgspec.Meta(ge=1, le=500)] = 1
    kerf_mm: Annotated[float, msgspec.Meta(ge=0, le=20)] = 2.0
    trim_mm: Annotated[float, msgspec.Meta(ge=0, le=200)] = 0.0
    spare_one_in: Annotated[int, msgspec.Meta(ge=2, le=1000)] | None = None
    from_shelf: bool = True
    wall_mm: Annotated[float, msgspec.Meta(ge=0.2, le=60)] | None = None
    frame: BoxFrame = BoxFrame()
    sheets_cut: Literal["straight", "free"] = "straight"
    paper: Paper = "a4"
    printing: Printing = Printing()
    laid_with: Literal["tape", "clips", "glue"] = "tape"
    joined_with: Literal["solder", "connectors"] = "solder"
    tax_percent: Annotated[float, msgspec.Meta(ge=0, le=100)] | None = None
    hours: Annotated[float, msgspec.Meta(ge=0, le=10_000)] | None = None
    hour_price: Annotated[float, msgspec.Meta(ge=0, le=10_000)] | None = None
    fixings: Annotated[int, msgspec.Meta(ge=1, le=200)] | None = None
    fixing_kg: Annotated[float, msgspec.Meta(gt=0, le=10_000)] | None = None
    records: tuple[StepRecord, ...] = ()
    own_steps: tuple[OwnStep, ...] = ()
    stocks: tuple[StockChoice, ...] = ()

    def record(self, key: str) -> StepRecord:
        """Return what is kept of one step."""
        return next((one for one in self.records if one.key == key), StepRecord(key=key))

    def stock(self, key: str) -> StockChoice:
        """Return what is chosen of one material."""
        return next((one for one in self.stocks if one.key == key), StockChoice(key=key))


def check_making(making: Making) -> None:
    """Check what can be judged without the build; raises :class:`gauze.core.errors.DesignError`."""
    check_limits(making, "making")
    check_limits(making.printing, "making.printing")
    check_limits(making.frame, "making.frame")
    _check_case(making.printing)
    _check_records(making)
    if len(making.stocks) > MOST_STOCKS:
        raise DesignError("making.stocks", "At most {most} materials can have their own stock.", most=MOST_STOCKS)
    for index, one in enumerate(making.stocks):
        check_limits(one, f"making.stocks[{index}]")
        if any(one.key == other.key for other in making.stocks[:index]):
            raise DesignError(f"making.stocks[{index}]", "This material has a stock already: keep one of the two.")


def _check_case(printing: Printing) -> None:
    for one in printing.case_mm or ():
        if not LEAST_CASE_MM <= one <= MOST_CASE_MM:
            raise DesignError(
                "making.printing.case_mm",
                "A case is {least} to {most} mm along each side: type other sizes.",
                least=Number(LEAST_CASE_MM),
                most=Number(MOST_CASE_MM),
            )


def _check_records(making: Making) -> None:
    for name, rows in (("records", making.records), ("own_steps", making.own_steps)):
        if len(rows) > MOST_STEPS:
            raise DesignError(f"making.{name}", "At most {most} steps can be kept.", most=MOST_STEPS)
        if len({one.key for one in rows}) < len(rows):
            raise DesignError(f"making.{name}", "A step is there twice: keep one of the two.")
    for index, one in enumerate(making.records):
        _check_text(one.reading, LONGEST_READING, f"making.records[{index}].reading")
        _check_text(one.note, LONGEST_NOTE, f"making.records[{index}].note")
        check_pictures(one.pictures, f"making.records[{index}].pictures")
    for index, own in enumerate(making.own_steps):
        _check_text(own.text, LONGEST_NOTE, f"making.own_steps[{index}].text")
        if not own.key or not own.text.strip():
            raise DesignError(f"making.own_steps[{index}].text", "A step of your own is empty: say what is done in it.")


def check_pictures(pictures: tuple[str, ...], path: str) -> None:
    """Check paths of pictures; raises :class:`gauze.core.errors.DesignError`."""
    if len(pictures) > MOST_PICTURES:
        raise DesignError(path, "At most {most} pictures can be kept here: remove one first.", most=MOST_PICTURES)
    for one in pictures:
        _check_text(one, LONGEST_PATH, path)


def _check_text(text: str, most: int, path: str) -> None:
    if len(text) > most:
        raise DesignError(path, "At most {most} letters are kept here: shorten it.", most=most)
