import { minify } from 'terser';
import { defineConfig, type Plugin } from 'vite';
import { precompress } from '../precompress';

/**
 * Members of objects that nothing outside of this build reads: neither pages, nor what comes as JSON, nor the other
 * packages. They get short names, the same ones in all files of the build.
 */
const OWN_MEMBERS = [
  'absent',
  'context',
  'contextIn',
  'contextOf',
  'culprit',
  'isKept',
  'isOffered',
  'isRequired',
  'isRuled',
  'isUnchanged',
  'listeners',
  'memory',
  'notes',
  'onComplete',
  'onEvaluated',
  'onSuggested',
  'optionLabel',
  'overall',
  'refuse',
  'renew',
  'rowNumbers',
  'sentRows',
  'sentences',
  'server',
  'siblings',
  'submission',
  'suggestion',
  'touched',
  'typing',
  'understood',
  'visited',
];

/**
 * Browsers remember that an import failed, and fail it for ever, though the line may have been lost for a second only: it
 * is asked for again under another address.
 */
function importedAgain(code: string): string {
  return code.replace(
    /import\((["'`])(\.\/[\w-]+\.js)\1\)/g,
    'import("$2").catch(() => import("$2?" + Date.now()))',
  );
}

const NO_IMPORTS = 'an import that failed once fails for ever, so a part is given what it needs';

/** What is left once names are short and spaces are gone still has a hundredth in it. */
const smaller: Plugin = {
  name: 'smaller',
  async generateBundle(_, bundle) {
    const nameCache = {};
    for (const file of Object.values(bundle)) {
      if (file.type === 'chunk') {
        if (file.imports.length) {
          this.error(`${file.fileName} imports ${file.imports.join(', ')}: ${NO_IMPORTS}`);
        }
        const { code } = await minify(importedAgain(file.code), {
          module: true,
          ecma: 2022,
          nameCache,
          mangle: { properties: { regex: new RegExp(`^(${OWN_MEMBERS.join('|')})$`) } },
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
const UNUSED = [
  'gt',
  'gte',
  'inspect.custom',
  'lt',
  'lte',
  'pow',
  'sqrt',
  'toExponential',
  'toPrecision',
  'valueOf',
];

const withoutUnused: Plugin = {
  name: 'without-unused',
  transform(code, id) {
    if (!id.endsWith('/big.mjs')) {
      return null;
    }
    const dropped: string[] = [];
    let kept = code;
    for (const node of this.parse(code).body.reverse()) {
      const statement = code.slice(node.start, node.end);
      const name =
        /^P\.(\w+) = function/.exec(statement)?.[1] ?? /inspect\.custom/.exec(statement)?.[0];
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
  plugins: [withoutUnused, smaller, precompress('dist', true)],
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
