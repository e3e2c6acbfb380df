import { quoted, sendLines } from '../requests/shell.js'

/**
 * The collector: plain sh that reads what a machine says of itself, shows it, and sends it when asked to.
 *
 * @param sendTo where the text goes
 * @param code the one-time code that goes with it
 * @param machineName the host or guest it is meant for, as a comment
 */
export function collectorScript({ sendTo, code, machineName }: { sendTo: string; code: string; machineName: string }): string {
  return `#!/bin/sh
# Collects what this machine says of its hardware and network for ${machineName.replace(/[^\w.-]/g, '')} in Insel.
# It reads only: nothing on this machine is changed. It shows what it would send, and sends it when you say so.
# As root it can also read the memory modules (dmidecode) and all of lshw.
set -u
# Tools say the same in every language only in this one.
LC_ALL=C
export LC_ALL
SEND_TO=${quoted(sendTo)}
SECRET=${quoted(code)}

out=$(mktemp) || exit 1
trap 'rm -f "$out"' EXIT INT TERM
has() { command -v "$1" >/dev/null 2>&1; }
part() { printf '### %s\\n' "$*"; "$@" 2>/dev/null; printf '\\n'; }

{
  printf 'hostname=%s\\n' "$(uname -n)"
  if [ -d /sys/firmware/efi ]; then echo firmware=UEFI; else echo firmware=BIOS; fi
  if has lscpu; then part lscpu --json; fi
  if has lsblk; then part lsblk --json --bytes -o +MODEL,SERIAL,TYPE,ROTA; fi
  if has ip; then part ip -json address; part ip -json link; fi
  if has free; then part free -b; else part cat /proc/meminfo; fi
  if [ "$(id -u)" = 0 ] && has dmidecode; then part dmidecode -t 1,4,16,17; fi
  if has ethtool; then
    for port in /sys/class/net/*/device; do
      [ -e "$port" ] || continue
      name=$(basename "$(dirname "$port")")
      ethtool "$name" 2>/dev/null
      ethtool -i "$name" 2>/dev/null | grep '^driver:'
    done
  fi
  if has lshw; then part lshw -json -quiet; fi
} > "$out"

cat "$out"
printf '\\ninsel: %s bytes would be sent to %s\\n' "$(wc -c < "$out" | tr -d ' ')" "$SEND_TO" >&2
if [ "\${1:-}" = --send ]; then
  answer=y
elif [ -r /dev/tty ] && [ -t 1 ]; then
  printf 'insel: send this? [y/N] ' >&2
  read -r answer < /dev/tty
else
  echo 'insel: nothing was sent. Run it with --send to send without being asked.' >&2
  exit 0
fi
case $answer in
  y | Y | yes) ;;
  *) echo 'insel: nothing was sent.' >&2; exit 0 ;;
esac
${sendLines('code', '$out')}
`
}
