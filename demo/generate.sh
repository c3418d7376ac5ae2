#!/usr/bin/env bash
# Makes the demo site anew: the survey files, its existing ground as LandXML, a plan sheet and a scan of it, the project with its silo pad, and the ready
# project of the whole depot.
# Run after a build: demo/generate.sh [BUILD_FOLDER]
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
cli=$(realpath "${1:-$here/../build/release}/bin/inselberg-cli")
site="$here/tolwin"
python3 "$here/generate.py" "$site"
# From inside, so that the project names its files without the folders of this machine.
cd "$site"
"$cli" surface survey.csv --breaklines breaklines.dxf --boundary boundary.geojson -o existing.xml
"$cli" contours existing.xml --interval 0.5 -o contours.tmp.geojson
python3 "$here/plan_sheet.py" . contours.tmp.geojson
rm contours.tmp.geojson
"$cli" new survey.csv --breaklines breaklines.dxf --boundary boundary.geojson \
  --name "Tolwin Grain Depot" --pad "Silo pad=silo-pad.geojson@77.5" -o tolwin.inselberg
"$cli" design design.json --ground survey.csv breaklines.dxf boundary.geojson -o depot.inselberg
