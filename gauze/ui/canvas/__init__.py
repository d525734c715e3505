"""The drawing: true-scale plan and side cut, with its dimensions as inputs and the seam through both."""
