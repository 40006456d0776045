"""`make bench`: choice over 5,000 lines, bundle, event append, first load."""

import json
import random
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from tests.core.test_properties import BEST_EQUAL, BEST_UNEQUAL
from tests.power import BUILDS, file

from bench import busy, kills, power
from bench.site import JOINT, ROOT, fill
from tinknot.core.families.choice import Made
from tinknot.core.families.file import file_of
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.registry import family_of
from tinknot.core.families.straight.recipe import StraightRecipe
from tinknot.core.formulas.bundle import _bundle_sorted, bundle
from tinknot.core.planning.ordering import ordered
from tinknot.core.planning.playing import broken
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.events import EventIn, person_mark
from tinknot.services import accounts, building, stock
from tinknot.services.opening import close_site, open_site
from tinknot.store.database import db
from tinknot.web.app import create_app


def best_of(what: Callable[[], Any], times: int = 5) -> float:
    """The shortest of some runs, s."""
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        what()
        taken.append(time.perf_counter() - begun)
    return min(taken)


def choice() -> dict[str, Any]:
    """Three sleeve layers of an armoured joint chosen together out of 5,000 lines, against one vectorised
    pass over the same catalogue that judges it for one window: passing, gripping, comfort, wall, cut."""
    pick = random.Random(1)
    sleeves = []
    for i in range(5000):
        r = pick.uniform(1, 40)
        x, wall, change = r * pick.uniform(1.5, 5), pick.uniform(0.4, 4), -pick.uniform(0, 12)
        sleeves.append(
            {
                "id": f"s{i}",
                "expanded_id_mm": x,
                "recovered_id_mm": r,
                "recovered_wall_mm": wall,
                "longitudinal_change_pct": change,
                "lined": True,
            }
        )
    given = {**BUILDS["armoured both, sleeved"]}
    given["stock"] = {**given["stock"], "sleeves": sleeves}
    job = Job(file(given), RuleBook.of())

    def together() -> Any:
        job.forget()
        return StraightRecipe(job).solve()

    x, r = (np.array([s[k] for s in sleeves]) for k in ("expanded_id_mm", "recovered_id_mm"))
    w, change = (np.array([s[k] for s in sleeves]) for k in ("recovered_wall_mm", "longitudinal_change_pct"))

    def vectorised() -> Any:
        comfort = np.minimum((x - 22.217) / x, (13.86 - r) / 13.86)
        used = np.minimum(1.0, (x - 15.4) / (x - r))
        factor = 1 + change * used / 100
        area = np.pi * w * (r + w) * (1 + change / 100) / factor
        wall = (-15.4 + np.sqrt(15.4**2 + 4 * area / np.pi)) / 2
        cut = np.ceil(220 / factor + 2)
        return np.lexsort((np.arange(len(x)), -comfort, cut, wall < 1.0))[: int((comfort > 0).sum())]

    solution, ours, bare = together(), best_of(together, 50), best_of(vectorised, 50)
    assert solution.fits
    return {
        "lines": 5000,
        "layers": len(solution.choices),
        "fit": [len(c.ranked) for c in solution.choices],
        "ms": round(ours * 1e3, 2),
        "vectorised_pass_ms": round(bare * 1e3, 4),
        "ratio": round(ours / bare, 1),
    }


def bundles() -> dict[str, Any]:
    """How far from the best known, in %, and how long 12 take cold."""
    equal = [(bundle([2.0] * n).enclosing_diameter_mm / 2 / b - 1) * 100 for n, b in enumerate(BEST_EQUAL, 1)]
    unequal = [
        (bundle([2.0 * (i + 1) for i in range(n)]).enclosing_diameter_mm / 2 / b - 1) * 100
        for n, b in BEST_UNEQUAL.items()
    ]

    def cold(ods: list[float]) -> float:
        def once() -> None:
            _bundle_sorted.cache_clear()
            bundle(ods)

        return round(best_of(once) * 1e3, 1)

    sizes = [4.0, 5.3, 6.6, 8.2]
    return {
        "worst_equal_pct": round(max(equal), 3),
        "worst_unequal_pct": round(max(unequal), 3),
        "twelve_unequal_cold_ms": cold([float(n) for n in range(1, 13)]),
        "sixty_one_equal_cold_ms": cold([5.3] * 61),
        "sixty_one_of_four_sizes_cold_ms": cold([sizes[n % 4] for n in range(61)]),
    }


