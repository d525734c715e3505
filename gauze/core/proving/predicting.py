"""What is predicted where a reading was taken, for a design or for a bare circuit, under any values of what is uncertain."""

import math
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from gauze.core.design import Design
from gauze.core.design.bench import Quantity
from gauze.core.electrical.circuit import Circuit, Solution
from gauze.core.electrical.growing import PLUS
from gauze.core.electrical.network import Network
from gauze.core.electrical.power import Power, levels_of, power_of
from gauze.core.electrical.solve import solve
from gauze.core.electrical.wire_list import runs_of
from gauze.core.errors import ReadingError
from gauze.core.evaluate.evaluation import Detail, Evaluation, target_plane
from gauze.core.evaluate.stages import evaluate
from gauze.core.materials import Catalogue
from gauze.core.optics.colour import white_point
from gauze.core.optics.target import TargetPlane
from gauze.core.printable import printable
from gauze.core.proving.model import changed_design, changed_pieces
from gauze.core.proving.places import FACE, SUPPLY, TARGET, Place, read_place
from gauze.core.words import Length, Text, say

UNITS: dict[Quantity, str] = {
    "volts": "V",
    "amps": "A",
    "lux": "lx",
    "kelvin": "K",
    "celsius": "°C",
    "cd_m2": "cd/m²",
}
_RUN = re.compile(r"wire (\d{1,6})")  # a run of wires by its number in the wire list
_COARSE = Detail(fineness=0.4, most_pixels=11_000, target_points=1)
_FINE = Detail(fineness=1.0, most_pixels=60_000, target_points=1)
LIGHT: tuple[Quantity, ...] = ("lux", "kelvin", "cd_m2")
Asked = tuple[Quantity, str]


class Predictor:
    """Predicts readings of one design. Light is computed once, and again only for values that change it by more than a factor."""

    def __init__(self, evaluation: Evaluation) -> None:
        self.evaluation = evaluation
        self._before: Evaluation | None = None

    def predict(self, asked: Sequence[Asked], values: Mapping[str, float] | None = None) -> np.ndarray:
        """Return what is predicted for readings, (n,), under other values of what is uncertain.

        Raises
        ------
        ReadingError
            When a place is unknown, or nothing is predicted there.
        """
        changed = self._changed(dict(values or {}), asked)
        return np.array([value_at(changed, quantity, place) for quantity, place in asked], float)

    def build_with(self, values: Mapping[str, float]) -> Evaluation:
        """Return the build as it would be under other values of what is uncertain."""
        return self._changed(dict(values), [("lux", TARGET)])

    def _changed(self, values: dict[str, float], asked: Sequence[Asked]) -> Evaluation:
        now = self.evaluation
        if not values:
            return now
        network = self._network(values)
        flux = values.get("flux_factor", 1.0)
        needs_light = any(quantity in LIGHT for quantity, _ in asked)
        same_light = not any(name in values for name in ("transmittance", "reflectance_walls", "reflectance_back"))
        if needs_light and not (same_light and network.factors == now.network.factors):
            now = self._relit(values, network)
        return (
            _scaled(replace(now, network=network), flux)
            if needs_light and flux != 1.0
            else replace(now, network=network)
        )

    def _network(self, values: Mapping[str, float]) -> Network:
        network = self.evaluation.network
        if network.power is None or not any(name in values for name in ("rail_ohm_per_m", "supply_v")):
            return network
        wiring = network.wiring
        if "supply_v" in values:
            wiring = msgspec.structs.replace(wiring, supply_volts=min(max(values["supply_v"], 1.0), 60.0))
        layout = self.evaluation.layout
        power = power_of(changed_pieces(layout.pieces, values), network.joints, wiring)
        assert power is not None
        factors = power.factors() if network.wired else network.factors
        return replace(network, power=power, wiring=wiring, factors=factors)

    def _relit(self, values: Mapping[str, float], network: Network) -> Evaluation:
        """The light under other values: computed coarsely both as it is and changed, and the fine one changed by their ratio."""
        now = self.evaluation
        if self._before is None:
            self._before = self._coarse(now.design, now.catalogue, now.network)
        design, catalogue = changed_design(now.design, now.catalogue, values)
        after = self._coarse(design, catalogue, network)
        return _ratio(now, self._before, after)

    def _coarse(self, design: Design, catalogue: Catalogue, network: Network) -> Evaluation:
        bare = msgspec.structs.replace(design, wiring=None, surroundings=None, own_diffusers=(), own_lamps=())
        return evaluate(bare, catalogue, _COARSE, factors=network.factors)


def _scaled(evaluation: Evaluation, factor: float) -> Evaluation:
    light = replace(evaluation.light, xyz=evaluation.light.xyz * factor)
    target = replace(evaluation.target, illuminance_lx=evaluation.target.illuminance_lx * factor)
    return replace(evaluation, light=light, target=target)


