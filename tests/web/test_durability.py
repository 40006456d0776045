"""A writer killed at any moment loses nothing it acknowledged; `make bench` does it 200 times."""

from bench.kills import run


def test_kills_lose_nothing():
    found = run(6, seed=3)
    assert found["acknowledged"] >= 6
    assert (found["lost"], found["chains_broken"], found["unopened"]) == (0, 0, 0)
