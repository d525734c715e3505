"""The joinery of a box: how its boards, back and sheet are cut to fit each other, and what holds them together."""
