#!/usr/bin/env bash
# Builds the benchmarks and prints the table of docs/performance.md. Run it on an idle machine.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}" xvfb xauth
cmake --preset bench >/dev/null
cmake --build --preset bench >/dev/null
build/bench/bin/bench_table "$@"
# What draws with OpenGL needs a display.
for part in relief views; do
  [ $# -gt 0 ] && [ "$1" != "$part" ] || QT_QPA_PLATFORM=xcb xvfb-run -a -s "-screen 0 1280x800x24 -noreset" build/bench/bin/bench_table "$part"
done
