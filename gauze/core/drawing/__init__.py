"""Drawings as display lists: layers of shapes with legends, painted in the window and written to files by the same list."""

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.layers import layers_of
from gauze.core.drawing.views import View, views_of

__all__ = ["Layer", "Legend", "View", "layers_of", "views_of"]
