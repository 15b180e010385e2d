#!/bin/sh
# Server on 8741 with reload by hand, pages on 5173 with live reload. Ctrl-C ends both.
set -eu
.venv/bin/weftonos demo --port 8741 --data-dir .demo-data &
server=$!
trap 'kill "$server"' EXIT INT TERM
cd web && npx vite
