"""A design and its kept versions side by side: what each costs, draws and gives."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import msgspec

from gauze.core.design import Design
from gauze.core.design.design import KeptVersion
from gauze.core.evaluate.evaluation import WHILE_DRAGGING
from gauze.core.evaluate.made import made_of
from gauze.core.evaluate.stages import evaluate
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import Thing

MOST = 8  # versions that are compared


@dataclass(frozen=True)
class Alternative:
    """One version: ``cost`` of what has a price, how many lines have none, and a rough mean luminance.

    ``name`` is empty for the design as it is open.
    """

    name: str
    cost: float
    without_price: int
    watts: float
    mean_cd_m2: float


def alternatives_of(
    design: Design, catalogue: Catalogue, things: Sequence[Thing], cancelled: Callable[[], bool] = lambda: False
) -> tuple[Alternative, ...]:
    """Return the open design and its versions, latest first; prices are those typed for this design, by material.

    Raises
    ------
    Cancelled
        When ``cancelled()`` says so.
    """
    kept = [(one.name, _as_design(design, one)) for one in design.kept[-MOST:][::-1]]
    return tuple(_of(name, one, catalogue, things, cancelled) for name, one in [("", design), *kept])


def _as_design(design: Design, kept: KeptVersion) -> Design:
    own = {name: getattr(kept, name) for name in KeptVersion.__struct_fields__ if name != "name"}
    found: Design = msgspec.structs.replace(design, **own, kept=())
    return found


def _of(
    name: str, design: Design, catalogue: Catalogue, things: Sequence[Thing], cancelled: Callable[[], bool]
) -> Alternative:
    bill = made_of(design, catalogue, things, lambda: None).bill
    evaluation = evaluate(design, catalogue, WHILE_DRAGGING, cancelled)
    power = evaluation.network.power
    watts = sum(one.mean_w for one in power.supplies) if power is not None else 0.0
    return Alternative(name, bill.total, bill.without_price, watts, float(evaluation.evenness.mean_cd_m2))
