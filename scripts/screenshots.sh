#!/usr/bin/env bash
# Makes the pictures of docs/screenshots anew, from the demo site alone.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}" "${packages_test[@]}"
cmake --preset release -DINSELBERG_TESTS=ON >/dev/null
cmake --build --preset release --target app_tests
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
export XDG_RUNTIME_DIR="$scratch" QT_QPA_PLATFORM=xcb
chmod 700 "$scratch"
mkdir -p docs/screenshots
xvfb-run -a -s "-screen 0 1280x800x24 -noreset" env INSELBERG_PICTURES="$PWD/docs/screenshots" build/release/bin/app_tests pictures
