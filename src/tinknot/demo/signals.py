"""The control, signal and screened cables of the Skarn funicular."""

from typing import Any

from tinknot.demo.sites import Site


def _asked(
    ref: str,
    title: str,
    at_m: float,
    where: str,
    why: str,
    cable: str,
    until: str | None,
    hours_ago: float,
    asked: dict[str, Any],
    **more: Any,
) -> Site:
    """A joint on the telemetry cable along the track, whose readings are answers to questions."""
    nobody = ("", ""), 0, 0, 0, (0, 0)
    line, duties = 2, more.pop("duties", ("damp",))
    own = {"asked": asked}
    return Site(ref, title, line, at_m, where, why, cable, *nobody, duties, until, hours_ago, own=own, **more)


SIGNALS = (
    _asked(
        "SK-121",
        "Speed sensor, earth on its screen",
        1690,
        "Tunnel, niche 3",
        "Counts wrong when a car passes",
        "2 × 0.75, braid",
        "lay.lead",
        0.7,
        {
            "strip": "end",
            "screen": "braid",
            "plating": "tin",
            "cold_only": False,
            "sheath_od_mm": 6.3,
            "sheath_od_across_mm": 6.1,
            "screen_od_mm": 4.7,
            "inside_od_mm": 3.9,
            "bears_c": 150,
            "ahead_mm": 60,
            "clear_mm": 180,
            "lead": "wire",
            "lead_od_mm": 1.9,
            "lead_area_mm2": 0.75,
            "lead_length_mm": 150,
            "exit": "rear",
            "earthed": "here",
        },
        family="screen-ground",
        volts=24,
        ambient_c=9,
    ),
    _asked(
        "SK-122",
        "Level probe, earth in a window",
        1120,
        "Loop, pump pit",
        "New probe",
        "3 × 0.5, foil and drain wire",
        "released",
        75,
        {
            "strip": "window",
            "screen": "foil",
            "cold_only": False,
            "sheath_od_mm": 5.6,
            "screen_od_mm": 4.3,
            "inside_od_mm": 4.0,
            "bears_c": 105,
            "ahead_mm": 240,
            "clear_mm": 400,
            "lead": "wire",
            "lead_od_mm": 1.9,
            "lead_area_mm2": 0.75,
            "lead_length_mm": 90,
            "exit": "front",
            "earthed": "capacitor",
            "owner": "Ylva Storm",
        },
        family="screen-ground",
        volts=24,
        ambient_c=8,
    ),
)
