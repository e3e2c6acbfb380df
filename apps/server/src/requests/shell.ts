import { SECRETS, type SecretName } from './secrets.js'

/** A text between single quotes, as a shell takes it literally. */
export const quoted = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`

/**
 * Lines of sh that send a file to `$SEND_TO` with the secret in `$SECRET`. The secret is neither in the address nor on a
 * command line, where logs and other users of the machine would read it.
 *
 * @param secret which header it goes in
 * @param file the file's path, as the shell expands it
 */
export const sendLines = (secret: SecretName, file: string): string => {
  const header = SECRETS[secret]
  return `if command -v curl >/dev/null 2>&1; then
  printf 'header = "${header}: %s"\\n' "$SECRET" | curl -fsS -K - -H 'Content-Type: text/plain' --data-binary "@${file}" "$SEND_TO" >&2
elif command -v wget >/dev/null 2>&1; then
  settings=$(umask 077; mktemp) || exit 1
  printf 'header = ${header}: %s\\n' "$SECRET" > "$settings"
  wget -q -O - --config="$settings" --header='Content-Type: text/plain' --post-file="${file}" "$SEND_TO" >&2
  sent=$?
  rm -f "$settings"
  [ "$sent" = 0 ]
else
  echo 'insel: neither curl nor wget is here. Paste what was printed into Insel instead.' >&2
  exit 1
fi`
}
