import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  build: { target: 'es2023', chunkSizeWarningLimit: 1600, modulePreload: { polyfill: false }, assetsInlineLimit: 0 },
  server: { proxy: { '/api': { target: process.env['SERVER'] ?? 'http://127.0.0.1:4400' } } },
});
