"""Long tests: `make test-long`, before an issue is called done. They begin with the same houses as the others."""

from __future__ import annotations

from tests.stories.conftest import browser, clerk, running, template
from tests.web.test_pages import client, made

__all__ = ["browser", "clerk", "client", "made", "running", "template"]
