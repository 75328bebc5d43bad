#!/usr/bin/env bash
# Ink Meadow's one script: ./ink help
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")"
for part in scripts/*.sh; do . "$part"; done

case "${1:-help}" in
  demo | serve) mode=$1; shift; start_application "$mode" "$@" ;;
  stop) stop_application ;;
  test) shift; run_tests "$@" ;;
  dev) shift; run_dev "$@" ;;
  shots) run_shots ;;
  bench) shift; run_bench "$@" ;;
  fuzz) shift; run_fuzz "$@" ;;
  backup) shift; run_backup "$@" ;;
  restore) shift; run_restore "$@" ;;
  import) shift; run_import "$@" ;;
  reset) shift; run_reset "$@" ;;
  load) run_load ;;
  fault) run_fault "$2" ;;
  reckon) shift; need_rust; run_reckon "$@" ;;
  openapi) need_rust; need_web; refresh_openapi ;;
  help | -h | --help) usage ;;
  *) say "unknown command: $1"; usage; exit 2 ;;
esac
