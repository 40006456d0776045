"""Quantities in lists."""

import pytest

from tinknot.services import stock_csv


@pytest.mark.parametrize(("kind", "said"), [("sleeve", "1.5 m"), ("tape", "1500 rolls"), ("mesh", "1500 rolls"), ("connector", "1500 pieces"), ("kit", "1500 pieces")])  # fmt: skip
def test_quantities_are_said_in_the_unit_people_count_in(kind: str, said: str):
    assert stock_csv.amount(kind, 1500) == said
