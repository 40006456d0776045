"""Several packs of resin mixed and poured against the clock, min from the first being opened."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class PackPour:
    """One pack, numbered from 1: mixed from and to, poured from and to, and when it gels; all in min."""

    pack: int
    mix_from_min: float
    mix_to_min: float
    pour_from_min: float
    pour_to_min: float
    gels_at_min: float


def pour_packs(
    volumes_ml: Sequence[float],
    required_ml: float,
    *,
    mix_min: float,
    pot_life_min: float,
    ml_per_min: float,
    persons: int,
) -> tuple[PackPour, ...]:
    """When each pack is mixed and poured, one after the other, the last as far as it is needed.

    Alone a pack is poured before the next is opened. Two share it: one pours while the other mixes, so that
    a pack is ready as the one before is in, and no sooner. The pot life counts from a pack's opening.
    Source: domain 21 (several resin packs).

    >>> times = {"mix_min": 3, "pot_life_min": 15, "ml_per_min": 250}
    >>> [p.pour_to_min for p in pour_packs([500, 500], 1000, persons=1, **times)]
    [5.0, 10.0]
    >>> [p.pour_to_min for p in pour_packs([500, 500], 1000, persons=2, **times)]
    [5.0, 8.0]
    """
    found: list[PackPour] = []
    left = required_ml
    for number, volume in enumerate(volumes_ml, 1):
        takes = max(0.0, min(volume, left)) / ml_per_min
        left -= volume
        before = found[-1] if found else None
        if before is None:
            opened = 0.0
        elif persons < 2:
            opened = before.pour_to_min
        else:
            opened = max(before.mix_to_min, before.pour_to_min - mix_min)
        mixed = opened + mix_min
        start = max(mixed, before.pour_to_min) if before else mixed
        found.append(
            PackPour(
                number, opened, mixed, start, pour_to_min=start + takes, gels_at_min=opened + pot_life_min
            )
        )
    return tuple(found)


def too_late(packs: Sequence[PackPour]) -> PackPour | None:
    """The first pack that is not in before it gels, or before the one under it does; None when all are."""
    for n, p in enumerate(packs):
        gels = min(p.gels_at_min, packs[n - 1].gels_at_min) if n else p.gels_at_min
        if p.pour_to_min > gels * (1 + 1e-9):
            return p
    return None
