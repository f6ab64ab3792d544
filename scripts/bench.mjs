// npm run bench -- FOLDER: measures the cut and the stretching on a folder of loops with truth.
import { checkNode, ensurePackages, run } from './lib/steps.mjs';

checkNode();
await ensurePackages();
process.exit(await run('npx', ['tsx', 'bench/run.ts', ...process.argv.slice(2)], { what: 'Measuring' }));
