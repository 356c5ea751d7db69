#!/bin/sh
# Say in a sentence when Node is missing or too old for the front end.
if ! command -v node >/dev/null 2>&1 || ! command -v npm >/dev/null 2>&1; then
  echo "Node.js is not installed (or npm is missing). Install Node.js 20.19 or newer, then run make again." >&2
  exit 1
fi
found=$(node -p 'process.versions.node')
if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
  echo "Node.js $found is too old. Install Node.js 20.19 or newer, then run make again." >&2
  exit 1
fi
