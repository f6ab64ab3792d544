import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
const dir='/work/shared/corpus/'; const truth=JSON.parse(readFileSync(dir+'truth.json','utf8')).files;
for (const [f,i] of [['chords-02.flac',2],['pluck-02.flac',7],['fast-03.flac',7],['fast-02.flac',24],['brush-02.flac',18],['pluck-03.wav',2]] as const) {
 const { audio } = await decodeSoundFile(readFileSync(dir+f)); const x=mixToMono(audio), sr=audio.sampleRate; const fr=truth[f].onsets[i].frame;
 const P=16; const from=fr-Math.round(.012*sr);
 function lpc(a:number,b:number,order:number){ const r=new Float64Array(order+1); for(let l=0;l<=order;l++){let s=0; for(let k=a+l;k<b;k++) s+=x[k]!*x[k-l]!; r[l]=s;} let A=new Float64Array(order),E=r[0]!*1.00001; for(let m=0;m<order;m++){ let acc=r[m+1]!; for(let j=0;j<m;j++) acc-=A[j]!*r[m-j]!; const k=acc/E; const p=A.slice(); A[m]=k; for(let j=0;j<m;j++) A[j]=p[j]!-k*p[m-1-j]!; E*=1-k*k;} return A; }
 const line=(name:string,g:(n:number)=>number)=>{ const st=Math.round(sr*.0005); const o:string[]=[]; for(let k=-16;k<16;k++){ let s=0; for(let n=fr+k*st;n<fr+(k+1)*st;n++) s+=g(n)**2; o.push((10*Math.log10(s/st+1e-12)).toFixed(0)); } console.log(name.padEnd(8),o.slice(0,16).join(' '),' | ',o.slice(16).join(' ')); };
 console.log(f,i,truth[f].onsets[i].riseMs,truth[f].onsets[i].promDb);
 line('raw',n=>x[n]!); line('diff',n=>x[n]!-x[n-1]!);line('diff2',n=>x[n]!-2*x[n-1]!+x[n-2]!);
 for(const ord of [8,32]){ const A=lpc(from-Math.round((ord>8?.06:.02)*sr),from,ord); line('lpc'+ord,n=>{let p=x[n]!; for(let k=1;k<=ord;k++) p-=A[k-1]!*x[n-k]!; return p;}); }
}
