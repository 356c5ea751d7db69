#!/bin/sh
# Say in a sentence when Python is missing or too old, or cannot make virtual environments.
python=${1:-python3}
if ! command -v "$python" >/dev/null 2>&1; then
  echo "Python is not installed. Install Python 3.11 or newer, then run make again." >&2
  exit 1
fi
if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))'; then
  echo "$("$python" --version) is too old. Install Python 3.11 or newer, then run make again (or name one: make PYTHON=python3.11)." >&2
  exit 1
fi
if ! "$python" -c 'import ensurepip, venv' >/dev/null 2>&1; then
  echo "Python has no venv module. On Debian: apt-get install python3-venv. Then run make again." >&2
  exit 1
fi
