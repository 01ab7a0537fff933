import { defineConfig } from 'astro/config';
import node from '@astrojs/node';
import react from '@astrojs/react';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  outDir: './dist/web',
  srcDir: './src',
  devToolbar: { enabled: false },
  // Our own middleware checks the origin of every writing request, JSON ones included.
  security: { checkOrigin: false },
  build: { inlineStylesheets: 'never' },
  experimental: {
    csp: {
      directives: [
        "default-src 'none'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        'frame-src *',
        "base-uri 'none'",
        "form-action 'self'",
      ],
    },
  },
  vite: { build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 } },
});
