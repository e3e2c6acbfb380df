/** The instant it is, by the browser’s clock. */
export const now = (): string => new Date().toISOString()
