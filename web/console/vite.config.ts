import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  base: '/console/',
  plugins: [react()],
  build: { target: 'es2022', chunkSizeWarningLimit: 2000 },
});
