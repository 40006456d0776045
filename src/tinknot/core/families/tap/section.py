"""The drawing of a tap: the main's cores side by side, connectors on them, the tap's cores beneath."""

from tinknot.core.drawing.loop import Put, draw, widest
from tinknot.core.drawing.model import Dimension, Section
from tinknot.core.drawing.stage import Axis, Stage
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.taps import EndCap, Piercing

BEYOND_MM = 400.0  # cable drawn on either side


def section(s: CableSolution) -> Section:
    """To scale, in mm: each core at its own height, x along the main, the tap running off on side B."""
    taps = [x for x in s.layers if isinstance(x, Piercing)]
    caps = {x.core: x for x in s.layers if isinstance(x, EndCap)}
    (a, b), drawn = s.crutch_mm, []
    reach = a - BEYOND_MM, b + BEYOND_MM
    pitch = max(t.connector.od_mm for t in taps) * 1.3
    for n, tap in enumerate(taps):
        y = (len(taps) - 1) * pitch / 2 - n * pitch
        main, beneath = (
            Profile.of_stretches([(*reach, d.insulation.greatest_mm, d.insulation.least_mm)])
            for d in (tap.main, tap.tap)
        )
        drawn.append(Put(tap, Stage(main, tap.apply(main), reach, 0.0, axis=Axis.level(y))))
        if cap := caps.get(tap.core):
            at = Axis.level(y - tap.drop_mm)
            drawn.append(Put(cap, Stage(beneath, cap.apply(beneath), reach, 0.5, axis=at)))
    along = Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, label="along the main")
    return draw(drawn, [], reach, [along], outside=widest(0.0))
