// npm run demo: everything from nothing to a running demo. "npm run demo -- --fresh" begins with a new demo database.
import { existsSync, mkdirSync } from 'node:fs';
import { checkNode, ensureBuild, ensurePackages, say, serve, step } from './lib/steps.mjs';

checkNode();
await ensurePackages();
await ensureBuild();
const folder = process.env.YAPPA_DATA ?? 'data';
const file = `${folder}/demo.sqlite`;
if (!existsSync(file) || process.argv.includes('--fresh')) {
  mkdirSync(folder, { recursive: true });
  await step('Making the demo database', 'npx', ['tsx', 'demo/make-demo.ts', file]);
}
say('\n▸ Starting (stop with Ctrl+C)');
serve({ YAPPA_DATA: folder, YAPPA_DB: 'demo.sqlite' });
