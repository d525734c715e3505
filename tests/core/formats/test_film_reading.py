"""Pictures and animations are brought to a display's pixels by their light; what is none of them is refused."""

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from gauze.core.effects.film import light_of
from gauze.core.errors import FormatError
from gauze.core.formats.film_reading import MOST_PICTURES, decode_film


def picture(array: np.ndarray, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.fromarray(array).save(out, kind)
    return out.getvalue()


def animation(colours: list[tuple[int, int, int]], length_ms: int, size: tuple[int, int] = (8, 4)) -> bytes:
    first, *rest = [Image.new("RGB", size, colour) for colour in colours]
    out = io.BytesIO()
    first.save(out, "GIF", save_all=True, append_images=rest, duration=length_ms)
    return out.getvalue()


def test_a_picture_of_its_own_size_is_shown_value_by_value_with_its_first_row_above() -> None:
    array = np.arange(4 * 6 * 3, dtype=np.uint8).reshape(4, 6, 3)
    film = decode_film(picture(array), "x", 6, 4)
    assert np.array_equal(film.pictures[0], array[::-1])
    assert film.length_s == pytest.approx(0.1)


def test_fine_detail_is_averaged_by_light_and_what_is_left_beside_stays_dark() -> None:
    """Alternating black and white give half of the light, which is value 188 of sRGB (IEC 61966-2-1), and not 128."""
    board = np.indices((32, 32)).sum(axis=0) % 2 * 255
    film = decode_film(picture(np.repeat(board[..., None], 3, axis=2).astype(np.uint8)), "x", 8, 4)
    shown = film.pictures[0]
    assert set(shown[:, 2:6].ravel().tolist()) == {188}
    assert shown[:, :2].max() == shown[:, 6:].max() == 0


def test_what_is_transparent_is_dark() -> None:
    clear = np.zeros((2, 2, 4), np.uint8)
    clear[..., :3] = 255
    clear[0, 0, 3] = 255
    assert decode_film(picture(clear), "x", 2, 2).pictures[0].sum() == 3 * 255


def test_an_animation_keeps_its_pictures_and_their_time() -> None:
    film = decode_film(animation([(255, 0, 0), (0, 255, 0), (0, 0, 255)], 200), "x", 4, 2)
    assert film.until_s.tolist() == pytest.approx([0.2, 0.4, 0.6])
    assert [film.at(t)[0, 0].argmax() for t in (0.1, 0.3, 0.5, 0.7)] == [0, 1, 2, 0]
    assert light_of(film.pictures).max() > 0.9


def test_what_cannot_be_played_is_refused_in_words() -> None:
    colours = [(number % 256, number // 256, 255) for number in range(MOST_PICTURES + 1)]
    for data, words in (
        (b"", "not a picture"),
        (b"GIF89a nonsense", "not a picture"),
        (picture(np.random.default_rng(1).integers(0, 256, (9, 9, 3), np.uint8))[:150], "damaged"),
        (picture(np.zeros((1, 16_000_001), np.uint8)), "more than 16 million"),
        (animation(colours, 20), f"more than {MOST_PICTURES} pictures"),
        (animation(colours[:20], 60_000), "longer than 600"),
    ):
        with pytest.raises(FormatError, match=words):
            decode_film(data, "x", 4, 2)


@settings(max_examples=150)
@given(st.sampled_from(["PNG", "GIF", "JPEG", "BMP", "WEBP"]), st.data())
def test_damaged_files_are_read_or_refused(kind: str, data: st.DataObject) -> None:
    whole = bytearray(picture(np.arange(16 * 16 * 3, dtype=np.uint8).reshape(16, 16, 3), kind))
    for _ in range(data.draw(st.integers(1, 5))):
        whole[data.draw(st.integers(0, len(whole) - 1))] = data.draw(st.integers(0, 255))
    try:
        film = decode_film(bytes(whole[: data.draw(st.integers(0, len(whole)))]), "x", 5, 3)
    except FormatError:
        return
    assert film.pictures.shape[1:] == (3, 5, 3)
