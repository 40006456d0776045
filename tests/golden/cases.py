"""Joint files whose plans are kept: all examples, the demo's joints, and generated ones. Seeded, so that
the same files come out each time; the files are kept beside their plans all the same, so that a plan is
compared for the very file it was made from."""

import json
import random
from collections.abc import Iterator
from copy import deepcopy
from pathlib import Path
from typing import Any

from tests.power import BUILDS, TAPS, end, power
from tests.trace import HEAT, SHEETS, ZONE, body
from tinknot.core.errors import InputError
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import plan_joint

ROOT = Path(__file__).parents[2]
SIZES = (
    (1.5, 3.0),
    (2.5, 3.6),
    (4, 4.3),
    (6, 5.3),
    (10, 6.6),
    (16, 8.2),
    (25, 10.2),
    (35, 11.6),
    (50, 13.2),
    (70, 15.0),
)
DUTIES = ("dry", "damp", "buried", "immersed", "uv", "fire", "oil", "moving")


STORE_SLEEVES = tuple(
    {
        "id": f"{kind}{x:g}",
        "expanded_id_mm": x,
        "recovered_id_mm": round(x / ratio, 2),
        "recovered_wall_mm": round(0.6 + x / (45 if lined else 25), 2),
        "longitudinal_change_pct": -change,
        "lined": lined,
        "price_per_m": round(1 + x / 3, 2),
        "properties": ["zero-halogen", "uv-resistant"] if ratio > 3.2 else [],
    }
    for kind, ratio, change, lined, sizes in (
        ("core", 2.6, 6, False, (6, 9.5, 13, 19, 26)),
        ("heavy", 3.4, 9, False, (8, 12, 18, 27)),
        ("seal", 3.1, 8, True, (16, 22, 28, 36, 46, 60)),
        ("wide", 4.2, 12, True, (24, 33, 45, 70)),
    )
    for x in sizes
)
STORE_CONNECTORS = tuple(
    {
        "id": f"barrel{most:g}",
        "od_mm": round(2.2 + 1.75 * most**0.5, 1),
        "length_mm": round(22 + 1.6 * most**0.75, 0),
        "insertion_mm": round(9.5 + 0.7 * most**0.75, 0),
        "growth_mm": 0.5,
        "area_least_mm2": least,
        "area_most_mm2": most,
        "on_hand": 20,
        "price_each": round(0.5 + most / 20, 2),
    }
    for least, most in ((1, 2.5), (2.5, 6), (4, 10), (6, 16), (10, 25), (16, 35), (25, 50), (35, 70))
)


def examples() -> Iterator[tuple[str, dict[str, Any]]]:
    """Every joint file under `examples/`."""
    for path in sorted((ROOT / "examples").glob("*.json")):
        yield f"example {path.stem}", json.loads(path.read_text(encoding="utf-8"))


def named() -> Iterator[tuple[str, dict[str, Any]]]:
    """The joints other tests are built on: every kind of build, every tap, every sheet that ships."""
    yield from ((f"build {name}", deepcopy(given)) for name, given in (BUILDS | TAPS).items())
    yield from ((f"sheet {name}", body(name)) for name in SHEETS)


def _sheath(pick: random.Random, cores: int, insulation: float) -> float:
    """About what a round cable of these cores measures, mm."""
    lay = {1: 1.0, 3: 2.155, 4: 2.414, 5: 2.701}[cores]
    return round(insulation * lay + pick.uniform(2.0, 4.5), 1)


def _end(pick: random.Random, cores: int, size: tuple[float, float], armoured: bool) -> dict[str, Any]:
    area, insulation = size
    insulation = round(insulation * pick.uniform(0.97, 1.06), 2)
    sheath = _sheath(pick, cores, insulation)
    bedding = None
    if armoured:
        bedding, sheath = sheath, round(sheath + 2 * 1.25 + pick.uniform(2.5, 4.0), 1)
    more: dict[str, Any] = {
        "free_mm": pick.choice((450, 600, 900, 1500)),
        "slack_mm": pick.choice((0, 200, 420)),
    }
    if pick.random() < 0.2:
        more["sheath_od_across_mm"] = round(sheath - pick.uniform(0.2, 0.8), 1)
    return end(cores, area, insulation, sheath, bedding=bedding, **more)


