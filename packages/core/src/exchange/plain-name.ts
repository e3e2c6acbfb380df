/** Letters that have no plain letter within them. */
const LIGATURES: Readonly<Record<string, string>> = { ß: 'ss', æ: 'ae', ø: 'o', œ: 'oe', đ: 'd', ł: 'l', þ: 'th' }

/** A name is cut to 63 letters; so much of a text is looked at for them. */
const LOOKED_AT = 1000

/**
 * A name that a machine may have, of a text that others called it by: letters without their marks, digits, hyphens.
 *
 * @see RFC 1123, 2.1 for what a host name may hold; Unicode Standard Annex 15 for the marks
 * @example plainName('Büro & Archiv') // 'Buro-Archiv'
 */
export const plainName = (name: string): string =>
  name
    .slice(0, LOOKED_AT)
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[ßæøœđłþ]/gi, (letter) => LIGATURES[letter.toLowerCase()] ?? '')
    .replace(/[^a-z0-9._-]+/gi, '-')
    .match(/[a-z0-9](?:.{0,61}[a-z0-9])?/i)?.[0] ?? 'guest'
