"""Checks the shipped front-end files against their manifest of version, licence and checksum."""

from __future__ import annotations

import hashlib
import json
import sys
from pathlib import Path

FOLDER = Path(__file__).resolve().parents[1] / "web" / "ui" / "static" / "vendor"
MANIFEST = FOLDER / "manifest.json"


def _sum(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def problems() -> list[str]:
    """What does not agree: missing, changed or unlisted files, or a licence text that is not there."""
    manifest = json.loads(MANIFEST.read_text(encoding="utf-8"))
    listed, found = set(), []
    for package in manifest["packages"]:
        if not (FOLDER / package["licence_file"]).is_file():
            found.append(f"{package['name']}: licence text {package['licence_file']} is missing")
        for name, expected in package["files"].items():
            listed.add(name)
            path = FOLDER / name
            if not path.is_file():
                found.append(f"{name} is missing")
            elif _sum(path) != expected:
                found.append(f"{name} is not the file of {package['name']} {package['version']}")
    present = {p.relative_to(FOLDER).as_posix() for p in FOLDER.rglob("*") if p.is_file()}
    found += [
        f"{name} is not in the manifest"
        for name in sorted(present - listed)
        if not name.startswith(("licences/", "manifest"))
    ]
    return found


def check(*, write: bool = False) -> int:
    """Print what is wrong; 0 if nothing is. `write` records the present checksums."""
    if write:
        manifest = json.loads(MANIFEST.read_text(encoding="utf-8"))
        for package in manifest["packages"]:
            package["files"] = {name: _sum(FOLDER / name) for name in package["files"]}
        MANIFEST.write_text(json.dumps(manifest, indent=1) + "\n", encoding="utf-8")
    found = problems()
    for line in found:
        print(line, file=sys.stderr)
    return 1 if found else 0
