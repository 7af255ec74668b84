"""Long tests: `make test-long`, before an issue is called done. They begin with the same houses as the others."""

from __future__ import annotations

from tests.desk.conftest import desk, founded
from tests.stories.conftest import browser, clerk, running, template
from tests.web.test_pages import client, made

__all__ = ["browser", "clerk", "client", "desk", "founded", "made", "running", "template"]
