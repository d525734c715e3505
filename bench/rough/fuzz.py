"""Damages what the readers are given, by a seed: designs, tables, photometry, packets, settings, the shelf, kept work.

``.venv/bin/python -m bench.rough.fuzz --seed 1 --minutes 10``. A reader may return something, or raise a ``GauzeError`` of a
bounded length; anything else, or more than ``PATIENCE_S``, counts as a fault. A design that is taken is laid out, written and
read again, and now and then lit.
"""

import argparse
import functools
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import io
import json
import random
import sys
import tempfile
import time
import warnings
from collections.abc import Callable
from copy import deepcopy
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from PIL import Image

from bench.rough.tally import Tally
from gauze.core.errors import GauzeError
from gauze.core.evaluate import Detail, Evaluation, evaluate, find
from gauze.core.families import lay_out
from gauze.core.formats.cut_file import decode_cut, job_of
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.formats.e131 import Universe, decode_universe, encode_universe
from gauze.core.formats.emitters_csv import decode_emitters
from gauze.core.formats.film_reading import decode_film
from gauze.core.formats.ies_reading import decode_ies
from gauze.core.formats.photo_reading import read_photo
from gauze.core.formats.readings_csv import decode_readings, encode_readings
from gauze.core.formats.shelf_csv import decode_shelf
from gauze.core.making.cutting import plan_cuts
from gauze.core.materials import load_catalogue
from gauze.core.proving.photo_measure import measure_photo
from gauze.demo import DEMOS
from gauze.session.autosave import find_recoverable
from gauze.session.settings import load_settings
from gauze.session.shelf import load_shelf

PATIENCE_S = 2.0
LONGEST_MESSAGE = 4000
_EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
_QUICK = Detail(fineness=0.4, most_pixels=3_000, target_points=1)
_MOST_LIT = 1500  # emitters of a damaged design that is lit
_MOST_CUT = 60  # pieces of a job that is planned as well
_LIT_SHARE = 0.02
_CATALOGUE = load_catalogue()
NUMBERS = (0, -1, 1, 2, 3, 0.5, 1e-9, -1e-9, 1e9, 1e308, -1e308, 10**30, 0.1, 49.999999, 50, 65535, -0.0, 1e-320)
OTHERS: tuple[Any, ...] = (
    None,
    True,
    False,
    "",
    "x",
    "opal-acrylic-3",
    "\x00",
    "²",
    [],
    {},
    [[]],
    [1, 2],
    {"a": 1},
    "9" * 300,
)
WORDS = (
    b"NaN",
    b"Infinity",
    b"1e999",
    b"-",
    b"1" + b"0" * 400,
    b"[",
    b"]",
    b"{",
    b"}",
    b'"',
    b",",
    b"\x00",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
)


