"""Circuits for tests: strips as ladders, and random nets, as the rows of a network file."""

import random
from typing import Any

Rows = dict[str, Any]


def network(supplies: list[Rows], resistors: list[Rows], loads: list[Rows]) -> Rows:
    return {
        "format": "gauze-network",
        "format_version": 1,
        "supplies": supplies,
        "resistors": resistors,
        "loads": loads,
    }


def supply(volts: float = 5.0, plus: str = "p", minus: str = "0", **more: Any) -> Rows:
    return {"id": f"supply {plus}", "plus": plus, "minus": minus, "volts": volts, **more}


def wire(start: str, end: str, ohm: float) -> Rows:
    return {"id": f"{start} to {end}", "from": start, "to": end, "ohm": ohm}


def constant(name: str, plus: str, minus: str, amps: float, zero: float = 2.5, full: float = 3.5) -> Rows:
    return {
        "id": name,
        "plus": plus,
        "minus": minus,
        "kind": "constant_current",
        "current_a": amps,
        "full_above_v": full,
        "zero_below_v": zero,
    }


def analog(name: str, plus: str, minus: str, leds: float = 3, forward_v: float = 3.0, ohm: float = 150.0) -> Rows:
    return {
        "id": name,
        "plus": plus,
        "minus": minus,
        "kind": "analog",
        "leds_in_series": leds,
        "forward_v": forward_v,
        "resistor_ohm": ohm,
    }


def strip(segments: int, amps: float, ohm: float, feeds: tuple[str, ...] = ("start",), volts: float = 5.0) -> Rows:
    """A strip of constant currents: ``ohm`` of each rail in all, fed at its start, its end, or both."""
    each = ohm / segments
    ends = {"start": 0, "end": segments}
    resistors = []
    for rail, base in (("a", "p"), ("b", "0")):
        resistors += [wire(f"{rail}{i}", f"{rail}{i}m", each / 2) for i in range(segments)]
        resistors += [wire(f"{rail}{i}m", f"{rail}{i + 1}", each / 2) for i in range(segments)]
        resistors += [wire(base, f"{rail}{ends[feed]}", 1e-6) for feed in feeds]
    loads = [constant(f"segment {i}", f"a{i}m", f"b{i}m", amps / segments) for i in range(segments)]
    return network([supply(volts)], resistors, loads)


def random_network(seed: int, nodes: int, *, tree: bool) -> Rows:
    """A net of two conductors that grow at random, as trees or with cross ties, with loads of both kinds between them."""
    rng = random.Random(seed)
    volts = rng.choice([5.0, 12.0, 24.0])
    resistors = []
    for rail, base in (("a", "p"), ("b", "0")):
        known = [base]
        for index in range(nodes):
            node = f"{rail}{index}"
            resistors.append(wire(rng.choice(known[-4:]), node, rng.uniform(0.005, 0.3)))
            known.append(node)
        if not tree:
            for _ in range(nodes // 3):
                one, other = rng.sample(known, 2)
                resistors.append({**wire(one, other, rng.uniform(0.01, 0.5)), "id": f"tie {rail} {len(resistors)}"})
    loads = []
    for index in range(nodes):
        plus, minus = f"a{rng.randrange(nodes)}", f"b{rng.randrange(nodes)}"
        if rng.random() < 0.5:
            leds = int(volts // 3.5)
            loads.append(analog(f"load {index}", plus, minus, leds, 3.0, rng.uniform(5.0, 150.0)))
        else:
            zero = volts * rng.uniform(0.3, 0.9)
            loads.append(
                constant(f"load {index}", plus, minus, rng.uniform(0.01, 1.0), zero, zero + rng.uniform(0.05, 1.0))
            )
    more = {"resistance_ohm": rng.uniform(0.01, 0.3)} if rng.random() < 0.5 else {}
    return network([supply(volts, **more)], resistors, loads)
