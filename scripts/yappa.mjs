// The command line's door: starts src/cli through tsx in this same process, so that nothing has to be built first.
import { existsSync } from 'node:fs';

if (!existsSync(new URL('../node_modules/tsx', import.meta.url))) {
  process.stderr.write('The packages are not installed yet: run "npm ci" first (or "npm run demo", which does it).\n');
  process.exit(1);
}
const { register } = await import('tsx/esm/api');
register();
await import('../src/cli/main.ts');
