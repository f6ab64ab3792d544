/** `npm run bench -- FOLDER` measures roles, the cut, the tempo, the stretching, the breaks and what is taken apart, `npm run bench -- engine` what an edit and a voice cost, `effects` and `lanes` what those do. */
import { benchApart } from './apart.ts';
import { benchBreaks } from './breaks.ts';
import { benchCut } from './cut.ts';
import { benchEffects } from './effects.ts';
import { benchEngine } from './engine.ts';
import { benchLanes } from './lanes.ts';
import { benchMelodic } from './melodic.ts';
import { benchRoles } from './roles.ts';
import { benchTempo } from './tempo.ts';

const [what] = process.argv.slice(2);
if (!what) {
  process.stderr.write(
    'usage: npm run bench -- FOLDER      a folder with truth.json and its loops: roles, the cut, tempo, the stretching, breaks, taking apart\n' +
      '       npm run bench -- engine      a large project: edits, saves, undo, voices\n' +
      '       npm run bench -- effects     each effect, and a large mix\n' +
      '       npm run bench -- lanes       32 lanes that move\n',
  );
  process.exit(2);
}
if (what === 'engine') await benchEngine();
else if (what === 'effects') benchEffects();
else if (what === 'lanes') benchLanes();
else {
  await benchRoles(what);
  await benchCut(what);
  benchMelodic();
  await benchTempo(what);
  await benchBreaks(what);
  await benchApart(what);
}
