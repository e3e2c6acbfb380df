import { BlockList, isIP } from 'node:net'

/** For what an address is asked. */
export type Purpose = 'transfers' | 'controllers'

/** Where a server may ask, as it was started. */
export interface Reach {
  /** Prefixes and addresses, or the names `loopback` and `private`; undefined where nothing was set. */
  readonly mayAsk?: readonly string[] | undefined
  /** Whether others than the person at this machine can reach it. */
  readonly isOpenToNetwork: boolean
}

/** A setting that is no list of prefixes. */
export class MayAskError extends Error {}

/** @source RFC 1122, 3.2.1.3 (127.0.0.0/8); RFC 4291, 2.5.3 (::1) */
const LOOPBACK = ['127.0.0.0/8', '::1/128']
/** @source RFC 1918; RFC 4193 */
const PRIVATE = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', 'fc00::/7']
/**
 * Never asked, whatever is listed. Link-local addresses (RFC 3927; RFC 4291, 2.5.6), among them the address at which machines in a data
 * centre are told their secrets; others of that use are from memory. No machine’s address: this network (RFC 1122), multicast (RFC 5771;
 * RFC 4291, 2.7), reserved and broadcast (RFC 1112; RFC 919). Addresses that stand for an IPv4 address, which would not be judged:
 * translated (RFC 6052, RFC 8215), 6to4 (RFC 3056), Teredo (RFC 4380), IPv4-compatible (RFC 4291, 2.5.5.1).
 */
const NEVER = [
  ...['169.254.0.0/16', 'fe80::/10'],
  ...['fd00:ec2::254/128', '100.100.100.200/32', '192.0.0.192/32', '168.63.129.16/32'],
  ...['0.0.0.0/8', '224.0.0.0/4', '240.0.0.0/4', 'ff00::/8'],
  ...['64:ff9b::/96', '64:ff9b:1::/48', '2002::/16', '2001::/32', '::/96'],
]

const WORDS: Readonly<Record<string, readonly string[]>> = { loopback: LOOPBACK, private: PRIVATE }

/**
 * Where this server may ask for something: decided of an address, before any connection is made to it.
 *
 * Transfers ask this machine and what is listed. Controllers ask what is listed; where nothing is, this machine and private addresses, as
 * long as nobody else can reach the server.
 */
export class MayAsk {
  readonly #allowed: Readonly<Record<Purpose, BlockList>>
  readonly #never = listOf(NEVER)
  readonly #loopback = listOf(LOOPBACK)

  /** @throws MayAskError for what is no prefix */
  constructor({ mayAsk, isOpenToNetwork }: Reach) {
    const listed = (mayAsk ?? []).flatMap((word) => WORDS[word] ?? [word])
    this.#allowed = {
      transfers: listOf([...LOOPBACK, ...listed]),
      controllers: listOf(mayAsk || isOpenToNetwork ? listed : [...LOOPBACK, ...PRIVATE]),
    }
  }

  /**
   * Why an address is not asked, in a sentence; undefined where it may be.
   *
   * @param address IPv4 or IPv6, as a name was resolved
   * @example new MayAsk({ isOpenToNetwork: false }).refusal('transfers', '10.61.10.9') // 'Insel may not ask 10.61.10.9 for transfers. …'
   */
  refusal(purpose: Purpose, address: string): string | undefined {
    const plain = withoutMapping(address)
    if (has(this.#never, plain) && !has(this.#loopback, plain))
      return `Insel never asks ${address}: link-local addresses, addresses that hand out secrets to machines, and addresses that no machine has are left out.`
    if (has(this.#allowed[purpose], plain)) return undefined
    return `Insel may not ask ${address} for ${purpose}. Start it with --may-ask ${address} to allow that, or with a prefix such as 10.61.10.0/24.`
  }
}

/** IPv4 that is written as IPv6 is what it is. @source RFC 4291, section 2.5.5.2 */
function withoutMapping(address: string): string {
  const mapped = /^::ffff:(?:(\d+\.\d+\.\d+\.\d+)|([0-9a-f]{1,4}):([0-9a-f]{1,4}))$/i.exec(address)
  if (!mapped) return address
  const [, dotted, high = '', low = ''] = mapped
  if (dotted !== undefined) return dotted
  const [a, b] = [parseInt(high, 16), parseInt(low, 16)]
  return [a >> 8, a & 255, b >> 8, b & 255].join('.')
}

const has = (list: BlockList, address: string): boolean => {
  const family = isIP(address)
  return family !== 0 && list.check(address, family === 4 ? 'ipv4' : 'ipv6')
}

function listOf(prefixes: readonly string[]): BlockList {
  const list = new BlockList()
  for (const prefix of prefixes) {
    const [address = '', length, ...more] = prefix.split('/')
    const family = isIP(address)
    const bits = length === undefined ? (family === 4 ? 32 : 128) : /^\d{1,3}$/.test(length) ? Number(length) : -1
    if (family === 0 || more.length > 0 || bits < 0 || bits > (family === 4 ? 32 : 128))
      throw new MayAskError(`--may-ask: “${prefix}” is not a prefix. Enter prefixes such as 10.61.10.0/24, or the words loopback and private.`)
    list.addSubnet(address, bits, family === 4 ? 'ipv4' : 'ipv6')
  }
  return list
}
