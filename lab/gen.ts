/** Synthetic training loops from the hits and notes of the corpus, with truth. */
import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { seededRandom } from '../src/core/units/random.ts';
import { resample } from '../src/core/dsp/sinc.ts';
import { lowPass, filterInto } from '../src/core/dsp/biquad.ts';
import { measureBandEnergies } from '../src/core/analysis/band-energies.ts';
const C='/work/shared/corpus/'; const SR=44100;
const hitsA=(await decodeSoundFile(readFileSync(C+'hits/hits.flac'))).audio.channels[0]!; const hits=JSON.parse(readFileSync(C+'hits/truth.json','utf8')).hits;
const notesA=(await decodeSoundFile(readFileSync(C+'notes/notes.flac'))).audio.channels[0]!; const notes=JSON.parse(readFileSync(C+'notes/truth.json','utf8')).notes;
const snip=(a:Float32Array,o:any)=>a.subarray(o.offset,o.offset+o.frames);
export interface Gen { x:Float32Array; onsets:{frame:number;role:string;rise:number;masked:boolean;soft:boolean}[]; kind:string }
function midiHz(m:number){return 440*2**((m-69)/12);}
function pad(rnd:()=>number,midi:number,sec:number,attack:number,rel:number){ const n=Math.round((sec+rel)*SR); const o=new Float32Array(n); const hz=midiHz(midi); const H=3+Math.floor(rnd()*10); const det=1+(rnd()-.5)*.006; const trem=rnd()<.4?rnd()*.2:0; const tr=4+rnd()*3; const slope=.6+rnd()*1.2; const ph=Array.from({length:H},()=>rnd()*6.28);
 for(let i=0;i<n;i++){ const t=i/SR; let s=0; for(let h=1;h<=H;h++){ if(hz*h>9000) break; s+=(Math.sin(6.2831853*hz*h*t+ph[h-1]!)+.7*Math.sin(6.2831853*hz*h*det*t))/h**slope; } const a=t<attack?(t/attack)**1.5:1; const r=t>sec?Math.max(0,1-(t-sec)/rel)**2:1; o[i]=s*a*r*(1+trem*Math.sin(6.28*tr*t))*.2; } return o; }
