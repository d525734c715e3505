"""What the solvers keep is shared by threads: whatever they ask at once, each gets what it would get alone."""

import sys
import threading
import time
from collections.abc import Callable, Iterator

import numpy as np
import pytest

from gauze.core.design import RowPlan
from gauze.core.evaluate import Detail, evaluate
from gauze.core.evaluate.light.one_cavity import forget_faces
from gauze.core.layout.model import LightBox
from gauze.core.optics.box_mesh import coarse_mesh
from gauze.core.optics.box_transport import forget_transports
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.kernel import parallel
from gauze.core.optics.kernel.parallel import all_three, beside, both, in_threads
from gauze.core.optics.radiosity import BoxExchange, BoxFaces
from tests.builders import CATALOGUE, design
from tests.families import bars, family, tube

THREADS = 4
BOX = LightBox(200.0, 150.0, 30.0, back_reflectance=0.9, wall_reflectance=0.8, lid_reflectance=0.4)


@pytest.fixture
def _often() -> Iterator[None]:
    """Let threads change places as often as can be."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    yield
    sys.setswitchinterval(before)


def at_once(*works: Callable[[], None]) -> list[str]:
    """Run works in threads of their own, started together; return what went wrong."""
    wrong: list[str] = []
    start = threading.Barrier(len(works))

    def run(work: Callable[[], None]) -> None:
        start.wait()
        try:
            work()
        except Exception as error:  # noqa: BLE001 - told by the thread that waits
            wrong.append(repr(error))

    threads = [threading.Thread(target=run, args=(work,)) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return wrong


def faces(exchange: BoxExchange, seed: int) -> BoxFaces:
    """Direct light without any symmetry."""
    mesh, draw = exchange.mesh, np.random.default_rng(seed)
    nx, ny, nz = (len(nodes) - 1 for nodes in (mesh.x_nodes, mesh.y_nodes, mesh.z_nodes))
    shapes = ((nx, ny), (nx, ny), (ny, nz), (ny, nz), (nx, nz), (nx, nz))
    return BoxFaces(*(draw.random(shape) for shape in shapes))


def symmetric(light: BoxFaces) -> BoxFaces:
    """The part of it that is alike about both middle planes."""

    def about(values: np.ndarray, axis: int) -> np.ndarray:
        return (values + np.flip(values, axis)) / 2.0

    wide, high = (about(light.x0 + light.x1, 0) / 2.0, about(light.y0 + light.y1, 0) / 2.0)
    return BoxFaces(*(about(about(plane, 0), 1) for plane in (light.back, light.lid)), wide, wide, high, high)


@pytest.mark.usefixtures("_often")
def test_one_exchange_answers_threads_that_ask_for_light_of_every_symmetry() -> None:
    mesh = coarse_mesh(BOX, 0.3)
    known = BoxExchange(mesh, BOX)
    asked = [faces(known, 1), symmetric(faces(known, 2)), faces(known, 3), symmetric(faces(known, 4))]
    alone = [known.among_walls(known.illuminate(one)) for one in asked]
    wrong: list[str] = []
    for _ in range(40):
        fresh = BoxExchange(mesh, BOX)

        def ask(index: int, fresh: BoxExchange = fresh) -> None:
            for _ in range(3):
                found = fresh.among_walls(fresh.illuminate(asked[index]))
                for one, other in zip(found.__dict__.values(), alone[index].__dict__.values(), strict=True):
                    np.testing.assert_allclose(one, other, rtol=1e-9, atol=1e-12)

        wrong += at_once(*(lambda index=index: ask(index) for index in range(THREADS)))
    assert not wrong


@pytest.mark.usefixtures("_often")
def test_threads_that_light_the_same_boxes_and_cavities_disturb_nobody() -> None:
    quick = Detail(fineness=0.5, most_pixels=2_000, target_points=1)
    plans = (RowPlan(count=3, side_margin_mm=60.0), RowPlan(count=4, spacing_mm=50.0))
    every = [design(rows=plan, end_margin_mm=20.0, alternate_shift_mm=shift) for plan in plans for shift in (0.0, 7.0)]
    every += [family(tube()), family(bars())]
    alone = [evaluate(one, CATALOGUE, quick).xyz for one in every]
    forget_transports()
    forget_faces()

    def work(first: int) -> None:
        for index in range(len(every)):
            place = (first + index) % len(every)
            found = evaluate(every[place], CATALOGUE, quick).xyz
            np.testing.assert_allclose(found, alone[place], rtol=1e-5, atol=1e-5 * float(alone[place].max()))

    assert not at_once(*(lambda first=first: work(first) for first in (0, 0, 1, 2)))


def test_works_beside_one_another_come_back_in_order_and_end_together() -> None:
    ended: list[int] = []

    def work(number: int) -> int:
        ended.append(number)
        if number == 2:
            raise ValueError("the second")
        return 10 * number

    assert beside(work, [5, 3, 4]) == [50, 30, 40]
    ended.clear()
    with pytest.raises(ValueError, match="the second"):
        beside(work, [1, 2, 3])
    assert sorted(ended) == [1, 2, 3]


def test_two_works_are_done_beside_one_another_one_within_the_other_as_well() -> None:
    def deep(depth: int) -> list[int]:
        if depth == 0:
            return [0]
        left, right = both(lambda: deep(depth - 1), lambda: deep(depth - 1))
        return [*left, depth, *right]

    alone = [0]
    for depth in range(1, 5):
        alone = [*alone, depth, *alone]
    assert deep(4) == alone
    found: list[list[int]] = []
    assert at_once(*[lambda: found.append(deep(4))] * THREADS) == []
    assert found == [alone] * THREADS


def ident(_task: int) -> int:
    """In which thread a task is done; long enough for others to take some."""
    time.sleep(0.005)
    return threading.get_ident()


def test_where_every_core_has_a_work_none_is_shared_out_again() -> None:
    together = threading.Barrier(parallel.THREADS)

    def work(_number: int) -> tuple[int, set[int]]:
        together.wait(timeout=60.0)
        mine = threading.get_ident(), set(in_threads(ident, range(8)))
        together.wait(timeout=60.0)
        return mine

    for own, used in beside(work, range(parallel.THREADS)):
        assert used == {own}


@pytest.mark.skipif(parallel.THREADS < 2, reason="two works run in parallel on two cores only")
def test_who_has_done_its_own_work_takes_some_of_the_other() -> None:
    begun = threading.Event()

    def long_one() -> set[int]:
        begun.set()
        return set(in_threads(ident, range(400)))

    _, used = both(lambda: begun.wait(timeout=60.0), long_one)
    assert len(used) > 1


@pytest.mark.parametrize("tasks", [0, 1, 2, 9])
def test_tasks_in_threads_come_back_in_order(tasks: int) -> None:
    assert in_threads(lambda task: 3 * task, range(tasks)) == [3 * task for task in range(tasks)]
    found = both(lambda: in_threads(lambda task: task, range(tasks)), lambda: in_threads(str, range(tasks)))
    assert found == (list(range(tasks)), [str(task) for task in range(tasks)])


@pytest.mark.skipif(parallel.THREADS < 2, reason="two works run in parallel on two cores only")
def test_two_that_need_the_same_two_things_make_one_each() -> None:
    """The second of two works begins with its second part where no other thread is left: neither waits while the other makes."""
    kept: Kept[str] = Kept(1_000, len)
    made: list[tuple[str, int]] = []
    begun = threading.Barrier(2)

    def part(name: str) -> str:
        def make() -> str:
            made.append((name, threading.get_ident()))
            begun.wait(timeout=60.0)  # the other one is being made at the same time, or this fails
            return name

        return kept.get(name, make)

    def work() -> tuple[str, str]:
        return both(lambda: part("a"), lambda: part("b"))

    taken = parallel._free_workers(parallel.THREADS - 2)  # so that there are two threads, whatever the machine has
    try:
        assert both(work, work) == (("a", "b"), ("a", "b"))
    finally:
        parallel._FREE_WORKERS.extend(taken)
    assert sorted(name for name, _ in made) == ["a", "b"]
    assert len({thread for _, thread in made}) == 2


def test_three_works_come_back_in_order() -> None:
    assert all_three(lambda: 1, lambda: "two", lambda: [3]) == (1, "two", [3])
    with pytest.raises(ZeroDivisionError):
        all_three(lambda: 1, lambda: 1 // 0, lambda: 3)


@pytest.mark.parametrize("wrong", [0, 1])
def test_when_one_of_two_works_fails_the_other_has_ended_and_the_next_two_are_done(wrong: int) -> None:
    ended: list[int] = []

    def work(number: int) -> int:
        if number == wrong:
            raise ValueError("no")
        ended.append(number)
        return number

    with pytest.raises(ValueError, match="no"):
        both(lambda: work(0), lambda: work(1))
    assert ended in ([1 - wrong], [])  # a machine with one core runs them one after the other
    assert both(lambda: 1, lambda: "two") == (1, "two")


@pytest.mark.usefixtures("_often")
def test_works_that_wait_for_what_others_make_all_end() -> None:
    """Several requests at once, each with works in parallel, which ask for the same things; some are made by two works."""
    ended: list[int] = []

    def request(seed: int, kept: Kept[int]) -> None:
        def made(number: int) -> int:
            return sum(both(lambda: kept.get((number, "half"), lambda: number), lambda: number))

        def work(number: int) -> int:
            return kept.get(number, lambda: made(number))

        wanted = [(seed + step) % 5 for step in range(6)]
        assert beside(work, wanted) == [2 * number for number in wanted]
        ended.append(seed)

    for _ in range(60):
        kept: Kept[int] = Kept(1000, int)
        assert not at_once(*(lambda seed=seed, kept=kept: request(seed, kept) for seed in range(6)))
    assert len(ended) == 360


def test_the_caller_works_too_and_all_works_end_when_one_fails() -> None:
    done: list[int] = []

    def work(number: int) -> int:
        if number == 1:
            raise ValueError("of the second")
        done.append(number)
        return number

    with pytest.raises(ValueError, match="of the second"):
        beside(work, range(6))
    assert set(done) <= {0, 2, 3, 4, 5}
    assert beside(lambda number: number, range(6)) == list(range(6))  # all workers are free again
    assert beside(lambda number: number, []) == []
