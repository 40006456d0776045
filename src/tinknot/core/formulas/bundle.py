"""The smallest circle round n circles: cores in a bundle.

Exact for one, two and three circles. From four on, a non-convex problem: many seeded
starts are pressed into a circle a little too small (overlap energy, all starts at once, SciPy's
L-BFGS-B), and the least overlapping ones are polished by SciPy's SLSQP; the best is kept.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import dist, hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from tinknot.core.effort import spend

Array = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True)
class Bundle:
    """Enclosing diameter in mm, the circles' centres in mm about its middle, and the method."""

    enclosing_diameter_mm: float
    centres_mm: tuple[Point, ...]
    method: str


def bundle(diameters_mm: Sequence[float]) -> Bundle:
    """The smallest circle round circles of these diameters (mm, each > 0), in the order given.

    >>> round(bundle((2, 2, 2)).enclosing_diameter_mm, 6)  # 1 + 2/sqrt(3) times the diameter
    4.309401
    """
    order = sorted(range(len(diameters_mm)), key=lambda i: (-diameters_mm[i], i))
    largest = diameters_mm[order[0]]
    scaled = tuple(round(diameters_mm[i] / largest, 12) for i in order)
    found = _bundle_sorted(scaled)
    centres: list[Point] = [(0.0, 0.0)] * len(order)
    for place, i in enumerate(order):
        x, y = found.centres_mm[place]
        centres[i] = (x * largest, y * largest)
    return Bundle(found.enclosing_diameter_mm * largest, tuple(centres), found.method)


@lru_cache(maxsize=4096)
def _bundle_sorted(diameters: tuple[float, ...]) -> Bundle:
    if len(diameters) == 1:
        return Bundle(diameters[0], ((0.0, 0.0),), "exact")
    if len(diameters) == 2:
        return _in_line(diameters)
    if len(diameters) == 3:
        return _three(diameters)
    return _packed(diameters)


SEEN = 1.005  # of the tightest circle: wider than this share it is seen to stand out
LOST = 1.01  # polishing that comes out wider than this share of where it began has lost its way


def bundle_near(diameters_mm: Sequence[float], centres_mm: Sequence[Point]) -> tuple[Point, ...]:
    """Centres in mm of circles packed as tightly as they go from the places they have in `centres_mm`.

    For drawing neighbouring stations of one bundle without the circles changing places; where pressing them
    comes out wider than they can be packed, they are dealt the packed places.
    """
    if len(diameters_mm) < 2:
        return tuple(centres_mm)
    radii = np.array(diameters_mm) / 2
    scale = float(radii.max())
    start = np.array(centres_mm) / scale
    i, j = np.triu_indices(len(radii), 1)
    start *= (
        (radii[i] + radii[j]) / scale / np.hypot(*(start[i] - start[j]).T)
    ).max()  # until the first two touch
    centres, r = _tightened(_polish(start, radii / scale), radii / scale)
    kept, r_kept = _tightened(start, radii / scale)
    if r > r_kept * LOST:
        centres = kept
    found = tuple(_point(c * scale) for c in centres)
    wide = max(2 * hypot(*p) + d for p, d in zip(found, diameters_mm, strict=True))
    tight = bundle(diameters_mm).enclosing_diameter_mm
    return found if wide <= SEEN * tight else dealt(diameters_mm, centres_mm)


def dealt(diameters_mm: Sequence[float], wanted_mm: Sequence[Point]) -> tuple[Point, ...]:
    """The packed centres of circles, mm, each dealt to the one of its size that is wanted nearest to it.

    >>> [round(x) for x, _ in dealt([2, 2], [(5, 0), (-5, 0)])]
    [1, -1]
    """
    left: dict[float, list[Point]] = {}
    for d, at in zip(diameters_mm, bundle(diameters_mm).centres_mm, strict=True):
        left.setdefault(d, []).append(at)
    found = []
    for d, place in zip(diameters_mm, wanted_mm, strict=True):
        best = min(left[d], key=lambda p: (round(dist(p, place), 6), p))
        left[d].remove(best)
        found.append(best)
    return tuple(found)


