import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: 'dist/app',
    emptyOutDir: true,
    chunkSizeWarningLimit: 1000,
    // Fonts and pictures stay files, so that the content policy needs no data: URLs for them.
    assetsInlineLimit: 0,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:7440' } },
});
