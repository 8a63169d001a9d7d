#!/usr/bin/env bash
# Installs what was built into a folder and looks whether everything lies where it belongs and runs from there.
#   tests/install.sh BUILD
set -euo pipefail
build="$(realpath "${1:?}")"
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
export HOME="$folder/home" LC_ALL=C.UTF-8 QT_QPA_PLATFORM=offscreen
mkdir -p "$HOME"
cmake --install "$build" --prefix "$folder/usr" >/dev/null
for file in bin/fortitor bin/fortitorctl bin/fortitor-standins share/applications/org.fortitor.Fortitor.desktop \
  share/mime/packages/fortitor.xml share/metainfo/org.fortitor.Fortitor.metainfo.xml share/thumbnailers/fortitor.thumbnailer \
  share/icons/hicolor/scalable/apps/fortitor.svg share/bash-completion/completions/fortitorctl \
  share/zsh/vendor-completions/_fortitorctl share/fish/vendor_completions.d/fortitorctl.fish \
  share/doc/fortitor/copyright share/doc/fortitor/changelog.gz share/doc/fortitor/guide/user-guide.md; do
  [ -s "$folder/usr/$file" ] || { echo "missing: $file" >&2; exit 1; }
done
# Every command is known to every shell.
for command in $("$folder/usr/bin/fortitorctl" --help | awk '/^Subcommands:/ { on = 1; next } on && /^  [a-z]/ { print $1 }'); do
  for shell in bash-completion/completions/fortitorctl zsh/vendor-completions/_fortitorctl fish/vendor_completions.d/fortitorctl.fish; do
    grep -qw -- "$command" "$folder/usr/share/$shell" || { echo "$shell does not know $command" >&2; exit 1; }
  done
done
"$folder/usr/bin/fortitorctl" doctor >/dev/null
"$folder/usr/bin/fortitor" "$folder/b.fortitor" --until-shown >/dev/null
"$folder/usr/bin/fortitorctl" doctor "$folder/b.fortitor" | grep -q "sound"
"$folder/usr/bin/fortitorctl" thumbnail "$folder/b.fortitor" "$folder/b.png" 128
[ "$(head -c 8 "$folder/b.png" | od -An -c | tr -d ' ')" = '211PNG\r\n032\n' ]
# A book is known by its first bytes.
[ "$(head -c 72 "$folder/b.fortitor" | tail -c 4)" = FORT ]
if "$folder/usr/bin/fortitorctl" doctor /nowhere.fortitor >/dev/null; then echo "doctor found nothing wrong" >&2; exit 1; fi
