// What the tests need of the machine: Chromium for the interface, nginx for the proxy test.
import { existsSync } from 'node:fs';
import { run } from './ensure.mjs';

const CHROMIUM = process.env.CHROMIUM_PATH || '/usr/bin/chromium';
const NGINX = '/usr/sbin/nginx';

function aptInstall(packages) {
  const apt = (args) =>
    run('apt-get', args, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, stdio: 'ignore' });
  apt(['update', '-qq']);
  return apt(['install', '-y', '-qq', '--no-install-recommends', ...packages]) === 0;
}

export function ensureTools() {
  const missing = [
    [CHROMIUM, 'chromium'],
    // Without it all is tried with the other one, and so it is where that was named.
    ...(process.env.CHROMIUM_PATH ? [] : [['/usr/bin/chromium-headless-shell', 'chromium-headless-shell']]),
    [NGINX, 'nginx-light'],
  ].filter(([path]) => !existsSync(path));
  if (missing.length === 0) return;
  const names = missing.map(([, name]) => name);
  const root = process.getuid?.() === 0;
  if (root && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing ${names.join(', ')} …`);
    aptInstall(names);
  }
  if (!existsSync(CHROMIUM)) {
    console.error(
      `Expected Chromium at ${CHROMIUM}, found none. Install it (on Debian, as root: apt-get install chromium), ` +
        'or name another with CHROMIUM_PATH.',
    );
    process.exit(1);
  }
  if (!existsSync(NGINX)) console.log('nginx is not installed; the test behind a real proxy is left out.');
}
