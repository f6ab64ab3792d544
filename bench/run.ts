/** `npm run bench -- FOLDER` measures the cut and the stretching, `npm run bench -- engine` what an edit and a voice cost, `effects` and `lanes` what those do. */
import { benchCut } from './cut.ts';
import { benchEffects } from './effects.ts';
import { benchEngine } from './engine.ts';
import { benchLanes } from './lanes.ts';

const [what] = process.argv.slice(2);
if (!what) {
  process.stderr.write(
    'usage: npm run bench -- FOLDER      a folder with truth.json and its loops: the cut and the stretching\n' +
      '       npm run bench -- engine      a large project: edits, saves, undo, voices\n' +
      '       npm run bench -- effects     each effect, and a large mix\n' +
      '       npm run bench -- lanes       32 lanes that move\n',
  );
  process.exit(2);
}
if (what === 'engine') await benchEngine();
else if (what === 'effects') benchEffects();
else if (what === 'lanes') benchLanes();
else await benchCut(what);