def _in_line(diameters: tuple[float, ...]) -> Bundle:
    a, b = diameters[0] / 2, diameters[1] / 2
    return Bundle(2 * (a + b), ((-b, 0.0), (a, 0.0)), "exact")


def _three(diameters: tuple[float, ...]) -> Bundle:
    """Largest first. The third fits beside two in line when its radius is not over
    ab(a + b)/(a² + ab + b²); else Descartes' circle theorem gives the outer circle."""
    a, b, c = (d / 2 for d in diameters)
    pair = _in_line(diameters)
    if c <= a * b * (a + b) / (a * a + a * b + b * b) * (1 + 1e-12):
        # beside the pair: on the enclosing circle and touching the larger one
        r = a + b
        x = _towards((pair.centres_mm[0], a + c), ((0.0, 0.0), r - c))
        return Bundle(pair.enclosing_diameter_mm, (*pair.centres_mm, x), "exact")
    k1, k2, k3 = 1 / a, 1 / b, 1 / c
    r = -1 / (k1 + k2 + k3 - 2 * sqrt(k1 * k2 + k2 * k3 + k3 * k1))
    first = (-(r - a), 0.0)
    second = _towards((first, a + b), ((0.0, 0.0), r - b))
    third = _towards((first, a + c), ((0.0, 0.0), r - c), lower=True)
    return Bundle(2 * r, (first, second, third), "exact")


def _towards(one: tuple[Point, float], two: tuple[Point, float], lower: bool = False) -> Point:
    """The crossing of two circles (centre, radius), the upper one unless `lower`."""
    (x1, y1), r1 = one
    (x2, y2), r2 = two
    d = hypot(x2 - x1, y2 - y1)
    along = (r1 * r1 - r2 * r2 + d * d) / (2 * d)
    height = sqrt(max(0.0, r1 * r1 - along * along)) * (-1 if lower else 1)
    ux, uy = (x2 - x1) / d, (y2 - y1) / d
    return (x1 + along * ux - height * uy, y1 + along * uy + height * ux)


def _packed(diameters: tuple[float, ...]) -> Bundle:
    radii = np.array(diameters) / 2
    n = len(radii)
    if n > POLISHED:
        centres, r = _tightened(_corner_start(radii, np.arange(n)), radii)
        return Bundle(2 * r, tuple(map(_point, centres)), "placed")
    best_r, best = np.inf, np.zeros((n, 2))
    for start in _starts(radii):
        centres, r = _tightened(_polish(start, radii), radii)
        if r < best_r * (1 - 1e-9):
            best_r, best = r, centres
    return Bundle(2 * float(best_r), tuple(map(_point, best)), "polished")


POLISHED = 40  # more circles than this are only placed, not polished
FRONT = 60  # of the outermost circles at least: between them the next one is tried


def _point(c: Array) -> Point:
    return (float(c[0]), float(c[1]))


@dataclass(frozen=True)
class Effort:
    """How much is tried up to so many circles: starts pressed together, share of the rim that is circle,
    rounds of exchanging two circles, starts that are polished."""

    circles: int
    starts: int
    density: float
    rounds: int
    kept: int


EQUAL = (Effort(20, 48, 0.78, 0, kept=3), Effort(POLISHED, 12, 0.78, 0, kept=2))
UNEQUAL = (
    Effort(10, 24, 0.86, 2, kept=3),
    Effort(20, 12, 0.86, 1, kept=2),
    Effort(POLISHED, 8, 0.86, 0, kept=1),
)


