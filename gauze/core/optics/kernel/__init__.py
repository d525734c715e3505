"""The innermost loops of the light, compiled (decision 15): what is summed over pairs of places, patches and emitters."""
