#!/bin/sh
# Install a hashed lock into .venv: with uv from its own lock where it installs, else with pip.
set -eu
lock=$1
python=.venv/bin/python
if ! .venv/bin/uv --version >/dev/null 2>&1; then
  "$python" -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/uv.lock >/dev/null 2>&1 || true
fi
if .venv/bin/uv --version >/dev/null 2>&1 &&
  .venv/bin/uv pip install --quiet --compile-bytecode --python "$python" --require-hashes -r "$lock" 2>/dev/null; then
  exit 0
fi
"$python" -m pip install --quiet --disable-pip-version-check --require-hashes -r "$lock"
