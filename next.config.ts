import type { NextConfig } from 'next';

/** Headers of every answer. The page policy with its nonce is set in src/proxy.ts. */
const SECURITY_HEADERS = [
  { key: 'cross-origin-opener-policy', value: 'same-origin' },
  { key: 'cross-origin-embedder-policy', value: 'require-corp' },
  { key: 'cross-origin-resource-policy', value: 'same-origin' },
  { key: 'x-content-type-options', value: 'nosniff' },
  { key: 'referrer-policy', value: 'no-referrer' },
];

/** Data may do nothing in a browser that opens them as a page. */
const DATA_POLICY = {
  key: 'content-security-policy',
  value: "default-src 'none'; frame-ancestors 'none'",
};

const config: NextConfig = {
  serverExternalPackages: [
    'sequelize',
    'sqlite3',
    'sharp',
    'piscina',
    'umzug',
    'bullmq',
    'ioredis',
    'chokidar',
    'fontkit',
    'exifr',
  ],
  poweredByHeader: false,
  devIndicators: false,
  // Types and lint are checked by npm test, over the whole tree.
  typescript: { ignoreBuildErrors: true },
  experimental: { optimizePackageImports: ['@mantine/core', '@mantine/hooks', '@tabler/icons-react'] },
  headers: () =>
    Promise.resolve([
      { source: '/:path*', headers: SECURITY_HEADERS },
      { source: '/api/:path*', headers: [DATA_POLICY] },
    ]),
};

export default config;