def playing() -> dict[str, Any]:
    """What it costs to play a plan in the order shown, against planning the same joint, both warm: the worst
    of the examples."""
    shares = {}
    for path in sorted((ROOT / "examples").glob("*.json")):
        joint = file_of(path.read_bytes())
        recipe = family_of(joint).recipe(joint, RuleBook.of(), None, None)
        solution = recipe.solve()
        if not solution.fits or recipe.as_found(solution) is None:
            continue
        steps = ordered(solution.layers, Made())
        whole = best_of(lambda joint=joint: plan_joint(joint))
        shares[path.stem] = best_of(lambda r=recipe, s=solution, o=steps: broken(r, s, o)) / whole
    worst = max(shares, key=lambda name: shares[name])
    return {"worst": worst, "share_of_planning": round(shares[worst], 2), "plans": len(shares)}


def events() -> dict[str, Any]:
    """Durable events a second through the service, against bare inserts with the same settings."""
    with tempfile.TemporaryDirectory() as folder:
        open_site(Path(folder) / "b.db")
        who = fill()

        def one() -> None:
            building.take(
                JOINT,
                EventIn(
                    id=uuid4(), kind="note", revision=1, by=person_mark(who.id), client_time=datetime.now(UTC)
                ),
                who,
            )

        for _ in range(5):  # what is read once and kept at hand is at hand
            one()
        begun, used = time.perf_counter(), time.process_time()
        for _ in range(60):
            one()
        ours, used = 60 / (time.perf_counter() - begun), (time.process_time() - used) / 60
        stock.parts()
        bare_db = sqlite3.connect(Path(folder) / "bare.db", isolation_level=None)
        bare_db.execute("PRAGMA journal_mode=wal")
        bare_db.execute("PRAGMA synchronous=2")
        bare_db.execute("CREATE TABLE e (id INTEGER PRIMARY KEY, body TEXT)")
        begun = time.perf_counter()
        for _ in range(60):
            bare_db.execute("INSERT INTO e(body) VALUES (?)", ("x" * 700,))
        bare = 60 / (time.perf_counter() - begun)
        close_site()
    return {
        "events_per_s": round(ours, 1),
        "processor_ms_each": round(used * 1e3, 2),
        "bare_inserts_per_s": round(bare, 1),
        "share_of_bare": round(ours / bare, 3),
    }


def calculators() -> dict[str, Any]:
    """`tinknot calc` for a small input, against a bare interpreter that imports pydantic and click; best
    of 7."""
    given = json.dumps({"width_mm": 11, "thickness_mm": 5})

    def calc() -> None:
        subprocess.run(
            [sys.executable, "-m", "tinknot", "calc", "flat"],
            input=given,
            text=True,
            capture_output=True,
            check=True,
        )

    def bare() -> None:
        subprocess.run([sys.executable, "-c", "import pydantic, click; pydantic.BaseModel"], check=True)

    ours, least = best_of(calc, 7), best_of(bare, 7)
    return {
        "calc_ms": round(ours * 1e3),
        "bare_ms": round(least * 1e3),
        "ratio": round(ours / least, 2),
        "with_scipy": [
            "bundle (over three circles)",
            "cure (sloped logs)",
            "resin-fill (pack sizes)",
            "plan",
        ],
    }


