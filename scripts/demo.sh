#!/usr/bin/env bash
# Installs what is needed, builds Release, and opens the demo site. Without a display it runs the whole example through
# the command line instead, prints the ledger, and writes the outputs into build/demo-out.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/packages.sh
install_packages "${packages_run[@]}"
cmake --preset release -DINSELBERG_TESTS=OFF
cmake --build --preset release

site=demo/tolwin
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then
  # A copy, so that trying things out does not change the repository.
  mkdir -p build/demo-out
  [ -e build/demo-out/tolwin.inselberg ] || cp "$site/tolwin.inselberg" build/demo-out/
  exec build/release/bin/inselberg build/demo-out/tolwin.inselberg
fi

out=build/demo-out
cli=build/release/bin/inselberg-cli
mkdir -p "$out"
say() { printf '\n== %s\n' "$*"; }
say "The existing ground, from the survey"
"$cli" surface "$site/survey.csv" --breaklines "$site/breaklines.dxf" --boundary "$site/boundary.geojson" -o "$out/existing.xml"
say "The silo pad at 77.50, batters to daylight"
"$cli" pad "$out/existing.xml" --outline "$site/silo-pad.geojson" --level 77.5 -o "$out/finished.xml"
say "The level at which it balances"
"$cli" pad "$out/existing.xml" --outline "$site/silo-pad.geojson" --balance -o "$out/balanced.xml"
say "Contours of the balanced ground, every half metre"
"$cli" contours "$out/balanced.xml" --interval 0.5 -o "$out/balanced-contours.dxf"
say "The volume between existing and balanced"
"$cli" volume "$out/existing.xml" "$out/balanced.xml"
say "The ledger of the ready project"
"$cli" report "$site/tolwin.inselberg"
say "Its finished ground as LandXML"
"$cli" export "$site/tolwin.inselberg" --ground finished -o "$out/tolwin-finished.xml"
ls -l "$out"
