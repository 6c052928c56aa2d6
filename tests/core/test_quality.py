import numpy as np
import pytest

from kitesort.core.raster.quality import QualityFlag, flagged


@pytest.mark.parametrize(
    ("flag", "numbers", "expected"),
    [
        (QualityFlag(name="cloud", first_bit=3), [0, 8, 12, 16], [False, True, True, False]),
        # Two bits from bit 14: only the value 3 (11 in binary) is sure.
        (
            QualityFlag(name="cloud", first_bit=14, n_bits=2, values=(3,)),
            [0, 1 << 14, 2 << 14, 3 << 14, 65535],
            [False, False, False, True, True],
        ),
        # Class codes are one field of eight bits.
        (
            QualityFlag(name="cloud", first_bit=0, n_bits=8, values=(8, 9)),
            [7, 8, 9, 10, 8 + 256],
            [False, True, True, False, True],
        ),
    ],
)
def test_a_meaning_is_found_in_its_bits(
    flag: QualityFlag, numbers: list[int], expected: list[bool]
) -> None:
    assert flag.applies_to(np.array(numbers, np.uint32)).tolist() == expected


def test_any_of_several_meanings_counts() -> None:
    flags = (QualityFlag(name="fill", first_bit=0), QualityFlag(name="water", first_bit=7))
    values = np.array([[0, 1], [128, 129]], np.float32)
    assert flagged(values, flags).tolist() == [[False, True], [True, True]]
    assert not flagged(values, ()).any()
