import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['@palabra/source', 'module', 'browser', 'development|production'] },
  build: {
    target: 'es2022',
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    modulePreload: { polyfill: false },
  },
  html: { cspNonce: '__NONCE__' },
  server: {
    proxy: Object.fromEntries(
      ['/api', '/files/', '/o/', '/c/', '/leave'].map((path) => [
        path,
        { target: 'http://localhost:4600', changeOrigin: false },
      ]),
    ),
  },
});
