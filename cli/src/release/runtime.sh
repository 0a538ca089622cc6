#!/bin/sh
# Makes, of the release archive, one that needs no Java: with a trimmed runtime of its own and the archive of classes that
# its start maps. Run by mvn -Pruntime package; the runtime is that of the JDK named here.
# usage: runtime.sh ARCHIVE.tar.gz JDK FOLDER
set -eu
archive=$1
jdk=$2
out=$3

[ -x "$jdk/bin/jlink" ] || { echo "runtime.sh: $jdk is no JDK: there is no bin/jlink in it" >&2; exit 1; }
version=$("$jdk/bin/java" -XshowSettings:properties -version 2>&1 | sed -n 's/^ *java\.specification\.version = //p')
# Before 25, classes are archived as they were loaded, not as they were linked: a start takes half as long again.
if [ "${version%%.*}" -lt 25 ]; then
  echo "runtime.sh: $jdk is Java $version; a runtime that starts fast takes 25 or newer (-Druntime.jdk=PATH)" >&2
  exit 1
fi
case $(uname -s)-$(uname -m) in
  Linux-x86_64) platform=linux-x64 ;;
  Linux-aarch64) platform=linux-arm64 ;;
  *) echo "runtime.sh: made on Linux alone, for x86-64 and ARM64" >&2; exit 1 ;;
esac

work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
tar -xzf "$archive" -C "$work"
home=$(echo "$work"/keenfold-*)
name=$(basename "$home")-$platform
lib=$home/lib/keenfold

# What the classes refer to, and what they reach by name: encodings of tables, and signals.
modules=$("$jdk/bin/jdeps" --print-module-deps --ignore-missing-deps --multi-release 17 "$lib/keenfold.jar")
"$jdk/bin/jlink" --add-modules "$modules,jdk.charsets,jdk.management,jdk.unsupported" --no-man-pages \
  --no-header-files --output "$lib/runtime"
# The launcher's collector; an archive of classes belongs to one.
"$lib/runtime/bin/java" -XX:+UseSerialGC -Xshare:dump >/dev/null
# Classes of before Java 6, which the parser of the command line has, would be in no archive.
"$jdk/bin/java" "$(dirname "$0")/StackMaps.java" "$lib/keenfold.jar" "$work/keenfold.jar"
mv "$work/keenfold.jar" "$lib/keenfold.jar"
sum=$(sha256sum "$lib/keenfold.jar" | cut -d ' ' -f 1)
sed -i "s/^[0-9a-f]*\(  lib\/keenfold\/keenfold\.jar\)$/$sum\1/" "$home/share/doc/keenfold/SHA256SUMS"
# To the second, as tar keeps it: the archive of classes is refused for a jar of another time.
touch -d '2026-01-01 00:00:00 UTC' "$lib/keenfold.jar" "$lib/runtime/lib/modules"
# What is done meanwhile is what is archived; the test of this script does less.
played=${KEENFOLD_REHEARSAL:-keenfold.cli.Rehearsal $work/rehearsal}
mkdir "$work/rehearsal"
# Profiles are left out: what they say of long runs would be compiled at each start. The option for native code is the
# launcher's; with another, the archive is refused.
# shellcheck disable=SC2086
(cd "$work/rehearsal" && "$lib/runtime/bin/java" -XX:AOTCacheOutput="$lib/keenfold.aot" \
  -XX:+UnlockDiagnosticVMOptions -XX:-AOTRecordTraining --enable-native-access=ALL-UNNAMED \
  -Duser.timezone=UTC -XX:+UseSerialGC -Xlog:disable -Xlog:all=error:stderr \
  -cp "$lib/keenfold.jar" $played) >/dev/null 2>&1
[ -s "$lib/keenfold.aot" ] || { echo "runtime.sh: no archive of classes was made" >&2; exit 1; }

"$lib/runtime/bin/java" -XX:+UseSerialGC -cp "$lib/keenfold.jar" keenfold.cli.Main --help >"$lib/help.txt"

mkdir -p "$out"
rm -f "$home/bin/keenfold.cmd"
sed -i '/  bin\/keenfold\.cmd$/d' "$home/share/doc/keenfold/SHA256SUMS"
mv "$home" "$work/$name"
tar -C "$work" --sort=name --owner=0 --group=0 --numeric-owner -czf "$out/$name.tar.gz" "$name"

# Beside the archives: a recipe for an image, what they are made of, and their sums.
cp "$(dirname "$0")/Containerfile" "$out"
release=${name%"-$platform"}
cp "$work/$name/share/doc/keenfold/components.json" "$out/$release-components.json"
for file in "$archive" "${archive%.tar.gz}.zip"; do
  [ "$file" -ef "$out/$(basename "$file")" ] || cp "$file" "$out"
done
(cd "$out" && sha256sum "$release.tar.gz" "$release.zip" "$name.tar.gz" "$release-components.json" >"$release-SHA256SUMS")
