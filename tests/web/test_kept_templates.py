"""Compiled templates are kept between starts, and a folder that cannot be written only makes starts slower."""

from __future__ import annotations

from pathlib import Path

import pytest
from jinja2 import Environment, FileSystemBytecodeCache

from abrazo.web import kept_templates, pages


def made(language: str = "en") -> Environment:
    pages.templates.cache_clear()
    return pages.templates(language)


def test_they_are_compiled_once(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(FileSystemBytecodeCache, "_get_default_cache_dir", lambda _: str(tmp_path))
    first = made().get_template("people/list.html")
    kept = {file.name for file in tmp_path.iterdir()}
    assert kept
    with monkeypatch.context() as patch:
        patch.setattr(Environment, "_generate", lambda *_: pytest.fail("compiled again"))
        again = made().get_template("people/list.html")
    assert again is not first and {file.name for file in tmp_path.iterdir()} == kept
    kept_templates._this_code.cache_clear()
    monkeypatch.setattr("abrazo.web.kept_templates.jinja2.__version__", "other")
    made().get_template("people/list.html")
    assert len({file.name for file in tmp_path.iterdir()}) == 2 * len(kept)  # other code, other files
    kept_templates._this_code.cache_clear()


@pytest.mark.parametrize("full", [True, False])
def test_without_a_folder_it_works_all_the_same(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, *, full: bool) -> None:
    def refuse(*_: object) -> str:
        raise OSError("no space left on device")

    if full:
        monkeypatch.setattr(FileSystemBytecodeCache, "_get_default_cache_dir", lambda _: str(tmp_path))
        monkeypatch.setattr(FileSystemBytecodeCache, "dump_bytecode", refuse)
    else:
        monkeypatch.setattr(FileSystemBytecodeCache, "_get_default_cache_dir", refuse)
    assert made().get_template("people/list.html") and not list(tmp_path.iterdir())
    pages.templates.cache_clear()
