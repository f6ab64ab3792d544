/** The dependency rules hold, and each of them catches a violation planted for it. */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const root = resolve('.');
const tool = join(root, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs');
let copy: string;

beforeAll(() => {
  copy = mkdtempSync(join(tmpdir(), 'yappa-layers-'));
  for (const item of ['src', 'demo', 'package.json', 'tsconfig.json', '.dependency-cruiser.cjs']) {
    cpSync(join(root, item), join(copy, item), { recursive: true });
  }
  symlinkSync(join(root, 'node_modules'), join(copy, 'node_modules'));
  planted.forEach(([, , text], index) => {
    mkdirSync(dirname(join(copy, plantedAt(index))), { recursive: true });
    writeFileSync(join(copy, plantedAt(index)), text);
  });
  found = violations(planted.map((_, index) => plantedAt(index)));
});
afterAll(() => rmSync(copy, { recursive: true }));

/** What the tool says of all that was planted, in one go: it reads the whole project each time. */
let found = '';

function violations(paths: string[]): string {
  const { stdout } = spawnSync('node', [tool, ...paths, '--config', '.dependency-cruiser.cjs'], {
    cwd: copy,
    encoding: 'utf8',
  });
  return stdout;
}

const planted: [rule: string, file: string, text: string][] = [
  ['core-reaches-no-app', 'src/core/units/planted.ts', "import '../../server/http/guard.ts';\n"],
  ['core-is-platform-free', 'src/core/units/planted.ts', "import 'node:fs';\n"],
  ['core-approved-packages', 'src/core/units/planted.ts', "import 'express';\n"],
  ['units-and-dsp-at-the-bottom', 'src/core/dsp/planted.ts', "import '../analysis/snap.ts';\n"],
  ['settings-know-nothing', 'src/core/params/planted.ts', "import '../document/defaults.ts';\n"],
  ['document-below-queries', 'src/core/document/planted.ts', "import '../queries/values.ts';\n"],
  ['queries-below-commands', 'src/core/queries/planted.ts', "import '../project/commands/command.ts';\n"],
  ['document-knows-no-engine', 'src/core/project/planted.ts', "import '../engine/renderer.ts';\n"],
  ['kernels-know-nothing', 'src/core/kernels/planted.ts', "import '../dsp/audio.ts';\n"],
  ['midi-knows-no-document', 'src/core/midi/planted.ts', "import '../params/row.ts';\n"],
  ['analysis-knows-no-document', 'src/core/analysis/planted.ts', "import '../document/defaults.ts';\n"],
  ['renderer-sees-only-the-plan', 'src/core/engine/planted.ts', "import '../document/defaults.ts';\n"],
  ['worklets-import-core-only', 'src/web/worklets/planted.ts', "import '../router.ts';\n"],
  ['web-stands-alone', 'src/web/stores/planted.ts', "import '../../server/http/guard.ts';\n"],
  ['server-stands-alone', 'src/server/planted.ts', "import '../cli/args.ts';\n"],
  ['cli-stands-alone', 'src/cli/planted.ts', "import '../server/http/guard.ts';\n"],
];

/** Each in a file of its own. */
const plantedAt = (index: number) => planted[index]![1].replace('planted.ts', `planted-${index}.ts`);

describe('dependency rules', () => {
  it('hold for the whole project', () => {
    execFileSync('node', [tool, 'src', 'demo', '--config', '.dependency-cruiser.cjs'], { cwd: root, stdio: 'pipe' });
  });

  it.each(planted.map(([rule], index) => [rule, plantedAt(index)]))('%s catches a planted violation', (rule, file) => {
    expect(found).toContain(`${rule}: ${file}`);
  });

  it('no-circular catches a planted circle', () => {
    const files = [join(copy, 'src/core/units/one.ts'), join(copy, 'src/core/units/two.ts')];
    writeFileSync(files[0]!, "export { two } from './two.ts';\n");
    writeFileSync(files[1]!, "import './one.ts';\nexport const two = 2;\n");
    try {
      expect(violations(['src/core/units'])).toContain('no-circular');
    } finally {
      for (const file of files) rmSync(file);
    }
  });
});
