"""The reading process: whatever a file does to it, the answer is a sentence, and the next file is read."""

import os
import time
from importlib import import_module
from pkgutil import iter_modules

import pytest

from cubedrill import formats
from cubedrill.demo.load import HERE
from cubedrill.formats import kinds, sandbox
from cubedrill.formats.documents import read_exercise
from cubedrill.formats.limits import UnreadableError

TARGET = read_exercise(HERE / "exercises" / "lock-gate.json").target_scene()
FILES = {end: write(TARGET) for end, write in kinds.WRITERS.items()}


def aborts(sender, _content, _room):
    sender.send_bytes(sandbox.BEGUN)
    os.abort()


def dies_at_once(_sender, _content, _room):
    os._exit(3)


def hangs(sender, _content, _room):
    sender.send_bytes(sandbox.BEGUN)
    time.sleep(60)


def grows(sender, content, room):
    """As the real one, on something whose reading takes more memory than is allowed."""
    sandbox.read = lambda _: bytearray(4 * 1024**3)
    sandbox._read_into(sender, content, room)


def breaks(sender, content, room):
    sandbox.read = lambda _: {}["a fault of a reader"]
    sandbox._read_into(sender, content, room)


def sentence(content=FILES[".glb"]):
    with pytest.raises(UnreadableError) as told:
        sandbox.read_in_sandbox(content)
    return str(told.value)


@pytest.mark.parametrize("end", FILES)
def test_the_reference_reader_agrees_with_ours(end):
    assert sandbox.read_in_sandbox(FILES[end]) == kinds.read(FILES[end])


@pytest.mark.parametrize(
    ("reader", "words"),
    [
        (aborts, sandbox.BROKEN), (dies_at_once, sandbox.BROKEN), (hangs, sandbox.TOO_LONG), (grows, sandbox.TOO_LARGE),
        (breaks, sandbox.BROKEN),
    ],
)  # fmt: skip
def test_however_it_ends_it_is_a_sentence_and_the_next_is_read(reader, words, monkeypatch):
    with monkeypatch.context() as patch:
        patch.setattr(sandbox, "_read_into", reader)
        patch.setattr(sandbox, "LONGEST_S", 1.0)
        assert sentence() == words
    assert len(sandbox.read_in_sandbox(FILES[".glb"]).objects) == len(TARGET.objects)


def test_the_library_gives_the_refusals_of_the_core():
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
            sandbox.read_in_sandbox(bytes(wrong))
        except UnreadableError as error:
            assert str(error).endswith(".")


def test_no_reader_raises_the_same_error_twice():
    """Each time it would keep the file that it was raised for, and all earlier ones."""
    modules = [import_module(f"{formats.__name__}.{each.name}") for each in iter_modules(formats.__path__)]
    assert len(modules) > len(kinds.WRITERS)
    assert [name for module in modules for name, value in vars(module).items() if isinstance(value, Exception)] == []
