"""Ask every family for fixes of builds made worse in several ways: ``python -m bench.remedies``.

Prints, for each family and finding, in how many of the bad builds a remedy was found. A finding that promises fixes and never has
any, in a family, is a defect: the exit code says so.
"""

import sys
from collections import defaultdict
from collections.abc import Callable, Iterator
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.errors import DesignError
from gauze.core.evaluate import Detail, evaluate, find, search_fixes
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.demo import DEMOS

_CATALOGUE = load_catalogue()
_DETAIL = Detail(fineness=0.5, most_pixels=6_000, target_points=1)


def _purpose(**changes: Any) -> Callable[[Design], Design]:
    return lambda design: msgspec.structs.replace(design, purpose=msgspec.structs.replace(design.purpose, **changes))


def _scaled(name: str, share: float) -> Callable[[Design], Design | None]:
    def change(design: Design) -> Design | None:
        value = getattr(design.build, name, None)
        if not isinstance(value, float):
            return None
        return msgspec.structs.replace(design, build=msgspec.structs.replace(design.build, **{name: value * share}))

    return change


_SPOILT: dict[str, Callable[[Design], Design | None]] = {
    "as it is": lambda design: design,
    "shallower": _scaled("depth_mm", 0.5),
    "thinner": _scaled("diameter_mm", 0.6),
    "shorter": _scaled("length_mm", 0.83),
    "wider": _scaled("width_mm", 1.27),
    "wide face": _scaled("face_width_mm", 1.013),
    "shallow groove": _scaled("groove_depth_mm", 0.2),
    "too bright": _purpose(wanted_luminance_cd_m2=20.0, wanted_illuminance_lx=2.0),
    "too dim": _purpose(wanted_luminance_cd_m2=2000.0, wanted_illuminance_lx=900.0),
    "another white": _purpose(wanted_cct_k=3600.0),
    "seen from near": _purpose(viewing_distance_mm=400.0),
    "for photographs": _purpose(standard="reference"),
}


def _bad_builds(design: Design) -> Iterator[tuple[str, Design]]:
    for name, spoil in _SPOILT.items():
        for use in ("lighting", "looked_at"):
            worse = spoil(_purpose(use=use)(design))
            if worse is not None:
                yield f"{name}, {use}", worse


def main() -> int:
    """Try them all."""
    found: dict[tuple[str, str], list[bool]] = defaultdict(list)
    for demo in DEMOS:
        design = decode_design(demo.read(), _CATALOGUE)
        family = type(design.build).__name__
        for _name, worse in _bad_builds(design):
            try:
                findings = find(evaluate(worse, _CATALOGUE, _DETAIL))
            except DesignError:
                continue
            for finding in findings:
                if finding.fixable and not any(found[family, finding.code][2:]):
                    found[family, finding.code].append(bool(search_fixes(finding.code, worse, _CATALOGUE)))
        for (kind, code), answers in sorted(found.items()):
            if kind == family:
                print(f"{family:16} {code:18} {sum(answers)} of {len(answers)}", flush=True)
    never = [pair for pair, answers in found.items() if not any(answers)]
    print("never:", ", ".join(f"{family} {code}" for family, code in never) or "none")
    return 1 if never else 0


if __name__ == "__main__":
    sys.exit(main())
