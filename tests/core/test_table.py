import csv
import io

from kitesort.core.table import to_csv


def test_cells_come_back_as_they_were() -> None:
    rows = [["a", 'with "quotes", and a comma', "two\nlines"], [1, 0.1 + 0.2, None]]
    back = list(csv.reader(io.StringIO(to_csv(rows))))
    assert back[0] == rows[0]
    assert back[1] == ["1", "0.30000000000000004", ""]


def test_a_text_that_looks_like_a_formula_is_none() -> None:
    assert to_csv([["=1+1", "-2", -2, "@x", "plain"]]) == "'=1+1,'-2,-2,'@x,plain\r\n"
