#!/usr/bin/env bash
# Builds the benchmarks and prints the table of docs/performance.md. Run it on an idle machine.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}"
cmake --preset bench >/dev/null
cmake --build --preset bench >/dev/null
build/bench/bin/bench_table "$@"