def register() -> dict[str, Any]:
    """Search over 100,000 joints through the application, against its barest endpoint; p95, ms."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "r.db", "SECRET_KEY": "bench", "RATE_LIMIT": False})
        accounts.add_person("runa", "Runa", "jointer", "a-long-password")
        pick, places = (
            random.Random(1),
            ("tunnel", "loop", "upper station", "lower station", "pit", "walkway"),
        )
        with db.atomic():
            for i in range(100_000):
                card = {
                    "card": {
                        "where": f"{pick.choice(places)} {i % 977}",
                        "why": pick.choice(("damage", "renewal")),
                    }
                }
                db.execute_sql(
                    "INSERT INTO joint(ref, title, draft, state, version, revision, created, updated,"
                    " created_by) VALUES (?, ?, ?, ?, 1, 0, '', '', '')",
                    (
                        f"R-{i}",
                        f"{pick.choice(('Feeder', 'Lamp', 'Pump'))} {i % 131}",
                        json.dumps(card),
                        pick.choice(("draft", "released")),
                    ),
                )
        client = app.test_client()
        client.post("/api/v1/session", json={"username": "runa", "password": "a-long-password"})

        def p95(paths: list[str]) -> float:
            taken = []
            for path in paths:
                begun = time.perf_counter()
                assert client.get(path).status_code == 200
                taken.append((time.perf_counter() - begun) * 1e3)
            return sorted(taken)[int(len(taken) * 0.95)]

        asked = [f"/api/v1/joints?text={pick.choice(places)} {pick.randrange(977)}" for _ in range(60)]
        asked += [f"/api/v1/joints?text=R-{pick.randrange(100_000)}" for _ in range(60)] + [
            "/api/v1/joints?text=feeder&state=released"
        ] * 20
        searched, bare = p95(asked), p95(["/api/v1/session"] * 140)
    return {
        "joints": 100_000,
        "search_p95_ms": round(searched, 2),
        "bare_p95_ms": round(bare, 2),
        "ratio": round(searched / bare, 2),
    }


BOARDS = ((60, 0), (120, 0), (600, 0), (1000, 10_000))  # joints that are open, and released


def board() -> dict[str, Any]:
    """The board of joints that are worked on and of released ones, each with a plan of its own: p95 of the
    answer against a bare endpoint, as it is polled and after a change, and of the whole list of what waits.
    Where nothing is released the first answer is told too: it makes the summaries that are missing, as after
    an upgrade."""
    found: dict[str, Any] = {}
    for open_, released in BOARDS:
        with tempfile.TemporaryDirectory() as folder:
            app = create_app({"DATABASE": Path(folder) / "b.db", "SECRET_KEY": "bench", "RATE_LIMIT": False})
            fill()
            copied(open_ - 1, "building", known=released > 0)
            copied(released, "released", known=True)
            client = app.test_client()
            client.post("/api/v1/session", json={"username": "runa", "password": "a-long-password"})

            def asked(client: Any = client) -> int:
                return len(client.get("/api/v1/board").data)

            first = best_of(asked, 1)
            while db.execute_sql("SELECT COUNT(*) FROM summary").fetchone()[0] < open_ + released:
                asked()

            def changed(path: str = "board", client: Any = client) -> int:
                db.execute_sql("UPDATE mark SET value = random()")
                return len(client.get(f"/api/v1/{path}").data)

            bare = p95_of(lambda client=client: client.get("/api/v1/session"))
            same, made = p95_of(asked), p95_of(changed)
            whole = p95_of(lambda changed=changed: changed("today"), 20)
            found[f"{open_} open, {released} released"] = {
                "first_ms": None if released else round(first * 1000, 1),
                "bare_ms": round(bare * 1000, 2),
                "p95_ms": round(same * 1000, 2),
                "times_bare": round(same / bare, 1),
                "after_a_change_ms": round(made * 1000, 2),
                "after_a_change_times_bare": round(made / bare, 1),
                "whole_list_after_a_change_times_bare": round(whole / bare, 1),
                "kB": round(asked() / 1000),
            }
    return found


PLAN = "number, file, plan, made, differences, actor, created"


def copied(many: int, state: str, known: bool) -> None:
    """`many` joints like the first, each with a plan of its own, and where `known` with its summary."""
    joint = db.execute_sql("SELECT * FROM joint WHERE ref = ?", (JOINT,))
    first = dict(zip((c[0] for c in joint.description), joint.fetchone(), strict=True))
    plan = db.execute_sql(f"SELECT {PLAN} FROM planrevision").fetchone()
    summary = db.execute_sql("SELECT minutes, through, remakes, unreadable, body FROM summary").fetchone()
    with db.atomic():
        for n in range(many):
            row = first | {"id": None, "ref": f"{state}-{n}", "state": state}
            marks = ", ".join("?" * len(row))
            made = f"INSERT INTO joint ({', '.join(row)}) VALUES ({marks})"
            new = db.execute_sql(made, tuple(row.values())).lastrowid
            db.execute_sql(
                f"INSERT INTO planrevision (joint_id, {PLAN}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)", (new, *plan)
            )
            if known:
                db.execute_sql("INSERT INTO summary VALUES (?, ?, ?, ?, ?, ?)", (new, *summary))


def p95_of(what: Callable[[], Any], times: int = 40) -> float:
    """The 95th percentile of how long it takes, s."""
    taken = sorted(best_of(what, 1) for _ in range(times))
    return taken[int(len(taken) * 0.95) - 1]


def first_load() -> dict[str, Any]:
    """Script the first page needs, gzipped, kB."""
    app = ROOT / "src/tinknot/web/static/app"
    page = (app / "index.html").read_text()
    sizes = {p.name: p.stat().st_size for p in app.glob("assets/*.js.gz")}
    first = {name: size for name, size in sizes.items() if name.removesuffix(".gz") in page}
    return {
        "script_kb": round(sum(first.values()) / 1000, 1),
        "all_script_kb": round(sum(sizes.values()) / 1000, 1),
    }


if __name__ == "__main__":
    print(
        json.dumps(
            {
                "choice": choice(),
                "bundle": bundles(),
                "playing": playing(),
                "event": events(),
                "register": register(),
                "board": board(),
                "calc": calculators(),
                "busy": busy.run(),
                "kills": kills.run(200),
                "power_loss": power.run(500),
                "first_load": first_load(),
            },
            indent=2,
        )
    )
