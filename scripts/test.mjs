// npm test: all checks, from nothing. Every step says what it does; the first that fails ends the run.
import { checkNode, ensureBuild, ensureChromium, ensurePackages, say, step } from './lib/steps.mjs';

const began = Date.now();
checkNode();
await ensurePackages();
const chromium = await ensureChromium();
await step('Lint', 'npx', ['eslint', '.']);
await step('Format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']);
await step('Types', 'npx', ['vue-tsc', '-p', 'tsconfig.json']);
await step('Types of the core, without any platform', 'npx', ['tsc', '-p', 'tsconfig.core.json']);
await step('Dependency rules', 'npx', ['depcruise', 'src', 'demo', '--config', '.dependency-cruiser.cjs']);
await step('Unit, property, contract and server tests', 'npx', ['vitest', 'run']);
await ensureBuild();
await step('Browser tests', 'npx', ['playwright', 'test'], { env: { CHROMIUM: chromium } });
say(`\nAll passed in ${Math.round((Date.now() - began) / 1000)} s.`);
