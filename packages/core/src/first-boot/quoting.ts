import { stringify } from 'yaml'

/**
 * A value as YAML 1.1 and 1.2 read it alike: every text in double quotes, so that `no`, `1e3` and `0123` stay texts.
 *
 * @param keys whether keys are quoted, too: where they are names that people gave
 */
export const yamlText = (value: unknown, keys: 'PLAIN' | 'QUOTE_DOUBLE' = 'PLAIN'): string =>
  stringify(value, { defaultStringType: 'QUOTE_DOUBLE', defaultKeyType: keys, lineWidth: 0 })

/**
 * A word for a POSIX shell: in single quotes, which nothing inside is read in.
 *
 * @example shellWord("it's") // "'it'\\''s'"
 */
export const shellWord = (text: string): string => `'${oneLine(text).replaceAll("'", `'\\''`)}'`

/** A value in double quotes for a file of `NAME="value"` lines that a shell reads, such as ifcfg. */
export const shellValue = (text: string): string => `"${oneLine(text).replaceAll(/["\\$`]/g, '\\$&')}"`

/** Without line ends and other control characters, which no file of lines can hold. */
export const oneLine = (text: string): string => text.replaceAll(/[\p{Cc}\u2028\u2029]+/gu, ' ').trim()
