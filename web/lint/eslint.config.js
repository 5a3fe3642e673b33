import tseslint from 'typescript-eslint';

/**
 * What is checked beyond the types: the rules that typescript-eslint recommends, all obeyed.
 * In a package of its own, because they need an older compiler than the code is built with.
 */
export default tseslint.config(
  { ignores: ['**/dist/**', '**/*.d.ts', '**/vite.config.ts'] },
  {
    files: ['{page,react,rehearse,console}/**/*.{ts,tsx}'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: process.cwd() } },
    rules: {
      // Arguments and parts that are there for those behind them begin with an underscore.
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      // A value may be an object by its type, where the control has shown that it is a text.
      '@typescript-eslint/no-base-to-string': 'off',
    },
  },
);
