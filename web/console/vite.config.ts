import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { precompress } from '../precompress';

export default defineConfig({
  base: '/console/',
  plugins: [react(), precompress('dist', false)],
  build: { target: 'es2022', chunkSizeWarningLimit: 2000 },
});
