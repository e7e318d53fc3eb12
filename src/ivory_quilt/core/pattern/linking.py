"""Things that links hold together, one way or another, as groups."""

from collections.abc import Iterable


def leaders(names: Iterable[str], links: Iterable[tuple[str, str]]) -> dict[str, str]:
    """Return, for each name, the one name that stands for its group (union-find).

    Links to names that are not there hold nothing.
    """
    leader = {n: n for n in names}

    def find(name: str) -> str:
        while leader[name] != name:
            leader[name] = name = leader[leader[name]]
        return name

    for a, b in links:
        if a in leader and b in leader:
            leader[find(b)] = find(a)
    return {n: find(n) for n in leader}
