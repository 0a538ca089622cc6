#!/bin/bash
# Times fits of this Keen Fold beside those of another commit: bench/beside.sh COMMIT [TIMES [WORD]]
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
commit=${1:?which commit}
other=$(mktemp -d)
trap 'rm -rf "$other"' EXIT
git clone -q "$here" "$other/keenfold"
git -C "$other/keenfold" checkout -q "$commit"
(cd "$other/keenfold" && mvn -q -DskipTests -pl cli -am package >&2)
(cd "$here" && mvn -q -DskipTests package >&2)
java -XX:+UseSerialGC -cp "$here/bench/target/bench.jar" keenfold.bench.Beside \
  "$other/keenfold/cli/target/keenfold-all.jar" "${2:-11}" ${3:+"$3"}
