// npm test: all checks, from nothing. Every step says what it does; the first that fails ends the run.
import { checkNode, ensureBuild, ensureChromium, ensurePackages, say, step, together } from './lib/steps.mjs';

const began = Date.now();
checkNode();
await ensurePackages();
const chromium = await ensureChromium();
await together([
  ['Lint', 'npx', ['eslint', '.']],
  ['Format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']],
  ['Types', 'npx', ['vue-tsc', '-p', 'tsconfig.json']],
  ['Types of the core, without any platform', 'npx', ['tsc', '-p', 'tsconfig.core.json']],
]);
await step('Unit, property, contract (dependency rules, too) and server tests', 'npx', ['vitest', 'run']);
await ensureBuild();
await step('Browser tests', 'npx', ['playwright', 'test'], { env: { CHROMIUM: chromium } });
say(`\nAll passed in ${Math.round((Date.now() - began) / 1000)} s.`);