class Damage:
    """Damages bytes and JSON at random."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)  # noqa: S311 - a seed is what is wanted

    def bytes_of(self, data: bytes) -> bytes:
        """Flip, cut, double, swap or fill in a few bytes."""
        changed = bytearray(data)
        for _ in range(self.random.randrange(1, 5)):
            at = self.random.randrange(max(len(changed), 1))
            kind = self.random.randrange(6)
            if kind == 0 and changed:
                changed[at] ^= 1 << self.random.randrange(8)
            elif kind == 1:
                del changed[at : at + self.random.randrange(1, 40)]
            elif kind == 2:
                changed[at:at] = self.random.choice(WORDS)
            elif kind == 3:
                changed[at:at] = changed[max(0, at - self.random.randrange(200)) : at]
            elif kind == 4:
                del changed[at:]
            else:
                changed[at : at + self.random.randrange(1, 12)] = self.random.choice(WORDS)
        return bytes(changed)

    def json_of(self, data: bytes) -> bytes:
        """Put other values in a few places of a JSON text, take some away, double some."""
        body = json.loads(data)
        for _ in range(self.random.randrange(1, 4)):
            holder, key = self._place(body)
            kind = self.random.randrange(10)
            value = holder[key]
            if kind < 5 and isinstance(value, int | float) and not isinstance(value, bool):
                holder[key] = self.random.choice(
                    (*NUMBERS, value * self.random.choice((0.01, 0.1, 0.5, 0.9, 1.1, 2, 10, 100)))
                )
            elif kind < 7:
                holder[key] = deepcopy(self.random.choice((*NUMBERS, *OTHERS)))
            elif kind == 7 and isinstance(holder, dict):
                del holder[key]
            elif kind == 8 and isinstance(value, list):
                holder[key] = [deepcopy(one) for one in value * self.random.choice((0, 2, 3))]
            elif isinstance(holder, dict):
                holder[self.random.choice(("x", "rows", "emitters", "kept", key + "_mm"))] = deepcopy(value)
        return json.dumps(body, allow_nan=True).encode()

    def _place(self, body: Any) -> tuple[Any, Any]:
        """Return a holder within a value, and a key of it."""
        holder: Any = body
        while True:
            keys = list(holder) if isinstance(holder, dict) else list(range(len(holder)))
            key = self.random.choice(keys)
            inner = holder[key]
            if not isinstance(inner, dict | list) or not inner or self.random.random() < 0.15:
                return holder, key
            holder = inner


def check_design(data: bytes, *, lit: bool) -> str:
    """Read a design; lay out, write and read again what is taken, and light it if told to."""
    try:
        design = decode_design(data, _CATALOGUE)
        layout = lay_out(design, _CATALOGUE)
        if decode_design(encode_design(design), _CATALOGUE) != design:
            raise AssertionError("it does not come back from its file")
        if lit and layout.emitter_count < _MOST_LIT:
            evaluation = evaluate(design, _CATALOGUE, _QUICK)
            find(evaluation)
            return "lit"
    except GauzeError as error:
        return _refused(error)
    return "taken"


def _refused(error: GauzeError) -> str:
    if len(str(error)) > LONGEST_MESSAGE:
        raise AssertionError(f"a message of {len(str(error))} characters") from error
    return "refused"


def check_reader(read: Callable[[], object]) -> str:
    """Read something else."""
    try:
        read()
    except GauzeError as error:
        return _refused(error)
    return "taken"


@dataclass(frozen=True)
class Kind:
    """Something that is read: how often, what is damaged, how, and how it is checked."""

    name: str
    weight: int
    samples: tuple[bytes, ...]
    damage: Callable[[bytes], bytes]
    check: Callable[[bytes], str]


def _film() -> bytes:
    """A small animation."""
    first, *rest = [Image.new("RGB", (12, 8), (40 * number, 255 - 40 * number, 90)) for number in range(4)]
    out = io.BytesIO()
    first.save(out, "GIF", save_all=True, append_images=rest, duration=80)
    return out.getvalue()


def _photos() -> tuple[bytes, ...]:
    """A lit face on black, as PNG and as JPEG with some EXIF."""
    image = Image.new("RGB", (160, 120), (4, 4, 5))
    image.paste((200, 180, 160), (30, 25, 130, 95))
    exif = Image.Exif()
    exif[0x0112], exif[0x010F] = 3, "x"
    exif[0x8769] = {0xA405: 28, 0xA403: 0}
    found = []
    for kind, more in (("PNG", {}), ("JPEG", {"exif": exif, "quality": 90})):
        out = io.BytesIO()
        image.save(out, kind, **more)
        found.append(out.getvalue())
    return tuple(found)


def _measure(data: bytes) -> None:
    """Read a photograph and measure it on the panel of the demo."""
    measure_photo(read_photo(data), _panel(), correction="exif")


@functools.cache
def _panel() -> Evaluation:
    return evaluate(decode_design(DEMOS[0].read(), _CATALOGUE), _CATALOGUE, _QUICK)


def _cut(data: bytes) -> None:
    """Read a cutting job and plan it, where it is a small one."""
    stocks, wanted, saw = job_of(decode_cut(data))
    if sum(one.quantity for one in wanted) <= _MOST_CUT:
        plan_cuts(stocks, wanted, saw)


def kinds(damage: Damage, folder: Path) -> list[Kind]:
    """Return all that is read, with whole samples of each; ``folder`` is for what is read from files."""
    designs = tuple(demo.read() for demo in DEMOS)
    table, photometry = ((_EXAMPLES / name).read_bytes() for name in ("harbour-sign.csv", "wide-spot.ies"))
    keep = {"path": "/nowhere/a.gauze", "design": designs[0].decode(), "stamp": {"size": 1, "sha256": "0"}}
    labels = (_EXAMPLES / "workshop-shelf.csv").read_bytes()
    cut = (_EXAMPLES / "shelf-frame.cut.json").read_bytes()
    packet = encode_universe(Universe(1, 0, bytes(range(256))), bytes(16))
    film, photos = _film(), _photos()
    log = decode_design(designs[0], _CATALOGUE).bench
    readings = encode_readings(() if log is None else log.readings)
    sheet = {"id": "own-a", "name": "a", "like": "opal-acrylic-3", "lux_without": 9, "lux_with": 5}
    shelf = {"format": "gauze-shelf", "format_version": 1, "own_diffusers": [sheet]}
    settings = {"theme": "light", "length_unit": "in", "recent_files": ["/nowhere/a.gauze"]}
    file = folder / "x.keep"

    def from_file(read: Callable[[Path], object]) -> Callable[[bytes], str]:
        def check(data: bytes) -> str:
            file.write_bytes(data)
            return check_reader(lambda: read(file))

        return check

    def found(_file: Path) -> None:
        for one in find_recoverable(folder, _CATALOGUE):
            one.put_back()

    def some_lit(data: bytes) -> str:
        return check_design(data, lit=damage.random.random() < _LIT_SHARE)

    return [
        Kind("design", 8, designs, damage.json_of, some_lit),
        Kind("bytes", 4, designs, damage.bytes_of, partial(check_design, lit=False)),
        Kind("table", 3, (table,), damage.bytes_of, lambda data: check_reader(lambda: decode_emitters(data))),
        Kind("photometry", 3, (photometry,), damage.bytes_of, lambda data: check_reader(lambda: decode_ies(data))),
        Kind("keep", 1, (json.dumps(keep).encode(),), damage.bytes_of, from_file(found)),
        Kind("shelf", 1, (json.dumps(shelf).encode(),), damage.bytes_of, from_file(load_shelf)),
        Kind(
            "labels", 2, (labels,), damage.bytes_of, lambda data: check_reader(lambda: decode_shelf(data, _CATALOGUE))
        ),
        Kind("cut", 2, (cut,), damage.json_of, lambda data: check_reader(lambda: _cut(data))),
        Kind("packet", 2, (packet,), damage.bytes_of, lambda data: check_reader(lambda: decode_universe(data))),
        Kind("film", 2, (film,), damage.bytes_of, lambda data: check_reader(lambda: decode_film(data, "x", 8, 4))),
        Kind("readings", 2, (readings,), damage.bytes_of, lambda data: check_reader(lambda: decode_readings(data))),
        Kind("photo", 2, photos, damage.bytes_of, lambda data: check_reader(lambda: _measure(data))),
        Kind("settings", 1, (json.dumps(settings).encode(),), damage.bytes_of, from_file(load_settings)),
    ]


def rounds(seed: int, tally: Tally, going_on: Callable[[], bool], patience_s: float = PATIENCE_S) -> None:
    """Damage and read as long as ``going_on`` says; a reader that takes longer than ``patience_s`` is a fault."""
    damage = Damage(seed)
    with tempfile.TemporaryDirectory() as folder:
        every = kinds(damage, Path(folder))
        weights = [kind.weight for kind in every]
        while going_on():
            kind = damage.random.choices(every, weights)[0]
            _one(kind.name, kind.damage(damage.random.choice(kind.samples)), kind.check, tally, patience_s)


def _one(kind: str, data: bytes, check: Callable[[bytes], str], tally: Tally, patience_s: float) -> None:
    start = time.perf_counter()
    end = "fault"
    try:
        end = check(data)
    except Exception as error:  # noqa: BLE001 - it is what is looked for
        tally.error(error, f"{kind}: {data[:300]!r}")
    tally.done[f"{kind} {end}"] += 1
    seconds = time.perf_counter() - start
    if seconds > patience_s and end != "lit":
        tally.fault(f"{kind} takes more than {patience_s:g} s", f"{seconds:.1f} s: {data[:200]!r}")


def main() -> None:
    """Damage until the time is up."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--minutes", type=float, default=10.0)
    arguments = parser.parse_args()
    warnings.simplefilter("error")
    tally = Tally()
    end = time.monotonic() + 60.0 * arguments.minutes
    rounds(arguments.seed, tally, lambda: time.monotonic() < end)
    print(tally.report(f"fuzz, seed {arguments.seed}"))
    sys.exit(bool(tally.faults))


if __name__ == "__main__":
    main()