def _ratio(fine: Evaluation, before: Evaluation, after: Evaluation) -> Evaluation:
    """The fine light, changed as the coarse one changes: by the place on the face, each colour by itself."""
    rows, columns = (
        np.clip(np.searchsorted(few, many) - 1, 0, len(few) - 1)
        for few, many in ((before.y_mm, fine.y_mm), (before.x_mm, fine.x_mm))
    )
    share = np.where(before.xyz > 0, after.xyz / np.maximum(before.xyz, 1e-30), 1.0)
    changed = fine.light.xyz * share[:, rows][:, :, columns]
    lit = before.target_lx
    target = fine.target.illuminance_lx * (after.target_lx / lit if lit > 0 else 1.0)
    return replace(fine, light=replace(fine.light, xyz=changed), target=replace(fine.target, illuminance_lx=target))


def predictor_of(design: Design, catalogue: Catalogue) -> Predictor:
    """Return what predicts a design; raises as :func:`gauze.core.evaluate.evaluate`."""
    return Predictor(evaluate(design, catalogue, _FINE))


# -- one value ---------------------------------------------------------------------------------------------------------


def value_at(evaluation: Evaluation, quantity: Quantity, place: str) -> float:
    """Return what is predicted of a quantity at a place; raises :class:`ReadingError`."""
    return _READ[quantity](evaluation, read_place(place), place)


def _unknown(place: str, why: Text) -> ReadingError:
    return ReadingError("“{place}”: {why}", place=printable(place, 60), why=why)


def _power(evaluation: Evaluation, place: str) -> Power:
    if evaluation.network.power is None:
        raise _unknown(place, say("this design has no pieces that draw current."))
    return evaluation.network.power


def _is_feed(place: Place) -> bool:
    """Whether a place is what feeds the build: the supply, or the bus that parts name."""
    return not place.mm and (place.part == SUPPLY or place.part.startswith("bus-"))


def _volts(evaluation: Evaluation, place: Place, text: str) -> float:
    power = _power(evaluation, text)
    if _is_feed(place):
        return power.supplies[0].terminal_v
    piece = next((one for one in power.pieces if one.id == place.part), None)
    if piece is None:
        raise _unknown(
            text, say("there is no such piece; volts are predicted at pieces (row-1, row-1 end) and at supply.")
        )
    volts = piece.volts_v
    if place.end == "":
        return float(volts.min())
    if place.end != "after":
        return float(volts[0] if place.end == "start" else volts[-1])
    if place.after > len(volts):
        raise _unknown(text, say("the piece has only {count} segments.", count=len(volts)))
    return float((volts[max(place.after - 1, 0)] + volts[min(place.after, len(volts) - 1)]) / 2.0)


def _amps(evaluation: Evaluation, place: Place, text: str) -> float:
    power = _power(evaluation, text)
    if _is_feed(place):
        return sum(one.mean_w / one.terminal_v for one in power.supplies if one.terminal_v > 0)
    run = _RUN.fullmatch(place.part)
    if run is not None:
        laid = next((one for one in runs_of(power) if one.number == int(run[1])), None)
        if laid is None:
            raise _unknown(text, say("there is no wire of this number."))
        return max(one.current_a for one in laid.wires)
    if place.end:
        name = f"{place.part} {place.end}" if place.end != "after" else f"{place.part} after {place.after}"
        amps = [one.current_a for one in power.wires if str(one.wire.end) == name and one.wire.conductor == PLUS]
        if not amps:
            raise _unknown(text, say("no wire ends at this pad."))
        return sum(amps)
    for piece, own in zip(evaluation.layout.pieces, power.pieces, strict=True):
        if own.id == place.part:
            return float((own.current_a * np.array(levels_of(piece))).sum())
    raise _unknown(
        text, say("there is no such piece; amps are predicted of pieces, of pads that a wire ends at, and of supply.")
    )


def _lux(evaluation: Evaluation, place: Place, text: str) -> float:
    if place.part == TARGET:
        return evaluation.target_lx
    if place.part == FACE:
        return math.pi * float((evaluation.xyz[1] * evaluation.weight).sum())
    if not place.mm:
        raise _unknown(text, say("illuminance is predicted at target, on the face, and at x,y or x,y,z in mm."))
    if len(place.mm) == 2:
        return math.pi * _luminance(evaluation, place, text)
    wide, high = evaluation.light.size_mm
    x, y, z = place.mm
    front = evaluation.layout.sketch.cut_mm[1] + evaluation.layout.sketch.cut_mm[3]
    if z <= front:
        raise _unknown(
            text,
            say(
                "z counts from the back, and the face is at {front}: give a place in front of it.",
                front=Length(front),
            ),
        )
    plane = TargetPlane(z - front, x - wide / 2.0, y - high / 2.0)
    factor = 1.0
    if evaluation.target_lx > 0:  # the map of the target has followed what was changed; the light's own tables have not
        own = evaluation.light.target_map(target_plane(evaluation.design), 1).illuminance_lx
        factor = evaluation.target_lx / float(own[0, 0]) if own[0, 0] > 0 else 1.0
    return factor * float(evaluation.light.target_map(plane, 1).illuminance_lx[0, 0])


