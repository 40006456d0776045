"""Straight joints of round low-voltage cable, 1 to 5 cores."""

from tinknot.core.families.contract import Family
from tinknot.core.families.lowvoltage.draft import SHEETS, WORDS, body, doubts, readings
from tinknot.core.families.straight.settle import settled
from tinknot.core.joint.file import JointFile

STRAIGHT = Family(
    "straight-lv",
    "straight: A to B",
    JointFile,
    settled,
    form="ends",
    place="",
    body=body,
    words=WORDS,
    doubts=doubts,
    readings=readings,
    sheets=SHEETS,
)
