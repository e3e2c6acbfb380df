/**
 * A MAC address for a new adapter: the platform's prefix and three octets taken from an id, moved on until unused.
 *
 * Taken from the id and not counted up, so that the address of a removed adapter does not come back at once.
 *
 * @param prefix three octets, such as `02:1a:4b`
 * @param id the adapter's id; its last six digits are the starting point
 * @param isTaken whether the estate has an address already
 * @throws Error when all 16,777,216 addresses of the prefix are taken
 * @example generateMac('02:1a:4b', '01890a5d-ac96-774b-bcce-b302099a8057', () => false) // '02:1a:4b:9a:80:57'
 */
export function generateMac(prefix: string, id: string, isTaken: (mac: string) => boolean): string {
  const start = parseInt(id.slice(-6), 16)
  for (let step = 0; step < 2 ** 24; step++) {
    const tail = ((start + step) % 2 ** 24).toString(16).padStart(6, '0')
    const mac = `${prefix}:${tail.slice(0, 2)}:${tail.slice(2, 4)}:${tail.slice(4)}`
    if (!isTaken(mac)) return mac
  }
  throw new Error(`All addresses under ${prefix} are in use; give the platform another MAC prefix.`)
}

/**
 * Whether a MAC is locally administered and unicast: its second hexadecimal digit is 2, 6, A or E.
 *
 * @see RFC 9542, section 2.1; IEEE 802
 * @example isLocallyAdministered('02:1a:4b:00:00:01') // true
 */
export const isLocallyAdministered = (mac: string): boolean => '26ae'.includes(mac.charAt(1).toLowerCase())
