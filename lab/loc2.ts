import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
import { measureBandEnergies } from '../src/core/analysis/band-energies.ts';
import { measureRises, findCandidates } from '../src/core/analysis/onset-features.ts';
import { locateAttack } from '../src/core/analysis/locate-attack.ts';
import { zeroCrossingBefore } from '../src/core/analysis/snap.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
const data:any[]=[];
for (const f of Object.keys(truth)) {
  const { audio } = await decodeSoundFile(readFileSync(dir+f)); const x=mixToMono(audio), sr=audio.sampleRate;
  const e=measureBandEnergies(x,sr), r=measureRises(e), c=findCandidates(r.total);
  const list:any[]=[];
  for (const o of truth[f].onsets) { if(o.masked) continue; const fr=o.frameExact??o.frame; if (fr<0.01*sr) continue;
    let best=-1,bd=1e9; for(const h of c){const d=Math.abs(h*e.hopFrames-fr); if(d<bd){bd=d;best=h;}}
    if (bd>0.05*sr) continue; list.push({fr,h:best,o}); }
  data.push({f,x,sr,e,r,list});
}

function foot2(e:any,r:any,h0:number,p:{back:number,over:number,up:number,sm:number,fb:number,min:number}):number{
  let band=-1,top=6; for(let b=p.fb;b<9;b++){ const v=r.long[b][h0]; if(v>top){top=v;band=b;} } if(band<0) return h0;
  const E=e.bands[band]; const sm=(h:number)=>{let s=0,n=0; for(let k=h-p.sm+1;k<=h;k++) if(k>=0&&k<E.length){s+=E[k];n++;} return 10*Math.log10(s/Math.max(1,n)+1e-12);};
  let h=h0, run=sm(h0), peakAfter=run; for(let k=h0;k<Math.min(E.length,h0+12);k++) peakAfter=Math.max(peakAfter,sm(k));
  let at=h0, low=run;
  while(h>Math.max(p.sm,h0-p.back)){ h--; const v=sm(h); if(v<low){low=v;at=h;} else if(v>low+p.up) break; if (low<peakAfter-40) break; }
  // forward from the lowest point: first place that stays above low+over
  while(at<h0 && sm(at)<low+p.over) at++;
  return at-Math.round(p.sm/2);
}
function evalP(name:string, fn:(d:any,l:any)=>number, verbose=false){
  const errs:number[]=[]; const per:Record<string,number[]>={};
  for(const d of data) for(const l of d.list){ let a=fn(d,l); a=zeroCrossingBefore(d.x,a,Math.round(.0007*d.sr)); const ms=(a-l.fr)/d.sr*1000; errs.push(ms); (per[d.f]??=[]).push(ms); }
  const ab=errs.map(Math.abs).sort((a,b)=>a-b); const q=(s:number)=>ab[Math.floor((ab.length-1)*s)]!;
  console.log(name.padEnd(30),'med',q(.5).toFixed(2),'p95',q(.95).toFixed(2),'p99',q(.99).toFixed(2),'late>1',(errs.filter(x=>x>1).length/errs.length*100).toFixed(2)+'%','early>3',(errs.filter(x=>x<-3).length/errs.length*100).toFixed(2)+'%','>5',(ab.filter(x=>x>5).length/ab.length*100).toFixed(2)+'%','>10',(ab.filter(x=>x>10).length/ab.length*100).toFixed(2)+'%');
  if(verbose) for(const f in per){ const bad=per[f]!.filter(x=>x>1||x<-3); if(bad.length) console.log('   ',f,bad.map(v=>v.toFixed(1)).join(' ')); }
}
evalP('current',(d,l)=>locateAttack(d.x,d.sr,l.h*d.e.hopFrames,{beforeMs:12,afterMs:5}));

evalP('current',(d,l)=>locateAttack(d.x,d.sr,l.h*d.e.hopFrames,{beforeMs:12,afterMs:5}),true);
for (const over of [2,3,5]) for (const up of [2.5,4]) for (const sm of [3,5]) for (const min of [6,9]) { const p={back:36,over,up,sm,fb:3,min};
 evalP('foot2 '+JSON.stringify([over,up,sm,min]),(d,l)=>{ const w=locateAttack(d.x,d.sr,l.h*d.e.hopFrames,{beforeMs:12,afterMs:5}); const at=foot2(d.e,d.r,l.h,p); if(l.h-at<p.min) return w; return Math.min(w,at*d.e.hopFrames); }); }