def _starts(radii: Array) -> Iterator[Array]:
    """The corner placing, and the pressed starts with the least overlap that are not alike."""
    n = len(radii)
    yield _corner_start(radii, np.arange(n))
    rng = np.random.default_rng(n)
    efforts = UNEQUAL if np.ptp(radii) > 1e-9 else EQUAL
    effort = next(e for e in efforts if n <= e.circles)
    starts = effort.starts
    rim = float(np.sqrt((radii**2).sum() / effort.density))
    polar, reach = rng.uniform(0, 2 * np.pi, (starts, n)), np.sqrt(rng.uniform(0, 1, (starts, n))) * rim
    centres, energies = _pressed(np.stack([reach * np.cos(polar), reach * np.sin(polar)], 2), radii, rim)
    for _ in range(effort.rounds):
        best_first = centres[np.argsort(energies, kind="stable")]
        more, more_energies = _pressed(_exchanged(best_first, starts, rng), radii, rim)
        centres, energies = np.concatenate([centres, more]), np.concatenate([energies, more_energies])
    kept: list[float] = []
    for k in np.argsort(energies, kind="stable"):
        if all(abs(energies[k] - e) > 1e-4 * e + 1e-9 for e in kept):
            kept.append(float(energies[k]))
            yield centres[k]
        if len(kept) == effort.kept:
            return


def _exchanged(best_first: Array, count: int, rng: np.random.Generator) -> Array:
    """Variants of the best placings with the places of two circles exchanged."""
    n = best_first.shape[1]
    pairs = list(combinations(range(n), 2))
    variants = []
    for k in range(count):
        centres = best_first[k % min(4, len(best_first))].copy()
        i, j = pairs[int(rng.integers(len(pairs)))]
        centres[[i, j]] = centres[[j, i]]
        variants.append(centres)
    return np.array(variants)


