import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'bench/**/*.test.ts', 'tests/{contract,golden,property,server,cli}/**/*.test.ts'],
    testTimeout: 30_000,
    pool: 'threads',
    // Every processor, and each module loaded once: no test leaves anything behind in one.
    maxWorkers: '100%',
    isolate: false,
  },
});
