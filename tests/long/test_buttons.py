"""Every button, with other words in the fields, on a closed day too."""

from __future__ import annotations

from pathlib import Path

import pytest

from abrazo.demo.houses import HOUSES
from tests.web.test_buttons import press_everything


@pytest.mark.parametrize(
    "typed", ["Zebulon 12", "5.00", "0", "1", "-1", "14:30", "2026-06-20", "9" * 20, "é🙂' OR 1=1", ""]
)
@pytest.mark.parametrize("name", HOUSES)
@pytest.mark.parametrize("is_open", [True, False])
def test_every_button_answers_whatever_is_typed(tmp_path: Path, name: str, typed: str, is_open: bool) -> None:
    press_everything(tmp_path, name, typed, is_open)
