import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // Types are a check of their own.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: [
    'pg',
    'postgrator',
    'pino',
    'music-metadata',
    'node-taglib-sharp',
    'mpg123-decoder',
    '@wasm-audio-decoders/flac',
    '@wasm-audio-decoders/ogg-vorbis',
    'ogg-opus-decoder',
  ],
  // Cross-origin isolation: the browser's decoder, views and player share one copy of the samples.
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
        { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
        { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
        { key: 'X-Content-Type-Options', value: 'nosniff' },
        { key: 'Referrer-Policy', value: 'no-referrer' },
        { key: 'X-Frame-Options', value: 'DENY' },
      ],
    },
  ],
};

export default config;
