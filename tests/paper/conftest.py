"""Pages are looked at with Qt's own PDF reader, which needs an application, whichever test comes first in its process."""

from __future__ import annotations

import pytest

from dribbet.bench.application import application


@pytest.fixture(scope="session", autouse=True)
def qapp():
    return application()
