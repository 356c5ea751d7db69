"""What is costly to work out: kept, and worked out once even when several ask at the same time."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from functools import update_wrapper
from threading import Lock
from typing import Any, Generic, ParamSpec, TypeVar

from canopy.wanted import NotWanted

Given = ParamSpec("Given")
Found = TypeVar("Found")


class Once(Generic[Given, Found]):
    """A function whose last results are kept by what it was given.

    Whoever asks for what is being worked out waits for it instead of working it out again. What
    fails is told to all who wait, and not kept.

    Parameters
    ----------
    function : callable
        Its arguments have to be hashable, and given by place.
    most : int
        How many results are kept; the one longest not asked for goes first.
    """

    def __init__(self, function: Callable[Given, Found], most: int) -> None:
        self._function = function
        self._most = most
        self._kept: OrderedDict[Hashable, Future[Found]] = OrderedDict()
        self._guard = Lock()
        update_wrapper(self, function)

    def __call__(self, *args: Given.args, **kwargs: Given.kwargs) -> Found:
        """Return the result, kept or new."""
        key: Hashable = (args, *kwargs.items()) if kwargs else args
        while True:
            with self._guard:
                found = self._kept.get(key)
                mine = found is None
                if found is None:
                    found = self._kept[key] = Future()
                    if len(self._kept) > self._most:
                        self._kept.popitem(last=False)
                else:
                    self._kept.move_to_end(key)
            if mine:
                self._work_out(key, found, *args, **kwargs)
            try:
                return found.result()
            except NotWanted:
                # whoever worked it out went away; who still waits does it in their place
                if mine:
                    raise

    def _work_out(self, key: Hashable, found: "Future[Found]", *args: Any, **kwargs: Any) -> None:
        try:
            found.set_result(self._function(*args, **kwargs))
        except BaseException as error:
            with self._guard:
                if self._kept.get(key) is found:
                    del self._kept[key]
            found.set_exception(error)

    def cache_clear(self) -> None:
        """Forget all results."""
        with self._guard:
            self._kept.clear()


def once(most: int) -> Callable[[Callable[Given, Found]], Once[Given, Found]]:
    """Return a decorator that keeps so many results, each worked out once.

    >>> @once(2)
    ... def doubled(value):
    ...     print("working")
    ...     return 2 * value
    >>> doubled(4), doubled(4)
    working
    (8, 8)
    """
    return lambda function: Once(function, most)


class Lazy(Generic[Found]):
    """What belongs to one thing and is costly: worked out once, when it is first asked for.

    Two things' are worked out side by side; of one thing whoever else asks waits. As a decorator of
    a method of self alone.
    """

    def __init__(self, function: Callable[[Any], Found]) -> None:
        self._function = function
        self._name = function.__name__
        self.__doc__ = function.__doc__

    def __get__(self, owner: Any, kind: type) -> Found:
        """Return it, kept or new."""
        own = owner.__dict__
        if self._name not in own:
            # of two locks made at once the first is kept
            with own.setdefault(f"_{self._name}_guard", Lock()):
                if self._name not in own:
                    own[self._name] = self._function(owner)
        found: Found = own[self._name]
        return found
