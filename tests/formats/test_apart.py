"""The reading process: whatever a file does to it, the answer is a sentence, and the next file is read."""

import os
import time
from importlib import import_module
from pkgutil import iter_modules

import pytest

from cubedrill import formats
from cubedrill.demo.load import HERE
from cubedrill.formats import apart, kinds
from cubedrill.formats.documents import read_exercise
from cubedrill.formats.limits import UnreadableError

TARGET = read_exercise(HERE / "exercises" / "lock-gate.json").target_scene()
FILES = {end: write(TARGET) for end, write in kinds.WRITERS.items()}


def aborts(sender, _content, _room):
    sender.send_bytes(apart.BEGUN)
    os.abort()


def dies_at_once(_sender, _content, _room):
    os._exit(3)


def hangs(sender, _content, _room):
    sender.send_bytes(apart.BEGUN)
    time.sleep(60)


def grows(sender, content, room):
    """As the real one, on something whose reading takes more memory than is allowed."""
    apart.read = lambda _: bytearray(4 * 1024**3)
    apart._read_into(sender, content, room)


def breaks(sender, content, room):
    apart.read = lambda _: {}["a fault of a reader"]
    apart._read_into(sender, content, room)


def sentence(content=FILES[".glb"]):
    with pytest.raises(UnreadableError) as told:
        apart.read_apart(content)
    return str(told.value)


@pytest.mark.parametrize("end", FILES)
def test_what_it_reads_is_what_is_read_here(end):
    assert apart.read_apart(FILES[end]) == kinds.read(FILES[end])


@pytest.mark.parametrize(
    ("reader", "words"),
    [
        (aborts, apart.BROKEN), (dies_at_once, apart.BROKEN), (hangs, apart.TOO_LONG), (grows, apart.TOO_LARGE),
        (breaks, apart.BROKEN),
    ],
)  # fmt: skip
def test_however_it_ends_it_is_a_sentence_and_the_next_is_read(reader, words, monkeypatch):
    with monkeypatch.context() as patch:
        patch.setattr(apart, "_read_into", reader)
        patch.setattr(apart, "LONGEST_S", 1.0)
        assert sentence() == words
    assert len(apart.read_apart(FILES[".glb"]).objects) == len(TARGET.objects)


def test_what_is_refused_there_is_told_as_it_is_here():
    for content in (b"hello", b"glTF\1\0\0\0\0\0\0\0", b"#usda 1.0\n(", b"PXR-USDC" + b"x" * 1000, b"PK\3\4.usd"):
        assert sentence(content).endswith(".")
    assert "20 MB" in sentence(b"x" * (20 * 1024**2 + 1))


def test_damaged_files_of_the_library_that_aborts_are_read_or_refused():
    content, count = FILES[".usdc"], 12
    for number in range(count):
        wrong = bytearray(content)
        for place in range(8 + number, len(wrong), len(wrong) // 9):
            wrong[place] = (wrong[place] * 7 + number) % 256
        try:
            apart.read_apart(bytes(wrong))
        except UnreadableError as error:
            assert str(error).endswith(".")


def test_no_reader_raises_the_same_error_twice():
    """Each time it would keep the file that it was raised for, and all earlier ones."""
    modules = [import_module(f"{formats.__name__}.{each.name}") for each in iter_modules(formats.__path__)]
    assert len(modules) > len(kinds.WRITERS)
    assert [name for module in modules for name, value in vars(module).items() if isinstance(value, Exception)] == []