def _straight(pick: random.Random) -> dict[str, Any]:
    cores, at = pick.choice((1, 3, 3, 4, 4, 5)), pick.randrange(len(SIZES) - 2)
    if cores == 4:
        cores = 3
    armoured = pick.random() < 0.3
    a = _end(pick, cores, SIZES[at], armoured)
    b = deepcopy(a)
    if pick.random() < 0.35:
        b = _end(pick, cores, SIZES[max(0, at - pick.choice((0, 1)))], armoured and pick.random() < 0.6)
    build = _build(pick, armoured)
    changes: dict[str, Any] = {
        "duties": sorted(pick.sample(DUTIES, pick.choice((0, 1, 1, 2)))),
        "ambient_c": pick.choice((-5, 6, 12, 25)),
    }
    if build:
        changes["build"] = build
    if cores > 1 and pick.random() < 0.4:
        changes["stagger_steps"] = pick.randint(2, cores)
    if pick.random() < 0.15:
        changes["connector"] = {
            "kind": pick.choice(("mechanical", "soldered")),
            "od_mm": 9.0,
            "length_mm": 40,
        }
    given = power(a, b, **changes)
    given["stock"]["sleeves"] += [dict(s) for s in STORE_SLEEVES]
    given["stock"]["connectors"] += [dict(c) for c in STORE_CONNECTORS]
    for sleeve in given["stock"]["sleeves"]:  # every site's stock differs
        sleeve["on_hand_mm"] = pick.choice((0, 400, 4000, 4000, 9000))
    return given


def _build(pick: random.Random, armoured: bool) -> dict[str, Any]:
    build: dict[str, Any] = {}
    if pick.random() < 0.3:
        build["closure"] = pick.choice(("resin", "wrap-around", "sleeve"))
    if pick.random() < 0.2:
        build["core_insulation"] = pick.choice(("tape", "sleeve"))
    if pick.random() < 0.1:
        build["fire"] = pick.choice(("barrier", "mica"))
    if pick.random() < 0.1:
        build["cold_only"] = True
    if pick.random() < 0.1:
        build["thin_side"] = pick.choice(("end-piece", "tape"))
    if armoured and pick.random() < 0.6:
        build["earth"] = {"fault_current_a": pick.choice((400, 900, 1500)), "clearing_time_s": 0.4}
    if pick.random() < 0.15:
        build["removed_mm"] = pick.choice((60, 420, 900))
    return build


def _tap(pick: random.Random) -> dict[str, Any]:
    main, tap = pick.choice(((70, 15.0), (50, 13.2), (35, 11.6), (95, 17.5))), pick.choice(SIZES[1:6])
    return power(
        end(3, *main, sheath=40.0),
        end(3, *tap, sheath=_sheath(pick, 3, tap[1])),
        family="tap-lv",
        duties=["uv"],
        ambient_c=pick.choice((-5, 6, 20)),
        **({"build": {"purpose": "earthing"}} if pick.random() < 0.3 else {}),
    )


def _trace(pick: random.Random) -> dict[str, Any]:
    name = pick.choice(sorted(SHEETS))
    zone = "zone" in SHEETS[name]["serves"].get("constructions", [])
    cable = deepcopy(ZONE if zone else HEAT)
    for layer in ("outer_jacket", "inner_jacket", "core"):
        cable[layer] = {k: round(v * pick.uniform(0.98, 1.02), 2) for k, v in cable[layer].items()}
    ends = {e: {"loop_mm": pick.choice((180, 420, 700)), "free_mm": pick.choice((500, 900))} for e in "ABC"}
    return body(name, cable=cable, ends=ends, ambient_c=pick.choice((-10, 3, 15)))


def generated(many: int = 200) -> Iterator[tuple[str, dict[str, Any]]]:
    """`many` joints: three quarters straight, the rest taps and heat trace, half and half."""
    pick = random.Random(20261126)
    number = 0
    while number < many:
        made = _straight if (number + 1) % 4 else _tap if (number + 1) % 8 else _trace
        given = made(pick)
        try:
            plan_joint(file_of(json.dumps(given)))
        except InputError:  # nothing in stock joins these
            continue
        number += 1
        yield f"generated {number}", given


def all_cases() -> Iterator[tuple[str, dict[str, Any]]]:
    """Everything but the demo's joints, which are read from the fixture that holds them."""
    yield from examples()
    yield from named()
    yield from generated()
