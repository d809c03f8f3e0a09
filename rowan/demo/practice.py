"""What the apprentice of the demo firm has practised: a filling with the vessel left open, papers, a hunt, a joint cut open."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from rowan.core.practice.filling import master
from rowan.core.practice.hunt import HUNTED
from rowan.core.practice.rig import Turn
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.practice import papers, rigs, services
from rowan.web.practice.models import HUNT, HandSkill, PracticeRun

SEED = 4127
# the vessel stands open until somebody sees why nothing is shaken loose [s]
OPEN_UNTIL_S = 900.0
# papers: task, days ago, and the slip that was made in it, by its place
PAPERS = (("vessel", 9, 0), ("dangers", 6, None), ("tub", 4, 1))


def load_practice(learner: User, lead: User, plan: Plan) -> None:
    """The apprentice's book; does nothing where there is one."""
    if learner.practice_runs.exists():
        return
    _filling(learner, plan)
    for task, days, slip in PAPERS:
        run = papers.begin(person=learner, plan=plan, task=task, seed=SEED)
        sheet = papers.sheet_in(run)
        answers = sheet.masters() | (dict(sheet.slips[slip].answers) if slip is not None else {})
        _days_ago(papers.hand_in(run=run, answers=answers), days)
    hunt = papers.begin(person=learner, plan=plan, task=HUNT, seed=SEED)
    fault = papers.house_in(hunt).fault
    cure, way = HUNTED[fault]
    for instrument in ("log", *way):
        papers.use(run=hunt, instrument=instrument)
    _days_ago(papers.put_right(run=hunt, named=fault, cures=(cure,)), 2)
    seen = services.witness(
        person=learner, by=lead, skill="brazing", words="Cut open: filled all round, flux washed off"
    )
    HandSkill.objects.filter(pk=seen.pk).update(seen_on=timezone.localdate() - timedelta(days=11))


def _filling(learner: User, plan: Plan) -> None:
    """A master's handles, but for the vessel."""
    said = {"old_water": 3e-3, "tub_full": 7e-3, "mix_end": 0.39}
    run = services.begin(person=learner, plan=plan, said=said)
    rig, ready, _ = rigs.rig_in(run)
    turns = [Turn(0.0, "vessel", "open"), *master(rig, ready), Turn(OPEN_UNTIL_S, "vessel", "shut")]
    run.turns = [[turn.at, turn.handle, turn.position] for turn in sorted(turns, key=lambda one: one.at)]
    run.until = int(turns[-2].at) + 10
    run.save(update_fields=["turns", "until"])
    _days_ago(services.end(run=run), 12)


def _days_ago(run: PracticeRun, days: int) -> None:
    when = timezone.now() - timedelta(days=days)
    PracticeRun.objects.filter(pk=run.pk).update(begun=when, ended=when)
