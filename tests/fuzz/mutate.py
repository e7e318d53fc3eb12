"""Files with something wrong in them: bytes, numbers, words and whole stretches."""

import re
from random import Random

NUMBERS = (
    b"0 -0 1e999 -1e999 1e308 nan NaN inf -1 1e-320 null 99999999999999999999 0x10 1,5 [] {} true "
    b'"7" 1e5 1e12 '
).split(b" ")
WORDS = (b"\x00", b"\x1b[31m", b"\xff\xfe", b"\xed\xa0\x80", b"<", b"&x;", b'"', b"\r\n", b"]" * 9)


def mutated(data: bytes, seed: int) -> bytes:
    """Return `data` with one to three things wrong in it; mostly numbers, which get furthest."""
    random, out = Random(seed), bytearray(data)
    ways = (_number,) if random.random() < 0.6 else (_byte, _word, _cut, _double, _swap, _end)
    for _ in range(random.choice((1, 1, 2, 3))):
        if out:
            random.choice(ways)(out, random)
    return bytes(out)


def _span(out, random, most=60):
    at = random.randrange(len(out))
    return at, min(len(out), at + random.randint(1, most))


def _byte(out, random):
    out[random.randrange(len(out))] = random.randrange(256)


def _number(out, random):
    start = random.randrange(len(out))
    found = re.compile(rb"-?\d+(?:\.\d+)?(?:[eE]-?\d+)?").search(out, start)
    if found:
        out[found.start() : found.end()] = random.choice(NUMBERS)


def _word(out, random):
    at = random.randrange(len(out))
    out[at:at] = random.choice(WORDS)


def _cut(out, random):
    at, stop = _span(out, random, 400)
    del out[at:stop]


def _double(out, random):
    at, stop = _span(out, random)
    out[at:at] = out[at:stop] * random.randint(1, 60)


def _swap(out, random):
    (a, b), (c, d) = sorted((_span(out, random), _span(out, random)))
    if b <= c:
        out[a:d] = out[c:d] + out[b:c] + out[a:b]


def _end(out, random):
    if random.random() < 0.3:
        del out[random.randrange(len(out)) :]
