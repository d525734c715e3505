"""Two knobs for a strip of two whites: the white of both together, and how bright it looks."""

from PyQt6.QtWidgets import QLabel

from gauze.core.design import Design
from gauze.core.optics.mixing import Mix, mix_of, whites_xyz
from gauze.core.units import format_number, parse_number
from gauze.session import edits
from gauze.ui.panels.fields import Form, LevelField, QuantityField
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class MixFields:
    """The inputs in a strip's form; the levels of the two channels follow them, and they follow the levels."""

    def __init__(self, bench: Workbench, index: int, form: Form) -> None:
        self._bench, self._index = bench, index
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
            "White", lambda design, _: edits.with_mix(design, self._bench.known(), self._index, cct_k, seen)
        )

    def _take_seen(self, seen: float) -> None:
        if self._mix is not None:
            cct_k = self._mix.cct_k
            self._bench.drag(
                "Brightness",
                lambda design, _: edits.with_mix(design, self._bench.known(), self._index, cct_k, max(seen, 0.01)),
                self._gesture,
            )

    def _let_go(self) -> None:
        self._gesture = object()

    def refresh(self, design: Design) -> None:
        """Show what the levels make."""
        choice = design.strips[self._index]
        strip = self._bench.known().strip(choice.strip)
        xyz_full = whites_xyz(strip)
        self._mix = None if xyz_full is None else mix_of(xyz_full, choice.levels_for(strip))
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
