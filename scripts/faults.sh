# What the kill test does to PostgreSQL, and only to the cluster of the tests.

# run_fault backend|postmaster: end it without a word, and have it back. run_fault freeze|thaw: stop it, and let it go on.
run_fault() {
  need_postgres
  command -v pgrep >/dev/null || apt_install procps
  local data; data=$(cluster_home test)/data
  local postmaster; postmaster=$(as_postgres sed -n 1p "$data/postmaster.pid")
  case $1 in
    backend)
      # One that serves a connection; the postmaster then ends all the others and recovers.
      local backend; backend=$(pgrep -P "$postmaster" -f ' inkmeadow_app ' | shuf -n 1) || return 0
      as_postgres kill -KILL "$backend" 2>/dev/null || true
      ;;
    postmaster)
      as_postgres kill -KILL "$postmaster"
      local try
      for try in $(seq 1 100); do
        # What it left behind has to go first.
        as_postgres "$PGBIN/pg_ctl" -D "$data" -w -t 30 restart >/dev/null 2>&1 && return
        sleep 0.2
      done
      die "PostgreSQL did not come back (try $try)"
      ;;
    freeze | thaw)
      # It keeps its lines open and says nothing more, until it goes on as if nothing had been. The postmaster first: it
      # starts none that would be missed. One of its own that has just ended can be told nothing, and need not be.
      local signal=STOP; [ "$1" = freeze ] || signal=CONT
      as_postgres kill "-$signal" "$postmaster"
      local one
      for one in $(pgrep -P "$postmaster"); do as_postgres kill "-$signal" "$one" 2>/dev/null || true; done
      ;;
    *) die "no such fault: $1" ;;
  esac
}
