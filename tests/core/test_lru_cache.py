"""What is kept a while: bounded, the one unused longest goes, and threads may share it."""

from concurrent.futures import ThreadPoolExecutor

from cubedrill.core.lru_cache import LruCache


def test_the_one_unused_longest_is_dropped():
    keeper = LruCache[str, int](2)
    for value, key in enumerate("ab"):
        keeper.put(key, value)
    assert keeper.find("a") == 0  # used again, so that b is the one unused longest
    keeper.put("c", 2)
    assert [keeper.find(key) for key in "abc"] == [0, None, 2]
    keeper.put("a", 5)
    keeper.put("d", 3)
    assert [keeper.find(key) for key in "acd"] == [5, None, 3]
    keeper.clear()
    assert keeper.find("a") is None


def test_it_is_made_once_and_then_kept():
    keeper, made = LruCache[str, object](2), []

    def make():
        made.append(object())
        return made[-1]

    assert keeper.get("a", make) is keeper.get("a", make) is made[0]
    assert len(made) == 1


def test_threads_may_share_it():
    keeper = LruCache[int, int](8)

    def use(n):
        return all(keeper.get((n * i) % 23, lambda k=(n * i) % 23: k * k) == ((n * i) % 23) ** 2 for i in range(3000))

    with ThreadPoolExecutor(8) as pool:
        assert all(pool.map(use, range(1, 17)))
    assert sum(keeper.find(key) is not None for key in range(23)) == 8
