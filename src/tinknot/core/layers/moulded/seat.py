"""Where a moulded part lies: its mouths on what they seal on, and its line, which may turn a corner."""

from dataclasses import dataclass, replace
from math import cos, radians, sin, tan

from tinknot.core.acts import Place
from tinknot.core.joint.profile import Profile

Point = tuple[float, float]
Span = tuple[float, float]


@dataclass(frozen=True)
class Course:
    """A line seen from the side: along the joint's axis to `corner_mm`, then turned by `angle_deg`, `y_mm`
    above it. Places on it are given by s, mm along the line, which is x up to the corner."""

    corner_mm: float = 0.0
    angle_deg: float = 0.0
    y_mm: float = 0.0

    def on_axis(self, x: float) -> bool:
        """Whether it runs on the joint's axis at x."""
        return abs(self.y_mm) < 1e-9 and (abs(self.angle_deg) < 1e-9 or x <= self.corner_mm)

    @property
    def turns_off(self) -> bool:
        """Whether it leaves the joint's axis at its corner, and a cut across that axis does not meet it."""
        return abs(self.angle_deg) > 30

    def height(self, x: float) -> float:
        """How far above the joint's axis it lies at x, mm."""
        return self.y_mm + max(0.0, x - self.corner_mm) * tan(radians(self.angle_deg))

    def edges(self, points: list[tuple[float, float]]) -> dict[str, list[Point]]:
        """Both edges of a body round the line, from its (s, radius) in mm; mitred at the corner."""
        turn = radians(self.angle_deg)
        c = self.corner_mm
        if turn and points[0][0] < c < points[-1][0] and not any(abs(s - c) < 1e-9 for s, _ in points):
            k = next(i for i, (s, _) in enumerate(points) if s > c)
            (s1, r1), (s2, r2) = points[k - 1], points[k]
            r = r1 + (r2 - r1) * (c - s1) / (s2 - s1) if s2 > s1 else r1
            points = [*points[:k], (c, r), *points[k:]]
        top, bottom = [], []
        inside = points[0][0] + 1e-9 < c < points[-1][0] - 1e-9
        for s, r in points:
            if turn and inside and abs(s - c) < 1e-9:
                back = r * tan(turn / 2)
                top.append((c - back, self.y_mm + r))
                bottom.append((c + back, self.y_mm - r))
                continue
            a = turn if s > c else 0.0
            x, y = min(s, c) + max(0.0, s - c) * cos(a), self.y_mm + max(0.0, s - c) * sin(a)
            top.append((x - r * sin(a), y + r * cos(a)))
            bottom.append((x + r * sin(a), y - r * cos(a)))
        return {"top": [_exact(p) for p in top], "bottom": [_exact(p) for p in bottom]}


def _exact(p: Point) -> Point:
    return (round(p[0], 4), round(p[1], 4))


@dataclass(frozen=True)
class Mouth:
    """A mouth where it lies. `opening`: which of the part's; `on`: what it lies on, in words; `slides_mm`:
    the most it passes on its way; `seals_mm`: the least it grips there; `span_mm`: along its course;
    `band_mm`: the part of it on what it seals on; `under`: the outside along the course; `tape_mm`: how much
    room tape has there, None where it may show; `fitting`: it lies on a fitting, not on a jacket."""

    opening: int
    name: str
    on: str
    slides_mm: float
    seals_mm: float
    span_mm: Span
    band_mm: Span
    under: Profile
    course: Course = Course()
    tape_mm: float | None = None
    fitting: bool = False

    @property
    def place(self) -> Place:
        """What it lies on."""
        return Place(
            f"mouth {self.opening}", skin="fitting" if self.fitting else "sheath", span_mm=self.band_mm
        )

    @property
    def adhesive_mm(self) -> float:
        """How much of it lies on what it seals on, mm."""
        return max(0.0, self.band_mm[1] - self.band_mm[0])

    def moved(self, by_mm: float) -> "Mouth":
        """The same further along the joint's axis."""
        (a, b), (c, d) = self.span_mm, self.band_mm
        course = replace(self.course, corner_mm=self.course.corner_mm + by_mm)
        return replace(
            self,
            span_mm=(a + by_mm, b + by_mm),
            band_mm=(c + by_mm, d + by_mm),
            under=self.under.moved(by_mm),
            course=course,
        )


@dataclass(frozen=True)
class Seat:
    """A part's mouths in the order they are shrunk in, and where its line turns. `angle_deg` 0: nowhere;
    `start_mm`: where it begins along its line."""

    mouths: tuple[Mouth, ...]
    corner_mm: float
    angle_deg: float
    length_mm: float
    start_mm: float = 0.0

    @property
    def end_mm(self) -> float:
        """Where it ends along its line."""
        return self.start_mm + self.length_mm

    def moved(self, by_mm: float) -> "Seat":
        """The same further along the joint's axis."""
        if not by_mm:
            return self
        return replace(
            self,
            mouths=tuple(m.moved(by_mm) for m in self.mouths),
            corner_mm=self.corner_mm + by_mm,
            start_mm=self.start_mm + by_mm,
        )
