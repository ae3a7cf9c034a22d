# Sourced by ./start and ./test: checks for Go and Node, and installs Debian packages that are missing.

need_tool() { # name, what it is for
  command -v "$1" >/dev/null && return
  echo "Cloudburst needs $1 ($2). Install it and run this again." >&2
  exit 1
}
need_tool go "Go 1.26 or newer, builds the program"
need_tool node "Node 20 or newer, builds the screens"
need_tool npm "comes with Node"

need_packages() {
  local missing=() p
  for p in "$@"; do
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'ok installed' || missing+=("$p")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local sudo=()
  if [ "$(id -u)" != 0 ]; then
    if ! command -v sudo >/dev/null; then
      echo "These Debian packages are missing: ${missing[*]}. Install them as root: apt-get install ${missing[*]}" >&2
      exit 1
    fi
    sudo=(sudo)
  fi
  echo "Installing ${missing[*]} from Debian's packages"
  "${sudo[@]}" apt-get update -qq
  # Debian would start a server of its own; ours is private, so keep it from starting.
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}
