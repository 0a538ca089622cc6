#!/bin/sh
# Lists every text that a user can read, one a line with where it stands: help of all commands, messages and notices in the
# sources, the pages' templates, the docs. For an editor's pass: docs/texts.sh > /tmp/texts.tsv, after mvn package.
set -eu
cd "$(dirname "$0")/.."
keenfold=${KEENFOLD:-"java -jar cli/target/keenfold-all.jar"}
for command in "" $($keenfold --help | sed -n 's/^  \([a-z][a-z]*\)   *[a-zA-Z].*/\1/p'); do
  # shellcheck disable=SC2086
  $keenfold $command --help | sed "s/^/help $command\t/"
done
# Texts of several words in the sources, joined where a literal goes on in the next line.
find core io results view study cli -path '*src/main/java*' -name '*.java' | sort | while read -r file; do
  perl -0777 -ne '
    s/"\s*\n\s*\+ "//g;
    my $file = $ARGV;
    while (/"((?:[^"\\\n]|\\.)*[a-z] [a-z](?:[^"\\\n]|\\.)*)"/g) { print "$file\t$1\n" }
  ' "$file"
done
for file in view/src/main/resources/keenfold/view/page/*.ftlh README.md docs/*.md; do
  sed -n "s|^\(.*[a-z] [a-z].*\)|$file\t\1|p" "$file"
done
