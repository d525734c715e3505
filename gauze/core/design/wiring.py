"""How a build is wired: the school, the wire, the supply, and where more is fed in."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError
from gauze.core.materials.labels import BatteryLabel, ControllerLabel, ConverterLabel

Scheme = Literal["own", "buses", "opposite", "both_ends", "in_a_row", "separate"]
MOST_INJECTIONS = 2000
MOST_SECTIONS = 500
LONGEST_ID = 200
LONGEST_PLACE = 240  # of the name of a place: a piece, and where on it


class Injection(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """One more pair of wires from the supply: to a pair of pads of a piece, after so many of its segments."""

    piece: Annotated[str, msgspec.Meta(max_length=LONGEST_ID)]
    after: Annotated[int, msgspec.Meta(ge=0, le=100_000)]


class RunSection(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A section of their own for the wires from one place to another; places are named as in the list of wires."""

    start: Annotated[str, msgspec.Meta(max_length=LONGEST_PLACE)]
    end: Annotated[str, msgspec.Meta(max_length=LONGEST_PLACE)]
    wire_mm2: Annotated[float, msgspec.Meta(ge=0.05, le=35)]


class BatterySupply(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A battery in place of a supply, straight or through a converter.

    ``charge`` is how much of its charge is left where the light is shown, 1 for a full one. ``wanted_life_h`` is how long it has
    to last as the levels are set, None where that is not asked.
    """

    battery: BatteryLabel
    converter: ConverterLabel | None = None
    charge: Annotated[float, msgspec.Meta(ge=0, le=1)] = 1.0
    wanted_life_h: Annotated[float, msgspec.Meta(gt=0, le=10_000)] | None = None


class Wiring(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """The choices of how current gets to the pieces.

    ``scheme`` is the school: as the family is usually fed (``own``); all pieces from a pair of buses along their starts, both fed
    at the first piece (``buses``), or plus at the first and minus at the last (``opposite``); buses at both ends of the pieces
    (``both_ends``); one piece after the other (``in_a_row``); a pair of wires of its own for each (``separate``).

    ``apart`` gives each strip of a build that has two wires of its own, so that they can be dimmed apart.

    ``wire_mm2`` is the section of all wires but those of ``sections``, ``lead_mm`` the length of each conductor from the supply
    to the first pads.
    ``supply_volts`` is what the supply is trimmed to, None for its nominal volts; ``supply_w`` its rating, None for one that is
    large enough. In a build of several voltages the first is meant for that which is nearest to it, the second for each.
    ``battery`` feeds in place of a supply; in a build of several voltages that which is nearest to its own.
    ``controller`` sends the data, or dims, None where none is chosen. ``cap_ma`` is the current that is typed
    into it, to which it dims all pixels together.
    ``pwm_hz`` is the frequency of the pulses by which it is dimmed, None where that is not known.
    """

    scheme: Scheme = "own"
    apart: bool = False
    wire_mm2: Annotated[float, msgspec.Meta(ge=0.05, le=35)] = 0.75
    lead_mm: Annotated[float, msgspec.Meta(ge=0, le=100_000)] = 500.0
    supply_volts: Annotated[float, msgspec.Meta(ge=1, le=60)] | None = None
    supply_w: Annotated[float, msgspec.Meta(gt=0, le=10_000)] | None = None
    battery: BatterySupply | None = None
    controller: ControllerLabel | None = None
    cap_ma: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)] | None = None
    pwm_hz: Annotated[float, msgspec.Meta(ge=1, le=1_000_000)] | None = None
    injections: tuple[Injection, ...] = ()
    sections: tuple[RunSection, ...] = ()

    def section_mm2(self, start: str, end: str) -> float:
        """Return the section of the wires from one place to another, by the names of these."""
        own = (one.wire_mm2 for one in self.sections if (one.start, one.end) == (start, end))
        return next(own, self.wire_mm2)

    @property
    def capped_ma(self) -> float | None:
        """The current that the pixels are held to: what is typed in, and no more than the controller's own cap."""
        own = None if self.controller is None else self.controller.cap_ma
        return min((cap for cap in (self.cap_ma, own) if cap is not None), default=None)

    @property
    def thinnest_mm2(self) -> float:
        """The thinnest section that is chosen anywhere."""
        return min([self.wire_mm2, *(one.wire_mm2 for one in self.sections)])


def check_wiring(wiring: Wiring) -> None:
    """Check what can be judged without the pieces; raises :class:`gauze.core.errors.DesignError`."""
    check_limits(wiring, "wiring")
    if wiring.battery is not None:
        _check_battery(wiring, wiring.battery)
    if wiring.controller is not None:
        _check_label(wiring.controller, "wiring.controller")
    if len(wiring.injections) > MOST_INJECTIONS:
        raise DesignError(
            "wiring.injections", "At most {most} injections can be computed: take some out.", most=MOST_INJECTIONS
        )
    for index, one in enumerate(wiring.injections):
        check_limits(one, f"wiring.injections[{index}]")
    if len(wiring.sections) > MOST_SECTIONS:
        raise DesignError("wiring.sections", "At most {most} wires can have their own section.", most=MOST_SECTIONS)
    for index, run in enumerate(wiring.sections):
        check_limits(run, f"wiring.sections[{index}]")
        if any((run.start, run.end) == (other.start, other.end) for other in wiring.sections[:index]):
            raise DesignError(f"wiring.sections[{index}]", "These wires have a section already: keep one of the two.")


def _check_battery(wiring: Wiring, choice: BatterySupply) -> None:
    if wiring.supply_w is not None or wiring.supply_volts is not None:
        raise DesignError(
            "wiring.battery",
            "A battery and a supply are chosen together: take out the battery, or the supply's figures.",
        )
    check_limits(choice, "wiring.battery")
    for name, label in (("battery", choice.battery), ("converter", choice.converter)):
        if label is not None:
            _check_label(label, f"wiring.battery.{name}")


def _check_label(label: BatteryLabel | ConverterLabel | ControllerLabel, path: str) -> None:
    check_limits(label, path)
    try:
        label.statements()
    except DesignError as error:
        raise DesignError.of(f"{path}.{error.field}", error) from None
