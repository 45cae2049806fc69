#!/usr/bin/env bash
# Runs a command under a virtual screen of its own.
set -euo pipefail
runtime=$(mktemp -d); chmod 700 "$runtime"
trap 'rm -rf "$runtime"' EXIT
XDG_RUNTIME_DIR=$runtime xvfb-run -a -s "-screen 0 1280x800x24" "$@"
