"""`bin/rowan`: reckon, serve, manage."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable
from importlib import import_module
from pathlib import Path

from rowan.command.keeping import KEPT_DAYS
from rowan.command.standin_options import add_options
from rowan.core.appraise.appraisal import Appraisal, all_figures, all_findings, appraised
from rowan.core.design.design import Design
from rowan.core.design.job_file import LARGEST_BYTES, load, too_large
from rowan.core.reckon import ENGINE_VERSION, Reckoning, reckon
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Figure
from rowan.core.terms.units import System
from rowan.memory import look_seldom

BAD_INPUT = 2
# parts of `bench` that stand for themselves: module and what it runs
BENCHES = {
    "advice": ("rowan.command.advice", "run_advice_bench"),
    "log": ("rowan.command.bench_log", "run_log_bench"),
    "practice": ("rowan.command.bench_practice", "run_practice_bench"),
    "book": ("rowan.command.bench_book", "run_book_bench"),
    "care": ("rowan.command.bench_care", "run_care_bench"),
    "delays": ("rowan.command.bench_care", "run_delay_bench"),
}


def _parser() -> argparse.ArgumentParser:
    """Every command with its options."""
    parser = argparse.ArgumentParser(prog="rowan", description="Reckon, serve and look after solar heat plans.")
    commands = parser.add_subparsers(dest="command", required=True)
    reckoner = commands.add_parser("reckon", help="reckon a job file and print its figures and findings")
    reckoner.add_argument("jobfile", help="a job file, or - for standard input")
    reckoner.add_argument("--json", action="store_true", help="print JSON, SI values")
    reckoner.add_argument("--why", action="store_true", help="print each figure's formula with the numbers put in")
    reckoner.add_argument("--units", choices=("metric", "us"), default="metric")
    yearly = commands.add_parser("year", help="run a job file through a made year, minute by minute")
    yearly.add_argument("jobfile", help="a job file, or - for standard input")
    yearly.add_argument(
        "--seed", type=int, default=0, help="0 is the mean year of the place, others are years about it"
    )
    yearly.add_argument("--json", action="store_true", help="print JSON, SI values")
    yearly.add_argument("--units", choices=("metric", "us"), default="metric")
    commands.add_parser("schema", help="print the JSON Schema of the job file")
    bench = commands.add_parser("bench", help="measure and print the speed of reckoning and pages")
    bench.add_argument(
        "part",
        nargs="?",
        choices=["all", "year", "load", *BENCHES],
        default="all",
        help="the years alone, the rates of findings and cures, many people at once, a firm with 2,000 jobs, or everything",
    )
    bench.add_argument("--people", type=int, default=30, help="with load: how many at once")
    bench.add_argument("--seconds", type=float, default=120.0, help="with load: for how long")
    shots = commands.add_parser("shots", help="take pictures of the main views from the demo data")
    shots.add_argument("--to", default="docs/screenshots", help="folder to write the pictures to")
    words = commands.add_parser("words", help="the messages of the product; catalogues brought up to them and compiled")
    words.add_argument("--pages", action="store_true", help="first show everything and write down what is looked up")
    access = commands.add_parser("access", help="every kind of page under axe and a ruler, at every width")
    access.add_argument(
        "--only", default="", help="pages with any of these words, parted by semicolons, in name or address"
    )
    access.add_argument("--looks", default="", help="some of the looks, by name, with semicolons between")
    access.add_argument("--paper", action="store_true", help="as the browser prints them, on A4 and Letter")
    access.add_argument("--keep", default="", help="with --paper: a folder for the PDFs")
    standin = commands.add_parser("standin", help="imitate a controller on a plan's loop: send readings, write a log")
    add_options(standin)
    vendor = commands.add_parser("vendor", help="check the shipped front-end files against their manifest")
    vendor.add_argument("--write", action="store_true", help="write the checksums anew")
    commands.add_parser("tables", help="make the core's fluid tables anew from the library they come from")
    mutants = commands.add_parser(
        "mutants", help="make some rules wrong, one at a time, and see whether the tests notice"
    )
    mutants.add_argument("--count", type=int, default=40, help="how many (about a minute for each)")
    mutants.add_argument("--seed", type=int, default=1, help="which ones; the same for the same seed")
    _serving(commands)
    manage = commands.add_parser("manage", help="a Django management command", add_help=False)
    manage.add_argument("arguments", nargs=argparse.REMAINDER)
    return parser


def _serving(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """What serves it, looks after it and attacks it."""
    demo = commands.add_parser("demo", help="prepare the demo world and serve it on this machine")
    demo.add_argument("--fresh", action="store_true", help="start the demo data anew")
    demo.add_argument("--port", type=int, default=8000, help="the first port that is tried")
    demo.add_argument("--no-serve", action="store_true", help="only prepare")
    serving = commands.add_parser("serve", help="in service: settings from the environment, said before it starts")
    serving.add_argument("--bind", default="127.0.0.1:8000", help="address and port, behind a proxy of yours")
    serving.add_argument("--workers", type=int, default=0, help="processes; as many as cores where none is said")
    backup = commands.add_parser("backup", help="everything in one file, while the server goes on")
    backup.add_argument("target", help="the file to write, or with --nightly the folder")
    backup.add_argument("--nightly", action="store_true", help="name it by the day and keep the newest ones alone")
    backup.add_argument("--keep", type=int, default=KEPT_DAYS, help="how many nightly ones are kept")
    restoring = commands.add_parser("restore", help="put a backup back; asks where something is there already")
    restoring.add_argument("source", help="a file that backup wrote")
    restoring.add_argument("--yes", action="store_true", help="without asking")
    beside = commands.add_parser("beside", help="long runs and papers of a server: it starts this itself")
    beside.add_argument("--owner", type=int, required=True, help="the server's process number")
    prove = commands.add_parser("prove", help="attack saving: processes killed, the disk full, the database held")
    prove.add_argument("what", choices=["kill", "disk", "cut", "site"])
    prove.add_argument("--saves", type=int, default=10_000, help="how many changes are saved meanwhile")
    prove.add_argument("--seed", type=int, default=1, help="when and what is killed; the same for the same seed")


def main(argv: list[str] | None = None) -> int:
    """Run a command; returns the exit code: 0 done, 2 input that cannot be taken."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "rowan.web.config.settings.demo")
    look_seldom()
    options = _parser().parse_args(argv)
    match options.command:
        case "reckon":
            return _reckon(options)
        case "year":
            return _year(options)
        case "schema":
            from rowan.core.design.schema import schema_text

            print(schema_text(), end="")
            return 0
        case "standin":
            return _standin(options)
        case "vendor":
            from rowan.command.vendor import check

            return check(write=options.write)
        case "tables":
            from rowan.command.tables import write_tables

            write_tables()
            return 0
        case "bench":
            return _bench(options)
        case "words":
            from rowan.command.words import run_words
            from rowan.command.words_pages import run_pages

            return (run_pages() if options.pages else 0) or run_words()
        case "access":
            from rowan.command.access import run_access
            from rowan.command.access_paper import run_paper

            return run_paper(options.only, options.keep) if options.paper else run_access(options.only, options.looks)
        case "mutants":
            from rowan.command.mutants import run_mutants

            return run_mutants(options.count, options.seed)
        case "demo":
            from rowan.command.demo import run_demo

            return run_demo(options.port, fresh=options.fresh, serve=not options.no_serve)
        case "serve" | "backup" | "restore" | "prove" | "beside":
            return _in_service(options)
        case "shots":
            from rowan.command.shots import take

            take(Path(options.to))
            return 0
        case _:
            from django.core.management import execute_from_command_line

            execute_from_command_line(["rowan manage", *options.arguments])
            return 0


