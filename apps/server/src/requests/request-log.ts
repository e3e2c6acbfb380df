import { SECRETS } from './secrets.js'

/** Parameters that are as good as a password: they are not written into a log. */
const SECRET = new RegExp(`([?&](?:${Object.keys(SECRETS).join('|')})=)[^&]*`, 'g')

/**
 * A request's address as the log may hold it.
 *
 * @example loggedUrl('/api/v1/estates/1/collect.sh?code=abc') // '/api/v1/estates/1/collect.sh?code=…'
 */
export const loggedUrl = (url: string): string => url.replace(SECRET, '$1…')
