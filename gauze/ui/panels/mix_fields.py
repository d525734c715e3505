"""Two knobs for two whites: the white of both together, and how bright it looks."""

from PyQt6.QtWidgets import QLabel

from gauze.core.design import Design
from gauze.core.optics.mixing import Mix
from gauze.core.units import format_number, parse_number
from gauze.session.mixing_edits import whites_of, with_mix
from gauze.ui.panels.fields import Form, LevelField, QuantityField
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class MixFields:
    """The inputs in a form; the levels of the two follow them, and they follow the levels.

    ``index`` is the strip whose two channels are meant, None for two strips that alternate.
    """

    def __init__(self, bench: Workbench, index: int | None, form: Form) -> None:
        self._bench, self._index, self._form = bench, index, form
        self._gesture: object = object()
        self._mix: Mix | None = None
        self.white = QuantityField(tr("White of both together"), lambda text: parse_number(text, "K"))
        self.white.taken.connect(self._take_white)
        self.white.wrong.connect(form.say)
        self.seen = LevelField(tr("How bright it looks"))
        self.seen.moved.connect(self._take_seen)
        self.seen.let_go.connect(self._let_go)
        self._about = QLabel()
        self._about.setObjectName("dim")
        self._about.setWordWrap(True)
        form.add(tr("Mixed to"), self.white)
        form.add(tr("Looks"), self.seen)
        form.add_wide(self._about)

    def _take_white(self, cct_k: float) -> None:
        seen = 1.0 if self._mix is None else self._mix.seen
        self._bench.edit(
            "White",
            lambda design, layout: with_mix(design, layout, self._bench.known(), self._index, cct_k, seen),
        )

    def _take_seen(self, seen: float) -> None:
        if self._mix is not None:
            cct_k = self._mix.cct_k
            self._bench.drag(
                "Brightness",
                lambda design, layout: with_mix(
                    design, layout, self._bench.known(), self._index, cct_k, max(seen, 0.01)
                ),
                self._gesture,
            )

    def _let_go(self) -> None:
        self._gesture = object()

    def refresh(self, design: Design) -> None:
        """Show what the levels make; nothing where there are no two whites."""
        whites = whites_of(design, self._bench.layout, self._bench.known(), self._index)
        for field in (self.white, self.seen):
            self._form.show_row(field, shown=whites is not None)
        self._about.setVisible(whites is not None)
        self._mix = None if whites is None else whites.mix
        if self._mix is None:
            self.white.show_text("")
            self.seen.show_level(0.0)
            self._about.setText(tr("dark"))
            return
        mix = self._mix
        self.white.show_text(f"{mix.cct_k:.0f} K")
        self.seen.show_level(mix.seen)
        words = tr("{low} to {high} K; {share} of its light; steady from {least} with an 8-bit dimmer")
        self._about.setText(
            words.format(
                low=f"{mix.range_k[0]:.0f}",
                high=f"{mix.range_k[1]:.0f}",
                share=f"{format_number(100 * mix.share)} %",
                least=f"{format_number(100 * mix.steady_from, 2)} %",
            )
        )
