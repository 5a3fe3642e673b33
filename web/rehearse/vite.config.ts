import { defineConfig } from 'vite';

// One file, which the service hands to developers only.
export default defineConfig({
  build: {
    target: 'es2022',
    lib: { entry: 'src/rehearse.ts', formats: ['es'], fileName: () => 'rehearse.js' },
    emptyOutDir: true,
  },
});
