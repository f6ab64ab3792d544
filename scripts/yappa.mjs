// The command line's door. The commands are bundled once, beside the packages, and again when their sources change: that
// starts several times as fast as translating them at every call. ("npm run yappa" starts Node single-threaded, with room
// for young objects, early compilation of scripts and late optimisation of WebAssembly, whose largest function, in the
// FLAC decoder, would take longer to optimise than a loop takes to decode: together 40% less processor time.)
import { existsSync, mkdirSync, readdirSync, renameSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const bundle = join(root, 'node_modules/.cache/yappa/cli.mjs');

function newestIn(folder) {
  let newest = 0;
  // Every call looks at some hundred names: plain strings take a fifth of what entries and paths put together would.
  for (const name of readdirSync(folder)) {
    const path = `${folder}/${name}`;
    if (!name.includes('.')) newest = Math.max(newest, newestIn(path));
    else if (!name.endsWith('.test.ts')) newest = Math.max(newest, statSync(path).mtimeMs);
  }
  return newest;
}

const sources = Math.max(newestIn(join(root, 'src/core')), newestIn(join(root, 'src/cli')));
if (!existsSync(bundle) || statSync(bundle).mtimeMs < sources) {
  if (!existsSync(join(root, 'node_modules/esbuild'))) {
    process.stderr.write(
      'The packages are not installed yet: run "npm ci" first (or "npm run demo", which does it).\n',
    );
    process.exit(1);
  }
  const { buildSync } = await import('esbuild');
  mkdirSync(dirname(bundle), { recursive: true });
  // Under a name of its own first: several calls may start at once.
  const fresh = bundle.replace('.mjs', `.${process.pid}.mjs`);
  buildSync({
    entryPoints: [join(root, 'src/cli/main.ts')],
    outfile: fresh,
    bundle: true,
    platform: 'node',
    format: 'esm',
    // What every call needs goes in; the rarer formats are loaded when a file asks for them.
    external: [
      'wasm-media-encoders',
      'mpg123-decoder',
      '@wasm-audio-decoders/ogg-vorbis',
      '@audio/decode-aiff',
      'libflacjs',
    ],
    // The decoders can work in threads of their own, which no command asks for; loading what that takes costs 25 ms.
    alias: { '@eshaz/web-worker': join(root, 'scripts/lib/no-worker.mjs') },
    banner: {
      js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
    },
    absWorkingDir: root,
    logLevel: 'error',
  });
  renameSync(fresh, bundle);
}
await import(pathToFileURL(bundle).href);
