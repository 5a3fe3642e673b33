import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { antdStyles } from './antd-styles.mjs';
import { precompress } from '../precompress';

export default defineConfig({
  base: '/console/',
  plugins: [react(), antdStyles(), precompress('dist', false)],
  build: { target: 'es2022', chunkSizeWarningLimit: 2000 },
});
