"""The process beside the server: long runs and papers. Started by the server itself, never by hand."""

from __future__ import annotations


def run_beside(owner: int) -> int:
    """Answers the workers of a server until that is gone."""
    import django

    django.setup()
    from rowan.core.simulation.year import warm
    from rowan.web.care.health import ROOM
    from rowan.web.papers.drawing_room import DrawingRoom
    from rowan.web.studies.process import run

    warm()
    run(owner, {"paper": DrawingRoom().paper, "health": ROOM.look, "health_begin": ROOM.start})
    return 0
