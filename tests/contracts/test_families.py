"""A family stands alone: no other one, and nothing outside, leans on what only it knows."""

import grimp

SHARED = {"lowvoltage", "moulded"}  # what families of round cable, and those with moulded parts, share


def test_no_family_imports_another():
    graph = grimp.build_graph("tinknot")
    folders = {m.rsplit(".", 1)[-1]: m for m in graph.find_children("tinknot.core.families")}
    families = {n: p for n, p in folders.items() if graph.find_children(p) and n not in SHARED}
    assert {"straight", "tap", "trace"} <= families.keys()
    for name, place in families.items():
        for other, there in families.items():
            if name != other:
                chain = graph.direct_import_exists(importer=place, imported=there, as_packages=True)
                assert not chain, f"{name} imports {other}"
