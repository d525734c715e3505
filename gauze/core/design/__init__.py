"""The builder's choices: frozen, validated values. Nothing here is computed from them."""

from gauze.core.design.design import Design, Purpose, Target, with_build
from gauze.core.design.loose import LooseEmitters
from gauze.core.design.strip_panel import RowPlan, StripChoice, StripPanel

__all__ = ["Design", "LooseEmitters", "Purpose", "RowPlan", "StripChoice", "StripPanel", "Target", "with_build"]
