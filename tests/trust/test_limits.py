"""What is stored can be planned with; what is typed without a lot goes to the unmarked one; one unit
everywhere."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tests.joints import joint_dict
from tests.web.test_joint import filled
from tests.web.test_stock import FIGURES
from tinknot.core.families.draft import Draft, joint_file
from tinknot.core.model import parse
from tinknot.services import stock
from tinknot.services.stock import LotIn

MOST_IN_LOT, MOST_ON_HAND = 1e7, 1e9  # as the interface documents them


@pytest.mark.parametrize("metres", [1_001, 5_000, 10_000])
def test_more_than_a_kilometre_of_one_sleeve_is_planned_with(stocked, metres: int):
    stocked("POST", "/stock/outer-28/lots", {"name": "drum", "quantity": metres * 1000.0}, 201)
    filled(stocked)
    assert stocked("POST", "/joints/J-1/look", {})["plan"]["verdict"] == "planned"
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')


def test_what_is_more_than_a_plan_can_hold_is_refused_when_it_is_typed(runa):
    runa(
        "POST",
        "/stock",
        {"kind": "sleeve", "figures": FIGURES, "lot": {"name": "L0", "quantity": MOST_IN_LOT}},
        201,
    )
    too_much = runa("POST", "/stock/S-28/lots", {"name": "x", "quantity": MOST_IN_LOT * 1.01}, 422)
    assert too_much["errors"][0]["path"] == "/quantity"
    for number in range(1, round(MOST_ON_HAND / MOST_IN_LOT)):
        runa("POST", "/stock/S-28/lots", {"name": f"L{number}", "quantity": MOST_IN_LOT}, 201)
    over = runa("POST", "/stock/S-28/lots", {"name": "one more", "quantity": 1}, 422)
    assert over["errors"][0]["path"] == "/quantity"
    assert "is the unit right?" in over["detail"]
    assert runa("GET", "/stock/S-28")["on_hand"] == MOST_ON_HAND
    lot = runa("GET", "/stock/S-28")["lots"][0]["id"]
    runa("POST", f"/stock/S-28/lots/{lot}/count", {"quantity": MOST_IN_LOT})
    joint_file(
        parse(Draft, {"card": {"rated_voltage_v": 400}, "ends": joint_dict()["ends"]}), stock.for_planning()
    )


@pytest.fixture
def one_part(runa):
    runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES}, 201)


@cases(60)
@given(quantity=st.floats(0, MOST_IN_LOT), opened=st.booleans(), use_by=st.none() | st.dates())
def test_whatever_lot_is_taken_a_joint_file_takes_too(quantity: float, opened: bool, use_by):
    lot = LotIn(name="x", quantity=quantity, opened=opened, use_by=use_by)
    entry = FIGURES | {
        "on_hand_mm": lot.quantity,
        "lots": [
            {
                "id": lot.name,
                "on_hand_mm": lot.quantity,
                "opened": lot.opened,
                "use_by": use_by and use_by.isoformat(),
            }
        ],
    }
    draft = parse(Draft, {"card": {"rated_voltage_v": 400}, "ends": joint_dict()["ends"]})
    assert joint_file(draft, {"sleeves": [entry]}).stock.sleeves[0].on_hand_mm == quantity


# --- lots without a number ----------------------------------------------------------------------------------


def test_a_part_with_a_quantity_and_no_lot(runa):
    part = runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"quantity": 6400}}, 201)
    assert [(x["name"], x["quantity"]) for x in part["lots"]] == [("unmarked", 6400)]
    told = runa("POST", "/stock/S-28/lots", {"quantity": 100}, 409)
    assert "count that one" in told["detail"]


CSV = "kind,id,expanded_id_mm,recovered_id_mm,recovered_wall_mm,lot,quantity,unit\n"


def test_a_list_with_quantities_and_no_lots(runa):
    text = CSV + "sleeve,A,9.5,4.6,0.9,,6.4,m\nsleeve,B,22,7,2.4,L2,1500,\n"
    shown = runa("POST", "/stock-import", {"text": text})
    assert shown["errors"] == []
    assert shown["changes"][0]["details"][-1] == "new lot unmarked: 6.4 m"
    assert shown["changes"][1]["details"][-1] == "new lot L2: 1.5 m"
    runa("POST", "/stock-import", {"text": text, "apply": True})
    assert runa("GET", "/stock/A")["on_hand"] == 6400
    assert runa("GET", "/stock/B")["on_hand"] == 1500
    again = runa("POST", "/stock-import", {"text": runa("GET", "/stock.csv").decode()})
    assert (again["changes"], again["errors"]) == ([], [])


@pytest.mark.parametrize(
    ("line", "column"),
    [
        ("sleeve,A,9.5,4.6,0.9,L,6,pieces", "unit"),
        ("sleeve,A,9.5,4.6,0.9,L,six,m", "quantity"),
        ("sleeve,A,9.5,4.6,0.9,L,1e6,m", "quantity"),
        ("sleeve,A/B,9.5,4.6,0.9,L,6,m", "id"),
        ("sleeve,..,9.5,4.6,0.9,L,6,m", "id"),
        ('sleeve,A,9.5,4.6,0.9,"L\n2",6,m', "name"),
        ("sleeve,A,9.5,4.6,0.9,,6,m\nsleeve,A,9.5,4.6,0.9,,7,m", "lot"),
    ],
)
def test_what_cannot_be_taken_is_told_before_it_is_taken(runa, line: str, column: str):
    """The preview says what taking would say; nothing is written by either."""
    for apply in (False, True):
        found = runa("POST", "/stock-import", {"text": CSV + line, "apply": apply})
        assert not found["applied"]
        assert [e["column"] for e in found["errors"]] == [column], found["errors"]
    assert runa("GET", "/stock")["items"] == []


def test_a_list_brings_date_and_place_of_a_lot_up_to_date(runa):
    head = CSV.replace(",unit", ",unit,use_by,place,opened")
    line = "sleeve,A,9.5,4.6,0.9,L1,2,m,{},{},{}\n"
    runa("POST", "/stock-import", {"text": head + line.format("2027-01-31", "shelf 2", ""), "apply": True})
    change = runa(
        "POST", "/stock-import", {"text": head + line.format("2028-01-31", "van", "yes"), "apply": True}
    )["changes"][0]
    assert change["details"] == ["lot L1 use by: 2028-01-31", "lot L1 place: van", "lot L1 opened: True"]
    lot = runa("GET", "/stock/A")["lots"][0]
    assert (lot["use_by"], lot["place"], lot["opened"], lot["quantity"]) == ("2028-01-31", "van", True, 2000)
    nothing = runa("POST", "/stock-import", {"text": head + line.format("", "", "")})
    assert nothing["changes"] == []  # an empty cell says nothing
