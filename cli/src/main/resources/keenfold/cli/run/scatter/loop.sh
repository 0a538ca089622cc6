#!/bin/sh
# Without a scheduler: one shard after the other on this machine, then joined. Started again, it goes on.
set -eu
cd "$(dirname "$0")"
i=1
while [ "$i" -le @SHARDS@ ]; do
  ./shard.sh "$i"
  i=$((i + 1))
done
./finish.sh
