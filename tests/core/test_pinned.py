"""Every figure and finding of the demo's plans, pinned: whatever moves one on purpose moves it here too, and says why.

That a value is right is shown by the reference cases and the sums by hand; this shows that nobody moved it unnoticed.
`python -m tests.core.test_pinned` writes them anew.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest

from rowan.core.appraise.appraisal import all_figures, all_findings, appraised
from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.studies.choices import with_kind
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_a, kvist_plan_b
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from rowan.demo.tolliver import tolliver
from tests.core.designs import altered

PINNED = Path(__file__).parent / "pinned.json"
PLANS: dict[str, Callable[[], Design]] = {
    "Kvist A": kvist_plan_a,
    "Kvist B": kvist_plan_b,
    "Sandreef": sandreef,
    "Tolliver": tolliver,
    "Corrim": corrim,
    "Pipwater": pipwater,
    "Kvist B, two tanks": lambda: altered(kvist_plan_b(), store__backup="second", store__second_l=150.0),
    "Kvist B, no pump": lambda: with_kind(kvist_plan_b(), "thermosiphon"),
}
DIGITS = 7


def pins(design: Design) -> dict[str, object]:
    """Every figure in SI and the level of every finding."""
    reckoning = reckon(design)
    judged = appraised(design, reckoning)
    figures = {key: float(f"{f.value:.{DIGITS}g}") for key, f in sorted(all_figures(reckoning, judged).items())}
    findings = {f.key: f.level for f in sorted(all_findings(reckoning, judged), key=lambda f: f.key)}
    return {"figures": figures, "findings": findings}


@pytest.mark.parametrize("name", PLANS)
def test_every_figure_and_finding_is_as_pinned(name: str) -> None:
    wanted = json.loads(PINNED.read_text(encoding="utf-8"))[name]
    found = pins(PLANS[name]())
    assert found["findings"] == wanted["findings"]
    assert set(found["figures"]) == set(wanted["figures"])  # type: ignore[call-overload]
    for key, value in wanted["figures"].items():
        # the year's sums may differ in their last digits between processors
        assert found["figures"][key] == pytest.approx(value, rel=1e-4, abs=1e-9), key  # type: ignore[index]


if __name__ == "__main__":
    PINNED.write_text(
        json.dumps({name: pins(make()) for name, make in PLANS.items()}, indent=1) + "\n", encoding="utf-8"
    )
