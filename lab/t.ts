import { analyseSource } from '../src/core/analysis/analyse-source.ts';
import { midiToHz } from '../src/core/units/pitch.ts';
const RATE=44100; const chords = [[57, 60, 64], [53, 57, 60], [55, 59, 62], [52, 55, 59]]; const each=Math.round(1.2*RATE); const out=new Float32Array(each*4);
chords.forEach((chord, index) => { for (let i = 0; i < each * 1.15 && index * each + i < out.length; i++) { const level = Math.min(1, i / (0.06 * RATE)) * Math.min(1, Math.max(0, (each * 1.15 - i) / (0.15 * each))); for (const note of chord) for (const h of [1,2,3,4]) out[index*each+i]! += ((0.12*level)/h)*Math.sin((2*Math.PI*midiToHz(note)*h*i)/RATE); }});
console.log(each, analyseSource({sampleRate:RATE,channels:[out]}).onsets.filter(o=>o.likelihood>.1));
