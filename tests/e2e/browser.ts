import { existsSync } from 'node:fs';

const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

const CHROMIUM = process.env.CHROMIUM_PATH || '/usr/bin/chromium';
/** The same browser without its windows, of the same package: a fifth less work a screen. It shows no notices. */
const SHELL = '/usr/bin/chromium-headless-shell';

/** With all a browser has beside its pages: it shows what is pushed to it. */
export const WHOLE_BROWSER = { launchOptions: { executablePath: CHROMIUM, args: ARGS } };

/** What draws pages, and obeys keys and pointers. */
export const PAGES_ONLY =
  !process.env.CHROMIUM_PATH && existsSync(SHELL)
    ? { launchOptions: { executablePath: SHELL, args: ARGS } }
    : WHOLE_BROWSER;
