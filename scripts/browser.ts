/** What Debian's Chromium needs to run as root, without a screen and without looking for a network. */
export const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-dev-shm-usage',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
  '--no-default-browser-check',
  '--disable-domain-reliability',
]
