"""Volts and amps of a build as text for a terminal, and as JSON for programs."""

from collections.abc import Sequence
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import LONGEST_NAME
from gauze.core.electrical.battery_life import LEVELS, BatteryLife
from gauze.core.electrical.network import Network
from gauze.core.electrical.power import PiecePower
from gauze.core.electrical.wire_list import thinnest_behind_mm2
from gauze.core.electrical.wires import carries_a, fuse_for
from gauze.core.evaluate import Finding
from gauze.core.evaluate.wording import scheme_words
from gauze.core.printable import printable
from gauze.core.thermal.warming import BuildWarmth
from gauze.core.words import ENGLISH, Length, Reader

PLACE = "feed"  # of the findings that are listed


def _warmth(warmth: BuildWarmth) -> dict[str, Any]:
    return {
        "chosen": warmth.chosen,
        "surroundings": {name: getattr(warmth.surroundings, name) for name in warmth.surroundings.__struct_fields__},
        "heat_w": warmth.watts,
        "hottest_body": {name: getattr(warmth.hottest, name) for name in warmth.hottest.__dataclass_fields__},
        "pieces": [
            {
                "id": one.id,
                "heat_w": one.watts,
                "back_c": one.back_c,
                "solder_c": one.solder_c,
                "flux_factor": one.flux_factor,
            }
            for one in warmth.pieces
        ],
    }


def power_text(design: Design, network: Network, findings: Sequence[Finding], reader: Reader = ENGLISH) -> str:
    """Supplies, pieces, wires, and what is found."""
    read, power, wiring = reader.read, network.power, network.wiring
    lines = [printable(design.name, LONGEST_NAME), ""]
    if power is None:
        return "\n".join([*lines, "Loose emitters come without watts: nothing is computed of their supply."])
    chosen = "chosen" if network.wired else "the usual, none is chosen"
    lines.append(f"Wired {read(scheme_words(wiring.scheme))}, {wiring.wire_mm2:g} mm² ({chosen})")
    lines += [printable(f"  {one.start} to {one.end}: {one.wire_mm2:g} mm²", LONGEST_NAME) for one in wiring.sections]
    for supply in power.supplies:
        limited = f", at its limit: {supply.terminal_v:.2f} V are left" if supply.limited else ""
        lines.append(
            f"  {supply.volts:g} V supply: {supply.peak_a:.2f} A peak, {supply.mean_w:.1f} W on average{limited}"
        )
    if network.battery is not None:
        lines += _battery_lines(network.battery)
    lines += ["", "Pieces: volts and light at their ends, least and most"]
    lines += [f"  {piece.id}: {_piece_words(piece)}" for piece in power.pieces]
    lines += ["", "Wires"]
    for one in power.wires:
        own, long = one.wire, read(Length(one.wire.length_mm))
        lines.append(
            f"  {own.conductor} {own.start} to {own.end}: {long}, {one.current_a:.3g} A, drops {one.drop_v:.3g} V"
        )
    lines += ["", "Findings"]
    lines += [f"  {found.state.value}: {read(found.sentence)}" for found in findings if found.place == PLACE]
    return "\n".join(printable(line, most=max(len(line), 1)) for line in lines)


def _battery_lines(life: BatteryLife) -> list[str]:
    through = "" if life.choice.converter is None else f" through {life.choice.converter.name}"
    runs = zip(LEVELS, life.runs, strict=True)
    rows = ", ".join(f"{level:.0%}: {0.0 if run is None else run.hours:.1f} h" for level, run in runs)
    as_set = 0.0 if life.set_run is None else life.set_run.hours
    return [
        f"  Battery {life.choice.battery.name}{through}, shown at {life.choice.charge:.0%} of its charge",
        f"    {rows}; as it is set {as_set:.1f} h; light at full level {life.first_light:.0%} to {life.last_light:.0%}",
    ]


def _battery_json(life: BatteryLife) -> dict[str, Any]:
    return {
        "fed_v": life.volts,
        "hours": {
            f"{level:g}": None if run is None else run.hours for level, run in zip(LEVELS, life.runs, strict=True)
        },
        "hours_as_set": None if life.set_run is None else life.set_run.hours,
        "light_first": life.first_light,
        "light_last": life.last_light,
        "most_a": life.most_a,
    }


def _piece_words(piece: PiecePower) -> str:
    volts, share = piece.volts_v, piece.share
    return (
        f"{volts[0]:.3f} V to {volts[-1]:.3f} V, least {volts.min():.3f} V; "
        f"light {share[0].min():.1%} to {share[-1].min():.1%}, least {share.min():.1%}; {piece.current_a.sum():.3f} A"
    )


def power_json(
    design: Design,
    network: Network,
    findings: Sequence[Finding],
    reader: Reader = ENGLISH,
    warmth: BuildWarmth | None = None,
) -> bytes:
    """For every piece and segment volts, amps and share of the light; every wire; every supply; warmth; every finding of Feed."""
    power, wiring = network.power, network.wiring
    body: dict[str, Any] = {
        "design": design.name,
        "wiring": {
            **msgspec.to_builtins(wiring),
            "scheme": wiring.scheme,
            "wire_mm2": wiring.wire_mm2,
            "chosen": network.wired,
        },
        "supplies": [],
        "pieces": [],
        "wires": [],
        "residual_a": None if power is None else power.residual_a,
    }
    if power is not None:
        body["supplies"] = [msgspec.to_builtins(one) for one in power.supplies]
        body["pieces"] = [
            {
                "id": piece.id,
                "segments": [
                    {
                        "voltage_v": float(volts),
                        "current_a": [float(x) for x in amps],
                        "flux_share": [float(x) for x in share],
                    }
                    for volts, amps, share in zip(piece.volts_v, piece.current_a, piece.share, strict=True)
                ],
            }
            for piece in power.pieces
        ]
        behind_mm2 = thinnest_behind_mm2(power)
        body["wires"] = [
            {
                "from": str(one.wire.start),
                "to": str(one.wire.end),
                "conductor": one.wire.conductor,
                "length_mm": one.wire.length_mm,
                "section_mm2": one.wire.section_mm2,
                "current_a": one.current_a,
                "drop_v": one.drop_v,
                "power_w": one.loss_w,
                "carries_a": carries_a(one.wire.section_mm2),
                "fuse_a": fuse_for(one.current_a, min(one.wire.section_mm2, behind_mm2)).rating_a,
            }
            for one in power.wires
        ]
    body["battery"] = None if network.battery is None else _battery_json(network.battery)
    body["warmth"] = None if warmth is None else _warmth(warmth)
    body["findings"] = [
        {
            "code": one.code,
            "state": one.state.value,
            "value": one.value,
            "unit": one.unit,
            "limit": one.limit,
            "sentence": reader.read(one.sentence),
        }
        for one in findings
        if one.place == PLACE
    ]
    return msgspec.json.format(msgspec.json.encode(body), indent=2) + b"\n"
