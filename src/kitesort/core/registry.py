"""One registry for every family of operations: a folder is scanned for each file's ``SPEC``."""

import importlib
import pkgutil
from collections.abc import Iterator, Mapping
from types import ModuleType
from typing import Protocol, TypeVar

from kitesort.core.errors import NotFoundError


class Spec(Protocol):
    """What every family's entry has at least."""

    @property
    def id(self) -> str: ...

    @property
    def title(self) -> str: ...


S = TypeVar("S", bound=Spec)


class Registry(Mapping[str, S]):
    """The entries of one family by id, in file order.

    Modules whose name starts with an underscore are helpers; any other module without a ``SPEC``
    of the right kind, or with an id that is taken, stops the program at start.
    """

    def __init__(self, family: ModuleType, kind: type[S]) -> None:
        self._family = family.__name__
        self._specs: dict[str, S] = {}
        for info in pkgutil.iter_modules(family.__path__):
            if info.name.startswith("_"):
                continue
            module = importlib.import_module(f"{family.__name__}.{info.name}")
            spec = getattr(module, "SPEC", None)
            if not isinstance(spec, kind):
                raise TypeError(f"{module.__name__} has no SPEC of type {kind.__name__}")
            if spec.id in self._specs:
                raise TypeError(f"{module.__name__}: the id {spec.id!r} is taken")
            self._specs[spec.id] = spec

    def __contains__(self, key: object) -> bool:
        return key in self._specs

    def __getitem__(self, key: str) -> S:
        try:
            return self._specs[key]
        except KeyError:
            known = ", ".join(self._specs)
            raise NotFoundError(f"There is no method called “{key}”. Known: {known}.") from None

    def __iter__(self) -> Iterator[str]:
        return iter(self._specs)

    def __len__(self) -> int:
        return len(self._specs)
