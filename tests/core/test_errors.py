import pickle

import pytest

from gauze.core import errors
from gauze.core.errors import DesignError, FormatError, GauzeError
from gauze.core.units import LengthUnit
from gauze.core.words import Fixed, Length, Reader, say


def test_lengths_in_a_message_are_written_in_the_readers_unit() -> None:
    error = DesignError(
        "build.depth_mm",
        "Depth {depth} is {share} % more, 100 % too much.",
        depth=Length(25.4),
        share=Fixed(7.25, ".1f"),
    )
    assert str(error) == "Depth 25.4 mm is 7.2 % more, 100 % too much."
    assert Reader(LengthUnit.INCH).read_error(error) == "Depth 1 in is 7.2 % more, 100 % too much."
    assert error.field == "build.depth_mm"


def test_a_message_is_translated_with_what_stands_in_it() -> None:
    german = {
        "There is no {what}.": "Es gibt {what} nicht.",
        "tube": "das Rohr",
        "“{name}”: {error}": "{error} („{name}“)",
    }
    reader = Reader(translate=lambda text: german.get(text, text))
    inner = FormatError("There is no {what}.", what=say("tube"))
    assert (
        reader.read_error(FormatError("“{name}”: {error}", name="a.csv", error=inner))
        == "Es gibt das Rohr nicht. („a.csv“)"
    )
    assert reader.read_error(ValueError("as it is")) == "as it is"


def test_braces_in_the_name_of_a_file_stay() -> None:
    error = FormatError("“{name}” is damaged {here}.", name="{name} {0}.gauze")
    assert str(error) == "“{name} {0}.gauze” is damaged {here}."


@pytest.mark.parametrize(
    "error",
    [DesignError("a.b", "Too deep: {depth}.", depth=Length(3.0)), FormatError("{x}", x="y"), GauzeError("plain")],
)
def test_an_error_comes_whole_from_another_process(error: GauzeError) -> None:
    error.add_note("where it was")
    again = pickle.loads(pickle.dumps(error))
    assert type(again) is type(error)
    assert str(again) == str(error)
    assert dict(again.values) == dict(error.values)
    assert again.__notes__ == ["where it was"]


def test_the_tree_is_described_in_the_docstring() -> None:
    kinds = [kind for kind in vars(errors).values() if isinstance(kind, type) and issubclass(kind, GauzeError)]
    assert len(kinds) >= 7
    for kind in kinds:
        assert f"``{kind.__name__}``" in (errors.__doc__ or "")
        assert kind.__doc__
