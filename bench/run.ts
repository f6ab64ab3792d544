/** `npm run bench -- FOLDER` measures the cut and the stretching, `npm run bench -- engine` what an edit and a voice cost, `effects` what effects do. */
import { benchCut } from './cut.ts';
import { benchEffects } from './effects.ts';
import { benchEngine } from './engine.ts';

const [what] = process.argv.slice(2);
if (!what) {
  process.stderr.write(
    'usage: npm run bench -- FOLDER      a folder with truth.json and its loops: the cut and the stretching\n' +
      '       npm run bench -- engine      a large project: edits, saves, undo, voices\n' +
      '       npm run bench -- effects     each effect, and a large mix\n',
  );
  process.exit(2);
}
if (what === 'engine') await benchEngine();
else if (what === 'effects') benchEffects();
else await benchCut(what);
