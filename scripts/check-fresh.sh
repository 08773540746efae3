#!/bin/sh
# Clones the project into an empty folder and runs what the README says there.
set -e
dir=$(mktemp -d)
trap 'kill $pid 2>/dev/null || true; rm -rf "$dir"' EXIT
git clone -q "$(git rev-parse --show-toplevel)" "$dir/uzzel"
cd "$dir/uzzel"
make build
ADDR=127.0.0.1:8097 TODAY=2026-05-14 bin/uzzel demo > "$dir/log" 2>&1 &
pid=$!
i=0
until curl -sf http://127.0.0.1:8097/healthz >/dev/null; do
  i=$((i + 1))
  [ $i -lt 100 ] || { cat "$dir/log"; exit 1; }
  sleep 0.3
done
echo "make demo answers."
kill $pid
make test
