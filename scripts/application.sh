# Starting and stopping the application.

# start_application demo|serve [--detach] [--fresh] [--port N] [--as NAME]
start_application() {
  local mode=$1 detach= fresh= port=4747 as=$1; shift
  while [ $# -gt 0 ]; do
    case $1 in
      --detach) detach=1 ;;
      --fresh) [ "$mode" = demo ] || die "--fresh works only with the demo; your own farm is never deleted"; fresh=1 ;;
      --as) shift; [ "$mode" = serve ] || die "--as works only with your own farm"; as=${1:?--as needs a name} ;;
      --port) shift; port=${1:?--port needs a number} ;;
      *) die "unknown option: $1" ;;
    esac
    shift
  done
  need_rust
  need_postgres
  web_beside build_web
  # One's own farm runs what is optimised; the demo what is built at once.
  if [ "$mode" = serve ]; then build_release; else build_server; fi
  web_done || die "the front end did not build"
  stop_processes
  start_cluster main
  local database; database=$(database_named "$as")
  if [ -n "$fresh" ]; then
    say "resetting the demo"
    sql postgres "DROP DATABASE IF EXISTS $database WITH (FORCE)"
  fi
  ensure_database "$database"
  INK_OWNER_URL=$OWNER_URL/$database "$BIN" migrate
  export INK_DATABASE_URL=$APP_URL/$database
  # The same key at every start, so that nobody is signed out by one.
  export INK_COOKIE_KEY; INK_COOKIE_KEY=$(secret cookie 64)
  local wanted=$port lab; port=$(free_port "$port")
  [ "$port" = "$wanted" ] || say "port $wanted is in use; using $port"

  local lab_option=()
  if [ "$mode" = demo ]; then
    "$BIN" demo
    lab=$(free_port 4760)
    "$BIN" stand-ins --port "$lab" >"$STATE/log/stand-ins.log" 2>&1 &
    echo "$! inkmeadow" >"$STATE/run/stand-ins.pid"
    wait_for "http://127.0.0.1:$lab/health" 20 $! || { tail -n 20 "$STATE/log/stand-ins.log" >&2; die "the stand-ins did not start"; }
    lab_option=(--seed-laboratory "http://127.0.0.1:$lab" --soil-laboratory "http://127.0.0.1:$lab"
      --weather-station "http://127.0.0.1:$lab" --scale "http://127.0.0.1:$lab")
  fi
  [ "$mode" = serve ] && [ -s "$STATE/backups" ] && lab_option+=(--backups "$(cat "$STATE/backups")")
  "$BIN" serve --port "$port" --web web/dist "${lab_option[@]}" >"$STATE/log/server.log" 2>&1 &
  local server=$!
  echo "$server inkmeadow" >"$STATE/run/server.pid"
  echo "$port" >"$STATE/run/port"
  wait_for "http://127.0.0.1:$port/api/health" 30 "$server" || { tail -n 20 "$STATE/log/server.log" >&2; die "the server did not start"; }

  echo
  echo "Ink Meadow is at http://127.0.0.1:$port"
  if [ "$mode" = demo ]; then "$BIN" demo --sign-ins; else echo "The first visitor sets up the owner and the farm."; fi
  if [ -n "$detach" ]; then
    echo "Stop it with ./ink stop"
    disown -a
  else
    echo "Stop it with Ctrl+C"
    trap 'stop_application; exit 0' INT TERM
    wait "$server" || true
    stop_application
  fi
}

stop_processes() {
  end_process "$STATE/run/vite.pid"
  end_process "$STATE/run/server.pid"
  end_process "$STATE/run/stand-ins.pid"
}

stop_application() {
  stop_processes
  stop_cluster main
  say "stopped"
}

# run_reset E-MAIL [--as NAME]: the link of somebody who has forgotten their password.
run_reset() {
  local email= as=serve
  while [ $# -gt 0 ]; do
    case $1 in
      --as) shift; as=${1:?--as needs a name} ;;
      -*) die "unknown option: $1" ;;
      *) email=$1 ;;
    esac
    shift
  done
  [ -n "$email" ] || die "for whom: ./ink reset E-MAIL"
  local database; database=$(database_named "$as")
  with_main reset_in "$database" "$email"
}

reset_in() {
  database_there "$1" || die "there is no database $1"
  local path; path=$(INK_DATABASE_URL=$APP_URL/$1 "$BIN" reset "$2") || exit 1
  say "good for a day and for one new password; whoever opens it comes in as $2"
  printf 'http://127.0.0.1:%s%s\n' "$(cat "$STATE/run/port" 2>/dev/null || echo 4747)" "$path"
}

run_dev() {
  start_application demo --detach "$@"
  (cd web && INK_API="http://127.0.0.1:$(cat "$STATE/run/port")" exec npx vite --host 127.0.0.1)
}

run_reckon() {
  cargo build --locked --quiet --package server
  exec "$BIN" reckon "$@"
}

# The API document and the types made from it are kept in the tree, so that a change of either shows.
refresh_openapi() {
  cargo build --locked --quiet --package server
  "$BIN" openapi >web/openapi.json
  (cd web && npm run --silent api && npx prettier --log-level=warn --write openapi.json src/api/schema.d.ts)
}
