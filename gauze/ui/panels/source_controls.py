"""What feeds a build and what controls it: a supply by its rating, or what lies on the shelf."""

from collections.abc import Callable
from typing import Any

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.units import format_number, parse_number
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

_SHELF = "shelf"
_CHARGES = (1.0, 0.5, 0.1)
_Take = Callable[[str, str, object], None]  # the name of the edit, the choice, its value


class SourceRows(QObject):
    """Rows of a form: the supply and its volts; or the battery, its charge where the light is shown, and for how long."""

    shelf_wanted = pyqtSignal()

    def __init__(self, bench: Workbench, form: Form, take: _Take) -> None:
        super().__init__(form)
        self._form, self._take = form, take
        self._shown = Wiring()
        self.supply = ChoiceBox()
        self.supply.setAccessibleName(tr("Rating of the supply"))
        self._ratings = tuple(float(one) for one in bench.catalogue.supply_ratings_w)
        self.supply.activated.connect(lambda index: self._take_supply(self.supply.itemData(index)))
        form.add(tr("Supply"), self.supply)
        self.volts = QuantityField(tr("Volts that the supply is set to"), _read_optional("V"))
        self.volts.setPlaceholderText(tr("as on its label"))
        self.volts.taken.connect(lambda value: take("Supply volts", "supply_volts", value or None))
        form.add(tr("Set to"), self.volts)
        self.charge = ChoiceBox()
        self.charge.setAccessibleName(tr("Charge of the battery at which the light is shown"))
        self.charge.activated.connect(lambda index: self._take_battery(charge=self.charge.itemData(index)))
        form.add(tr("Shown at"), self.charge)
        self.wanted = QuantityField(tr("How long the battery has to last, as it is set"), _read_optional("h"))
        self.wanted.setPlaceholderText(tr("not asked"))
        self.wanted.taken.connect(lambda value: self._take_battery(wanted_life_h=value or None))
        form.add(tr("Has to last"), self.wanted)
        for field in (self.volts, self.wanted):
            field.wrong.connect(form.say)

    def show_wiring(self, wiring: Wiring) -> None:
        """Show what is chosen."""
        self._shown, battery = wiring, wiring.battery
        self._show_supplies(wiring)
        self.volts.show_text("" if wiring.supply_volts is None else f"{wiring.supply_volts:g} V")
        self._form.show_row(self.volts, shown=battery is None)
        self._form.show_row(self.charge, shown=battery is not None)
        self._form.show_row(self.wanted, shown=battery is not None)
        if battery is not None:
            self._show_charges(battery.charge)
            self.wanted.show_text(
                "" if battery.wanted_life_h is None else f"{format_number(battery.wanted_life_h, 4)} h"
            )

    def _show_supplies(self, wiring: Wiring) -> None:
        self.supply.clear()
        self.supply.addItem(tr("large enough"), None)
        own = () if wiring.supply_w is None else (wiring.supply_w,)
        for rating in sorted({*self._ratings, *own}):
            self.supply.addItem(f"{rating:g} W", rating)
        if wiring.battery is not None:
            self.supply.addItem(_battery_words(wiring.battery), wiring.battery)
        self.supply.addItem(tr("from my shelf …"), _SHELF)
        chosen: object = wiring.battery or wiring.supply_w
        self.supply.setCurrentIndex(
            next(index for index in range(self.supply.count()) if self.supply.itemData(index) == chosen)
        )

    def _show_charges(self, charge: float) -> None:
        self.charge.clear()
        words = {1.0: tr("full battery"), 0.5: tr("half its charge"), 0.1: tr("a tenth of its charge")}
        for one in sorted({*_CHARGES, charge}, reverse=True):
            self.charge.addItem(words.get(one, tr("{share} % of its charge").format(share=f"{100 * one:.0f}")), one)
        self.charge.setCurrentIndex(self.charge.findData(charge))

    def _take_supply(self, chosen: object) -> None:
        if chosen == _SHELF:
            self.show_wiring(self._shown)
            self.shelf_wanted.emit()
        elif not isinstance(chosen, BatterySupply):
            self._take("Supply", "supply_w", chosen)

    def _take_battery(self, **changes: Any) -> None:
        if self._shown.battery is not None:
            self._take("Battery", "battery", msgspec.structs.replace(self._shown.battery, **changes))


class ControllerRow(QObject):
    """A row of a form: the controller, as it lies on the shelf."""

    shelf_wanted = pyqtSignal()

    def __init__(self, form: Form, take: _Take) -> None:
        super().__init__(form)
        self._take = take
        self._shown = Wiring()
        self.box = ChoiceBox()
        self.box.setAccessibleName(tr("What sends the data, or dims"))
        self.box.activated.connect(lambda index: self._taken(self.box.itemData(index)))
        form.add(tr("Controller"), self.box)

    def show_wiring(self, wiring: Wiring) -> None:
        """Show what is chosen."""
        self._shown = wiring
        self.box.clear()
        self.box.addItem(tr("not chosen"), None)
        if wiring.controller is not None:
            self.box.addItem(wiring.controller.name, wiring.controller)
        self.box.addItem(tr("from my shelf …"), _SHELF)
        self.box.setCurrentIndex(0 if wiring.controller is None else 1)

    def _taken(self, chosen: object) -> None:
        if chosen == _SHELF:
            self.show_wiring(self._shown)
            self.shelf_wanted.emit()
        else:
            self._take("Controller", "controller", chosen)


def _battery_words(choice: BatterySupply) -> str:
    if choice.converter is None:
        return choice.battery.name
    return tr("{battery} through {converter}").format(battery=choice.battery.name, converter=choice.converter.name)


def _read_optional(unit: str) -> Callable[[str], float]:
    """Read a number; nothing typed means none, 0."""
    return lambda text: parse_number(text, unit) if text.strip() else 0.0
