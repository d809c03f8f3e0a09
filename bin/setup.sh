# Shared by the commands: a virtual environment with pinned, hashed packages, and system packages where root may install them.
# Source it; it sets $root and $python.
set -euo pipefail
root="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
venv="${ROWAN_VENV:-$root/.venv}"
python="$venv/bin/python"
export PYTHONPATH="$root${PYTHONPATH:+:$PYTHONPATH}"
# Python keeps what it compiled, also on machines that are told not to: else each process spends seconds on compiling every
# package it imports
unset PYTHONDONTWRITEBYTECODE

# says what is done and how long it usually takes, then how long it took
step_of() {
  local words="$1" began=$SECONDS; shift
  say "- $words"
  "$@" || return $?
  say "  done in $((SECONDS - began)) s"
}
say() { printf '%s\n' "$*" >&2; }
is_root() { [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; }

apt_updated=""
apt_install() {
  if [ -z "$apt_updated" ]; then apt-get update -qq >/dev/null && apt_updated=yes; fi
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

# Debian's own first: it is linked as a whole, and what pages and tests ask of it takes a fifth less of the processor than of one
# built as a shared library (docs/decisions/0044)
find_python() {
  local candidate
  for candidate in /usr/bin/python3.11 python3.11 python3; do
    "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' >/dev/null 2>&1 || continue
    if makes_venvs "$candidate"; then printf '%s' "$candidate"; return; fi
    if [ "$candidate" = /usr/bin/python3.11 ] && is_root; then
      say "Installing python3.11-venv"
      if apt_install python3.11-venv && makes_venvs "$candidate"; then printf '%s' "$candidate"; return; fi
    fi
  done
  say "Rowan needs Python 3.11 with its venv module. On Debian 12: apt-get install python3.11 python3.11-venv"; exit 1
}
makes_venvs() { "$1" -c 'import ensurepip, venv' >/dev/null 2>&1; }

# ensure_venv run|test: made anew only when the list of packages changed
ensure_venv() {
  local list="$root/requirements/$1.txt" stamp
  stamp="$venv/.installed-$1-$(sha256sum "$list" | cut -c1-16)"
  [ -e "$stamp" ] && return
  if [ ! -x "$python" ]; then
    local base; base="$(find_python)"
    say "- Making a virtual environment (once, some seconds)"
    "$base" -m venv "$venv"
  fi
  # wheels only: nothing is built here
  step_of "Installing Python packages (once; half a minute to two, by the network)" \
    "$python" -m pip install --quiet --disable-pip-version-check --no-compile --only-binary :all: --require-hashes -r "$list"
  touch "$stamp"
}

has_pango() { "$python" -c 'import ctypes.util, sys; sys.exit(not (ctypes.util.find_library("pango-1.0") and ctypes.util.find_library("pangoft2-1.0")))'; }
ensure_pango() {
  has_pango && return
  if is_root; then step_of "Installing Pango for papers (once, about ten seconds)" apt_install libpango-1.0-0 libpangoft2-1.0-0 || say "Pango could not be installed: papers will say what to do."
  else say "Papers need Pango: apt-get install libpango-1.0-0 libpangoft2-1.0-0. Everything else works without it."; fi
}

ensure_browser() {
  if command -v chromium-headless-shell >/dev/null 2>&1 && command -v chromedriver >/dev/null 2>&1; then return; fi
  # driver and shell must be of one version: both are asked for, whichever is missing; the whole browser serves as well, slower
  local what="Installing Chromium's shell and ChromeDriver for the browser tests (once, about a minute)"
  if is_root && { step_of "$what" apt_install chromium-driver chromium-headless-shell || apt_install chromium chromium-driver; }; then return; fi
  if command -v chromium >/dev/null 2>&1 && command -v chromedriver >/dev/null 2>&1; then return; fi
  say "Browser tests need Debian's chromium-driver and chromium-headless-shell, or chromium."
  exit 1
}
