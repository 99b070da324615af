# Shared by ./start and ./check: shared libraries for Qt, a private virtual environment, the pinned packages. Sourced, not run.
set -eu
here=$(cd "$(dirname "$0")" && pwd)
cd "$here"
say() { printf 'dribbet: %s\n' "$*" >&2; }

qt_packages="libgl1 libegl1 libglib2.0-0 libdbus-1-3 libfontconfig1 libxkbcommon-x11-0 libx11-xcb1 libxcb-cursor0 libxcb-icccm4 libxcb-image0 \
libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-sync1 libxcb-xfixes0 libxcb-xkb1 libwayland-client0 libwayland-cursor0 libwayland-egl1"

missing_packages() {
  missing=""
  command -v dpkg-query >/dev/null 2>&1 || return 0
  for package in "$@"; do
    # Newer Debians and Ubuntus carry some of them under a name with t64 behind it.
    dpkg-query -W -f='${Status}\n' "$package" "${package}t64" 2>/dev/null | grep -q 'ok installed' || missing="$missing $package"
  done
}

install_packages() {  # installs with apt where it may; otherwise says the one command
  missing_packages "$@"
  [ -z "$missing" ] && return 0
  if [ "$(id -u)" = 0 ]; then as_root=""
  elif command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then as_root="sudo"
  else say "these system packages are missing; run once: sudo apt-get install -y$missing"; return 1
  fi
  say "installing system packages:$missing"
  export DEBIAN_FRONTEND=noninteractive
  $as_root apt-get update -qq >/dev/null 2>&1 || true
  $as_root apt-get install -y -qq --no-install-recommends $missing >/dev/null 2>&1 || { say "apt-get could not install:$missing"; return 1; }
}

set_up() {  # set_up FILE...: .venv holds exactly what these pin files name
  python=""
  for name in python3 python3.14 python3.13 python3.12 python3.11; do
    if command -v "$name" >/dev/null 2>&1 && "$name" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then python=$name; break; fi
  done
  [ -n "$python" ] || { say "Python 3.11 or newer is needed. On Debian: apt-get install python3 python3-venv"; exit 1; }
  for file in "$@"; do
    stamp=".venv/.installed-$(basename "$file")"
    if [ ! -f "$stamp" ] || ! cmp -s "$file" "$stamp"; then
      if [ ! -x .venv/bin/python ]; then
        say "making a private environment in .venv (the first time takes a minute or two)"
        if ! "$python" -m venv .venv 2>/dev/null; then
          rm -rf .venv; install_packages python3-venv && "$python" -m venv .venv
        fi
      fi
      say "installing the packages of $file"
      .venv/bin/python -m pip install --quiet --disable-pip-version-check -r "$file" 2>&1 | grep -v '^WARNING' >&2 || true
      .venv/bin/python -m pip check --disable-pip-version-check >/dev/null 2>&1 || true
      if [ "$file" = requirements.txt ]; then
        .venv/bin/python -c 'import PyQt6.QtCore, numpy, scipy, cv2, sqlalchemy' 2>/dev/null || .venv/bin/python -m pip install --quiet -r "$file"
        .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e . 2>&1 | grep -v '^WARNING' >&2 || true
        [ -x .venv/bin/dribbet ] || { say "the installation did not finish; see the lines above, then run the same command again"; exit 1; }
      fi
      cp "$file" "$stamp"
    fi
  done
}
