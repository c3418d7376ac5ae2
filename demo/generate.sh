#!/usr/bin/env bash
# Makes the demo site anew: the survey files, its existing ground as LandXML, and the ready project.
# Run after a build: demo/generate.sh [BUILD_FOLDER]
set -euo pipefail
here=$(cd "$(dirname "$0")" && pwd)
cli="${1:-$here/../build/release}/bin/inselberg-cli"
site="$here/tolwin"
python3 "$here/generate.py" "$site"
"$cli" surface "$site/survey.csv" --breaklines "$site/breaklines.dxf" --boundary "$site/boundary.geojson" -o "$site/existing.xml"
"$cli" new "$site/survey.csv" --breaklines "$site/breaklines.dxf" --boundary "$site/boundary.geojson" \
  --name "Tolwin Grain Depot" --pad "Silo pad=$site/silo-pad.geojson@77.5" -o "$site/tolwin.inselberg"
