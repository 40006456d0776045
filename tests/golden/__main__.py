"""`python -m tests.golden` makes the kept plans anew. Only when plans are meant to change: say which and
why in docs/decisions.md, and look at the difference first (`python -m tests.golden --differences`).
`--broken` writes the list of those that break a law anew, which may only shrink."""

import json
import lzma
import sys
from collections.abc import Iterator
from typing import Any

from tests.fixtures.databases import opened
from tests.golden import families
from tests.golden.cases import all_cases
from tests.golden.kept import BROKEN, PATH, TODAY, breaks_of, kept, lost, planned
from tinknot.core.errors import InputError


def demo_joints() -> Iterator[tuple[str, dict[str, Any], str, Any]]:
    """The joint file, day and facts of every plan in the newest fixture database."""
    with opened("ee97242") as database:
        rows = database.execute(
            "SELECT joint.ref, planrevision.number, file, made, planrevision.created FROM planrevision"
            " JOIN joint ON joint.id = joint_id ORDER BY planrevision.id"
        )
        for ref, number, file, made, created in rows.fetchall():
            yield f"demo {ref} plan {number}", json.loads(file), created[:10], json.loads(made)


def cases() -> Iterator[dict[str, Any]]:
    """All cases with the plan that comes out now; files that are refused are left out."""
    everything = [(name, file, TODAY.isoformat(), None) for name, file in all_cases()]
    more = [(name, file, TODAY.isoformat(), made) for name, file, made in families.all_cases()]
    for name, file, today, made in [*everything, *demo_joints(), *more]:
        case = {"name": name, "file": file, "today": today, "made": made}
        try:
            yield case | {"plan": planned(case)}
        except InputError as fault:
            print(f"{name} left out: {fault}", file=sys.stderr)


if __name__ == "__main__":
    if "--differences" in sys.argv:
        for name, case in kept().items():
            for words in lost(case["plan"], planned(case)):
                print(f"{name}{words}")
    elif "--broken" in sys.argv:
        found = {name: laws for name, case in kept().items() if (laws := breaks_of(planned(case)))}
        BROKEN.write_text(json.dumps(found, indent=0, ensure_ascii=False) + "\n", encoding="utf-8")
        print(f"{len(found)} plans, {sum(map(len, found.values()))} breaks")
    else:
        PATH.write_bytes(lzma.compress(json.dumps(list(cases()), ensure_ascii=False).encode(), preset=9))
        print(f"{len(json.loads(lzma.decompress(PATH.read_bytes())))} plans, {PATH.stat().st_size} bytes")
