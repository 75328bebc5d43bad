# ./ink test: everything, or one part of it.

heading() { printf '\n== %s ==\n' "$*"; }

# Each crate's tests are one program; a file its main.rs does not name would never run.
check_tests_named() {
  local file
  for file in crates/*/tests/*.rs; do
    [ "${file##*/}" = main.rs ] || grep -qx "mod $(basename "$file" .rs);" "$(dirname "$file")/main.rs" \
      || die "$file is not named in its main.rs"
  done
}

test_style() {
  heading "style: rustfmt, clippy"
  check_tests_named
  cargo fmt --all -- --check
  cargo clippy --locked --quiet --workspace --all-targets -- -D warnings
}

test_core() {
  heading "core: agronomy, records, planner"
  cargo test --locked --quiet -p agronomy -p records -p planner
}

test_ledger() {
  heading "ledger, on PostgreSQL"
  cargo test --locked -p ledger
}

test_api() {
  heading "API, stand-ins and command line"
  cargo test --locked -p stand-ins -p server
}

# All of them at once: built in one go, what they share is built once.
test_crates() {
  heading "core, ledger on PostgreSQL, API, stand-ins and command line"
  cargo test --locked --quiet --workspace --exclude browser-tests
}

test_web() {
  heading "web: API document, types, lint, format, units, first load"
  need_web
  cargo build --locked --quiet --package server
  local fresh; fresh=$(mktemp -d)
  "$BIN" openapi >"$fresh/openapi.json"
  (cd web && npx openapi-typescript "$fresh/openapi.json" -o "$fresh/schema.d.ts" >/dev/null &&
    npx prettier --log-level=warn --config .prettierrc --write "$fresh/openapi.json" "$fresh/schema.d.ts")
  diff -q "$fresh/openapi.json" web/openapi.json && diff -q "$fresh/schema.d.ts" web/src/api/schema.d.ts \
    || die "the API document or its types are stale: run ./ink openapi and commit"
  rm -rf "$fresh"
  (cd web && npm run --silent check && npm run --silent test)
  build_web
  (cd web && npm run --silent first-load)
}

need_browser() {
  command -v chromium >/dev/null && command -v chromedriver >/dev/null || apt_install chromium chromium-driver
}

test_browser() {
  heading "browser: the whole path in Chromium"
  need_browser
  build_server
  build_web
  cargo test --locked -p browser-tests -- --test-threads=1 ${INK_TEST_ONLY:+"$INK_TEST_ONLY::"}
}

# Last, and alone: it ends the PostgreSQL of the others.
test_faults() {
  heading "faults: server and database killed in the middle of writing"
  build_server
  # That the database is away is what is tried: the server need not say so each time.
  RUST_LOG=off INK_SCRIPT=$PWD/ink cargo test --locked -p browser-tests --test all -- --ignored --nocapture faults::
}

run_tests() {
  local parts=("$@")
  [ $# -gt 0 ] || parts=(style crates web browser faults)
  need_rust
  local needs_database=
  for part in "${parts[@]}"; do
    case $part in
      style | core | web) ;;
      ledger | api | crates | browser | faults) needs_database=1 ;;
      *) die "unknown part: $part" ;;
    esac
  done
  if [ -n "$needs_database" ]; then
    need_postgres
    test_cluster "${UNSAFE[@]}"
  fi
  for part in "${parts[@]}"; do "test_$part"; done
  heading "all passed: ${parts[*]}"
}

# run_fuzz [REQUESTS] [SEED]: made-up requests to every topic, many more than the tests make.
run_fuzz() {
  need_rust
  INK_FUZZ=${1:-1000000} INK_FUZZ_SEED=${2:-$RANDOM} INK_FUZZ_SHOWN=100
  export INK_FUZZ INK_FUZZ_SEED INK_FUZZ_SHOWN
  say "$INK_FUZZ requests, seed $INK_FUZZ_SEED"
  cargo test --locked --quiet -p server --test all -- --nocapture fuzz::
}

# How fast the heavier work is, the core's and the ledger's.
run_bench() {
  need_rust; need_postgres
  cargo bench --locked -p agronomy --bench reckonings -- "$@"
  test_cluster
  cargo bench --locked -p ledger --features testing --bench bulk -- "$@"
}

# Pictures of the main views, from the demo data.
run_shots() {
  need_rust; need_postgres; need_browser
  build_server; build_web
  test_cluster "${UNSAFE[@]}"
  cargo run --locked --quiet -p browser-tests --bin shots -- docs/screenshots
}
