#!/bin/sh
# Make the virtual environment if it is missing and install one lock file into it.
set -eu
python=$1 lock=$2
"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || {
  echo "Python 3.11 or newer is needed; name it with: make PYTHON=/path/to/python3.11"
  exit 1
}
[ -x .venv/bin/python ] || "$python" -m venv .venv || {
  echo "Python's venv module is missing. On Debian: apt-get install python3-venv"
  exit 1
}
.venv/bin/python -m pip install --quiet --no-compile --disable-pip-version-check --require-hashes -r "$lock"
