/** Makes the demo database: `tsx demo/make-demo.ts FILE`. */
import { createHash } from 'node:crypto';
import { rmSync } from 'node:fs';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { hearForShelf } from '#core/analysis/hear-for-shelf.ts';
import { buildPeaks, SHELF_SKYLINE_STRETCHES, skylineOf } from '#core/dsp/peaks.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { openDatabase } from '../src/server/db/open.ts';
import { ProjectService } from '../src/server/services/projects.ts';
import { ShelfRecordService } from '../src/server/services/shelf-records.ts';
import { SourceService } from '../src/server/services/sources.ts';
import { rounded16 } from './rounded.ts';
import { loadHits } from './hits.ts';
import { DEMO_LOOPS } from './loops.ts';
import { demoGrooves, demoKits, demoProjects, type DemoSource } from './projects.ts';

const file = process.argv[2];
if (!file) {
  process.stderr.write('usage: make-demo FILE\n');
  process.exit(2);
}
for (const ending of ['', '-wal', '-shm']) rmSync(file + ending, { force: true });

const { db, close } = openDatabase(file);
const hits = await loadHits();
const shelf = new SourceService(db);
const sources: DemoSource[] = [];
for (const { name, tags, make, origin } of DEMO_LOOPS) {
  const wav = writeWav(rounded16(make(hits)), { encoding: 'pcm16' });
  const { audio } = readWav(wav);
  const id = createHash('sha256').update(wav).digest('hex');
  const analysis = analyseSource(audio);
  const [best] = analysis.tempoReadings;
  const { heard, prints } = hearForShelf(audio, analysis);
  const tempo = best ? { bpm: best.bpm, bars: best.bars } : null;
  await shelf.add(
    id,
    name,
    {
      tempo,
      skyline: skylineOf(buildPeaks(audio), SHELF_SKYLINE_STRETCHES),
      ...(origin && { origin }),
      ...(heard && { heard }),
    },
    Buffer.from(wav),
  );
  const { startFrames, bytes } = prints;
  shelf.change(id, { tags, prints: { startFrames, bytes: Buffer.from(bytes).toString('base64') } });
  sources.push({ id, name, audio });
}
const projects = new ProjectService(db);
const documents = demoProjects(sources);
for (const document of documents) projects.insert(document);
const records = new ShelfRecordService(db);
for (const kit of demoKits(documents)) records.add('kit', kit);
for (const groove of demoGrooves(sources)) records.add('groove', groove);
close();
process.stdout.write(`${sources.length} sounds and ${documents.length} projects in ${file}\n`);
