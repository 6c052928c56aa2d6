"""Class schemes as files: what we write is read the same, what cannot be is said; and kinds."""

import json

import numpy as np
import pytest

from kitesort.core.errors import InputError, TrainingError
from kitesort.core.table import to_csv
from kitesort.core.training.kinds import second_kind
from kitesort.core.training.scheme_file import (
    TakenClass,
    read_scheme,
    scheme_to_csv,
    scheme_to_json,
)

SCHEME = [
    TakenClass("Ried ▲", 4, "#999933", "hohes Gras, „nass“", "Wetland"),
    TakenClass("Wetland", 9, "#44aa99", "", None),
    TakenClass("=1+1", 2, "#ddcc77", "a, b;\tc", None),
]


def test_json_comes_back_and_speaks_the_extension_s_words() -> None:
    content = scheme_to_json(SCHEME)
    assert read_scheme(content, "x.json") == [
        TakenClass(c.name, c.code, c.colour, " ".join(c.description.split()), c.parent)
        for c in SCHEME
    ]
    first, second, *_ = json.loads(content)["classification:classes"]
    assert first == {"value": 0, "name": "No data", "nodata": True}
    assert second["color_hint"] == "999933" and second["value"] == 4


@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_tables(separator: str) -> None:
    rows = ["code|name|colour|description|parent", "4|Reed|#999933|tall|Wet", "|Wet||", ""]
    content = "\n".join(rows).replace("|", separator).encode("utf-8-sig")
    assert read_scheme(content, "x.csv") == [
        TakenClass("Reed", 4, "#999933", "tall", "Wet"),
        TakenClass("Wet"),
    ]


def test_our_table_comes_back() -> None:
    read = read_scheme(scheme_to_csv(SCHEME), "x.csv")
    assert [c.code for c in read] == [4, 9, 2]
    assert read[2].name == "=1+1", "the apostrophe is for spreadsheets"


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"\xff\xfe", "UTF-8"),
        (b"{", "no JSON"),
        (b"[1, 2]", "no list"),
        (b'{"classes": []}', "no list"),
        (b"{" * 100_000, "no JSON"),
        (b"[]", "no class in it"),
        (b'[{"value": 65536, "name": "x"}]', "codes go from 1 to 65535"),
        (b'[{"value": 255, "name": "x"}]', "255, which means unclassified"),
        (b'[{"value": 1, "name": ""}, {"value": 2}]', ""),
        (b'[{"value": 1, "name": "a"}, {"value": 1, "name": "b"}]', "same name or code"),
        (b'[{"value": 1, "name": "a"}, {"value": 2, "name": "A"}]', "same name or code"),
        (b'[{"name": "a", "parent": "b"}]', "not there"),
        (b'[{"name": "a", "parent": "a"}]', "no loops"),
        (b'[{"name": "a", "parent": "b"}, {"name": "b", "parent": "a"}]', "no loops"),
        (b"a,b\n1,2", "no column"),
        (b"name\n" + b"\n".join(b"c%d" % i for i in range(255)), "at most 254"),
        (b"name\n" + b"x" * 81, "at most 80 letters"),
        (b"code,name\n-5,a\n", "“-5” is no code"),
        (b"code,name\n12abc,a\n", "“12abc” is no code"),
        (b"code,name\n7.5,a\n", "“7.5” is no code"),
        (b"code,name\n" + b"9" * 5000 + b",a\n", "is no code"),
        ("code,name\n²,a\n".encode(), "“²” is no code"),
        (b'[{"value": true, "name": "a"}]', "“True” is no code"),
        (b'code,name\n1,"a\n2,b\n', "cannot be read as a table"),
    ],
)
def test_what_is_no_scheme_is_said(content: bytes, words: str) -> None:
    if not words:
        assert [c.name for c in read_scheme(content, "x")] == ["1", "2"]
        return
    with pytest.raises(InputError, match=words):
        read_scheme(content, "x")


def test_the_second_kind_is_found_along_the_line_of_most_difference() -> None:
    rng = np.random.default_rng(2)
    means = np.concatenate([rng.normal(0, 0.1, (6, 3)), rng.normal(2, 0.1, (3, 3))])
    shuffled = rng.permutation(9)
    found = second_kind(means[shuffled], np.full(9, 20))
    assert found.tolist() == (shuffled >= 6).tolist()
    assert second_kind(means, np.array([1] * 6 + [90] * 3)).tolist() == [True] * 6 + [False] * 3
    for few in (means[:3], np.zeros((5, 3))):
        with pytest.raises(TrainingError):
            second_kind(few, np.full(len(few), 20))


def test_codes_as_spreadsheets_save_them() -> None:
    read = read_scheme(b'code,name\n7.0,a\n"12",b\n3.00,c\n', "x")
    assert [c.code for c in read] == [7, 12, 3]
    assert (
        read_scheme(b'[{"value": "12", "name": "b"}, {"value": 4.0, "name": "c"}]', "x")[0].code
        == 12
    )


@pytest.mark.parametrize("name", ["=1+1", "-5 degrees", "@home", "+ more", "'quoted'"])
def test_names_that_a_spreadsheet_takes_for_formulas_come_back(name: str) -> None:
    table = to_csv([("code", "name"), (1, name)])
    assert [c.name for c in read_scheme(table.encode(), "x")] == [name]
