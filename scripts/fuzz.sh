#!/usr/bin/env bash
# Fuzzes every reader for a number of seconds each (600), two at a time. Findings and grown corpora go to build/fuzz/out;
# a finding worth keeping is made small (-minimize_crash=1) and moved to tests/data/faulty, where every test run reads it.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}" "${packages_test[@]}" clang-14 libclang-rt-14-dev libfuzzer-14-dev
seconds="${1:-600}"
cmake --preset fuzz
cmake --build --preset fuzz --target fuzz_points fuzz_dxf fuzz_landxml fuzz_geojson fuzz_grid fuzz_vector
out=build/fuzz/out
mkdir -p "$out/start"
/usr/bin/python3 tests/support/make_drawing.py "$out/start"
printf 'ncols 3\nnrows 3\nxllcorner 0\nyllcorner 0\ncellsize 1\nNODATA_value -9999\n1 2 3\n4 -9999 6\n7 8 9\n' > "$out/start/small.asc"
printf 'N;E;H\n1.234,5;2.345,6;7,8\n1.235,5;2.346,6;8,8\n' > "$out/start/comma.txt"

# name, files to start from, greatest length
run() {
  local name=$1 length=$2
  shift 2
  mkdir -p "$out/$name" "$out/$name-found"
  # Large demo files are only cut up: their beginnings are enough to start from.
  for file in "$@" tests/data/faulty/"$name"*; do
    [ -e "$file" ] && head -c "$length" "$file" > "$out/$name/seed-$(basename "$file")"
  done
  "build/fuzz/bin/fuzz_$name" -max_total_time="$seconds" -max_len="$length" -timeout=20 -rss_limit_mb=3000 \
    -artifact_prefix="$out/$name-found/" -print_final_stats=1 "$out/$name" > "$out/$name.log" 2>&1 \
    || echo "$name: see $out/$name.log"
}

run points 4000 demo/tolwin/*.csv "$out"/start/*.txt &
run dxf 8000 demo/tolwin/*.dxf "$out"/start/*.dxf & wait
run landxml 6000 demo/tolwin/*.xml tests/data/fuzz/*.xml &
run geojson 4000 demo/tolwin/*.geojson & wait
run grid 4000 "$out"/start/*.asc &
run vector 30000 "$out"/start/*.gpkg & wait
grep -H "stat::number_of_executed_units" "$out"/*.log
