#!/usr/bin/env bash
# Installs what is needed, builds, and runs every test: on a fresh Debian 12, as root or with sudo, and again at will.
# INSELBERG_PRESET=sanitize runs them under the address and undefined-behaviour sanitizers.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}" "${packages_test[@]}"
preset="${INSELBERG_PRESET:-release}"

scripts/format.sh --check
cmake --preset "$preset" -DINSELBERG_TESTS=ON
cmake --build --preset "$preset"

# Tests that open a window run on a screen of their own (one that does not start anew, and refuse the next, whenever the
# last window closes); their settings and recovery files go to a scratch folder.
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
export XDG_STATE_HOME="$scratch/state" XDG_CONFIG_HOME="$scratch/config" XDG_RUNTIME_DIR="$scratch" QT_QPA_PLATFORM=xcb
chmod 700 "$scratch"
xvfb-run -a -s "-screen 0 1400x900x24 -noreset" ctest --preset "$preset" --no-tests=error -j 2
