import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'bench/**/*.test.ts', 'tests/{contract,golden,property,server,cli}/**/*.test.ts'],
    setupFiles: ['tests/support/quick-equality.ts'],
    // Generous: machines that run tests are often busy with others' work, too.
    testTimeout: 90_000,
    hookTimeout: 90_000,
    pool: 'threads',
    // Every processor, and each module loaded once: no test leaves anything behind in one.
    maxWorkers: '100%',
    isolate: false,
  },
});
