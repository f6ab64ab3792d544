/** Dumps features and labels of corpus and generated loops. */
import { readFileSync, writeFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
import { measureBandEnergies } from '../src/core/analysis/band-energies.ts';
import { measureRises, findCandidates, candidateFeatures } from '../src/core/analysis/onset-features.ts';
import { measureTonalNovelty } from '../src/core/analysis/tonal-novelty.ts';
import { fluxPeaks, peakSeconds, softFeatures } from '../src/core/analysis/soft-onsets.ts';
import { attackFeatures } from '../src/core/analysis/attack-correction.ts';
import { locateAttack } from '../src/core/analysis/locate-attack.ts';
const loc:any[]=[];
import { generate } from './gen.ts';
const C='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(C+'truth.json','utf8')).files;
const out:any[]=[]; const soft:any[]=[];
function novAt(nv:any,t:number,curve:Float32Array,from:number,to:number){ let m=0; for(let i=Math.max(0,Math.floor((t+from)/nv.hopSeconds));i<=Math.min(curve.length-1,Math.ceil((t+to)/nv.hopSeconds));i++) m=Math.max(m,curve[i]!); return m; }
function med(a:number[]){ a.sort((x,y)=>x-y); return a[a.length>>1]??0; }
export function extra(nv:any,t:number){ const f=novAt(nv,t,nv.flux,-.005,.06); const around:number[]=[]; for(let i=Math.max(0,Math.floor((t-.7)/nv.hopSeconds));i<Math.min(nv.flux.length,(t+.7)/nv.hopSeconds);i++) around.push(nv.flux[i]!); const w=novAt(nv,t,nv.weight,-.02,.08)+1e-6; return [Math.log(1+f),f/w,Math.log((f+.5)/(med(around)+.5)),novAt(nv,t,nv.turn,-.01,.04)]; }
function doLoop(name:string,x:Float32Array,sr:number,onsets:{t:number;masked:boolean;soft:boolean;rise:number}[]){
  const e=measureBandEnergies(x,sr), r=measureRises(e), c=findCandidates(r.total), X=candidateFeatures(e,r,c), nv=measureTonalNovelty(x,sr);
  const used=new Set<number>();
  // greedy: each onset takes the strongest candidate within 25 ms (soft: within rise)
  const label=new Int8Array(c.length);
  onsets.forEach((o,oi)=>{ let best=-1,bv=-1; c.forEach((h,i)=>{ const t=h*e.hopFrames/sr; const d=t-o.t; const reach=Math.max(.025,o.rise/1000*1.3); if(d>-.02&&d<reach&&!used.has(i)&&r.total[h]!>bv){bv=r.total[h]!;best=i;} }); if(best>=0){ used.add(best); label[best]=o.masked?2:1; } });
  c.forEach((h,i)=>{ const t=h*e.hopFrames/sr; if(label[i]===0&&onsets.some(o=>Math.abs(o.t-t)<(o.soft?.08:.03))) label[i]=onsets.some(o=>o.soft&&Math.abs(o.t-t)<.08)?2:0; });
  c.forEach((h,i)=>{ if(label[i]!==2) out.push({n:name,t:h*e.hopFrames/sr,y:label[i],X:Array.from(X[i]!).concat(extra(nv,h*e.hopFrames/sr))}); });
  // soft candidates: flux peaks within 60 ms

  for(const i of fluxPeaks(nv)){ const t=peakSeconds(nv,i); const near=onsets.filter(o=>t>o.t-.05&&t<o.t+Math.max(.05,o.rise/1000+.05)); const rm=Math.max(0,...c.filter(h=>Math.abs(h*e.hopFrames/sr-t)<.06).map(h=>r.total[h]!)); soft.push({n:name,t,y:near.length?(near.every(o=>o.masked)?2:1):0,rm,X:softFeatures(nv,i,rm)}); }
  for(const o of onsets){ if(o.masked||o.t<.01||o.soft) continue; let best=-1,bd=.03; for(const h of c){const d=Math.abs(h*e.hopFrames/sr-o.t); if(d<bd){bd=d;best=h;}} if(best<0) continue; const coarse=best*e.hopFrames; const w=locateAttack(x,sr,coarse,{beforeMs:12,afterMs:5}); loc.push({f:name,y:o.t*1000-w/sr*1000,X:attackFeatures(x,sr,w,coarse,[...r.short.map(b=>b[best]!),...r.long.map(b=>b[best]!)])}); }
}
for(const f of Object.keys(truth)){ const {audio}=await decodeSoundFile(readFileSync(C+f)); const sr=audio.sampleRate; doLoop('C:'+f,mixToMono(audio),sr,truth[f].onsets.map((o:any)=>({t:(o.frameExact??o.frame)/sr,masked:!!o.masked,soft:o.riseMs>20,rise:o.riseMs}))); }
const N=Number(process.argv[2]??100); for(let s=1;s<=N;s++){ const g=generate(s); doLoop('G:'+g.kind+s,g.x,44100,g.onsets.map(o=>({t:o.frame/44100,masked:o.masked,soft:o.soft,rise:o.rise}))); if(s%20===0) process.stderr.write(s+' '); }
writeFileSync('/tmp/x/on.json',JSON.stringify(out)); writeFileSync('/tmp/x/loc2.json',JSON.stringify(loc)); writeFileSync('/tmp/x/soft.json',JSON.stringify(soft));
console.log(out.length,out.filter(o=>o.y===1).length,soft.length,soft.filter(o=>o.y===1).length);
