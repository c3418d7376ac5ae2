#!/usr/bin/env bash
# Formats our C++ files; with --check only says which are not formatted.
set -euo pipefail
cd "$(dirname "$0")/.."
mapfile -t files < <(find src tests bench fuzz -name '*.h' -o -name '*.cpp' | sort)
if [ "${1:-}" = --check ]; then
  clang-format --dry-run --Werror "${files[@]}"
else
  clang-format -i "${files[@]}"
fi
