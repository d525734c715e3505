"""The plan of every list of lengths: out of what lies on the shelf first, then out of what is bought."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from gauze.core.design.making import Making
from gauze.core.errors import CuttingError
from gauze.core.making.cut_lists import USUAL_MM, CutList
from gauze.core.making.cutting import CuttingPlan, Saw, Stock, plan_cuts
from gauze.core.materials.labels import BoardStock, ProfileStock, StripLabel, Thing, WireLabel

_FITS_MM = 0.6  # by which sections may differ and be taken for the same; common practice, no source
_FITS_AREA = 0.03  # of the section of a wire


@dataclass(frozen=True)
class PlannedList:
    """A list with what is bought for it, and its plan; ``problem`` says why there is none.

    ``stock_mm`` is the length in which it is bought, ``price`` that of one, None where it is not known; ``owned`` what of the
    shelf was offered to it.
    """

    cut_list: CutList
    stock_mm: float
    price: float | None
    owned: tuple[Stock, ...]
    plan: CuttingPlan | None
    problem: CuttingError | None = None

    @property
    def bought(self) -> int:
        """How many bars, reels or rolls are bought."""
        return 0 if self.plan is None else sum(not bar.offcut for bar in self.plan.bars)

    @property
    def cost(self) -> float | None:
        """What they cost; None where the price is not known, unless nothing is bought."""
        if self.price is None:
            return 0.0 if self.plan is not None and self.bought == 0 else None
        return self.bought * self.price


def plan_lists(
    lists: Sequence[CutList],
    making: Making,
    things: Sequence[Thing],
    channel_mm: tuple[float, float] | None = None,
    pause: Callable[[], None] = lambda: None,
) -> list[PlannedList]:
    """Plan every list.

    Parameters
    ----------
    things:
        What lies on the shelf; used where ``making`` says so.
    channel_mm:
        Width and depth inside of a channel, by which its label states it.
    """
    return [_planned(one, making, things if making.from_shelf else (), channel_mm, pause) for one in lists]


def _planned(
    cut_list: CutList,
    making: Making,
    things: Sequence[Thing],
    channel_mm: tuple[float, float] | None,
    pause: Callable[[], None],
) -> PlannedList:
    choice = making.stock(cut_list.key)
    stock_mm = choice.length_mm or USUAL_MM[cut_list.material]
    offered = (stock_of(cut_list, thing, channel_mm) for thing in things)
    owned = tuple(one for one in offered if one is not None)
    saw = Saw(making.kerf_mm, making.trim_mm) if cut_list.sawn else Saw()
    stocks = [*owned, Stock(stock_mm, 1.0 if choice.price is None else choice.price)]
    try:
        plan = plan_cuts(stocks, cut_list.wanted(making), saw, pause)
    except CuttingError as error:
        return PlannedList(cut_list, stock_mm, choice.price, owned, None, error)
    return PlannedList(cut_list, stock_mm, choice.price, owned, plan)


def stock_of(cut_list: CutList, thing: Thing, channel_mm: tuple[float, float] | None) -> Stock | None:
    """What a thing on the shelf is for a list: bars of its length, or what is left of a reel; None for another material."""
    if thing.on_hand <= 0:
        return None
    reel = Stock(1000.0 * thing.on_hand, quantity=1, offcut=True)
    if isinstance(thing, StripLabel):
        return reel if cut_list.material == "strip" and thing.id == cut_list.item else None
    if isinstance(thing, WireLabel):
        area = cut_list.area_mm2
        return reel if area is not None and abs(thing.area_mm2 - area) <= _FITS_AREA * area else None
    if isinstance(thing, ProfileStock):
        fits = channel_mm is not None and _near(thing.width_mm, channel_mm[0]) and _near(thing.depth_mm, channel_mm[1])
        return _bars(thing) if fits and cut_list.material == "profile" else None
    if isinstance(thing, BoardStock) and cut_list.material == "board" and cut_list.size_mm is not None:
        wide, thick = cut_list.size_mm
        fits = thing.high_mm + _FITS_MM >= wide and (thick == 0.0 or _near(thing.thick_mm, thick))
        return _bars(thing) if fits else None
    return None


def _bars(thing: ProfileStock | BoardStock) -> Stock:
    return Stock(thing.length_mm, quantity=int(thing.on_hand), offcut=True)


def _near(one: float, other: float) -> bool:
    return abs(one - other) <= _FITS_MM
