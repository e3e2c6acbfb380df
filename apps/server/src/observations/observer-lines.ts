import { quoted, sendLines } from '../requests/shell.js'

/**
 * The numbers in what a guest sends of itself: `cpu=12.5`, `memory=2048` (MiB), `disk=8589934592` (bytes), a line each.
 *
 * @example numbersOf('cpu=12.5\nmemory=2048').memoryMiB // 2048
 */
export function numbersOf(text: string): {
  readonly cpuPercent: number | null
  readonly memoryMiB: number | null
  readonly diskBytes: number | null
} {
  const number = (name: string) => {
    const found = new RegExp(`^${name}=(\\d+(?:\\.\\d+)?)\\s*$`, 'm').exec(text)?.[1]
    return found === undefined ? null : Number(found)
  }
  return { cpuPercent: number('cpu'), memoryMiB: number('memory'), diskBytes: number('disk') }
}

/**
 * The observer: plain sh that measures processor time, memory and disks in use and sends three numbers. Run by hand it shows
 * what it sends; `--schedule` prints the line for crontab, and changes nothing itself.
 *
 * @param sendTo where the numbers go
 * @param key the guest's key that goes with them
 * @param guestName the guest it is meant for, as a comment
 */
export function observerScript({ sendTo, key, guestName }: { sendTo: string; key: string; guestName: string }): string {
  return `#!/bin/sh
# Measures processor time, memory and disks in use of ${guestName.replace(/[^\w.-]/g, '')} and sends three numbers to Insel.
# It reads only: nothing on this machine is changed. The key in SECRET is for this guest alone: keep the file mode 700.
set -u
SEND_TO=${quoted(sendTo)}
SECRET=${quoted(key)}

if [ "\${1:-}" = --schedule ]; then
  echo "# once an hour, at an odd minute; put this line into crontab -e:"
  echo "$(( $$ % 60 )) * * * * $(cd "$(dirname "$0")" && pwd)/$(basename "$0") --send"
  exit 0
fi

busy() { awk '/^cpu /{ for (i = 2; i <= 9; i++) sum += $i; print sum, $5 + $6 }' /proc/stat; }
first=$(busy); sleep 5; second=$(busy)
cpu=$(printf '%s %s\\n' "$first" "$second" | awk '{ all = $3 - $1; idle = $4 - $2; printf "%.1f", (all > 0) ? 100 * (all - idle) / all : 0 }')
memory=$(awk '/^MemTotal:/{ total = $2 } /^MemAvailable:/{ free = $2 } END { printf "%d", (total - free) / 1024 }' /proc/meminfo)
disk=$(df -P -k -l -x tmpfs -x devtmpfs -x overlay 2>/dev/null | awk 'NR > 1 && !seen[$1]++ { sum += $3 } END { printf "%.0f", sum * 1024 }')
lines=$(printf 'cpu=%s\\nmemory=%s\\ndisk=%s\\n' "$cpu" "$memory" "$disk")
printf '%s\\n' "$lines"
if [ "\${1:-}" != --send ]; then
  echo 'insel: nothing was sent. --send sends it, --schedule prints the line for crontab.' >&2
  exit 0
fi
out=$(mktemp) || exit 1
trap 'rm -f "$out"' EXIT INT TERM
printf '%s\\n' "$lines" > "$out"
${sendLines('key', '$out')}
`
}
