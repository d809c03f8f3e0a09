"""`bin/rowan bench log`: a year of minutes of a logger, opened, read, packed and drawn, in a process of its own."""

from __future__ import annotations

import math
import time
from datetime import UTC, datetime, timedelta

from rowan.command.bench import row

ROWS = 525_600
BEGINS = datetime(2025, 1, 1, tzinfo=UTC)


def _year() -> bytes:
    """A year of minutes as a logger writes it: semicolons, decimal commas, day first."""
    lines = ["Date;Field;Store top;Store foot;Pump;Gauge (bar);Sun"]
    for minute in range(ROWS):
        sun = max(0.0, math.sin((minute % 1440 / 1440 - 0.25) * 2 * math.pi))
        values = f"{8 + 60 * sun + minute % 7 / 10:.1f};{50 + minute % 90 / 10:.1f};{24 + minute % 110 / 10:.1f};{int(sun > 0.4)}"
        at = BEGINS + timedelta(minutes=minute)
        lines.append(f"{at:%d.%m.%Y %H:%M};" + f"{values};{1.7 + sun / 10:.2f};{900 * sun:.0f}".replace(".", ","))
    return "\n".join(lines).encode()


def run_log_bench() -> None:
    """Print each row beside its goal."""
    import django

    django.setup()
    from rowan.core.records.logs.days import days_of
    from rowan.core.records.logs.log import as_guessed, opened, read_log
    from rowan.web.care.log_drawing import log_drawing
    from rowan.web.care.log_services import packed

    data = _year()
    start = time.perf_counter()
    found = opened(data)
    log = read_log(found, as_guessed(found), zone_h=1.0, now=BEGINS + timedelta(days=800))
    read = time.perf_counter() - start
    row(
        f"a log of {len(log.at)} rows read",
        f"{read:.1f} s",
        "≤ 5 s",
        f"{len(data) / 1e6:.0f} MB, {len(log.columns)} columns",
    )
    start = time.perf_counter()
    columns = packed(log)
    row("its columns packed", f"{time.perf_counter() - start:.1f} s", "", f"{len(columns) / 1e6:.1f} MB")
    start = time.perf_counter()
    drawing = log_drawing(days_of(log, zone_h=1.0), "metric").svg()
    row(
        "its days summed and drawn",
        f"{(time.perf_counter() - start) * 1000:.0f} ms",
        "",
        f"{len(drawing) / 1000:.0f} kB",
    )
    row("memory of this process at its highest", f"{_high_water() / 1024:.0f} MB", "≤ 500 MB")


def _high_water() -> float:
    """The most this process has held since it became this one [kB]."""
    with open("/proc/self/status") as status:
        return float(next(line for line in status if line.startswith("VmHWM")).split()[1])
