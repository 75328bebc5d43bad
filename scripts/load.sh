# ./ink load: a large farm under load, on a release build. Prints a table for docs/speed.md.

# now_serving PORT DATABASE: the release build over a database; leaves SERVER set.
now_serving() {
  # One key for all starts, so that whoever signed in stays so.
  export INK_COOKIE_KEY=${INK_COOKIE_KEY:-$(head -c 64 /dev/urandom | od -An -tx1 | tr -d ' \n')}
  INK_DATABASE_URL=$APP_URL/$2 RUST_LOG=warn "$CARGO_TARGET_DIR/release/inkmeadow" serve --port "$1" 2>"$STATE/log/load.log" &
  SERVER=$!
  wait_for "http://127.0.0.1:$1/api/health" 30 "$SERVER" || die "the server did not start: see $STATE/log/load.log"
}

# asked WHAT PATH [BODY]: a line of the table. Alone: the middle of nine. Then fifty a second for ten seconds.
asked() {
  local url="$at/$2" alone many post=() hit=()
  if [ $# -gt 2 ]; then
    post=(-H 'content-type: application/json' -d "$3"); hit=(-m POST -T application/json -d "$3")
  fi
  alone=$(for _ in 1 2 3 4 5 6 7 8 9; do
    curl -s --compressed -b "$jar" -o /dev/null -w '%{time_total}\n' "${post[@]}" "$url"
  done | sort -n | sed -n 5p | awk '{printf "%.1f", $1 * 1000}')
  many=$(hey -z 10s -c 5 -q 10 "${hit[@]}" -H "cookie: ink=$cookie" -H "accept-encoding: gzip" "$url" |
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
  large() { sql inkmeadow_load "$1"; }
  "$PGBIN/psql" -qX -v ON_ERROR_STOP=1 "$ADMIN_URL/inkmeadow_load" -f scripts/load.sql
  # As a database is that has been there for a while.
  large "VACUUM ANALYZE"
  local port jar cookie farm at field stand; port=$(free_port 4790); jar=$(mktemp)
  now_serving "$port" inkmeadow_load
  local api=http://127.0.0.1:$port/api
  curl -s -o /dev/null -c "$jar" -H 'content-type: application/json' \
    -d '{"email": "mara@fennick.example", "password": "hay before rain"}' "$api/sign-in"
  cookie=$(awk '$6 == "ink" {print $7}' "$jar")
  farm=$(large "SELECT id FROM farms WHERE name = 'Fennick Hollow'")
  field=$(large "SELECT id FROM fields WHERE name = 'Upper Larkin 7'")
  stand=$(large "SELECT id FROM stands WHERE field_id = '$field' LIMIT 1")
  at=$api/farms/$farm
  local first; first=$(curl -s --compressed -b "$jar" -o /dev/null -w '%{time_total}' "$at/season")
  echo
  echo "The first season after a start, folded from the whole ledger: $first s"
  # Another start: the season is as it was kept.
  sleep 2
  kill "$SERVER"; wait "$SERVER" 2>/dev/null || true
  now_serving "$port" inkmeadow_load
  echo "The first season after the next start: $(curl -s --compressed -b "$jar" -o /dev/null -w '%{time_total}' "$at/season") s"
  echo
  echo "| page | alone, ms | asked a second | half within, ms | 99 in 100 within, ms | not answered |"
  echo "|---|---|---|---|---|---|"
  asked season season
  asked "a stand" "stands/$stand"
  asked "a field" "fields/$field"
  asked "a field's ground" "fields/$field/ground"
  asked "all fields" fields
  asked "the ledger" entries
  asked "the ledger, its last page" "entries?oldest=true"
  asked lots lots
  # What is tried and not inked: the stand's own choices, asked anew each time.
  local choices; choices=$(large "SELECT payload->'choices' FROM entries e JOIN entry_subjects s ON s.farm_id = e.farm_id
    AND s.entry_id = e.id WHERE s.subject_id = '$stand' AND e.kind = 'choices' ORDER BY e.recorded_at DESC LIMIT 1")
  asked "when: the odds of a sowing" windows "{\"field\": \"$field\", \"choices\": $choices}"
  asked "a plan, as one drags its day" plan "{\"field\": \"$field\", \"choices\": $choices}"
  asked "three ways side by side" plans "{\"field\": \"$field\", \"ways\": [{\"name\": \"a\", \"choices\": $choices},
    {\"name\": \"b\", \"choices\": $choices}, {\"name\": \"c\", \"choices\": $choices}]}"
  asked "what is left of a sowing" "stands/$stand/rest"
  asked "a year of weather" "weather?from=2026-01-01&to=2026-12-31"
  echo
  # A write on one field, and the season after it: ten times.
  local id; for _ in 1 2 3 4 5 6 7 8 9 10; do
    id=$(cat /proc/sys/kernel/random/uuid)
    curl -s -o /dev/null -b "$jar" -H 'content-type: application/json' -w 'written %{time_total} ' \
      -d "{\"id\": \"$id\", \"about\": [{\"kind\": \"field\", \"id\": \"$field\"}], \"occurred_on\": \"2026-05-10\", \"payload\": {\"kind\": \"note\", \"text\": \"walked\"}}" "$at/entries"
    curl -s --compressed -o /dev/null -b "$jar" -w 'season %{time_total}\n' "$at/season"
  done | awk '{w+=$2; s+=$4} END {printf "A record written: %.1f ms; the season after it: %.1f ms (means of ten)\n", w*100, s*100}'
  memory() { echo "$(($(awk "/$1/ {print \$2}" "/proc/$SERVER/status") / 1024)) MB"; }
  echo "Memory of the server: $(memory VmRSS)"
  curl -s -b "$jar" -o /dev/null -w 'The whole farm as an archive: %{time_total} s, %{size_download} bytes; ' "$at/archive.zip"
  echo "the most memory so far: $(memory VmHWM)"
  kill "$SERVER"; wait "$SERVER" 2>/dev/null || true
  many_farms "$port"
  rm -f "$jar"
}

# many_farms PORT: two hundred farms, somebody at each, fifteen seconds between pages.
many_farms() {
  local release=$CARGO_TARGET_DIR/release/inkmeadow
  say "making two hundred farms"
  ensure_database inkmeadow_many
  INK_OWNER_URL=$OWNER_URL/inkmeadow_many "$release" migrate
  INK_DATABASE_URL=$APP_URL/inkmeadow_many "$release" demo
  "$PGBIN/psql" -qX -v ON_ERROR_STOP=1 "$ADMIN_URL/inkmeadow_many" -f scripts/load-many.sql
  cargo build --locked --quiet --package test-bed --bin people
  INK_TRIES=100000 now_serving "$1" inkmeadow_many
  echo
  "$CARGO_TARGET_DIR/debug/people" "http://127.0.0.1:$1" 200 90
  echo "Memory of the server: $(memory VmRSS), at most $(memory VmHWM)"
}