def _bench(options: argparse.Namespace) -> int:
    """What is measured: one part, or everything but the crowd."""
    if options.part == "load":
        from rowan.command.load import run_load

        return run_load(options.people, options.seconds, seed=1)
    if options.part in BENCHES:
        module, name = BENCHES[options.part]
        getattr(import_module(module), name)()
        return 0
    from rowan.command.bench import run_bench, run_year_bench

    (run_year_bench if options.part == "year" else run_bench)()
    return 0


def _in_service(options: argparse.Namespace) -> int:
    """What whoever runs it for others does with it."""
    if options.command == "serve":
        from rowan.command.serve import run_serve

        return run_serve(options.bind, options.workers)
    if options.command == "prove":
        from rowan.command.prove import run_proof

        return run_proof(options.what, options.saves, options.seed)
    if options.command == "beside":
        from rowan.command.beside import run_beside

        return run_beside(options.owner)
    from rowan.command.keeping import run_backup, run_restore

    if options.command == "backup":
        return run_backup(options.target, is_nightly=options.nightly, keep=options.keep)
    return run_restore(options.source, yes=options.yes)


def _design(name: str) -> Design:
    """The design in a file, or on standard input. Raises OSError and RowanError."""
    if name != "-":
        long = too_large(Path(name).stat().st_size)
        if long:
            raise long
    # one byte more than can be taken is enough to know; a pipe may have no end
    return load(sys.stdin.buffer.read(LARGEST_BYTES + 1) if name == "-" else Path(name).read_bytes())


