// Not TypeScript: Next would load a compiler for it at every start.
/** @type {import('next').NextConfig} */
const config = {
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
  images: { unoptimized: true },
  // The front door decides what of a request counts for a copy of a page; that needs no hash in its address.
  experimental: {
    validateRSCRequestHeaders: false,
    preloadEntriesOnStart: false,
    // They would not be shipped, and take as long as a tenth of the build.
    turbopackSourceMaps: false,
    // It makes the next build quicker and this one slower: most are the only one of their clone.
    turbopackFileSystemCacheForBuild: process.env.BUILD_CACHE === '1',
  },
  // The gate checks types, tests included; a person's build need not do it again.
  typescript: { ignoreBuildErrors: true },
};

export default config;
