#!/usr/bin/env bash
# fuzz.sh [SECONDS [READER...]]: fuzzes every reader for a number of seconds each (600), two at a time. Findings and grown corpora go to build/fuzz/out;
# a finding worth keeping is made small (-minimize_crash=1) and moved to tests/data/faulty, where every test run reads it.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}" "${packages_test[@]}" clang-16 libclang-rt-16-dev libfuzzer-16-dev
seconds="${1:-600}"
readers=("${@:2}")
[ ${#readers[@]} -gt 0 ] || readers=(points sheet plansheet dxf landxml geojson grid geotiff vector shape)
cmake --preset fuzz
cmake --build --preset fuzz --target "${readers[@]/#/fuzz_}"
out=build/fuzz/out
rm -rf "$out/start"
mkdir -p "$out/start"
/usr/bin/python3 tests/support/make_drawing.py "$out/start"
printf 'ncols 3\nnrows 3\nxllcorner 0\nyllcorner 0\ncellsize 1\nNODATA_value -9999\n1 2 3\n4 -9999 6\n7 8 9\n' > "$out/start/small.asc"
printf 'N;E;H\n1.234,5;2.345,6;7,8\n1.235,5;2.346,6;8,8\n' > "$out/start/comma.txt"
# Small whole files of the formats the library reads, written by its own tools.
head -n 12 demo/tolwin/survey.csv > "$out/start/points.csv"
for ending in xlsx ods; do ogr2ogr "$out/start/points.$ending" "$out/start/points.csv"; done
gdal_translate -q "$out/start/small.asc" "$out/start/small.tif"
gdal_translate -q -co COMPRESS=DEFLATE -ot Int16 "$out/start/small.asc" "$out/start/packed.tif"
gdal_translate -q -ot Byte -of PNG "$out/start/small.asc" "$out/start/small.png"
gdal_translate -q -ot Byte -a_srs EPSG:32755 -of PDF "$out/start/small.asc" "$out/start/small.pdf"
printf '%%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj 3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 99 99]/Contents 4 0 R/Resources<</Font<</F 5 0 R>>>>>>endobj 4 0 obj<</Length 99>>stream\nq 1 0 0 RG [3 1] 0 d 9 9 m 50 9 l 60 9 70 20 80 30 c S Q 9 9 40 40 re W* n BT /F 9 Tf 9 9 Td (1.5) Tj ET\nendstream endobj 5 0 obj<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>endobj trailer<</Root 1 0 R>>' > "$out/start/lines.pdf"
ogr2ogr -f GPKG "$out/start/areas.gpkg" demo/tolwin/boundary.geojson
ogr2ogr -f "ESRI Shapefile" "$out/start/areas.shp" demo/tolwin/boundary.geojson
/usr/bin/python3 - "$out/start/areas" <<'END'
import struct, sys
parts = [open(sys.argv[1] + ending, "rb").read() for ending in (".shp", ".shx", ".dbf")]
open(sys.argv[1] + ".shape", "wb").write(struct.pack("<HH", len(parts[0]), len(parts[1])) + b"".join(parts))
END

# name, files to start from, greatest length
run() {
  local name=$1 length=$2
  shift 2
  mkdir -p "$out/$name" "$out/$name-found"
  # Large demo files are only cut up: their beginnings are enough to start from.
  for file in "$@" tests/data/faulty/"$name"*; do
    [ -e "$file" ] && head -c "$length" "$file" > "$out/$name/seed-$(basename "$file")"
  done
  LSAN_OPTIONS=suppressions=fuzz/leaks.txt "build/fuzz/bin/fuzz_$name" -max_total_time="$seconds" -max_len="$length" -timeout=20 -rss_limit_mb=3000 \
    -artifact_prefix="$out/$name-found/" -print_final_stats=1 "$out/$name" > "$out/$name.log" 2>&1 \
    || echo "$name: see $out/$name.log"
}

run_named() {
  case "$1" in
    points) run points 4000 demo/tolwin/*.csv "$out"/start/*.txt ;;
    sheet) run sheet 20000 "$out"/start/*.xlsx "$out"/start/*.ods ;;
    plansheet) run plansheet 30000 "$out"/start/*.pdf "$out"/start/*.tif "$out"/start/*.png ;;
    dxf) run dxf 8000 demo/tolwin/*.dxf "$out"/start/*.dxf ;;
    landxml) run landxml 6000 demo/tolwin/*.xml tests/data/fuzz/*.xml ;;
    geojson) run geojson 4000 demo/tolwin/*.geojson ;;
    grid) run grid 4000 "$out"/start/*.asc ;;
    geotiff) run geotiff 4000 "$out"/start/*.tif ;;
    vector) run vector 120000 "$out"/start/*.gpkg ;;
    shape) run shape 8000 "$out"/start/*.shape ;;
  esac
}

for ((i = 0; i < ${#readers[@]}; i += 2)); do
  run_named "${readers[i]}" &
  [ $((i + 1)) -lt ${#readers[@]} ] && run_named "${readers[i + 1]}" &
  wait
done
rm -rf /dev/shm/inselberg-fuzz-*
grep -H "stat::number_of_executed_units" "$out"/*.log
