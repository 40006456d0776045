"""Stock over HTTP: add, edit, count, retire, import all or nothing."""

FIGURES = {"id": "S-28", "expanded_id_mm": 28, "recovered_id_mm": 9, "recovered_wall_mm": 2.6, "lined": True}


def test_add_edit_count_retire(runa, sign_in):
    part = runa(
        "POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"name": "L1", "quantity": 6400}}, 201
    )
    assert part["on_hand"] == 6400
    edited = runa("PUT", "/stock/S-28", {"figures": FIGURES | {"name": "Dual 28"}}, If_Match='"1"')
    assert edited["version"] == 2
    assert "somebody else" in runa("PUT", "/stock/S-28", {"figures": FIGURES}, 409, If_Match='"1"')["detail"]
    runa("PUT", "/stock/S-28", {"figures": FIGURES}, 422)
    lot = part["lots"][0]["id"]
    assert runa("POST", f"/stock/S-28/lots/{lot}/count", {"quantity": 6000})["on_hand"] == 6000
    assert (
        runa("POST", "/stock/S-28/lots", {"name": "L2", "quantity": 1000, "use_by": "2028-01-31"}, 201)[
            "on_hand"
        ]
        == 7000
    )
    runa("POST", "/stock/S-28/lots", {"name": "L2", "quantity": 1}, 409)
    runa("POST", "/stock/S-28/lots/999/count", {"quantity": 1}, 404)
    assert runa("POST", "/stock/S-28/retired", {"retired": True})["retired"]
    assert runa("GET", "/stock")["items"] == []
    assert len(runa("GET", "/stock?retired=yes&kind=sleeve")["items"]) == 1
    sign_in("vera")("POST", "/stock", {"kind": "sleeve", "figures": FIGURES}, 403)


def test_bad_figures_name_the_field(runa):
    def path(**change):
        answer = runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES | change}, 422)
        return answer["errors"][0]["path"]

    assert path(recovered_id_mm=30) == "/figures/expanded_id_mm"
    assert path(recovered_wall_mm=-1) == "/figures/recovered_wall_mm"
    assert path(on_hand_mm=5) == "/figures/on_hand_mm"
    assert path(colr="red") == "/figures/colr"
    barrel = {"id": "B", "od_mm": 5, "length_mm": 20, "insertion_mm": 11}
    assert (
        runa("POST", "/stock", {"kind": "connector", "figures": barrel}, 422)["errors"][0]["path"]
        == "/figures/insertion_mm"
    )
    runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES}, 201)
    runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES}, 409)
    runa("POST", "/stock/none/retired", {"retired": True}, 404)


CSV = """kind;id;expanded_id_mm;recovered_id_mm;recovered_wall_mm;lined;lot;quantity
sleeve;A;9,5;4,6;0,9;no;L1;2000
sleeve;B;22;7;2,4;yes;L2;1500
"""


def test_import_shows_then_takes(runa):
    shown = runa("POST", "/stock-import", {"text": CSV})
    assert (shown["applied"], len(shown["changes"]), shown["errors"]) == (False, 2, [])
    assert runa("GET", "/stock")["items"] == []
    assert runa("POST", "/stock-import", {"text": CSV, "apply": True})["applied"]
    parts = {p["part_id"]: p for p in runa("GET", "/stock")["items"]}
    assert parts["A"]["figures"]["expanded_id_mm"] == 9.5
    assert parts["B"]["on_hand"] == 1500
    again = runa("POST", "/stock-import", {"text": CSV.replace("2,4", "2,6").replace("1500", "1400")})
    assert again["unchanged"] == 1
    assert again["changes"][0]["details"] == [
        "Wall when free: 2.4 mm → 2.6 mm",
        "lot L2 counted: 1.5 m → 1.4 m",
    ]


def test_one_bad_line_takes_nothing(runa):
    bad = CSV + "sleeve;C;twelve;4;1;yes;L3;100\nsleeve;D;5;9;1;maybe;L4;1\n"
    report = runa("POST", "/stock-import", {"text": bad, "apply": True})
    assert report["applied"] is False
    assert [(e["line"], e["column"]) for e in report["errors"]] == [(4, "expanded_id_mm"), (5, "lined")]
    assert runa("GET", "/stock")["items"] == []
    assert runa("POST", "/stock-import", {"text": "kind,idd\nsleeve,x"})["errors"][0]["column"] == "idd"
    assert runa("POST", "/stock-import", {"text": ""})["errors"]


def test_export_reads_back_unchanged(runa):
    runa("POST", "/stock-import", {"text": CSV, "apply": True})
    report = runa("POST", "/stock-import", {"text": runa("GET", "/stock.csv").decode()})
    assert (report["changes"], report["errors"]) == ([], [])


def test_fit_check_from_stock(runa):
    assert runa("POST", "/fit", {"pass_od_mm": 21.159, "seal_od_mm": 15.4})["picked"] is None
    runa(
        "POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"name": "L1", "quantity": 6400}}, 201
    )
    found = runa("POST", "/fit", {"pass_od_mm": 21.159, "seal_od_mm": 15.4, "need_lined": True})
    assert (found["picked"], round(found["ratio_needed"], 3)) == ("S-28", 1.603)
    assert runa("POST", "/fit", {"pass_od_mm": 0, "seal_od_mm": 1}, 422)["errors"][0]["path"] == "/pass_od_mm"


def test_a_list_with_odd_line_ends_or_an_endless_field_is_told(runa):
    odd = {"text": "kind,id\rsleeve,x\r", "apply": False}
    assert runa("POST", "/stock-import", odd)["errors"]  # read as two lines, and the figures are missing
    endless = {"text": "kind,id\nsleeve," + "x" * 200_000, "apply": False}
    found = runa("POST", "/stock-import", endless)
    assert "cannot be read" in found["errors"][0]["message"]
    assert not found["applied"]


def test_a_list_that_leaves_runs_nothing_in_a_spreadsheet(runa):
    figures = FIGURES | {"name": "=HYPERLINK(1)", "longitudinal_change_pct": -6}
    runa(
        "POST",
        "/stock",
        {"kind": "sleeve", "figures": figures, "lot": {"name": "+L1", "quantity": 6400, "place": "@van"}},
        201,
    )
    text = runa("GET", "/stock.csv").decode()
    for cell in ("'=HYPERLINK(1)", "'+L1", "'@van", ",-6.0,"):  # a figure below zero is a figure
        assert cell in text
    again = runa("POST", "/stock-import", {"text": text})
    assert (again["changes"], again["errors"]) == ([], [])
