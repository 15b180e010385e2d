#!/bin/sh
# Small faults in the browser's TypeScript that has tests of its own, and whether they notice (Stryker 9).
# Stryker is fetched for this alone, into a copy of web/ under .bench: nothing else needs it. A second run goes on from
# what the first one found.
set -e
cd "$(dirname "$0")/.."
copy=.bench/stryker
mkdir -p "$copy"
rm -rf "$copy/src" "$copy/tests"
cp -r web/. "$copy/"
cd "$copy"
[ -d node_modules/@stryker-mutator ] || npm install --no-save --no-audit --no-fund --loglevel=error \
  @stryker-mutator/core@9.6.1 @stryker-mutator/vitest-runner@9.6.1
# The tests' own zone: Stryker's workers do not take it from vitest's settings.
TZ=Pacific/Auckland npx stryker run
