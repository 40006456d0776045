"""How a layer on a flat cable is drawn: seen on the flat, x along the cable, its width up."""

from collections.abc import Iterator
from typing import ClassVar

from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage


class DrawnFlat:
    """What is put on a flat cable; `drawn` is the kind of body it is drawn as."""

    id: str
    end: str
    span_mm: tuple[float, float]
    drawn: ClassVar[str]

    def lies(self) -> Lies | None:
        """Over the cable; nowhere, when its leaflet gives it no length."""
        return Lies(self.span_mm) if self.span_mm[1] > self.span_mm[0] else None

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall over half the width of what it lies on."""
        over, under = (
            [(s.x_mm, s.greatest_mm / 2) for s in p.between(*stage.span_mm).stations]
            for p in (stage.over, stage.under)
        )
        yield Body(
            id=f"cover-{self.id}",
            kind=self.drawn,
            layer=self.id,
            end=self.end,
            depth_mm=stage.depth_mm,
            top=over,
            bottom=under,
        )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall all round, flat."""
        outside = stage.over.at(x)
        yield Circle(
            kind=self.drawn,
            layer=self.id,
            od_mm=outside.greatest_mm,
            thickness_mm=outside.least_mm,
            inside_mm=stage.under.at(x).greatest_mm,
        )
