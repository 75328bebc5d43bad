# ./ink load: a large farm under load, on a release build. Prints a table for docs/speed.md.

# now_serving PORT DATABASE: the release build over a database; leaves SERVER set.
now_serving() {
  INK_DATABASE_URL=$APP_URL/$2 RUST_LOG=warn "$CARGO_TARGET_DIR/release/inkmeadow" serve --port "$1" 2>"$STATE/log/load.log" &
  SERVER=$!
  wait_for "http://127.0.0.1:$1/api/health" 30 "$SERVER" || die "the server did not start: see $STATE/log/load.log"
}

# asked PATH: a line of the table. Alone: the middle of nine. Then fifty a second for ten seconds.
asked() {
  local url="$at/$2" alone many
  alone=$(for _ in 1 2 3 4 5 6 7 8 9; do
    curl -s --compressed -b "$jar" -o /dev/null -w '%{time_total}\n' "$url"
  done | sort -n | sed -n 5p | awk '{printf "%.1f", $1 * 1000}')
  many=$(hey -z 10s -c 5 -q 10 -H "cookie: ink=$cookie" -H "accept-encoding: gzip" "$url" |
    awk '/Requests\/sec/ {rate=$2} $2=="in" && $1=="50%" {mid=$3*1000} $2=="in" && $1=="99%" {high=$3*1000}
      /^ *\[[0-9]+\]/ {if ($1=="[200]") well+=$2; else ill+=$2} /Error distribution/ {lost=1}
      END {printf "%.0f | %.1f | %.1f | %d", rate, mid, high, ill + lost}')
  echo "| $1 | $alone | $many |"
}

run_load() {
  need_rust; need_postgres
  command -v hey >/dev/null || apt_install hey
  say "building the release"
  cargo build --locked --quiet --release --package server
  # With all that keeps data safe: writing waits for the disk.
  test_cluster
  ensure_database inkmeadow_load
  local release=$CARGO_TARGET_DIR/release/inkmeadow
  INK_OWNER_URL=$OWNER_URL/inkmeadow_load "$release" migrate
  INK_DATABASE_URL=$APP_URL/inkmeadow_load "$release" demo
  say "making the large farm"
  "$PGBIN/psql" -qX -v ON_ERROR_STOP=1 "$ADMIN_URL/inkmeadow_load" -f scripts/load.sql
  local port jar cookie farm at field stand; port=$(free_port 4790); jar=$(mktemp)
  now_serving "$port" inkmeadow_load
  local api=http://127.0.0.1:$port/api
  curl -s -o /dev/null -c "$jar" -H 'content-type: application/json' \
    -d '{"email": "mara@fennick.example", "password": "hay before rain"}' "$api/sign-in"
  cookie=$(awk '$6 == "ink" {print $7}' "$jar")
  large() { sql inkmeadow_load "$1"; }
  farm=$(large "SELECT id FROM farms WHERE name = 'Fennick Hollow'")
  field=$(large "SELECT id FROM fields WHERE name = 'Upper Larkin 7'")
  stand=$(large "SELECT id FROM stands WHERE field_id = '$field' LIMIT 1")
  at=$api/farms/$farm
  local first; first=$(curl -s --compressed -b "$jar" -o /dev/null -w '%{time_total}' "$at/season")
  echo
  echo "The first season after a start, folded from the whole ledger: $first s"
  echo
  echo "| page | alone, ms | asked a second | half within, ms | 99 in 100 within, ms | not answered |"
  echo "|---|---|---|---|---|---|"
  asked season season
  asked "a stand" "stands/$stand"
  asked "a field" "fields/$field"
  asked "a field's ground" "fields/$field/ground"
  asked "all fields" fields
  asked "the ledger" entries
  asked lots lots
  asked "a year of weather" "weather?from=2026-01-01&to=2026-12-31"
  echo
  # A write on one field, and the season after it: ten times.
  local id; for _ in 1 2 3 4 5 6 7 8 9 10; do
    id=$(cat /proc/sys/kernel/random/uuid)
    curl -s -o /dev/null -b "$jar" -H 'content-type: application/json' -w 'written %{time_total} ' \
      -d "{\"id\": \"$id\", \"about\": [{\"kind\": \"field\", \"id\": \"$field\"}], \"occurred_on\": \"2026-05-10\", \"payload\": {\"kind\": \"note\", \"text\": \"walked\"}}" "$at/entries"
    curl -s --compressed -o /dev/null -b "$jar" -w 'season %{time_total}\n' "$at/season"
  done | awk '{w+=$2; s+=$4} END {printf "A record written: %.1f ms; the season after it: %.1f ms (means of ten)\n", w*100, s*100}'
  echo "Memory of the server: $(($(awk '/VmRSS/ {print $2}' "/proc/$SERVER/status") / 1024)) MB"
  rm -f "$jar"
}
