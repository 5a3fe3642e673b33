import { defineConfig } from 'vite';

// One file with everything inside, under a name that pages can rely on.
export default defineConfig({
  build: {
    target: 'es2022',
    lib: { entry: 'src/nodley.ts', formats: ['es'], fileName: () => 'nodley.js' },
    rolldownOptions: {
      // For a library the spaces would stay; this one goes to pages as it is.
      output: {
        chunkFileNames: '[name].js',
        minify: { compress: true, mangle: true, codegen: { removeWhitespace: true } },
      },
    },
    emptyOutDir: true,
  },
});
