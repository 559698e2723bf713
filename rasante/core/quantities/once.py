"""What is worked out once: asked for again it is there, and asked for meanwhile it is waited for."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from functools import update_wrapper
from threading import Lock
from typing import Generic, ParamSpec, TypeVar

P = ParamSpec("P")
R = TypeVar("R")


class Once(Generic[P, R]):
    """A function whose answer is worked out once for the same arguments, from however many threads it is asked for.

    Parameters
    ----------
    work : callable
        The function; it must not ask for its own answer.
    most : int
        How many answers are kept; the one that was asked for longest ago goes first.

    Notes
    -----
    As `functools.lru_cache`, but for what takes long: a page asks at once for several things that need the same
    answer, and each thread would work it out for itself, all of them slowed by the others. An error is told to
    whoever waits for it, and is not kept.
    """

    def __init__(self, work: Callable[P, R], most: int) -> None:
        self._work, self._most = work, most
        self._kept: OrderedDict[Hashable, Future[R]] = OrderedDict()
        self._lock = Lock()
        update_wrapper(self, work)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        """Give the answer, as it is kept or when it is worked out."""
        key = (args, tuple(kwargs.items()))
        with self._lock:
            answer = self._kept.get(key)
            begun = answer is not None
            if answer is None:
                answer = self._kept[key] = Future()
            self._kept.move_to_end(key)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        if not begun:
            try:
                answer.set_result(self._work(*args, **kwargs))
            except BaseException as error:
                with self._lock:
                    if self._kept.get(key) is answer:
                        del self._kept[key]
                answer.set_exception(error)
        return answer.result()

    def cache_clear(self) -> None:
        """Forget all answers, as `functools.lru_cache` does."""
        with self._lock:
            self._kept.clear()


def once(most: int) -> Callable[[Callable[P, R]], Once[P, R]]:
    """Decorate a function to be worked out once, with so many answers kept."""
    return lambda work: Once(work, most)
