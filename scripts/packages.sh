# Sourced by the other scripts: what Inselberg needs on Debian 12, and how it is installed.
# docs/dependencies.md says what each package is for.

packages_run=(
  build-essential cmake ninja-build pkg-config
  qt6-base-dev qt6-svg-dev libqt6svg6 libqcustomplot-dev libgl-dev libgl1-mesa-dri
  libcgal-dev libgmp-dev libmpfr-dev libgeos-dev libtbb-dev libboost-dev libxxhash-dev
  libgdal-dev libproj-dev proj-data libpugixml-dev nlohmann-json3-dev libsqlite3-dev libzstd-dev
  libcairo2-dev libpoppler-private-dev libcli11-dev libfmt-dev libxlsxwriter-dev
  fonts-dejavu-core
)
packages_test=(catch2 xvfb xauth clang-format python3 python3-ezdxf python3-openpyxl gdal-bin sqlite3)


# install_packages NAME...: installs those that are missing, and does nothing when all are there.
install_packages() {
  local missing=() name tries=0
  for name in "$@"; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q '^install ok installed$' || missing+=("$name")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local sudo=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || { echo "These packages are missing: ${missing[*]}. Install them as root, then run this again." >&2; return 1; }
    sudo=(sudo)
  fi
  echo "Installing: ${missing[*]}"
  # Another program may hold the package manager for a while: it is waited for.
  local wait=(-o DPkg::Lock::Timeout=600)
  until "${sudo[@]}" apt-get "${wait[@]}" update -q; do
    [ "$((tries += 1))" -lt 20 ] || { echo "The package lists cannot be fetched." >&2; return 1; }
    echo "The package manager is busy; trying again." >&2
    sleep 15
  done
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get "${wait[@]}" install -y -q --no-install-recommends "${missing[@]}"
}
