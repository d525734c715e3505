"""The things on the shelf with the verdict for a design, as text and as JSON."""

from collections.abc import Sequence

import msgspec

from gauze.core.design import Design
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.shelf import Judged
from gauze.core.formats.shelf_csv import key_of
from gauze.core.materials.labels import Thing
from gauze.core.printable import printable
from gauze.core.units import format_number
from gauze.core.words import Reader

_STATES = {State.GOOD: "good", State.NOTE: "note", State.WATCH: "check", State.FAILS: "fails"}


def shelf_text(design: Design, things: Sequence[Thing], judged: Sequence[Judged], reader: Reader) -> str:
    """A line for each thing: what it is, how much of it there is, and whether it will do."""
    verdicts = {one.thing_id: one for one in judged}
    lines = [printable(design.name)]
    for thing in things:
        verdict = verdicts.get(thing.id)
        words = "" if verdict is None else f" [{_STATES[verdict.state]}] {reader.read(verdict.sentence)}"
        lines.append(f"  {key_of(type(thing))} {printable(thing.name)} ({format_number(thing.on_hand, 4)}){words}")
    if not things:
        lines.append("  Nothing is on your shelf. Fill it in the window (Go, My shelf), or name a table with --table.")
    return "\n".join(lines)


def shelf_json(design: Design, things: Sequence[Thing], judged: Sequence[Judged], reader: Reader) -> bytes:
    """The same as JSON; ``state`` is null for what is not judged."""
    verdicts = {one.thing_id: one for one in judged}
    rows = []
    for thing in things:
        verdict = verdicts.get(thing.id)
        rows.append(
            {
                "kind": key_of(type(thing)),
                "name": thing.name,
                "on_hand": thing.on_hand,
                "state": None if verdict is None else _STATES[verdict.state],
                "sentence": None if verdict is None else reader.read(verdict.sentence),
            }
        )
    body = msgspec.json.encode({"design": design.name, "things": rows})
    return msgspec.json.format(body, indent=2) + b"\n"
