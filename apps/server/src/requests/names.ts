import { hostname } from 'node:os'
import { isIP } from 'node:net'
import type { Request } from 'express'

/** The server's settings about how it is reached. */
export interface Exposure {
  /** Addresses under which people open it, such as `https://insel.skerry.example`. */
  readonly publicUrls: readonly string[]
  /** Whether it listens beyond this machine. */
  readonly isOpenToNetwork: boolean
}

/** An address in a request or a setting that is no URL of a host. */
export class PublicUrlError extends Error {}

/**
 * The names under which Insel may be asked. A page elsewhere can give its own name this machine’s address (DNS rebinding): the
 * browser then takes Insel’s answers for that page’s own. It can do so with no name of this list.
 *
 * @see RFC 9110, section 7.2: Host; OWASP, DNS rebinding
 */
export class Names {
  readonly #isOpen: boolean
  /** Public addresses by their host and port. */
  readonly #public: ReadonlyMap<string, URL>

  /** @throws PublicUrlError for an address that is no http or https URL */
  constructor({ publicUrls, isOpenToNetwork }: Exposure) {
    this.#isOpen = isOpenToNetwork
    this.#public = new Map(publicUrls.map((text) => publicUrl(text)).map((url) => [url.host, url]))
  }

  /** Whether a request’s header Host names this server. */
  isKnown(host: string | undefined): boolean {
    const url = urlOf(host)
    if (!url) return false
    if (isLoopbackName(url.hostname) || this.#public.has(url.host)) return true
    // A literal address is no name that somebody else could point here.
    return this.#isOpen && (isIP(bare(url.hostname)) !== 0 || url.hostname === hostname().toLowerCase())
  }

  /** Whether an Origin is the one that a request was sent to; `null`, as sandboxed pages send it, is not. */
  isOwnOrigin(origin: string, host: string | undefined): boolean {
    return URL.canParse(origin) && new URL(origin).host === urlOf(host)?.host
  }

  /** Where a request was sent, so that a script sends what it reads to the same place. */
  baseOf(request: Request): string {
    const url = urlOf(request.headers.host)
    const known = url && this.#public.get(url.host)
    return known ? known.origin : `${request.protocol}://${url?.host ?? 'localhost'}`
  }
}

const bare = (hostname: string) => hostname.replace(/^\[|\]$/g, '')

/** Whether a name or address can only be this machine. @see RFC 6761 (localhost), RFC 1122 (127.0.0.0/8), RFC 4291 (::1) */
export const isLoopbackName = (name: string): boolean => {
  const plain = bare(name.toLowerCase())
  return plain === 'localhost' || plain === '::1' || (isIP(plain) === 4 && plain.startsWith('127.'))
}

function urlOf(host: string | undefined): URL | undefined {
  if (!host || !/^[a-z0-9.:[\]_-]+$/i.test(host) || !URL.canParse(`http://${host}`)) return undefined
  return new URL(`http://${host}`)
}

function publicUrl(text: string): URL {
  const url = URL.canParse(text) ? new URL(text) : undefined
  if (!url || !/^https?:$/.test(url.protocol) || url.pathname !== '/' || url.search || url.hash || url.username)
    throw new PublicUrlError(`“${text}” is not the address of a server, such as https://insel.skerry.example.`)
  return url
}
