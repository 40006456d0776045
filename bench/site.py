"""A data folder with one planned joint, for what the bench does to it."""

import json
from pathlib import Path

from tests.joints import joint_dict

from tinknot.core.model import parse
from tinknot.services import accounts, joints, planning, stock_csv
from tinknot.services.opening import close_site, open_site

ROOT = Path(__file__).parents[1]
PASSWORD = "a-long-password"
JOINT = "J-1"


def prepare(folder: Path) -> None:
    """J-1 planned, Runa to work at it."""
    folder.mkdir(parents=True, exist_ok=True)
    open_site(folder / "tinknot.db")
    fill()
    close_site()


def fill() -> accounts.Person:
    """The same in the database that is open."""
    who = accounts.add_person("runa", "Runa", "jointer", PASSWORD)
    stock_csv.import_csv((ROOT / "src/tinknot/demo/stock.csv").read_text(), True, "bench")
    joints.create(joints.JointNew(ref=JOINT), who)
    patch = {"card": {"where": "x", "rated_voltage_v": 400}, "ends": joint_dict()["ends"]}
    joints.edit(JOINT, parse(joints.JointPatch, json.dumps(patch)), 1, who)
    planning.freeze(JOINT, 2, who)
    return who
