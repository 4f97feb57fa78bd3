import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const headers = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

export default defineConfig({
  plugins: [react(), tailwind()],
  worker: { format: 'es' },
  server: { headers, port: 4181, proxy: { '/demo': `http://localhost:${process.env.PORT ?? 4180}` } },
  build: { target: 'es2022', chunkSizeWarningLimit: 1200 },
});
