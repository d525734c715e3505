from gauze.core import errors
from gauze.core.errors import DesignError, GauzeError, length


def test_lengths_in_a_message_are_written_in_the_readers_unit() -> None:
    error = DesignError("build.depth_mm", f"Depth {length(25.4)} is more than {length(1 / 3)}, 100 % too much.")
    assert str(error) == "Depth 25.4 mm is more than 0.3333 mm, 100 % too much."
    assert error.text(lambda mm: f"{mm / 25.4:.2f} in") == "Depth 1.00 in is more than 0.01 in, 100 % too much."
    assert error.field == "build.depth_mm"


def test_the_tree_is_described_in_the_docstring() -> None:
    kinds = [kind for kind in vars(errors).values() if isinstance(kind, type) and issubclass(kind, GauzeError)]
    assert len(kinds) >= 7
    for kind in kinds:
        assert f"``{kind.__name__}``" in (errors.__doc__ or "")
        assert kind.__doc__
