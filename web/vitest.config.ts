import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['*/test/**/*.test.{ts,tsx}'],
    reporters: ['default', ['json', { outputFile: 'target/vitest.json' }]],
  },
});