def corner_of_face(evaluation: Evaluation) -> tuple[float, float]:
    """Return the lower left corner of the face in the map's own places, which are those of the plan."""
    x, y = evaluation.x_mm, evaluation.y_mm
    return (float(x[0] - (x[1] - x[0]) / 2.0) if len(x) > 1 else 0.0), (
        float(y[0] - (y[1] - y[0]) / 2.0) if len(y) > 1 else 0.0
    )


def _cell(evaluation: Evaluation, place: Place, text: str) -> tuple[int, int]:
    left, low = corner_of_face(evaluation)
    wide, high = evaluation.light.size_mm
    x, y = place.mm[0], place.mm[1]
    if not (0.0 <= x <= wide and 0.0 <= y <= high):
        raise _unknown(
            text,
            say(
                "it is outside the face, which is {wide} × {high}.",
                wide=Length(round(wide, 1)),
                high=Length(round(high, 1)),
            ),
        )
    row, column = int(np.abs(evaluation.y_mm - low - y).argmin()), int(np.abs(evaluation.x_mm - left - x).argmin())
    if not evaluation.inside[row, column]:
        raise _unknown(text, say("it is outside the lit face."))
    return row, column


def _luminance(evaluation: Evaluation, place: Place, text: str) -> float:
    if place.part == FACE:
        return float((evaluation.xyz[1] * evaluation.weight).sum())
    if len(place.mm) < 2:
        raise _unknown(text, say("luminance is predicted of face, and at x,y in mm on it."))
    row, column = _cell(evaluation, place, text)
    return float(evaluation.xyz[1, row, column])


def _kelvin(evaluation: Evaluation, place: Place, text: str) -> float:
    if place.mm:
        row, column = _cell(evaluation, place, text)
        xyz = evaluation.xyz[:, row, column]
    elif place.part in (FACE, TARGET):
        xyz = evaluation.mean_xyz
    else:
        raise _unknown(text, say("colour temperature is predicted of face, target, and at x,y in mm on the face."))
    found = white_point(np.asarray(xyz, float))
    if found is None:
        raise _unknown(text, say("its light is coloured: it has no colour temperature."))
    return float(found.cct_k)


def _celsius(evaluation: Evaluation, place: Place, text: str) -> float:
    warmth = evaluation.warmth
    if warmth is None:
        raise _unknown(text, say("this design has no pieces that get warm."))
    named = {"back": "back_c", "outside": "back_outside_c", "air": "inside_c", "lid": "lid_c", FACE: "lid_c"}
    if place.part in named:
        return float(getattr(warmth.hottest, named[place.part]))
    for one in warmth.pieces:
        if one.id == place.part:
            return one.solder_c
    raise _unknown(text, say("temperatures are predicted of pieces, back, outside, air and lid."))


_READ: dict[Quantity, Callable[[Evaluation, Place, str], float]] = {
    "volts": _volts,
    "amps": _amps,
    "lux": _lux,
    "kelvin": _kelvin,
    "celsius": _celsius,
    "cd_m2": _luminance,
}


# -- a bare circuit ----------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class BareCircuit:
    """A circuit with the ids of its rows: nodes, supplies, resistors and loads, each in their order."""

    circuit: Circuit
    nodes: tuple[str, ...]
    supplies: tuple[str, ...]
    resistors: tuple[str, ...]
    loads: tuple[str, ...]

    def predict(self, asked: Sequence[Asked], values: Mapping[str, float] | None = None) -> np.ndarray:
        """Return what is predicted for readings, (n,); raises :class:`ReadingError` or :class:`CircuitError`."""
        known = values or {}
        resistors = replace(self.circuit.resistors, ohm=self.circuit.resistors.ohm * known.get("rail_factor", 1.0))
        first = self.circuit.sources[0].volts if self.circuit.sources else 1.0
        factor = known.get("supply_v", first) / first
        sources = tuple(replace(one, volts=one.volts * factor) for one in self.circuit.sources)
        solution = solve(replace(self.circuit, resistors=resistors, sources=sources))
        return np.array([self._value(solution, *one) for one in asked], float)

    def _value(self, solution: Solution, quantity: Quantity, place: str) -> float:
        name = place.strip()
        tables = {
            "volts": ((self.nodes, solution.node_v), (self.supplies, solution.source_v), (self.loads, solution.load_v)),
            "amps": (
                (self.supplies, solution.source_a),
                (self.loads, solution.load_a),
                (self.resistors, solution.resistor_a),
            ),
        }
        for ids, found in tables.get(quantity, ()):
            if name in ids:
                return float(np.asarray(found)[ids.index(name)])
        raise ReadingError(
            "“{place}” is no place of this circuit at which {quantity} are predicted: give the id of a node, supply, load or "
            "resistor.",
            place=printable(place, 60),
            quantity=quantity,
        )
