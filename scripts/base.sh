# What every command of ./ink shares: talking, installing, building.

STATE=$PWD/.ink
mkdir -p "$STATE/run" "$STATE/log"
export CARGO_TARGET_DIR="${CARGO_TARGET_DIR:-$PWD/target}"
BIN="$CARGO_TARGET_DIR/debug/inkmeadow"

say() { printf '%s\n' "ink: $*" >&2; }
die() { say "$*"; exit 1; }

usage() {
  cat <<'EOT'
./ink demo [--detach] [--fresh] [--port N]   the demo farms, at http://127.0.0.1:4747
./ink serve [--detach] [--port N] [--as NAME] your own farm; the first visitor becomes its owner
./ink backup FILE [--as NAME]                back up your farm’s database while it runs, and verify the copy
./ink backup --keep FOLDER                   daily backup; keeps 7 daily, 4 weekly and 12 monthly
./ink restore FILE [--as NAME]               restore a backup into an empty database or under another name
./ink import FILE [--manager E-MAIL] [--signed-by KEY] [--as NAME]  import a farm archive into your own database
./ink reset E-MAIL [--as NAME]               a link by which somebody who signs in sets a new password, a manager too
./ink stop                                   stop the demo or server
./ink test [core|ledger|api|web|browser|...] everything, or one part
./ink dev                                    the demo with the front end reloading as you edit
./ink shots                                  retake docs/screenshots from the demo data
./ink bench [NAME]                           benchmark the heavier calculations
./ink load                                   load test on a large farm: pages per second and response times
./ink fuzz [REQUESTS] [SEED]                 fuzz every calculation with generated requests
./ink reckon TOPIC [FILE]                    run a calculation on the command line; --list shows topics
./ink openapi                                regenerate the API document and the TypeScript types
EOT
}

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else die "installing needs root or sudo: $*"; fi
}

# apt PACKAGE...: install what is missing, saying so.
apt_install() {
  local missing=()
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} = 0 ] && return
  command -v apt-get >/dev/null || die "please install: ${missing[*]}"
  say "installing ${missing[*]}"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}" >"$STATE/log/apt.log" 2>&1 \
    || { tail -n 20 "$STATE/log/apt.log" >&2; die "apt-get install failed"; }
}

# at_least WANTED HAVE: compare dotted versions.
at_least() { [ "$(printf '%s\n%s\n' "$1" "$2" | sort -V | head -n 1)" = "$1" ]; }

need_rust() {
  command -v cc >/dev/null || apt_install gcc libc6-dev
  command -v cargo >/dev/null || [ ! -x "$HOME/.cargo/bin/cargo" ] || PATH="$HOME/.cargo/bin:$PATH"
  command -v cargo >/dev/null || apt_install cargo rustfmt
  local have; have=$(cargo --version | cut -d' ' -f2)
  at_least 1.90.0 "$have" || die "Rust 1.90 or newer is needed, this is $have; rustup (rustup.rs) installs it"
}

need_node() {
  command -v npm >/dev/null || apt_install nodejs npm
  local have; have=$(node --version | tr -d v)
  at_least 20.19.0 "$have" || die "Node.js 20.19 or newer is needed, this is $have"
}

# web_beside STEP: fetch all of the front end's packages (need_web), or build it (build_web), beside what is built of Rust.
# Rust takes longer, and goes before.
web_beside() {
  need_node
  (renice -n 15 "$BASHPID" >/dev/null || true; "$1") >"$STATE/log/web-beside.log" 2>&1 &
  WEB=$!
}

# Until what was begun beside is done.
web_done() {
  [ -n "${WEB:-}" ] || return 0
  local failed=0; wait "$WEB" || failed=$?
  WEB=
  cat "$STATE/log/web-beside.log" >&2
  return "$failed"
}

# fetch_packages WHAT [OPTION]: unless these packages, or all of them, are there.
fetch_packages() {
  need_node
  local what=$1 stamp=web/node_modules/.ink-stamp wanted have; shift
  wanted=$(cat web/package.json web/package-lock.json | sha256sum)
  have=$(cat "$stamp" 2>/dev/null) || true
  [ "$have" != "all $wanted" ] && [ "$have" != "$what $wanted" ] || return 0
  say "installing front-end packages"
  (cd web && npm ci --no-audit --no-fund --loglevel=error "$@")
  printf '%s\n' "$what $wanted" >"$stamp"
}

# All of the front end's packages: what it is built, checked and tested with.
need_web() { fetch_packages all; }

build_server() {
  say "building the server"
  cargo build --locked --quiet --package server
}

# What is optimised; from here on it is the one that is run.
build_release() {
  say "building the optimized server (several minutes the first time)"
  cargo build --locked --quiet --release --package server
  BIN="$CARGO_TARGET_DIR/release/inkmeadow"
}

build_web() {
  fetch_packages build --omit=dev
  local stamp=web/dist/.ink-stamp wanted
  wanted=$(find web/src web/public web/index.html web/*.ts web/*.json Cargo.lock -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)
  [ "$(cat "$stamp" 2>/dev/null)" = "$wanted" ] && return
  say "building the front end"
  (cd web && npm run --silent build >"$STATE/log/web.log" 2>&1) || { cat "$STATE/log/web.log" >&2; die "the front end did not build"; }
  printf '%s\n' "$wanted" >"$stamp"
}

# free_port FIRST: the first loopback port from FIRST on that nobody listens on.
free_port() {
  local port=$1
  while (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; do port=$((port + 1)); done
  printf '%s\n' "$port"
}

# wait_for URL SECONDS PID: until the address answers, or the process has ended.
wait_for() {
  local until=$(($(date +%s) + $2))
  until curl -fsS -o /dev/null "$1" 2>/dev/null; do
    kill -0 "$3" 2>/dev/null || return 1
    [ "$(date +%s)" -lt "$until" ] || return 1
    sleep 0.2
  done
}

# end_process FILE: end the process whose id a file holds, if it is still the one we started.
end_process() {
  local file=$1 pid name
  [ -f "$file" ] || return 0
  read -r pid name <"$file" || true
  if [ -n "${pid:-}" ] && [ -r "/proc/$pid/cmdline" ] && tr '\0' ' ' <"/proc/$pid/cmdline" | grep -q "${name:-inkmeadow}"; then
    kill "$pid" 2>/dev/null || true
    for _ in $(seq 50); do kill -0 "$pid" 2>/dev/null || break; sleep 0.1; done
  fi
  rm -f "$file"
}
