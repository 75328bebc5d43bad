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

# What is tested is linted by the same build: clippy's driver compiles our crates, warnings are errors, and nothing is
# compiled a second time to be looked at.
lint_while_building() {
  command -v clippy-driver >/dev/null || apt_install rust-clippy
  export RUSTC_WORKSPACE_WRAPPER=clippy-driver CLIPPY_ARGS=-D__CLIPPY_HACKERY__warnings__CLIPPY_HACKERY__
}

# All but the browser's: what is built together shares its features, and the driver's would turn the order in which the
# server writes its JSON.
OURS=(--workspace --exclude browser-tests)

# More tests at once than there are cores: many wait, for the database or for something that takes its time.
WAITING=(--test-threads="$(($(nproc) * 2))")

test_style() {
  heading "style: rustfmt"
  check_tests_named
  cargo fmt --all -- --check
}

# Everything that the tests run, built and linted in one go: what they share is built once.
test_build() {
  heading "build: all crates and their tests, with clippy"
  cargo test --locked --quiet --no-run --all-targets "${OURS[@]}"
  cargo test --locked --quiet --no-run --all-targets -p browser-tests
}

test_core() {
  heading "core: facts, kernels, agronomy, records, planner"
  cargo test --locked --quiet -p facts -p kernels -p agronomy -p records -p planner
}

test_ledger() {
  heading "ledger, on PostgreSQL"
  cargo test --locked -p ledger
}

test_api() {
  heading "API, stand-ins and command line"
  cargo test --locked -p stand-ins -p server -- "${WAITING[@]}"
}

test_crates() {
  heading "core, ledger on PostgreSQL, API, stand-ins and command line"
  cargo test --locked --quiet "${OURS[@]}" -- "${WAITING[@]}"
}

