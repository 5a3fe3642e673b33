import { minify } from 'terser';
import { defineConfig, type Plugin } from 'vite';

/** What is left once names are short and spaces are gone still has a hundredth in it. */
const smaller: Plugin = {
  name: 'smaller',
  async generateBundle(_, bundle) {
    for (const file of Object.values(bundle)) {
      if (file.type === 'chunk') {
        const { code } = await minify(file.code, {
          module: true,
          ecma: 2022,
          compress: {
            passes: 3,
            unsafe_arrows: true,
            unsafe_methods: true,
            pure_getters: true,
            keep_fargs: false,
          },
        });
        file.code = code!;
      }
    }
  },
};

// One file with everything inside, under a name that pages can rely on.
export default defineConfig({
  plugins: [smaller],
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
