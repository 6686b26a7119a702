"""What all tests share. No test is timed: these machines are noisy."""

from __future__ import annotations

import os
import runpy
import sys
from pathlib import Path

import pytest
from hypothesis import Phase, settings

from nail_count.demo.house import put_demo
from nail_count.store.database import open_database
from nail_count.store.store import Store

WATCH = Path(__file__).parent / "watch"
sys.path.insert(0, str(WATCH))
os.environ["PYTHONPATH"] = os.pathsep.join(filter(None, (str(WATCH), os.environ.get("PYTHONPATH"))))
if "sitecustomize" not in sys.modules or not hasattr(sys.modules["sitecustomize"], "SecondOpener"):
    runpy.run_path(str(WATCH / "sitecustomize.py"))  # from here on, in this process too

settings.register_profile("untimed", deadline=None)
settings.register_profile(
    "quick to fail", deadline=None, database=None, max_examples=15, phases=(Phase.explicit, Phase.generate)
)
settings.load_profile(os.environ.get("NAIL_COUNT_EXAMPLES", "untimed"))


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with the demo house, made once: to be copied, so that every test has a house of its own."""
    file = tmp_path_factory.mktemp("demo") / "demo.sqlite3"
    store = Store(open_database(file))
    put_demo(store)
    store.close()
    return file
