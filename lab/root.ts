import { readFileSync } from 'node:fs';
import { decodeSoundFile } from '../src/core/formats/decode.ts';
import { readRootNote } from '../src/core/analysis/root-note.ts';
const C='/work/shared/corpus/notes/'; const {audio}=await decodeSoundFile(readFileSync(C+'notes.flac')); const notes=JSON.parse(readFileSync(C+'truth.json','utf8')).notes; const x=audio.channels[0]!;
let ok=0,near=0; for(const n of notes){ const p=readRootNote(x.subarray(n.offset,n.offset+n.frames),44100); const err=p?(p.midi-n.midi)*100+p.cents-n.cents-0:NaN; const right=p&&p.midi===n.midi; ok+=right?1:0; near+=Math.abs(err-(n.nativeCents??0))<=8||Math.abs(err)<=8?1:0; if(!right||Math.abs(err)>8) console.log(n.id,'prog',n.program,'midi',n.midi,n.cents.toFixed(1),'native',n.nativeCents,'got',p?.midi,p?.cents,p?.confidence.toFixed(2)); }
console.log(ok/notes.length,near/notes.length);
