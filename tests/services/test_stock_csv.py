"""Quantities in lists."""

import pytest

from tinknot.services import stock_csv


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("sleeve", "1.5 m"),
        ("tape", "1500 rolls"),
        ("mesh", "1500 rolls"),
        ("connector", "1500 pieces"),
        ("kit", "1500 pieces"),
    ],
)
def test_quantities_are_said_in_the_unit_people_count_in(kind: str, said: str):
    assert stock_csv.amount(kind, 1500) == said


@pytest.mark.parametrize(
    "text", ["=1+1", "+49", "-6 shelf", "@home", "'quoted", "plain", "", "'", "'=x", "=", "\tx"]
)
def test_no_cell_of_text_is_run_by_a_spreadsheet_and_all_come_back(text: str):
    written = stock_csv.safe(text)
    assert written[:1] not in stock_csv.RUN or not written
    if not text.startswith("'"):
        assert stock_csv.unsafe(written) == text
