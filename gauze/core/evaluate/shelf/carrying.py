"""Wire, connectors, fuses and controllers: do they carry what flows, and all pixels?"""

import msgspec

from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.power import Power
from gauze.core.electrical.wire_list import main_lead, thinnest_behind_mm2
from gauze.core.electrical.wires import carries_a, fuse_for
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.findings.controller import judge_controller
from gauze.core.evaluate.shelf.build import Build, Judged
from gauze.core.materials.labels import ConnectorLabel, ControllerLabel, FuseLabel, WireLabel
from gauze.core.words import Number, Text, say


def _most_a(power: Power) -> float:
    return max((wire.current_a for wire in power.wires), default=0.0)


def wire_verdict(build: Build, wire: WireLabel) -> Judged:
    """Judge what it carries, and its metres."""
    power = build.power
    area, amps = wire.area_mm2, _most_a(power)
    needed_m = sum(one.wire.length_mm for one in power.wires) / 1000.0
    carries = carries_a(wire.as_copper_mm2)
    words: dict[str, Text] = {
        "area": Number(area),
        "carries": Number(carries),
        "amps": Number(amps),
        "needed": Number(needed_m),
        "on_hand": Number(wire.on_hand),
    }
    if carries < amps:
        return Judged(wire.id, State.FAILS, say("{area} mm² carries {carries} A; {amps} A flow in one wire.", **words))
    section_mm2 = round(min(max(wire.as_copper_mm2, 0.05), 35.0), 4)
    found = msgspec.structs.replace(build.wiring, wire_mm2=section_mm2, sections=())
    if wire.on_hand < needed_m:
        sentence = say(
            "{area} mm² carries the {amps} A; the build takes {needed} m of it, and {on_hand} m are on hand.", **words
        )
        return Judged(wire.id, State.WATCH, sentence, found)
    sentence = say("{area} mm² carries the {amps} A, and {needed} m of the {on_hand} m are enough.", **words)
    return Judged(wire.id, State.GOOD, sentence, found)


def connector_verdict(build: Build, connector: ConnectorLabel) -> Judged:
    """Judge its contacts by the wire with the most current."""
    amps = _most_a(build.power)
    words: dict[str, Text] = {"own": Number(connector.amps), "amps": Number(amps)}
    if connector.amps < amps:
        sentence = say(
            "Each contact carries {own} A; {amps} A flow in one wire. Solder there, or feed at several places.", **words
        )
        return Judged(connector.id, State.FAILS, sentence)
    return Judged(
        connector.id, State.GOOD, say("Each contact carries {own} A; at most {amps} A flow in one wire.", **words)
    )


def fuse_verdict(build: Build, fuse: FuseLabel) -> Judged:
    """Judge whether it lasts, and whether it protects the wire."""
    lead = main_lead(build.power)
    section_mm2 = min(lead.wire.section_mm2, thinnest_behind_mm2(build.power))
    limits = fuse_for(lead.current_a, section_mm2)
    words: dict[str, Text] = {
        "own": Number(fuse.amps),
        "least": Number(limits.least_a),
        "most": Number(limits.most_a),
        "section": Number(section_mm2),
    }
    if fuse.amps < limits.least_a:
        return Judged(fuse.id, State.FAILS, say("It would blow: {least} A or more are wanted for the lead.", **words))
    if fuse.amps > limits.most_a:
        return Judged(fuse.id, State.FAILS, say("It would not protect {section} mm², which carries {most} A.", **words))
    return Judged(fuse.id, State.GOOD, say("Right for the lead: between {least} A and {most} A.", **words))


def controller_verdict(build: Build, controller: ControllerLabel) -> Judged:
    """Judge whether it holds all pixels, and is fast enough."""
    runs = pixel_runs(build.pieces, build.network.joints)
    wiring = msgspec.structs.replace(build.wiring, controller=controller)
    if not runs:
        return Judged(controller.id, State.NOTE, say("The build has no pixels; it may dim it."), wiring)
    state, sentence = judge_controller(controller, runs)
    return Judged(controller.id, state, sentence, None if state is State.FAILS else wiring)
