"""What every family with a moulded part asks: its sheath, and how hot and cold it gets there."""

from tinknot.core.families.asks import Ask, When, options


def sheath(id_: str, group: str, when: When | None = None) -> Ask:
    """What the sheath is made of: it decides what makes a part tight."""
    return Ask(
        id=id_,
        label="Its sheath is of",
        kind="choice",
        group=group,
        when=when,
        hint="Printed on it, or in its sheet. Most adhesives hold on some of these only.",
        options=options(
            ("pvc", "PVC"),
            ("rubber", "rubber"),
            ("polyurethane", "polyurethane"),
            ("polyolefin", "polyethylene or another polyolefin"),
            ("fluoropolymer", "fluoropolymer"),
        ),
    )


def service(group: str, when: When | None = None) -> tuple[Ask, Ask]:
    """The heat and the cold it lives in."""
    hot, cold = (
        Ask(
            id=id_,
            label=f"{word} it gets in service",
            kind="number",
            unit="°C",
            group=group,
            when=when,
            least=least,
            most=most,
        )
        for id_, word, least, most in (("hot_c", "Hottest", -20, 200), ("cold_c", "Coldest", -60, 60))
    )
    return hot, cold