def _said(options: argparse.Namespace, answer: Callable[[Design, System], str]) -> int:
    """Prints what is answered of a job file, or what is wrong with it."""
    name: str = options.jobfile
    system: System = "us" if options.units == "us" else "metric"
    try:
        print(answer(_design(name), system))
    except OSError as error:
        print(f"rowan: {name} cannot be read: {error}", file=sys.stderr)
        return BAD_INPUT
    except RowanError as error:
        print(f"rowan: {name}: {error.text(system)}", file=sys.stderr)
        return BAD_INPUT
    return 0


def _reckon(options: argparse.Namespace) -> int:
    def answer(design: Design, system: System) -> str:
        result = reckon(design)
        judged = appraised(design, result, cures=True)
        if options.json:
            return json.dumps(_as_data(result, judged), ensure_ascii=False, indent=1)
        return _as_text(result, judged, system, why=options.why)

    return _said(options, answer)


def _standin(options: argparse.Namespace) -> int:
    from rowan.command.standin import run

    try:
        return run(options, _design(options.jobfile))
    except OSError as error:
        print(f"rowan: {options.jobfile} cannot be read: {error}", file=sys.stderr)
    except RowanError as error:
        print(f"rowan: {options.jobfile}: {error.text('metric')}", file=sys.stderr)
    return BAD_INPUT


def _year(options: argparse.Namespace) -> int:
    from rowan.command.year import year_data, year_text

    def answer(design: Design, system: System) -> str:
        if options.json:
            return json.dumps(year_data(design, options.seed), ensure_ascii=False, indent=1)
        return year_text(design, options.seed, system)

    return _said(options, answer)


def _as_data(result: Reckoning, judged: Appraisal) -> dict[str, object]:
    figures = {
        key: {"name": f.name, "value_si": f.value, "dimension": f.dimension, "inside": f.inside, "source": f.why.source}
        for key, f in all_figures(result, judged).items()
    }
    findings = [
        {
            "key": f.key,
            "level": f.level,
            "bench": f.stage,
            "part": f.part,
            "title": f.title.text(),
            "reason": f.reason.text(),
            "cures": [
                {
                    "label": cure.label.text(),
                    "changes": [{"path": c.path, "value": _plain(c.value)} for c in cure.changes],
                }
                for cure in f.cures
            ],
        }
        for f in all_findings(result, judged)
    ]
    return {"engine_version": ENGINE_VERSION, "figures": figures, "findings": findings}


def _plain(value: object) -> object:
    from pydantic import BaseModel

    return value.model_dump(mode="json") if isinstance(value, BaseModel) else value


def _as_text(result: Reckoning, judged: Appraisal, system: System, *, why: bool) -> str:
    lines = []
    for figure in all_figures(result, judged).values():
        mark = " " if figure.inside else "!"
        value = f"{figure.number(system):>10} {figure.unit(system):<12}"
        lines.append(f"{mark} {figure.name:<28}{value} {figure.basis.text(system)}")
        if why:
            lines += [f"      {line}" for line in _why_lines(figure, system)]
    lines.append("")
    lines += [f"{f.level}: {f.title.text(system)}. {f.reason.text(system)}" for f in all_findings(result, judged)] or [
        "nothing found"
    ]
    return "\n".join(lines)


def _why_lines(figure: Figure, system: System) -> list[str]:
    expression, why = figure.why.expression, figure.why
    if expression is None:
        return [why.method.text(system) if why.method else "", why.source]
    letter = why.letter + (f"({why.letter_index})" if why.letter_index else "")
    return [
        f"{letter} = {expression.letters_text()}",
        f"= {expression.numbers_text(figure.printed_digits())}",
        why.source,
    ]


if __name__ == "__main__":
    sys.exit(main())