export function generate(seed:number):Gen{
 const rnd=seededRandom(seed*7919+13); const pick=<T,>(a:T[])=>a[Math.floor(rnd()*a.length)]!;
 const kind=pick(['drums','drums','drums','perc','notes','chords','pads','pads','mix','bass']);
 const bpm=70+rnd()*110, step=60/bpm/4*SR, steps=kind==='pads'?48:32; const N=Math.round(steps*step);
 const stems:{s:Float32Array;at:number;g:number;role:string;soft:boolean;rise:number}[]=[];
 const kit=(role:string)=>pick(hits.filter((h:any)=>h.role===role)) as any;
 const jit=()=>Math.round((rnd()-.5)*.012*SR*(rnd()<.5?1:0));
 const addHit=(h:any,st:number,v:number)=>{ const s=snip(hitsA,h); stems.push({s,at:Math.max(0,Math.round(st*step)+(st?jit():0)),g:v,role:h.role,soft:false,rise:2}); };
 if(['drums','mix','bass'].includes(kind)){ const k=kit('kick'),sn=kit('snare'),hh=kit(pick(['closedHat','ride','closedHat'])),gh=rnd()<.5?sn:kit('snare'); const swing=rnd()<.3?rnd()*.35:0;
  for(let s=0;s<steps;s++){ const p=s%16; const st=s+(s%2?swing:0); if((p===0||rnd()<.14)&&p!==4&&p!==12) addHit(k,st,.7+rnd()*.3); if(p===4||p===12) addHit(sn,st,.7+rnd()*.3); else if(rnd()<.13) addHit(gh,st,.06+rnd()*.25); if(s%2===0||rnd()<.2) addHit(hh,st,(.15+rnd()*.4)); if(rnd()<.02) addHit(kit(pick(['openHat','crash','tom','clap','rimshot'])),st,.3+rnd()*.5);} }
 if(kind==='perc'){ const a=[0,1,2,3].map(()=>kit(pick(['percussion','tom','rimshot','clap','percussion']))); for(let s=0;s<steps;s++) if(rnd()<.5) addHit(pick(a),s,.15+rnd()*.85); }
 const addNote=(n:any,midi:number,st:number,len:number,g:number)=>{ const ratio=2**((midi-n.midi)/12); let s=resample(snip(notesA,n),ratio); const L=Math.min(s.length,Math.round(len*step)+Math.round(.05*SR)); s=s.slice(0,L); const f=Math.min(L,Math.round((.01+rnd()*.2)*SR)); for(let i=0;i<f;i++) s[L-1-i]!*=i/f; stems.push({s,at:Math.round(st*step)+(st?jit():0),g,role:'note',soft:false,rise:5}); };
 if(kind==='notes'||kind==='bass'||(kind==='mix'&&rnd()<.6)){ const n=pick(notes.filter((q:any)=>kind!=='bass'||q.midi<50)) as any; let s=0; while(s<steps){ const l=pick([1,2,2,3,4]); if(rnd()<.85) addNote(n,n.midi+Math.floor(rnd()*13-6),s,l*(.7+rnd()*.6),.4+rnd()*.5); s+=l; } }
 if(kind==='chords'){ const n=pick(notes.filter((q:any)=>q.midi>45&&q.midi<80)) as any; let s=0; while(s<steps){ const l=pick([4,6,8,8]); const root=n.midi+Math.floor(rnd()*9-4); for(const iv of pick([[0,3,7],[0,4,7],[0,4,7,11],[0,5,9]])) addNote(n,root+iv,s,l*(.8+rnd()*.4),.3+rnd()*.1); s+=l; } }
 if(kind==='pads'){ const att=.02+rnd()*.11, rel=.05+rnd()*.6; const root=42+Math.floor(rnd()*20); let s=0; while(s<steps){ const l=pick([4,8,8,16]); const r=root+pick([0,-2,3,5,-4,7]); const dur=l*step/SR*(.85+rnd()*.2); for(const iv of pick([[0,7,15],[0,4,7,12],[0,3,7,10],[0],[0,7]])) stems.push({s:pad(rnd,r+iv,dur,att*(.8+rnd()*.4),rel),at:Math.round(s*step),g:.35,role:'chord',soft:true,rise:att*650}); s+=l; } }
 const x=new Float32Array(N); for(const t of stems) for(let i=0;i<t.s.length&&t.at+i<N;i++) x[t.at+i]!+=t.s[i]!*t.g;
 // merge stems within 5 ms; masked when no band of the merged hit stands out
 stems.sort((a,b)=>a.at-b.at); const groups:typeof stems[]=[]; for(const t of stems){ if(t.at>=N) continue; const g=groups.at(-1); if(g&&t.at-g[0]!.at<.005*SR) g.push(t); else groups.push([t]); }
 const eAll=measureBandEnergies(x,SR); const onsets=groups.map(g=>{ const at=g[0]!.at; const len=Math.round(.05*SR); const own=new Float32Array(len); for(const t of g) for(let i=0;i<len&&i+at-t.at<t.s.length;i++) if(i+at-t.at>=0) own[i]!+=t.s[i+at-t.at]!*t.g; const rest=new Float32Array(len*2); for(let i=0;i<len*2;i++){ const k=at-len+i; const xv=k>=0&&k<N?x[k]!:0; rest[i]=xv-(i>=len?own[i-len]!:0);} 
  const eo=measureBandEnergies(own,SR), er=measureBandEnergies(rest,SR); let prom=-99; for(let b=0;b<9;b++){ let p=1e-9,q=1e-9; for(let h=0;h<48;h++){ p+=eo.bands[b]![h]??0; q+=er.bands[b]![h+48]??0; } prom=Math.max(prom,10*Math.log10(p/q)); }
  return {frame:at,role:g[0]!.role,rise:Math.max(...g.map(t=>t.rise)),masked:prom<(g.some(t=>t.soft)?-8:-4),soft:g.every(t=>t.soft)}; });
 void eAll;
 if(rnd()<.25){ const lp=lowPass(2500+rnd()*7000,.7,SR); filterInto(lp,x,x); }
 if(rnd()<.2){ const d=1+rnd()*5; for(let i=0;i<N;i++) x[i]=Math.tanh(x[i]!*d)/d*1.2; }
 if(rnd()<.25){ const a=[1,2,3,4,5].map(()=>Math.round((.004+rnd()*.05)*SR)); const g=.1+rnd()*.25; for(let i=0;i<N;i++) for(const d of a) if(i>=d) x[i]!+=x[i-d]!*g*.3; }
 if(rnd()<.2){ const n=10**(-(40+rnd()*25)/20); for(let i=0;i<N;i++) x[i]!+=(rnd()*2-1)*n; }
 return {x,onsets,kind};
}
