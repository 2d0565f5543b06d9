# Sourced by the other scripts: makes sure that what the project needs is installed. Asks no question.
# ensure_all [browser]   Debian packages, the browser's among them, and npm packages as the lock file has them.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."

say() { printf '%s\n' "$*" >&2; }

# Everything runs by the Node that comes with the packages; the one that was here before only installs them.
own=$PWD/node_modules/.bin
installer=${PATH//"$own":/}
export PATH=$own:$installer

ensure_node() {
  command -v node >/dev/null || { say "Node 20 or later is needed to install and not found: install nodejs first."; exit 1; }
  node -e 'const [a,b]=process.versions.node.split(".").map(Number); process.exit(a>20||(a===20&&b>=19)?0:1)' ||
    { say "Node 20.19 or later is needed; this is $(node --version)."; exit 1; }
}

have_postgres() { ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1; }
have_browser() { [[ -x ${CHROMIUM:-/usr/bin/$1} ]]; } # name of its Debian package

ensure_debian() { # package names
  (($# == 0)) && return 0
  local sudo=()
  if [[ $(id -u) != 0 ]]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then sudo=(sudo -n); else
      say "These Debian packages are missing and this user may not install them. As root:"
      say "  apt-get update && apt-get install -y --no-install-recommends $*"
      exit 1
    fi
  fi
  say "Installing Debian packages: $*"
  "${sudo[@]}" apt-get update -qq >&2
  DEBIAN_FRONTEND=noninteractive "${sudo[@]}" apt-get install -y -qq --no-install-recommends "$@" >/dev/null </dev/null
}

# Two scripts started side by side must not install at once: npm would leave a broken folder.
ensure_npm() {
  local stamp=node_modules/.katharos-installed lock
  lock=${TMPDIR:-/tmp}/katharos-install-$(id -u)-$(pwd -P | cksum | cut -d' ' -f1)
  (
    flock 9
    if [[ ! -f $stamp || package-lock.json -nt $stamp ]]; then
      say "Installing npm packages"
      export PATH=$installer
      local ci=(npm ci --no-audit --no-fund --loglevel=error)
      trap 'rm -f npm-shrinkwrap.json' EXIT
      if ! { node scripts/addresses.mjs "$(npm config get registry)" >npm-shrinkwrap.json && "${ci[@]}" >&2 </dev/null; }; then
        say "Trying again, asking the registry where it keeps each package"
        rm -f npm-shrinkwrap.json
        "${ci[@]}" >&2 </dev/null || exit 1
      fi
      touch "$stamp"
    fi
  ) 9>"$lock"
}

ensure_all() { # chromium | chromium-headless-shell, where a browser is needed
  ensure_node
  local missing=()
  have_postgres || [[ -n ${DATABASE_URL:-} && -z ${1:-} ]] || missing+=(postgresql)
  [[ -z ${1:-} ]] || have_browser "$1" || missing+=("$1")
  # beside each other: the one waits for its mirror, the other unpacks
  ensure_debian ${missing[@]+"${missing[@]}"} &
  local debian=$!
  ensure_npm || { wait "$debian"; return 1; } # also where a caller asks whether all went well, and nothing ends by itself
  wait "$debian"
  hash -r
}

# Chromium for tests: without windows it works a third less; where that cannot be installed, the one with windows does.
ensure_for_tests() { ensure_all chromium-headless-shell || ensure_all chromium; }

# Builds the page when a source is newer than the last build.
ensure_page() {
  if [[ ! -f web/dist/index.html ]] ||
    [[ -n $(find web core contract package-lock.json \( -name node_modules -o -name dist \) -prune -o -type f -newer web/dist/index.html -print -quit) ]]; then
    say "Building the page"
    npm run --silent build >&2 </dev/null
  fi
}

# Where the demo's data lives between starts, and where a firm's does.
data_root() { echo "${KATHAROS_DATA:-$(state_folder)/katharos}"; }
firm_root() { echo "${KATHAROS_DATA:-$(state_folder)/katharos-firm}"; }
state_folder() { if [[ $(id -u) == 0 ]]; then echo /var/lib; else echo "${XDG_DATA_HOME:-$HOME/.local/share}"; fi; }

# The demo lets anybody in, and a firm's data is no demo: a folder is for one of them, for good.
is_for() { # demo | firm
  [[ -n ${database_folder:-} ]] || return 0
  local mark=$database_folder/is-for
  [[ -s $mark ]] || echo "$1" >"$mark"
  if [[ $(cat "$mark") != "$1" ]]; then
    say "The data in $database_folder are for '$(cat "$mark")', not for '$1'. KATHAROS_DATA chooses another folder."
    exit 1
  fi
}

# One starter at a time owns a data folder, by a lock that ends with it; a second says where the first one runs. Descriptor 8
# holds it: what is started hands it on to nobody (8>&-).
own_data_folder() { # folder, address
  mkdir -p "$1"
  exec 8>>"$1/running"
  if ! flock -n 8; then
    say "Katharos runs already with the data in $1: $(cat "$1/address" 2>/dev/null || echo 'it is just starting')."
    exit 1
  fi
  echo "$2" >"$1/address"
}

# A folder that is gone when the script ends. Sets $work.
throwaway_folder() {
  work=$(mktemp -d /var/tmp/katharos.XXXXXX)
  chmod 755 "$work"
  trap 'trap - EXIT; PGROOT=$work/pg scripts/pg.sh stop 2>/dev/null || true; rm -rf "$work"' EXIT
}

# Starts a database that is gone when the script ends: a quick one, or with '' one that writes as durably as a firm's own.
# Sets $throwaway_url, and $work if it was not.
throwaway_database() {
  [[ -n ${work:-} ]] || throwaway_folder
  throwaway_url=$(PGROOT=$work/pg PG_THROWAWAY=${1-1} scripts/pg.sh start)
}
