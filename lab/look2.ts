import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
import { measureBandEnergies } from '../src/core/analysis/band-energies.ts';
import { measureRises } from '../src/core/analysis/onset-features.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
for (const [f,i] of [['perc-02.flac',4],['perc-02.flac',7],['pad-02.flac',2],['pad-01.flac',1]] as const) {
 const { audio } = await decodeSoundFile(readFileSync(dir+f)); const x=mixToMono(audio), sr=audio.sampleRate; const fr=truth[f].onsets[i].frame;
 const e=measureBandEnergies(x,sr); const h=Math.round(fr/e.hopFrames); const r=measureRises(e);
 console.log(f,i); const step=f.startsWith('pad')?10:3;
 for(let b=0;b<9;b++){ const o:string[]=[]; for(let k=-6;k<16;k++){ let s=0; for(let j=0;j<step;j++) s+=e.bands[b]![h+k*step+j]!; o.push((10*Math.log10(s/step+1e-12)).toFixed(0)); } console.log(String(b),o.slice(0,6).join(' '),' | ',o.slice(6).join(' ')); }
 const o:string[]=[]; for(let k=-6;k<16;k++){ let s=0; for(let j=0;j<step;j++) s=Math.max(s,r.total[h+k*step+j]!); o.push(s.toFixed(0)); } console.log('tot',o.slice(0,6).join(' '),' | ',o.slice(6).join(' '));
}
