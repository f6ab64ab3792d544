// Compiles the kernels (src/core/kernels/assembly) to WebAssembly and writes them where the core loads them from.
// Run it after a change there: a test holds what is written against what the sources give.
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const root = fileURLToPath(new URL('..', import.meta.url));
const FLAGS = ['--runtime', 'stub', '--enable', 'simd', '-O3', '--converge', '--noAssert', '--initialMemory', '352'];
const FIXED_MEMORY = ['--maximumMemory', '352', '--baseDir', root];
const target = `${root}src/core/kernels/kernels-wasm.ts`;

/** The compiled module; throws with the compiler's words when the sources are wrong. */
export async function compileKernels() {
  const entry = 'src/core/kernels/assembly/index.ts';
  const binaries = new Map();
  const { error, stderr } = await asc.main([entry, ...FLAGS, ...FIXED_MEMORY, '-o', 'kernels.wasm'], {
    writeFile: (name, contents) => void binaries.set(name, contents),
  });
  if (error) throw new Error(`${error.message}\n${stderr.toString()}`);
  return binaries.get('kernels.wasm');
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const bytes = await compileKernels();
  const text = Buffer.from(bytes).toString('base64');
  writeFileSync(
    target,
    `/** Made from \`assembly/\` by \`node scripts/build-kernels.mjs\`: not to be changed by hand. */\nexport const KERNELS_BASE64 =\n  '${text}';\n`,
  );
  process.stdout.write(`${bytes.length} bytes\n`);
}