def _pressed(start: Array, radii: Array, rim: float) -> tuple[Array, Array]:
    """Starts (starts, n, 2) relaxed together inside one circle of radius `rim`, and their overlap
    energies."""
    n = len(radii)
    i, j = np.triu_indices(n, 1)
    touch = radii[i] + radii[j]
    pick = np.zeros((len(i), n))
    pick[np.arange(len(i)), i], pick[np.arange(len(i)), j] = 1, -1

    def overlaps(p: Array) -> tuple[Array, Array]:
        """Energy a start, and its slope by every centre."""
        d = pick @ p
        dist = np.sqrt((d**2).sum(2)) + 1e-12
        over = np.maximum(0.0, touch - dist)
        spend(20 + p.size * n // 50)
        out = np.sqrt((p**2).sum(2)) + 1e-12
        beyond = np.maximum(0.0, out + radii - rim)
        slope = pick.T @ (d * (-2 * over / dist)[:, :, None]) + p * (2 * beyond / out)[:, :, None]
        return (over**2).sum(1) + (beyond**2).sum(1), slope

    def total(v: Array) -> tuple[float, Array]:
        energy, slope = overlaps(v.reshape(start.shape))
        return float(energy.sum()), slope.ravel()

    from scipy.optimize import minimize  # loaded only where more than three circles are pressed together

    found = minimize(total, start.ravel(), jac=True, method="L-BFGS-B", options={"maxiter": 90, "ftol": 1e-9})
    centres = np.asarray(found.x).reshape(start.shape)
    return centres, overlaps(centres)[0]


def _corner_start(radii: Array, order: NDArray[np.intp]) -> Array:
    """Circles put down one by one, each touching two others, as near to the middle as it goes."""
    centres = np.zeros((len(radii), 2))
    placed: list[int] = []
    for i in order:
        r = radii[i]
        if len(placed) < 2:
            if placed:
                centres[i] = (radii[placed[0]] + r, 0.0)
            placed.append(int(i))
            continue
        p, pr = centres[placed], radii[placed]
        middle = (p * (pr**2)[:, None]).sum(0) / (pr**2).sum()
        front = np.argsort(-np.hypot(*(p - middle).T), kind="stable")[
            : max(FRONT, 3 * int(sqrt(len(placed))))
        ]
        j, k = (front[side] for side in np.triu_indices(len(front), 1))
        d = p[k] - p[j]
        dist = np.hypot(d[:, 0], d[:, 1])
        near = dist <= pr[j] + pr[k] + 2 * r
        j, k, d, dist = j[near], k[near], d[near], dist[near]
        rj, rk = pr[j] + r, pr[k] + r
        along = (rj**2 - rk**2 + dist**2) / (2 * dist)
        height = np.sqrt(np.maximum(0.0, rj**2 - along**2))
        u = d / dist[:, None]
        foot = p[j] + u * along[:, None]
        normal = np.stack([-u[:, 1], u[:, 0]], 1) * height[:, None]
        spots = np.concatenate([foot + normal, foot - normal])
        reach = np.hypot(*(spots - middle).T)
        spots = spots[np.lexsort((spots[:, 1].round(9), reach.round(9)))]
        for chunk in np.split(spots, range(64, len(spots), 64)):  # nearest first, until one is free
            gaps = np.hypot(chunk[:, None, 0] - p[None, :, 0], chunk[:, None, 1] - p[None, :, 1]) - (pr + r)
            free = np.flatnonzero(gaps.min(1) > -1e-9)
            if len(free):
                centres[i] = chunk[free[0]]
                break
        placed.append(int(i))
    return centres


def _polish(start: Array, radii: Array) -> Array:
    """SLSQP on the centres and the enclosing radius; constraints are squared distances, smooth."""
    n = len(radii)
    i, j = np.triu_indices(n, 1)
    apart = np.hypot(*(start[i] - start[j]).T) - radii[i] - radii[j]
    i, j = i[apart < radii.max()], j[apart < radii.max()]  # the others do not come to touch
    touch2 = (radii[i] + radii[j]) ** 2
    rows = np.arange(len(i))

    def keep_apart(v: Array) -> Array:
        spend(30 + n * n // 2)
        p = v[:-1].reshape(n, 2)
        inside = (v[-1] - radii) ** 2 - (p**2).sum(1)
        return np.concatenate([((p[i] - p[j]) ** 2).sum(1) - touch2, inside])

    def slopes(v: Array) -> Array:
        p = v[:-1].reshape(n, 2)
        out = np.zeros((len(i) + n, 2 * n + 1))
        d = 2 * (p[i] - p[j])
        for axis in (0, 1):
            out[rows, 2 * i + axis] = d[:, axis]
            out[rows, 2 * j + axis] = -d[:, axis]
            out[len(i) + np.arange(n), 2 * np.arange(n) + axis] = -2 * p[:, axis]
        out[len(i) :, -1] = 2 * (v[-1] - radii)
        return out

    centred = start - _middle(start, radii)
    reach = (np.hypot(centred[:, 0], centred[:, 1]) + radii).max()
    gradient = np.append(np.zeros(2 * n), 1.0)
    from scipy.optimize import minimize  # loaded only where more than three circles are pressed together

    found = minimize(
        lambda v: v[-1],
        np.append(centred.ravel(), reach),
        jac=lambda _v: gradient,
        method="SLSQP",
        constraints={"type": "ineq", "fun": keep_apart, "jac": slopes},
        options={"maxiter": 60, "ftol": 1e-7},
    )
    v = np.asarray(found.x)
    return v[:-1].reshape(n, 2) if np.isfinite(v).all() else start


def _middle(centres: Array, radii: Array) -> Array:
    low, high = (centres - radii[:, None]).min(0), (centres + radii[:, None]).max(0)
    return np.asarray((low + high) / 2)


def _tightened(centres: Array, radii: Array) -> tuple[Array, float]:
    """Pushed apart until nothing overlaps, then the smallest circle about the best middle."""
    i, j = np.triu_indices(len(radii), 1)
    apart = np.hypot(*(centres[i] - centres[j]).T)
    spread = max(1.0, float(((radii[i] + radii[j])[apart > 0] / apart[apart > 0]).max()))
    c = centres * spread
    middle = _middle(c, radii)
    r = (np.hypot(*(c - middle).T) + radii).max()
    r0 = (np.hypot(*c.T) + radii).max()
    return (c - middle, float(r)) if r < r0 else (c, float(r0))
