import { formatNumber } from './bytes.js'

/** Bytes that an Ethernet frame costs besides its payload: preamble 8, header 14, check 4, gap 12 (IEEE 802.3). */
const FRAME_BYTES = 8 + 14 + 4 + 12
/** IPv4 and TCP headers without options (RFC 791, RFC 9293). */
const HEADER_BYTES = 20 + 20

/**
 * The rate at which TCP payload can cross an Ethernet link.
 *
 * @param linkMbps link rate, Mbit/s decimal
 * @param mtu largest packet on the link, bytes
 * @returns payload bytes a second
 * @see IEEE 802.3 framing; RFC 791; RFC 9293
 * @example tcpPayloadRate({ linkMbps: 1000, mtu: 1500 }) // 118.66e6
 */
export function tcpPayloadRate({ linkMbps, mtu }: { linkMbps: number; mtu: number }): number {
  const rawBytesPerSecond = (linkMbps * 1e6) / 8
  return rawBytesPerSecond * ((mtu - HEADER_BYTES) / (mtu + FRAME_BYTES))
}

/**
 * A link's rate, decimal as links are sold.
 *
 * @example formatMbps(10_000) // '10 Gbit/s'
 */
export const formatMbps = (mbps: number): string => (mbps >= 1000 ? `${formatNumber(mbps / 1000)} Gbit/s` : `${mbps} Mbit/s`)
