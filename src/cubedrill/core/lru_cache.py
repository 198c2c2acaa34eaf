"""A bounded cache for several threads: least recently used values go first."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

Key = TypeVar("Key", bound=Hashable)
Kept = TypeVar("Kept")


class LruCache(Generic[Key, Kept]):
    """Values by key, of which the one unused longest is dropped; threads may share it."""

    def __init__(self, most: int) -> None:
        """Keep no more than so many values."""
        self._most = most
        self._lock = Lock()
        self._values: OrderedDict[Key, Kept] = OrderedDict()

    def get(self, key: Key, make: Callable[[], Kept]) -> Kept:
        """Return what is kept under a key, made where there is nothing; two threads may both make it."""
        kept = self.find(key)
        if kept is None:
            kept = make()
            self.put(key, kept)
        return kept

    def find(self, key: Key) -> Kept | None:
        """Return what is kept under a key; none where there is nothing."""
        with self._lock:
            if key not in self._values:
                return None
            self._values.move_to_end(key)
            return self._values[key]

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._values.clear()

    def put(self, key: Key, value: Kept) -> None:
        """Keep a value under a key."""
        with self._lock:
            self._values[key] = value
            self._values.move_to_end(key)
            if len(self._values) > self._most:
                self._values.popitem(last=False)
