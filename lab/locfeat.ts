import { readFileSync, writeFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
import { measureBandEnergies } from '../src/core/analysis/band-energies.ts';
import { measureRises, findCandidates } from '../src/core/analysis/onset-features.ts';
import { locateAttack } from '../src/core/analysis/locate-attack.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
const rows:any[]=[];
// profile features: energy of raw and of differenced signal in half-millisecond stretches around W, dB over the median of the 10..4 ms before
export function profile(x:Float32Array,sr:number,w:number):number[]{
  const st=sr*0.0005, out:number[]=[]; 
  const en=(from:number,diff:boolean)=>{ let s=0; const a=Math.max(1,Math.round(from)),b=Math.min(x.length,Math.round(from+st)); for(let i=a;i<b;i++){const v=diff?x[i]!-x[i-1]!:x[i]!; s+=v*v;} return 10*Math.log10(s/Math.max(1,b-a)+1e-11); };
  for(const diff of [false,true]){ const e:number[]=[]; for(let k=-24;k<16;k++) e.push(en(w+k*st,diff));
    const before=e.slice(0,12).sort((a,b)=>a-b)[6]!; const peak=Math.max(...e.slice(20));
    out.push(peak-before); for(let k=8;k<40;k++) out.push(Math.max(-6,Math.min(60,e[k]!-before))/Math.max(6,peak-before)); }
  return out;
}
for (const f of Object.keys(truth)) {
  const { audio } = await decodeSoundFile(readFileSync(dir+f)); const x=mixToMono(audio), sr=audio.sampleRate;
  const e=measureBandEnergies(x,sr), r=measureRises(e), c=findCandidates(r.total);
  for (const o of truth[f].onsets) { if(o.masked) continue; const fr=o.frameExact??o.frame; if (fr<0.01*sr) continue;
    let best=-1,bd=1e9; for(const h of c){const d=Math.abs(h*e.hopFrames-fr); if(d<bd){bd=d;best=h;}}
    if (bd>0.04*sr) continue; const coarse=best*e.hopFrames; const w=locateAttack(x,sr,coarse,{beforeMs:12,afterMs:5});
    rows.push({f,y:(fr-w)/sr*1000,X:[(coarse-w)/sr*1000,...profile(x,sr,w),...r.short.map(b=>b[best]!),...r.long.map(b=>b[best]!)]});
  }
}
writeFileSync('/tmp/x/locfeat.json',JSON.stringify(rows));
