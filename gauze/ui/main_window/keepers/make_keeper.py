"""Has the cutting and the bill of the open design planned, and keeps the window that shows them."""

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from gauze.core.design.channel_bar import ChannelBar
from gauze.core.evaluate.building.alternatives import Alternative
from gauze.core.evaluate.made import MadeBuild
from gauze.core.materials.labels import ProfileStock
from gauze.session.making_edits import known_prices, with_left_over, with_prices, with_stock
from gauze.session.shelf import usable
from gauze.session.solver import FilesRequest, MakeRequest
from gauze.ui.main_window.asking import file_name
from gauze.ui.main_window.exports import Exports
from gauze.ui.making.window import MakingWindow
from gauze.ui.panels.make import MakePanel
from gauze.ui.panels.places import PlaceStack
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench

_LIKE = "usual-15"  # a row of the catalogue for the label of a channel of which only the sizes are known


class MakeKeeper(QObject):
    """Stands between the place Make, its window, and the workbench."""

    def __init__(self, bench: Workbench, places: PlaceStack, exports: Exports, parent: QWidget) -> None:
        super().__init__()
        self._bench, self.exports, self._parent = bench, exports, parent
        self.also_for: list[Callable[[], bool]] = []  # who else wants it planned at the moment
        self.window: MakingWindow | None = None
        self.made: MadeBuild | None = None
        self._asked: MakeRequest | None = None
        bench.design_changed.connect(self._forget)
        bench.shelf_changed.connect(self.plan)
        bench.lit.connect(lambda _result: self.plan())
        bench.solving.made.connect(self._take)
        bench.solving.alternatives_found.connect(self._take_alternatives)
        self._panel = places.findChild(MakePanel)  # none in a window without the subject
        if self._panel is not None:
            self._panel.shown.connect(self.plan)

    def open(self, theme: Theme) -> None:
        """Open the window, or bring it to the front."""
        if self.window is None:
            window = MakingWindow(theme, self._bench.unit, self._parent)
            window.size_taken.connect(
                lambda key, side, value: self._bench.edit(
                    "Stock", lambda design, _: with_stock(design, key, **{side: value}), field="making.stocks"
                )
            )
            window.price_taken.connect(self._take_price)
            window.prices_wanted.connect(self._use_prices)
            window.left_over_wanted.connect(self._keep_left_over)
            window.cuts_wanted.connect(lambda: self.export("cuts"))
            window.bill_wanted.connect(lambda: self.export("bill"))
            self.window = window
        self.window.set_look(theme, self._bench.unit)
        self.window.show()
        self.window.raise_()
        self.window.activateWindow()
        if self.made is not None:
            self._show(self.made)
            self.window.set_stale(stale=self._asked is None)  # it is of a design that has changed since
            if self._asked is not None and self._bench.design.kept:
                self._bench.solving.compare_costs(self._asked)
        self.plan()

    def set_look(self, theme: Theme) -> None:
        """Follow the window's theme and unit."""
        if self.window is not None:
            self.window.set_look(theme, self._bench.unit)

    def plan(self) -> None:
        """Have it planned, where it is looked at and the design is at rest."""
        looked_at = [one.isVisible() for one in (self._panel, self.window) if one is not None]
        if not (any(looked_at) or any(wanted() for wanted in self.also_for)) or self._bench.exact is None:
            return
        request = self._request()
        if request != self._asked or self.made is None:
            self._asked = request
            self._bench.solving.plan_making(request)

    def export(self, what: str) -> None:
        """Write the cutting list or the bill of the design as it stands."""
        (self.exports.cutting_list if what == "cuts" else self.exports.bill)(self._request())

    def export_everything(self) -> None:
        """Write everything of the design as it stands into a new folder."""
        request = self._request()
        self.exports.everything(FilesRequest(request.design, request.things, file_name(request.design.name)))

    def _request(self) -> MakeRequest:
        return MakeRequest(self._bench.design, usable(self._bench.shelf, self._bench.catalogue).things)

    def _forget(self) -> None:
        """The design has changed: a plan of another is stopped, so that it takes nothing from the light of this one."""
        self._bench.solving.cancel("make")
        self._bench.solving.cancel("alternatives")
        self._asked = None
        if self.window is not None:
            self.window.set_stale(stale=True)

    def _take(self, request: MakeRequest, made: MadeBuild) -> None:
        if request.design != self._bench.design:
            return
        self.made = made
        if self.window is not None:
            self._show(made)
            if request.design.kept and self.window.isVisible():
                self._bench.solving.compare_costs(request)

    def _take_alternatives(self, request: MakeRequest, found: tuple[Alternative, ...]) -> None:
        if self.window is not None and request.design == self._bench.design:
            self.window.show_alternatives(found)

    def _take_price(self, key: str, price: float | None) -> None:
        """Keep a price with the design, and with the shelf for the next one."""
        taken = self._bench.edit("Price", lambda design, _: with_stock(design, key, price=price), field="making.stocks")
        if taken and price is not None:
            self._bench.change_shelf(lambda shelf: shelf.with_price(key, price))

    def _use_prices(self) -> None:
        if self.made is not None:
            known = known_prices(self.made.bill, self._bench.shelf.prices)
            self._bench.edit("Prices", lambda design, _: with_prices(design, known), field="making.stocks")

    def _show(self, made: MadeBuild) -> None:
        assert self.window is not None
        self.window.show_made(made)
        self.window.offer_prices(len(known_prices(made.bill, self._bench.shelf.prices)))

    def _keep_left_over(self) -> None:
        made, channel = self.made, self._bench.design.build_if(ChannelBar)
        if made is None:
            return
        label = None
        if channel is not None:
            label = ProfileStock(
                id="own-channel",
                name=tr("Channel {width} x {depth}").format(
                    width=f"{channel.width_mm:g}", depth=f"{channel.depth_mm:g}"
                ),
                like=_LIKE,
                width_mm=channel.width_mm,
                depth_mm=channel.depth_mm,
                length_mm=1000.0,
            )
        self._bench.change_shelf(lambda shelf: with_left_over(shelf, made.planned, label))
