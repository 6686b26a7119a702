"""Ctrl+C on the command line: long work ends at once, and what was found until then is printed."""

from __future__ import annotations

import os
import signal
import subprocess
import sys

import pytest

from nail_count.terminal import Stopped, looked_for

WAITS = """
import signal, time
signal.signal(signal.SIGINT, signal.default_int_handler)  # a shell starts what runs in the background deaf to it
from nail_count.terminal import looked_for
def work(seconds):
    print("at work", flush=True)
    time.sleep(seconds)
    return "done"
print(looked_for(work, "Looking.", 600), flush=True)
"""


def test_work_in_a_process_ends_when_it_is_interrupted() -> None:
    command = subprocess.Popen([sys.executable, "-c", WAITS], stdout=subprocess.PIPE, text=True)
    assert command.stdout is not None
    assert command.stdout.readline() == "at work\n"
    command.send_signal(signal.SIGINT)
    rest, _ = command.communicate(timeout=60)
    assert (rest, command.returncode) == ("None\n", 0)


def test_work_in_a_process_answers_and_raises_as_it_would_here() -> None:
    assert looked_for(divmod, "Looking.", 7, 2) == (3, 1)
    with pytest.raises(ZeroDivisionError):
        looked_for(divmod, "Looking.", 7, 0)


def test_ctrl_c_stops_work_between_pieces_and_then_ends_the_program() -> None:
    before = signal.getsignal(signal.SIGINT)
    with Stopped() as stopped:
        assert stopped.going_on()
        os.kill(os.getpid(), signal.SIGINT)
        assert not stopped.going_on() and signal.getsignal(signal.SIGINT) is before, "pressed again, it ends"
    assert signal.getsignal(signal.SIGINT) is before
