import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { analyseSource } from '../src/core/analysis/analyse-source.ts';
import { readFreeTempo } from '../src/core/analysis/free-tempo.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
for (const f of Object.keys(truth)) { const {audio}=await decodeSoundFile(readFileSync(dir+f)); const a:any=analyseSource(audio); const t=truth[f]; const free=readFreeTempo(a.tempoHits,audio.sampleRate);
 const err=free?free.bpm/t.bpm:0; const near=[.5,2/3,.75,1,4/3,1.5,2].find(r=>Math.abs(err/r-1)<.006); const best=a.tempoReadings[0];
 console.log(f.padEnd(20),t.bpm,t.tags.includes('untrimmed')?'UNTRIMMED start '+t.loopStart:'',free?`free ${free.bpm.toFixed(2)} x${near??err.toFixed(2)} fit ${free.fit.toFixed(2)} first ${free.firstBeatFrame}`:'-', best?`trim ${best.bpm.toFixed(2)} conf ${best.confidence.toFixed(2)} fit ${best.fit?.toFixed(2)}`:''); }
