"""Heat-shrink sleeves: what they pass, what they grip, how thick and how long they end up."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import log1p, pi, sqrt
from typing import Literal

from tinknot.core.effort import spend
from tinknot.core.errors import InputError
from tinknot.core.tolerance import short_by, whole_up

Verdict = Literal["fits", "will-not-pass", "will-not-grip", "neither"]


@dataclass(frozen=True)
class Margins:
    """Room to slide, max(min_mm, pct of what is passed), and squeeze to grip, in %."""

    slide_pct: float = 5.0
    slide_min_mm: float = 0.5
    grip_pct: float = 10.0

    def needed_expanded_mm(self, pass_od_mm: float) -> float:
        """The least expanded inside diameter that slides over `pass_od_mm`."""
        return pass_od_mm + max(self.slide_min_mm, pass_od_mm * self.slide_pct / 100)

    def allowed_recovered_mm(self, seal_od_mm: float) -> float:
        """The greatest recovered inside diameter that still grips `seal_od_mm`."""
        return seal_od_mm * (1 - self.grip_pct / 100)

    def most_passed_mm(self, expanded_id_mm: float) -> float:
        """The greatest diameter that something of this expanded inside diameter slides over."""
        return min(expanded_id_mm - self.slide_min_mm, expanded_id_mm / (1 + self.slide_pct / 100))

    def least_gripped_mm(self, recovered_id_mm: float) -> float:
        """The least diameter that something of this recovered inside diameter grips."""
        return recovered_id_mm / (1 - self.grip_pct / 100)


@dataclass(frozen=True)
class Tube:
    """A sleeve's figures: inside diameters X as supplied and R free, total wall W at R, all in mm;
    longitudinal change λ in % at full recovery (−6: 6 % shorter)."""

    expanded_id_mm: float
    recovered_id_mm: float
    recovered_wall_mm: float
    longitudinal_change_pct: float = 0.0

    def __post_init__(self) -> None:
        if self.expanded_id_mm <= self.recovered_id_mm:
            raise InputError.at("/expanded_id_mm", "must be more than the recovered inside diameter")

    @property
    def ratio(self) -> float:
        """X/R, dimensionless."""
        return self.expanded_id_mm / self.recovered_id_mm

    def recovery(self, od_mm: float) -> float:
        """Recovery used on a substrate: f = (X − d)/(X − R), 0 as supplied, 1 free (also below R)."""
        span = self.expanded_id_mm - self.recovered_id_mm
        return min(1.0, (self.expanded_id_mm - od_mm) / span)

    def length_factor(self, od_mm: float) -> float:
        """Length on the substrate per supplied length: L = 1 + λ·f/100."""
        return 1 + self.longitudinal_change_pct * self.recovery(od_mm) / 100

    def wall_mm(self, od_mm: float) -> float:
        """Wall in mm on a substrate of `od_mm`; the volume of the wall is kept.

        A_R = π·W·(R + W); A(d) = A_R·L(1)/L(f); w = (−d + sqrt(d² + 4A/π))/2; below R it hangs free.
        """
        d = max(od_mm, self.recovered_id_mm)
        w, r = self.recovered_wall_mm, self.recovered_id_mm
        free_area = pi * w * (r + w)
        area = free_area * (1 + self.longitudinal_change_pct / 100) / self.length_factor(d)
        return (-d + sqrt(d * d + 4 * area / pi)) / 2

    def od_mm(self, od_mm: float) -> float:
        """Outside diameter in mm on a substrate of `od_mm`."""
        return max(od_mm, self.recovered_id_mm) + 2 * self.wall_mm(od_mm)


@dataclass(frozen=True)
class Fit:
    """The verdict of one sleeve on one window. Shortfalls are 0 when the edge is met; recovery,
    wall and outside diameter are None where the seal is wider than the sleeve."""

    verdict: Verdict
    ratio_needed: float
    ratio_of_sleeve: float
    needed_expanded_mm: float
    allowed_recovered_mm: float
    pass_short_by_mm: float
    grip_short_by_mm: float
    comfort: float
    recovery_at_seal: float | None
    wall_at_seal_mm: float | None
    od_at_seal_mm: float | None


def fit(tube: Tube, pass_od_mm: float, seal_od_mm: float, margins: Margins) -> Fit:
    """Whether a sleeve slides over `pass_od_mm` and grips `seal_od_mm` (mm).

    >>> f = fit(Tube(9.5, 4.6, 0.9, -6), 7.6, 5.3, Margins())
    >>> f.verdict, round(f.ratio_needed, 3), round(f.recovery_at_seal, 3)
    ('fits', 1.698, 0.857)
    """
    spend()
    need, allow = margins.needed_expanded_mm(pass_od_mm), margins.allowed_recovered_mm(seal_od_mm)
    pass_short = short_by(tube.expanded_id_mm, need)
    grip_short = short_by(allow, tube.recovered_id_mm)
    verdict: Verdict = "fits"
    if pass_short:
        verdict = "neither" if grip_short else "will-not-pass"
    elif grip_short:
        verdict = "will-not-grip"
    comfort = min((tube.expanded_id_mm - need) / tube.expanded_id_mm, (allow - tube.recovered_id_mm) / allow)
    on = seal_od_mm <= tube.expanded_id_mm
    return Fit(
        verdict,
        need / allow,
        tube.ratio,
        need,
        allowed_recovered_mm=allow,
        pass_short_by_mm=pass_short,
        grip_short_by_mm=grip_short,
        comfort=comfort,
        recovery_at_seal=tube.recovery(seal_od_mm) if on else None,
        wall_at_seal_mm=tube.wall_mm(seal_od_mm) if on else None,
        od_at_seal_mm=tube.od_mm(seal_od_mm) if on else None,
    )


Points = Sequence[tuple[float, float]]


def supplied_length_mm(tube: Tube, profile: Points) -> float:
    """Supplied length in mm that covers `profile`, [x, od] rising in x, linear between points.

    ∫ dx / L(f(d(x))). f is linear in d above R and 1 below, so every stretch integrates to a
    logarithm. Raises InputError where the profile is wider than the expanded sleeve.
    """
    for i, (_, od) in enumerate(profile):
        if od > tube.expanded_id_mm * (1 + 1e-9):
            raise InputError.at(f"/profile/{i}", f"is {od:g} mm: wider than the sleeve as supplied")
    r, total = tube.recovered_id_mm, 0.0
    for (x1, d1), (x2, d2) in pairwise(profile):
        cuts = [(x1, d1), (x2, d2)]
        if (d1 - r) * (d2 - r) < 0:  # crosses R inside the stretch: f has a kink there
            cuts.insert(1, (x1 + (x2 - x1) * (r - d1) / (d2 - d1), r))
        for (u1, e1), (u2, e2) in pairwise(cuts):
            a, b = tube.length_factor(e1), tube.length_factor(e2)
            total += (u2 - u1) * (1 / a if a == b else log1p((b - a) / a) / (b - a))
    return total


def cut_length_mm(tube: Tube, profile: Points, squareness_mm: float) -> int:
    """Length to cut in whole mm: what covers the profile, plus an allowance for a square cut.

    >>> over_a_connector = [(0, 5.3), (10, 5.3), (10, 7.6), (48, 7.6), (48, 5.3), (58, 5.3)]
    >>> cut_length_mm(Tube(9.5, 4.6, 0.9, -6), over_a_connector, 2)
    62
    """
    return whole_up(supplied_length_mm(tube, profile) + squareness_mm)