test_web() {
  heading "web: API document, types, lint, format, units, first load"
  web_done || die "the front end's packages could not be fetched"
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

# web_for_walks: the front end as it is served, and beside it one without its service worker (see test-bed).
web_for_walks() {
  need_web
  build_web
  rm -rf "$STATE/web-bare"
  mkdir "$STATE/web-bare"
  local file
  for file in web/dist/*; do
    [[ $file == web/dist/sw.js* ]] || ln -s "$PWD/$file" "$STATE/web-bare/"
  done
}

test_browser() {
  heading "browser: the whole path in Chromium"
  need_browser
  web_done || die "the front end's packages could not be fetched"
  build_server
  web_for_walks
  cargo test --locked -p browser-tests -- --test-threads=2 ${INK_TEST_ONLY:+"$INK_TEST_ONLY::"}
}

# refused WORDS COMMAND...: it fails, and says these words.
refused() {
  local words=$1 said; shift
  if said=$("$@" 2>&1); then die "$* was taken"; fi
  [[ $said == *"$words"* ]] || die "$* said: $said"
}

# A backup is whole, and what is none changes nothing.
test_backup() {
  heading "backup: taken under eight writers, restored, refused where it is not whole"
  build_server; need_gpg
  local folder own=inkmeadow_own port; folder=$(mktemp -d); port=$(free_port 4795)
  ensure_database "$own"
  INK_OWNER_URL=$OWNER_URL/$own "$BIN" migrate
  INK_DATABASE_URL=$APP_URL/$own "$BIN" demo
  # What is acknowledged is on the disk here, as it is for a farm of one's own.
  sql postgres "ALTER DATABASE $own SET synchronous_commit = on"
  INK_DATABASE_URL=$APP_URL/$own RUST_LOG=warn "$BIN" serve --port "$port" & SERVER=$!
  wait_for "http://127.0.0.1:$port/api/health" 30 "$SERVER" || die "the server did not start"
  local api=http://127.0.0.1:$port/api jar=$folder/jar farm json='content-type: application/json'
  curl -sf -o /dev/null -c "$jar" -H "$json" "$api/sign-in" \
    -d '{"email": "mara@fennick.example", "password": "hay before rain"}'
  farm=$(sql "$own" "SELECT id FROM farms WHERE name = 'Fennick Hollow'")
  writer() {
    local id
    while [ ! -e "$folder/over" ]; do
      id=$(cat /proc/sys/kernel/random/uuid)
      curl -sf -o /dev/null -b "$jar" -H "$json" "$api/farms/$farm/entries" -d "{\"id\": \"$id\", \"about\": [],
        \"occurred_on\": \"2026-05-10\", \"payload\": {\"kind\": \"note\", \"text\": \"walked\"}}" && echo "$id" >>"$folder/written.$1"
    done
  }
  local writers=() n; for n in 1 2 3 4 5 6 7 8; do writer "$n" & writers+=($!); done
  sleep 3
  cat "$folder"/written.* | sort >"$folder/before"
  (backup_of "$own" "$folder/own.ink")
  touch "$folder/over"; wait "${writers[@]}"
  (restore_into inkmeadow_again "$folder/own.ink")
  sql inkmeadow_again "SELECT id FROM entries" | sort >"$folder/after"
  [ "$(wc -l <"$folder/before")" -gt 20 ] || die "hardly anything was written"
  [ -z "$(comm -23 "$folder/before" "$folder/after")" ] || die "what was acknowledged before the backup is not in it"
  say "$(wc -l <"$folder/before") entries acknowledged before the backup are in it"

  refused "already has a farm" restore_into inkmeadow_again "$folder/own.ink"
  refused "already exists" backup_of "$own" "$folder/own.ink"
  head -c $(($(stat -c %s "$folder/own.ink") / 2)) "$folder/own.ink" >"$folder/half.ink"
  refused "not a complete backup" restore_into inkmeadow_half "$folder/half.ink"
  ! database_there inkmeadow_half || die "half a backup left a database"
  (INK_PASSPHRASE="hay before rain" backup_of "$own" "$folder/locked.ink")
  refused "set the passphrase" restore_into inkmeadow_locked "$folder/locked.ink"
  INK_PASSPHRASE="rain before hay" refused "wrong passphrase" restore_into inkmeadow_locked "$folder/locked.ink"
  (INK_PASSPHRASE="hay before rain" restore_into inkmeadow_locked "$folder/locked.ink")
  sql postgres "CREATE DATABASE inkmeadow_newest OWNER inkmeadow_owner"
  INK_OWNER_URL=$OWNER_URL/inkmeadow_newest "$BIN" migrate
  # Of a newer build, and with an entry changed behind the application's back.
  sql inkmeadow_locked "INSERT INTO __diesel_schema_migrations (version) VALUES ('20990101000000')"
  "$PGBIN/pg_dump" --format=custom --file="$folder/newer.ink" -d "$ADMIN_URL/inkmeadow_locked"
  refused "newer" restore_into inkmeadow_newer "$folder/newer.ink"
  sql inkmeadow_again "SET session_replication_role = replica;
    UPDATE entries SET occurred_on = occurred_on - 1 WHERE id = (SELECT entry_id FROM ledger_chain LIMIT 1)"
  "$PGBIN/pg_dump" --format=custom --file="$folder/altered.ink" -d "$ADMIN_URL/inkmeadow_again"
  refused "an altered ledger" restore_into inkmeadow_altered "$folder/altered.ink"
  # A file that holds something else, or more than a backup: what it would do is not done.
  sql postgres "CREATE DATABASE inkmeadow_other"
  "$PGBIN/pg_dump" --format=custom --file="$folder/other.ink" -d "$ADMIN_URL/inkmeadow_other"
  refused "no tables of ours" restore_into inkmeadow_altered "$folder/other.ink"
  local ran=/tmp/ink-ran-$$
  sql inkmeadow_other "CREATE FUNCTION runs(n int) RETURNS boolean LANGUAGE plpgsql AS
    \$\$ BEGIN COPY (SELECT 1) TO PROGRAM 'touch $ran'; RETURN true; END \$\$;
    CREATE TABLE farms (n int CHECK (runs(n))); INSERT INTO farms VALUES (1)"
  [ -e "$ran" ] || die "what is tried here did not run at all"
  as_postgres rm -f "$ran"
  "$PGBIN/pg_dump" --format=custom --file="$folder/program.ink" -d "$ADMIN_URL/inkmeadow_other"
  refused "not a complete backup" restore_into inkmeadow_altered "$folder/program.ink"
  [ ! -e "$ran" ] || die "a program of the file was run"
  n=0
  for more in "CREATE TABLE beyond (n int)" "CREATE FUNCTION beyond() RETURNS int LANGUAGE sql AS 'SELECT 1'" \
    "CREATE OR REPLACE FUNCTION ink_is_permanent() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'" \
    "SELECT lo_create(0)" "ALTER TABLE entries DISABLE TRIGGER entries_permanent" "GRANT ALL ON entries TO PUBLIC"; do
    n=$((n + 1))
    sql postgres "DROP DATABASE IF EXISTS inkmeadow_other"
    sql postgres "CREATE DATABASE inkmeadow_other TEMPLATE inkmeadow_newest OWNER inkmeadow_owner"
    sql inkmeadow_other "$more" >/dev/null
    "$PGBIN/pg_dump" --format=custom --file="$folder/more-$n.ink" -d "$ADMIN_URL/inkmeadow_other"
    refused "more than a backup" restore_into inkmeadow_altered "$folder/more-$n.ink"
  done
  ! database_there inkmeadow_altered || die "what was refused left a database"
  [ "$(sql postgres "SELECT count(*) FROM pg_roles WHERE rolname ~ 'stranger'")" = 0 ] || die "a stranger is left behind"
  # A disk that is full: a folder that takes nothing stands for it.
  refused "the backup failed" backup_of "$own" /dev/full/own.ink
  # Of two hundred days' files stay those of seven days, four weeks and twelve months.
  mkdir "$folder/kept"
  for n in $(seq 0 199); do : >"$folder/kept/serve-$(date -d "2026-11-27 - $n days" +%Y-%m-%d).ink"; done
  thin "$folder/kept" serve
  n=$(ls "$folder/kept" | wc -l)
  [ "$n" -ge 13 ] && [ "$n" -le 17 ] && [ -e "$folder/kept/serve-2026-11-21.ink" ] || die "$n files were kept"
  kill "$SERVER"; SERVER=
  rm -rf "$folder"
}

# Last, and alone: it ends the PostgreSQL of the others.
test_faults() {
  heading "faults: server and database killed in the middle of writing"
  build_server
  web_for_walks
  # That the database is away is what is tried: the server need not say so each time.
  RUST_LOG=off INK_SCRIPT=$PWD/ink cargo test --locked -p server --test all -- --ignored --nocapture --test-threads=1 faults::
}

# took PART SECONDS: how long a part took, here and the last time; told when it grew by a third.
took() {
  local part=$1 seconds=$2 file=$STATE/took/$1 before grew=
  mkdir -p "$STATE/took"
  before=$(cat "$file" 2>/dev/null || echo 0)
  # A part of a few seconds swings by a third on its own.
  [ "$before" -lt 10 ] || [ $((seconds * 3)) -lt $((before * 4)) ] || grew=", longer by a third than the $before s of the last time"
  printf '%s\n' "$seconds" >"$file"
  TOOK+="$(printf '%6d s  %s%s' "$seconds" "$part" "$grew")"$'\n'
}

run_tests() {
  local parts=("$@")
  [ $# -gt 0 ] || parts=(style build crates web browser backup faults)
  need_rust
  lint_while_building
  local needs_database=
  for part in "${parts[@]}"; do
    case $part in
      style | build | core | web) ;;
      ledger | api | crates | browser | backup | faults) needs_database=1 ;;
      *) die "unknown part: $part" ;;
    esac
  done
  if [ -n "$needs_database" ]; then
    need_postgres
    test_cluster "${UNSAFE[@]}"
  fi
  # Waits for the network while Rust is built.
  [[ " ${parts[*]} " != *" web "* ]] || web_beside need_web
  local begun TOOK=
  for part in "${parts[@]}"; do
    begun=$SECONDS
    "test_$part"
    took "$part" $((SECONDS - begun))
  done
  heading "all passed: ${parts[*]}"
  printf '%s' "$TOOK"
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
  cargo bench --locked -p planner --bench plans -- "$@"
  test_cluster
  cargo bench --locked -p ledger --bench bulk -- "$@"
}

# Pictures of the main views, from the demo data.
run_shots() {
  need_rust; need_postgres; need_browser
  build_server; web_for_walks
  test_cluster "${UNSAFE[@]}"
  cargo run --locked --quiet -p browser-tests --bin shots -- docs/screenshots
}
