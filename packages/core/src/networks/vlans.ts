/**
 * Whether a list of VLANs, as a field holds it, has an ID.
 *
 * @see IEEE 802.1Q: IDs 1 to 4094
 * @example carriesVlan('10,20-30', 25) // true
 */
export const carriesVlan = (vlans: string | null, id: number): boolean =>
  (vlans ?? '').split(',').some((range) => {
    const [first = '', last = first] = range.split('-')
    return first !== '' && id >= Number(first) && id <= Number(last)
  })
