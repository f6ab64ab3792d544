// npm start: the application on the user's own data.
import { checkNode, ensureBuild, ensurePackages, say, serve } from './lib/steps.mjs';

checkNode();
await ensurePackages();
await ensureBuild();
say('\n▸ Starting (stop with Ctrl+C)');
serve({});
