import { minify } from 'terser';
import { defineConfig, type Plugin } from 'vite';
import { precompress } from '../precompress';

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

/** The methods of big.js that no page calls; all of them are on a prototype, where no bundler finds them. */
const UNUSED = ['gte', 'pow', 'sqrt', 'toExponential', 'toPrecision'];

const withoutUnused: Plugin = {
  name: 'without-unused',
  transform(code, id) {
    if (!id.endsWith('/big.mjs')) {
      return null;
    }
    const dropped: string[] = [];
    let kept = code;
    for (const node of this.parse(code).body.reverse()) {
      const name = /^P\.(\w+) = function/.exec(code.slice(node.start, node.end))?.[1];
      if (name && UNUSED.includes(name)) {
        kept = kept.slice(0, node.start) + kept.slice(node.end);
        dropped.push(name);
      }
    }
    if (dropped.length !== UNUSED.length) {
      this.error(`big.js no longer has all of ${UNUSED.join(', ')}`);
    }
    return { code: kept, map: null };
  },
};

// One file with everything inside, under a name that pages can rely on.
export default defineConfig({
  plugins: [withoutUnused, smaller, precompress('dist')],
  build: {
    target: 'es2022',
    lib: {
      entry: { nodley: 'src/nodley.ts', 'signing-in': 'src/signing-in.ts' },
      formats: ['es'],
      fileName: (_, name) => `${name}.js`,
    },
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
