"""One parser under the fuzzer, in a process of its own: `python -m tests.fuzz.search NAME SECONDS FOLDER`."""

from __future__ import annotations

import sys
from pathlib import Path

import atheris
import django

django.setup()

import rowan.core.simulation.year  # noqa: E402, F401  the loop is compiled by itself and takes no instruments

with atheris.instrument_imports(include=["rowan.core", "rowan.web.editing"]):
    from tests.fuzz.targets import REFUSALS, TARGETS


def main() -> None:
    """Runs until the time is over or a text is found that is neither taken nor refused."""
    name, seconds, folder = sys.argv[1], int(sys.argv[2]), Path(sys.argv[3])
    target = TARGETS[name]
    for number, seed in enumerate(target.seeds):
        (folder / f"{name}-{number}").write_bytes(seed)

    def one(data: bytes) -> None:
        try:
            target.parse(data)
        except REFUSALS as error:
            assert len(str(error)) > 5, f"refused without words: {data!r}"

    atheris.Setup(
        [
            sys.argv[0],
            f"-max_total_time={seconds}",
            "-timeout=20",
            f"-artifact_prefix={folder}/found-{name}-",
            str(folder),
        ],
        one,
    )
    atheris.Fuzz()


main()
