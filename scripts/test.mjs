// npm test: all checks, from nothing. Every step says what it does; the first that fails ends the run.
import { checkNode, ensureBuild, ensureChromium, fetchPackages, say, step, together } from './lib/steps.mjs';

const began = Date.now();
checkNode();
const compiling = await fetchPackages();
const chromium = await ensureChromium();
await together([
  // What takes longest, and one processor only, goes first.
  ...(compiling ? [compiling.step] : []),
  ['Lint', 'npx', ['eslint', '.']],
  ['Format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']],
  ['Types', 'npx', ['vue-tsc', '-p', 'tsconfig.json']],
  ['Types of the core, without any platform', 'npx', ['tsc', '-p', 'tsconfig.core.json']],
]);
compiling?.done();
await step('Unit, property, contract (dependency rules, too) and server tests', 'npx', ['vitest', 'run']);
await ensureBuild();
await step('Browser tests', 'npx', ['playwright', 'test'], { env: { CHROMIUM: chromium } });
say(`\nAll passed in ${Math.round((Date.now() - began) / 1000)} s.`);
