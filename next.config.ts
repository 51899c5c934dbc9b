import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: [
    'better-sqlite3',
    'knex',
    'pg',
    'mysql2',
    'ioredis',
    'mqtt',
    'ws',
    'https-proxy-agent',
  ],
  devIndicators: false,
  // The gate checks types, tests included; a person's build need not do it again.
  typescript: { ignoreBuildErrors: true },
};

export default config;
