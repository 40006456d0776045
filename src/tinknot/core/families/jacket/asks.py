"""What is asked about a damaged jacket."""

from tinknot.core.families.asks import Ask, When, options

_THROUGH = When(ask="grade", answers=["cut", "bedding"])
_PLACE, _CABLE = "The damage", "The cable beside it"

ASKS = (
    Ask(
        id="grade",
        label="How deep it goes",
        kind="choice",
        group=_PLACE,
        hint="Bend the cable a little and use a lamp: what is the deepest thing you see?",
        options=options(
            ("scratch", "scratched or scuffed, the jacket is not through"),
            ("cut", "cut or holed, the layer under the jacket is whole"),
            ("bedding", "bedding or armour lies open, and is whole"),
            ("core", "a core or screen is seen or hurt"),
        ),
    ),
    Ask(
        id="length_mm",
        label="Damaged length along the cable",
        kind="length",
        unit="mm",
        group=_PLACE,
        most=800,
    ),
    Ask(
        id="wet",
        label="Water may have got in",
        kind="yes",
        group=_PLACE,
        required=False,
        when=_THROUGH,
        hint="It lay in the wet, or drops are seen.",
    ),
    Ask(
        id="cold_only",
        label="No heat of any kind is allowed there",
        kind="yes",
        group=_PLACE,
        required=False,
    ),
    Ask(
        id="method",
        label="Closed by",
        kind="choice",
        group=_PLACE,
        required=False,
        options=options(
            ("", "whatever fits best"),
            ("sleeve", "a wrap-around sleeve"),
            ("tape", "tape"),
        ),
    ),
    Ask(
        id="sheath_od_mm",
        label="Jacket, diameter",
        kind="length",
        unit="mm",
        group=_CABLE,
        least=3,
        most=120,
    ),
    Ask(
        id="sheath_od_across_mm",
        label="Jacket, diameter at 90°",
        kind="length",
        unit="mm",
        group=_CABLE,
        required=False,
        hint="Where it is not round.",
        least=3,
        most=120,
    ),
    Ask(
        id="jacket_mm",
        label="Jacket, thickness",
        kind="length",
        unit="mm",
        group=_CABLE,
        when=_THROUGH,
        hint="Read it at the edge of the hole.",
        least=0.5,
        most=6,
    ),
    Ask(
        id="material",
        label="Jacket made of",
        kind="choice",
        group=_CABLE,
        options=options(
            ("pvc", "PVC"),
            ("rubber", "rubber"),
            ("halogen-free", "halogen-free compound"),
            ("polyethylene", "polyethylene"),
        ),
    ),
    Ask(
        id="armoured",
        label="It has armour",
        kind="yes",
        group=_CABLE,
        required=False,
        when=When(ask="grade", answers=["bedding"]),
    ),
    Ask(
        id="clear_mm",
        label="Straight, clear cable beside the damage",
        kind="length",
        unit="mm",
        group=_CABLE,
        hint="On the shorter side: room for the sleeve's seal.",
    ),
)
