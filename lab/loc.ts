import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
import { measureBandEnergies, BAND_EDGES_HZ } from '../src/core/analysis/band-energies.ts';
import { measureRises, findCandidates } from '../src/core/analysis/onset-features.ts';
import { locateAttack, splitPoint } from '../src/core/analysis/locate-attack.ts';
import { bandPass, filterInto } from '../src/core/dsp/biquad.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
const rows:any[]=[];
for (const f of Object.keys(truth)) {
  const { audio } = await decodeSoundFile(readFileSync(dir+f)); const x=mixToMono(audio), sr=audio.sampleRate;
  const e=measureBandEnergies(x,sr), r=measureRises(e), c=findCandidates(r.total);
  for (const o of truth[f].onsets) { if(o.masked) continue; const fr=o.frameExact??o.frame;
    let best=-1,bd=1e9; for(const h of c){const d=Math.abs(h*e.hopFrames-fr); if(d<bd){bd=d;best=h;}}
    if (bd>0.05*sr) { rows.push({f,miss:1,roles:o.roles}); continue; }
    const coarse=best*e.hopFrames; const ms=(n:number)=>(n-fr)/sr*1000;
    const W=ms(locateAttack(x,sr,coarse,{beforeMs:12,afterMs:5}));
    const rise=r.short.map(b=>Math.max(b[best]!,b[best+1]??0,b[best-1]??0));
    const riseL=r.long.map(b=>Math.max(b[best]!,b[best+1]??0,b[best-1]??0));
    rows.push({f,t:fr/sr,roles:o.roles,v:o.velocity,rise:o.riseMs,prom:o.promDb,coarse:ms(coarse),W,br:rise.map(v=>+v.toFixed(1)),bl:riseL.map(v=>+v.toFixed(1))});
  }
}
writeFileSync('/tmp/x/loc.json',JSON.stringify(rows));
