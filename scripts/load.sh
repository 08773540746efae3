#!/bin/sh
# Serves the demo and asks it as a company at work does (bench/load).
set -e
dir=$(mktemp -d)
bin/uzzel demo --db "$dir/demo.db" --addr 127.0.0.1:8123 --metrics 127.0.0.1:9123 --proxy 127.0.0.0/8 --today 2026-05-14 >"$dir/log" 2>&1 &
server=$!
trap 'kill $server; wait $server; rm -rf "$dir"' EXIT
go run ./bench/load -url http://127.0.0.1:8123 -metrics http://127.0.0.1:9123/metrics "$@"
